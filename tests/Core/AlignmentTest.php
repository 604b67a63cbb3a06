<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Output\Alignment;
use Core\Units\InvalidValue;
use Core\Venue\Lens;
use PHPUnit\Framework\TestCase;

/** Where projectors are found to stand, from points thrown by the lens's own formula. */
final class AlignmentTest extends TestCase
{
    /** A house front with a roof edge before it and a door behind: eight corners of two depths, and some between. */
    private const PLACES = [
        [-4.0, 0.0, 0.0],
        [4.0, 0.0, 0.0],
        [4.0, 6.0, 0.0],
        [-4.0, 6.0, 0.0],
        [-2.0, 5.0, 1.5],
        [2.0, 5.0, 1.5],
        [-1.0, 2.0, -1.2],
        [1.0, 0.2, -1.2],
        [3.0, 3.0, 0.8],
        [-3.0, 2.5, 0.8],
    ];

    private const FLAT = [[-4.0, 0.0, 0.0], [4.0, 0.0, 0.0], [4.0, 6.0, 0.0], [-4.0, 6.0, 0.0], [0.5, 3.5, 0.0]];

    /** @param  array<string, mixed>  $row */
    private static function lens(array $row = []): Lens
    {
        return Lens::fromRow(
            $row + ['widthPx' => 1920, 'heightPx' => 1200, 'throw' => 1.4, 'throwMax' => 2.5, 'shiftY' => 0.3],
        );
    }

    /**
     * @param  list<array{float, float, float}>  $places
     * @return list<array{place: array{float, float, float}, pixel: array{float, float}}>
     */
    private static function thrown(array $places, Pose $pose, Lens $lens, float $noise = 0, float $radial = 0): array
    {
        $in = $pose->matrix()->rigidInverse();
        $normal = static fn (): float => sqrt(-2 * log(1 - mt_rand() / (mt_getrandmax() + 1))) *
            cos((2 * M_PI * mt_rand()) / mt_getrandmax());

        return array_map(static function (array $p) use ($in, $lens, $noise, $radial, $normal): array {
            $at = $in->point(Vec3::of(...$p));
            $s = 1 + $radial * (($at->x / $at->z) ** 2 + ($at->y / $at->z) ** 2);
            $pixel = $lens->pixel($at->x * $s, $at->y * $s, $at->z);
            self::assertNotNull($pixel);

            return [
                'place' => $p,
                'pixel' => [
                    $pixel[0] + ($noise > 0 ? $noise * $normal() : 0),
                    $pixel[1] + ($noise > 0 ? $noise * $normal() : 0),
                ],
            ];
        }, $places);
    }

    private static function isAt(Pose $wanted, Pose $found, float $metres): void
    {
        self::assertEqualsWithDelta($wanted->position->toArray(), $found->position->toArray(), $metres);
        self::assertEqualsWithDelta($wanted->matrix()->m, $found->matrix()->m, max($metres, 1e-6));
    }

    public function test_an_unknown_lens_is_found_exactly_from_exact_points(): void
    {
        $true = Pose::of(Vec3::of(2.5, 3.2, 13), 9, -4, 1.5);
        foreach (
            [self::lens(), self::lens(['shiftX' => -0.15, 'throw' => 2.1]), self::lens(['portrait' => true])] as $lens
        ) {
            foreach ([self::PLACES, array_slice(self::PLACES, 1, 6)] as $places) {
                // Planned elsewhere, with another zoom.
                $found = Alignment::of(
                    self::thrown($places, $true, $lens),
                    self::lens(['throw' => 1.7, 'shiftY' => 0.0, 'portrait' => $lens->portrait]),
                    Pose::of(Vec3::of(0, 2, 10)),
                    false,
                );
                self::isAt($true, $found->pose, 1e-4);
                self::assertEqualsWithDelta(
                    [$lens->throw, $lens->shiftX, $lens->shiftY],
                    [$found->throw, $found->shiftX, $found->shiftY],
                    1e-5,
                );
                self::assertLessThan(1e-5, $found->rms);
                self::assertNull($found->bad);
            }
        }
    }

