<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Output\Drift;
use Core\Units\InvalidValue;
use PHPUnit\Framework\TestCase;

/** How far a picture has drifted, against maps that are made here. */
final class DriftTest extends TestCase
{
    private const CORNERS = [[100.0, 80.0], [1800.0, 120.0], [1750.0, 1100.0], [90.0, 1000.0]];

    public function test_one_point_moves_all_by_as_much(): void
    {
        $drift = Drift::of([[100.0, 50.0]], [[103.0, 46.0]]);
        self::assertEqualsWithDelta([1003, 1996], $drift->map->point(1000, 2000), 1e-9);
        self::assertEqualsWithDelta([5, 0], [$drift->before, $drift->after], 1e-9);
    }

    public function test_two_points_turn_and_scale(): void
    {
        // A quarter turn about (0, 0), twice as large.
        $drift = Drift::of([[10.0, 0.0], [0.0, 30.0]], [[0.0, 20.0], [-60.0, 0.0]]);
        self::assertEqualsWithDelta([-14, 6], $drift->map->point(3, 7), 1e-9);
        self::assertEqualsWithDelta(0, $drift->after, 1e-9);
    }

    public function test_three_points_stretch(): void
    {
        // x: 2x + y + 5, y: 0.5y - 3.
        $to = static fn (array $p): array => [2 * $p[0] + $p[1] + 5, 0.5 * $p[1] - 3];
        $from = array_slice(self::CORNERS, 0, 3);
        $drift = Drift::of($from, array_map($to, $from));
        self::assertEqualsWithDelta($to([321.0, 654.0]), $drift->map->point(321, 654), 1e-6);
    }

    public function test_four_and_more_are_met_in_perspective(): void
    {
        $to = static function (array $p): array {
            $w = 1 + 1e-5 * $p[0] - 2e-5 * $p[1];

            return [(1.01 * $p[0] + 0.02 * $p[1] + 3) / $w, (-0.01 * $p[0] + 0.99 * $p[1] - 2) / $w];
        };
        foreach ([self::CORNERS, [...self::CORNERS, [900.0, 600.0], [400.0, 300.0]]] as $from) {
            $drift = Drift::of($from, array_map($to, $from));
            self::assertEqualsWithDelta($to([1234.0, 567.0]), $drift->map->point(1234, 567), 1e-5);
            self::assertLessThan(1e-6, $drift->after);
        }
        // One that was told 4 px wrong among nine leaves something, and less than it was.
        $nine = [];
        for ($i = 0; $i < 9; $i++) {
            $nine[] = [200.0 + 600 * ($i % 3), 100.0 + 400 * intdiv($i, 3)];
        }
        $found = $nine;
        $found[4][0] += 4;
        $drift = Drift::of($nine, $found);
        self::assertEqualsWithDelta(4 / 3, $drift->before, 1e-9);
        self::assertGreaterThan(0.5, $drift->after);
        self::assertLessThan($drift->before, $drift->after);
    }

    public function test_points_on_a_line_or_in_one_place_are_met_in_a_simpler_way(): void
    {
        $line = [[0.0, 0.0], [100.0, 0.0], [200.0, 0.0], [300.0, 0.0]];
        $drift = Drift::of($line, array_map(static fn (array $p): array => [$p[0] + 2, $p[1] + 7], $line));
        self::assertEqualsWithDelta([152, 507], $drift->map->point(150, 500), 1e-6);
        $drift = Drift::of([[5.0, 5.0], [5.0, 5.0]], [[6.0, 5.0], [8.0, 5.0]]);
        self::assertEqualsWithDelta([102, 100], $drift->map->point(100, 100), 1e-9);
        self::assertEqualsWithDelta(1, $drift->after, 1e-9);
        // Found in one place, they say nothing of size.
        $drift = Drift::of([[0.0, 0.0], [10.0, 0.0]], [[5.0, 5.0], [5.0, 5.0]]);
        self::assertEqualsWithDelta([100, 105], $drift->map->point(100, 100), 1e-9);
    }

    public function test_nothing_and_nonsense_are_refused(): void
    {
        [$a, $b, $c, $d] = self::CORNERS;
        // Two of four, and two of three, exchanged.
        foreach (
            [
                [[$a, $b, $c, $d], [$b, $a, $c, $d]],
                [[$a, $b, $c], [$b, $a, $c]],
                [[], []],
                [[[1.0, 2.0]], []],
                [[[NAN, 2.0]], [[1.0, 2.0]]],
                [[[1.0, 2.0]], [[1e9, 2.0]]],
            ] as [$from, $to]
        ) {
            try {
                Drift::of($from, $to);
                self::fail('It is refused.');
            } catch (InvalidValue $refused) {
                self::assertSame('points', $refused->field);
            }
        }
    }
}