    public function test_four_points_in_a_plane_find_a_known_lens(): void
    {
        foreach (
            [
                Pose::of(Vec3::of(2.5, 3.2, 13), 9, -4, 1.5),
                Pose::of(Vec3::of(-6, 1, 9), -32, 6, 0),
                Pose::of(Vec3::of(0, 3, 12)),
            ] as $true
        ) {
            foreach (
                [
                    array_slice(self::FLAT, 0, 4),
                    self::FLAT,
                    self::PLACES,
                    [[-4.0, 0.0, 0.0], [4.0, 0.0, 0.0], [0.0, 6.0, 0.0], [0.0, 2.0, 2.0]],
                ] as $places
            ) {
                $found = Alignment::of(
                    self::thrown($places, $true, self::lens()),
                    self::lens(),
                    Pose::of(Vec3::of(0, 2, 8)),
                    true,
                );
                self::isAt($true, $found->pose, 1e-4);
                self::assertLessThan(1e-5, $found->rms);
                self::assertSame(1.4, round($found->throw, 9));
            }
        }
    }

    public function test_distortion_is_found_where_it_is_asked_for(): void
    {
        $true = Pose::of(Vec3::of(2.5, 3.2, 13), 9, -4, 1.5);
        $points = self::thrown(self::PLACES, $true, self::lens(), radial: -0.06);
        $found = Alignment::of($points, self::lens(), Pose::of(Vec3::of(0, 2, 10)), false, true);
        self::isAt($true, $found->pose, 1e-3);
        self::assertEqualsWithDelta(-0.06, $found->radial, 1e-5);
        self::assertGreaterThan(
            0.1,
            Alignment::of($points, self::lens(), Pose::of(Vec3::of(0, 2, 10)), true)->rms,
            'without it, something is left',
        );
        // What was found once is known of the lens from then on.
        $again = Alignment::of($points, self::lens(['distortion' => -0.06]), Pose::of(Vec3::of(0, 2, 10)), true);
        self::isAt($true, $again->pose, 1e-3);
        self::assertLessThan(1e-4, $again->rms);
        self::assertSame(-0.06, $again->radial);
    }

    public function test_noise_leaves_what_theory_says(): void
    {
        $true = Pose::of(Vec3::of(2.5, 3.2, 13), 9, -4, 1.5);
        $lens = self::lens();
        foreach ([[false, 9], [true, 6]] as [$known, $unknowns]) {
            [$squares, $errors, $spreads, $worst] = [0.0, 0.0, 0.0, 0.0];
            for ($seed = 0; $seed < 200; $seed++) {
                mt_srand($seed);
                $found = Alignment::of(
                    self::thrown(self::PLACES, $true, $lens, 0.5),
                    $lens,
                    Pose::of(Vec3::of(2, 3, 12)),
                    $known,
                );
                $squares += $found->rms ** 2;
                $error = $found->pose->position->minus($true->position)->length();
                [$errors, $spreads, $worst] = [
                    $errors + $error ** 2,
                    $spreads + $found->spread ** 2,
                    max($worst, $error),
                ];
                self::assertNull($found->bad);
            }
            // Of 20 numbers with a deviation of 0.5, so many unknowns take their part: the mean square distance is 2
            // · 0.25 · (20 − n) / 20.
            self::assertEqualsWithDelta((0.5 * (20 - $unknowns)) / 20, $squares / 200, 0.06);
            // What the points leave open is as large as it is said to be.
            self::assertEqualsWithDelta(1.0, sqrt($errors / $spreads), 0.2);
            self::assertLessThan($known ? 0.05 : 0.5, $worst);
        }
    }

    public function test_one_bad_point_is_named(): void
    {
        $true = Pose::of(Vec3::of(2.5, 3.2, 13), 9, -4, 1.5);
        foreach ([[true, 0], [true, 4], [false, 2], [false, 7]] as [$known, $spoilt]) {
            for ($seed = 0; $seed < 10; $seed++) {
                mt_srand($seed);
                $points = self::thrown(self::PLACES, $true, self::lens(), 0.5);
                $points[$spoilt]['pixel'][0] += 60;
                $points[$spoilt]['pixel'][1] -= 25;
                $found = Alignment::of($points, self::lens(), Pose::of(Vec3::of(2, 3, 12)), $known);
                self::assertSame($spoilt, $found->bad);
                self::assertGreaterThan(2.0, $found->rms);
            }
        }
    }

    public function test_points_that_do_not_tell_are_refused_with_the_reason(): void
    {
        $true = Pose::of(Vec3::of(0, 3, 12));
        $line = [
            [-4.0, 0.0, 0.0],
            [-2.0, 1.0, 0.0],
            [0.0, 2.0, 0.0],
            [2.0, 3.0, 0.0],
            [4.0, 4.0, 0.0],
            [5.0, 4.5, 0.0],
            [6.0, 5.0, 0.0],
        ];
        $flat = [...self::FLAT, [1.0, 1.0, 0.0], [-2.0, 4.0, 0.0]];
        foreach (
            [
                ['six points', array_slice(self::PLACES, 0, 5), false, false, '6 points'],
                ['seven with distortion', array_slice(self::PLACES, 0, 6), false, true, '7 points'],
                ['four points', array_slice(self::PLACES, 0, 3), true, false, '4 points'],
                ['a plane', $flat, false, false, 'one plane'],
                ['a line', $line, true, false, 'one line'],
                ['one place', array_fill(0, 6, [1.0, 1.0, 0.0]), true, false, 'one place'],
                ['none', [], true, false, '4 points'],
            ] as [$name, $places, $known, $radial, $said]
        ) {
            try {
                Alignment::of(self::thrown($places, $true, self::lens()), self::lens(), $true, $known, $radial);
                self::fail("$name was taken");
            } catch (InvalidValue $refused) {
                self::assertStringContainsString($said, $refused->getMessage());
            }
        }
        $points = self::thrown(self::PLACES, $true, self::lens());
        $points[3]['pixel'][0] = NAN;
        $this->expectException(InvalidValue::class);
        Alignment::of($points, self::lens(), $true, true);
    }

    public function test_what_points_leave_open_is_refused_and_what_to_add_is_said(): void
    {
        $true = Pose::of(Vec3::of(0, 3, 12));
        $refused = static function (array $points, bool $known = true, ?Pose $plan = null) use ($true): string {
            try {
                Alignment::of($points, self::lens(), $plan ?? $true, $known);
            } catch (InvalidValue $refused) {
                return $refused->getMessage();
            }

            return '';
        };
        // A point twice counts once.
        $four = self::thrown(array_slice(self::FLAT, 0, 4), $true, self::lens());
        self::assertSame('', $refused($four));
        $twice = [$four[0], $four[1], $four[2], $four[1]];
        self::assertStringContainsString('Points 2 and 4 are at the same place', $refused($twice));
        self::assertStringContainsString('3 are left of the 4', $refused($twice));
        self::assertSame('', $refused([...$four, $four[1]]));
        $apart = [...$four, ['place' => $four[1]['place'], 'pixel' => [$four[1]['pixel'][0] + 40, 100.0]]];
        self::assertStringContainsString('Points 2 and 5 are at the same place but lit', $refused($apart));
        // Left and right exchanged: on a wall it would stand behind it, in space nothing fits.
        $mirror = static fn (array $points): array => array_map(
            static fn (array $p): array => ['place' => $p['place'], 'pixel' => [1920 - $p['pixel'][0], $p['pixel'][1]]],
            $points,
        );
        self::assertStringContainsString('behind the surface', $refused($mirror($four)));
        foreach ([true, false] as $known) {
            self::assertStringContainsString(
                'mirrored',
                $refused($mirror(self::thrown(self::PLACES, $true, self::lens())), $known),
            );
        }
        // From behind a gauze it stands where it is planned.
        $behind = Pose::of(Vec3::of(0, 3, -12), 180);
        self::assertSame(
            '',
            $refused(self::thrown(array_slice(self::FLAT, 0, 4), $behind, self::lens()), true, $behind),
        );
        // Four in a corner of the picture, 20 cm apart: a pixel moves it by metres.
        $near = array_map(
            static fn (array $p): array => [-3.9 + $p[0] / 40, 0.1 + $p[1] / 30, 0.0],
            array_slice(self::FLAT, 0, 4),
        );
        $said = $refused(self::thrown($near, $true, self::lens()));
        self::assertMatchesRegularExpression('/one pixel of error moves the projector by \d+\.\d m/', $said);
        self::assertStringContainsString('Add one at the top right of its picture', $said);
        // All on a line but one.
        $line = [[-4.0, 1.0, 0.0], [-1.0, 1.0, 0.0], [1.0, 1.0, 0.0], [4.0, 1.0, 0.0]];
        self::assertStringContainsString('one line', $refused(self::thrown($line, $true, self::lens())));
    }
}
