<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Units\InvalidValue;
use Core\Venue\CablePath;
use Core\Venue\Cabling;
use Core\Venue\Curvature;
use Core\Venue\DataLink;
use Core\Venue\Feeding;
use Core\Venue\Panel;
use Core\Venue\Supply;
use Core\Venue\Suspension;
use Core\Venue\Viewing;
use Core\Venue\Wall;
use Core\Venue\WallBySize;
use Core\Venue\WallSheet;
use PHPUnit\Framework\TestCase;

final class LedTest extends TestCase
{
    private static function panel(): Panel
    {
        return Panel::of('Indoor 2.6', 500, 500, 192, 192, 8.1, 55, 165);
    }

    public function test_the_angle_that_somebody_takes_in_is_theirs_to_choose(): void
    {
        $wall = Wall::grid(Panel::of('P', 500, 500, 200, 200, 8, 50, 150), 2, 2);
        $sheet = static fn (array $row): array => WallSheet::of($wall, Feeding::fromRow($row))->figures;
        // 2.5 mm of pitch: 2.5 m away at the nearest, where 90° take in 5 m, and the usual 40° 1.82 m.
        self::assertEqualsWithDelta(
            [5.0, 2 * 2.5 * tan(deg2rad(20))],
            [$sheet(['viewAngle' => 90])['widthAtNearest'], $sheet([])['widthAtNearest']],
            1e-9,
        );
        $this->expectException(InvalidValue::class);
        Feeding::fromRow(['viewAngle' => 180]);
    }

    public function test_a_curved_wall_has_the_chord_depth_and_radii_of_the_closed_forms(): void
    {
        foreach ([[12, 5.0], [7, -7.5], [36, 10.0], [2, 90.0]] as [$n, $angle]) {
            $c = Curvature::of(array_fill(0, $n, 0.5), array_fill(0, $n - 1, $angle));
            $half = deg2rad(abs($angle)) / 2;
            $r = 0.5 / (2 * sin($half));
            self::assertEqualsWithDelta(
                [$r, 0.5 / (2 * tan($half)), $n * 0.5, ($n - 1) * $angle],
                [$c->radiusAtSeams, $c->radiusAtFaces, $c->arc, $c->turn],
                1e-9,
            );
            self::assertEqualsWithDelta(abs(2 * $r * sin($n * $half)), $c->chord, 1e-9, "$n panels at $angle degrees");
            if ($n * 2 * $half <= M_PI && $n % 2 === 0) {
                // An even number of panels has a seam in the middle: the sagitta of the circle through the seams.
                self::assertEqualsWithDelta($r * (1 - cos($n * $half)), $c->depth, 1e-9);
            }
        }
        // Closed walls go as far from where they close as the circle through their seams is wide.
        foreach ([[36, 10.0], [12, 30.0], [4, 90.0], [36, -10.0]] as [$n, $angle]) {
            $closed = Curvature::of(array_fill(0, $n, 0.5), array_fill(0, $n - 1, $angle));
            self::assertEqualsWithDelta(
                [0.0, 0.5 / sin(deg2rad(abs($angle)) / 2)],
                [$closed->chord, $closed->depth],
                1e-9,
                "$n panels at $angle degrees",
            );
        }
        $flat = Curvature::of([0.5, 0.5], [0.0]);
        self::assertSame([1.0, 0.0, null], [$flat->chord, $flat->depth, $flat->radiusAtSeams]);
    }

    public function test_the_mesh_of_a_curved_wall_is_as_wide_as_its_chord_says(): void
    {
        $wall = Wall::of([array_fill(0, 9, self::panel())], array_fill(0, 8, 6.5));
        $mesh = $wall->mesh();
        self::assertEqualsWithDelta(
            $wall->curvature()->chord,
            $mesh
                ->position($mesh->vertexCount() - 1)
                ->minus($mesh->position(0))
                ->length(),
            1e-9,
        );
    }

    public function test_seams_are_found_for_a_radius_and_for_a_turn(): void
    {
        self::assertEqualsWithDelta(
            6.0,
            Curvature::of(array_fill(0, 5, 0.5), array_fill(0, 4, Curvature::seamForRadius(0.5, 6.0)))->radiusAtSeams,
            1e-9,
        );
        self::assertLessThan(0, Curvature::seamForRadius(0.5, -6.0));
        self::assertEqualsWithDelta(90.0, array_sum(Curvature::seamsForTurn(10, 90)), 1e-9);
        $this->expectException(InvalidValue::class);
        $this->expectExceptionMessage('radius must be between 0.25');
        Curvature::seamForRadius(0.5, 0.2);
    }

    public function test_a_joint_opens_by_what_the_depth_of_the_panels_makes_it(): void
    {
        // 80 mm deep at 10°: 160 · sin 5° = 13.94 mm.
        self::assertEqualsWithDelta(13.945, Curvature::opening(80, -10), 0.001);
        // Of 80 and 120 mm: concave √(40² + 4 · 80 · 120 · sin² 2.5°) = 40.903 mm at the backs, convex 160 · sin 2.5°
        // at the faces.
        self::assertEqualsWithDelta(
            [40.903, 6.979, 6.979],
            [Curvature::opening(80, 5, 120), Curvature::opening(80, -5, 120), Curvature::opening(120, -5, 80)],
            0.001,
        );
        self::assertEqualsWithDelta(Curvature::opening(80, 5), Curvature::opening(80, 5, 80), 1e-9);
    }

    public function test_viewing_distances_are_those_of_the_pitch(): void
    {
        self::assertEqualsWithDelta(2.6, Viewing::nearest(2.6), 1e-12);
        // One arc minute is 290.888 µrad.
        self::assertEqualsWithDelta(0.0026 / 290.888e-6, Viewing::vanishing(2.6), 0.001);
        self::assertEqualsWithDelta(2 * 8 * 0.57735, Viewing::widthTakenIn(8, 60), 0.001);
    }

    public function test_a_port_of_one_gigabit_carries_as_many_pixels_as_by_hand(): void
    {
        self::assertSame(659_722, DataLink::of()->pixels());
        self::assertSame(263_888, DataLink::of(bitsPerPixel: 30, refresh: 120)->pixels());
        $this->expectException(InvalidValue::class);
        DataLink::of(bitsPerPixel: 25);
    }

    public function test_circuits_of_a_wall_by_hand(): void
    {
        $supply = Supply::of(230, 16, 3, 0.95, 0.8);
        // 230 · 16 · 0.8 · 0.95 = 2796.8 W: sixteen panels of 165 W, 2640 W.
        self::assertEqualsWithDelta(2796.8, $supply->wattsPerCircuit(), 1e-9);
        $runs = Cabling::power(Wall::grid(self::panel(), 12, 6), $supply, CablePath::RowsSnake);
        self::assertSame([16, 16, 16, 16, 8], array_map(static fn ($r): int => count($r->cells), $runs));
        self::assertEqualsWithDelta(2640.0, $runs[0]->load, 1e-9);
        self::assertEqualsWithDelta(2640 / (230 * 0.95), $supply->current($runs[0]->load), 1e-9);
        $lines = $supply->lines(array_map(static fn ($r): float => $r->load, $runs));
        // Circuits 1 and 4, 2 and 5, 3: 5280, 3960 and 2640 W; each line 1320 W above the next, so that the neutral
        // carries √3 times that.
        self::assertEqualsWithDelta([5280.0, 3960.0, 2640.0], $lines['watts'], 1e-9);
        self::assertEqualsWithDelta([5280 / 218.5, 3960 / 218.5, 2640 / 218.5], $lines['amperes'], 1e-9);
        self::assertEqualsWithDelta(
            [5280 / 3960 - 1, (sqrt(3) * 1320) / 218.5],
            [$lines['unbalance'], $lines['neutral']],
            1e-9,
        );
        // A hundred metres of chord have no say in power: 11.88 kW at 0.95 are 12.505 kVA.
        self::assertEqualsWithDelta(11.88 / 0.95, $supply->apparent(11_880), 1e-9);
    }

    public function test_loads_between_two_lines_count_on_both(): void
    {
        $supply = Supply::of(208, 20, 3, 1, 0.8, 'lines');
        // Three even circuits of 1 kW: P / (3 · U_LN), with U_LN = 208 / √3.
        $even = $supply->lines([1000, 1000, 1000]);
        self::assertEqualsWithDelta(array_fill(0, 3, 3000 / ((3 * 208) / sqrt(3))), $even['amperes'], 1e-9);
        self::assertEqualsWithDelta([0.0, 0.0], [$even['neutral'], $even['unbalance']], 1e-9);
        // One circuit stands between lines 1 and 2, and the third is free.
        $one = $supply->lines([1000]);
        self::assertEqualsWithDelta([1000 / 208, 1000 / 208, 0.0], $one['amperes'], 1e-9);
        self::assertEqualsWithDelta([500.0, 500.0, 0.0], $one['watts'], 1e-9);
        // Two: line 2 carries both, 60° apart: √3 times one.
        self::assertEqualsWithDelta(
            [1000 / 208, (sqrt(3) * 1000) / 208, 1000 / 208],
            $supply->lines([1000, 1000])['amperes'],
            1e-9,
        );
        self::assertEqualsWithDelta(
            ['watts' => [600.0, 600.0], 'amperes' => [5.0, 5.0], 'neutral' => 0.0, 'unbalance' => 0.0],
            Supply::of(240, 20, 1, 1, 0.8, 'lines')->lines([700, 500]),
            1e-9,
        );
        self::assertEqualsWithDelta(
            ['watts' => [1200.0], 'amperes' => [10.0], 'neutral' => 10.0, 'unbalance' => 0.0],
            Supply::of(120, 20, 1, 1)->lines([700, 500]),
            1e-9,
        );
        self::assertSame([0.0, 0.0, 0.0], $supply->lines([])['amperes']);
        $this->expectException(InvalidValue::class);
        Supply::of(between: 'walls');
    }

    public function test_a_circuit_that_is_filled_to_the_very_watt_is_one(): void
    {
        $supply = Supply::of(230, 10);
        // 1748 W, and ten panels of a tenth of that, whose sum is not quite that in binary.
        $tenth = Panel::of('Tenth', 500, 500, 10, 10, 1, 100, 174.8);
        self::assertSame(
            [10, 10, 1],
            array_map(
                static fn ($r): int => count($r->cells),
                Cabling::power(Wall::grid($tenth, 21, 1), $supply, CablePath::Rows),
            ),
        );
        self::assertSame(
            [4, 4, 4],
            array_map(
                static fn ($r): int => count($r->cells),
                Cabling::power(Wall::grid($tenth, 12, 1), $supply, CablePath::Rows, max: 4),
            ),
        );
        // Of no load at all, ten thousand panels are one run, found at once.
        self::assertCount(
            1,
            Cabling::power(
                Wall::grid(Panel::of('Dark', 10, 10, 1, 1, 0, 0, 0), 100, 100),
                $supply,
                CablePath::RowsSnake,
            ),
        );
        self::assertCount(
            1,
            Cabling::data(
                Wall::grid(Panel::of('Dark', 10, 10, 1, 1, 0, 0, 0), 100, 100),
                DataLink::of(),
                CablePath::RowsSnake,
                true,
            ),
        );
    }

    public function test_cables_are_as_long_as_their_way_from_panel_to_panel(): void
    {
        $wide = Panel::of('Wide', 1000, 500, 100, 50, 1, 1, 1);
        $p = Panel::of('P', 500, 500, 50, 50, 1, 1, 1);
        $wall = Wall::of([[$p, $wide, $p], [$p, null, $p]], [0, 0]);
        // 0.25, 1, 1.75 along the top; down; and back over the gap: 0.75 + 0.75 + 0.5 + 1.5.
        self::assertEqualsWithDelta(3.5, Cabling::power($wall, Supply::of(), CablePath::RowsSnake)[0]->metres, 1e-9);
        self::assertEqualsWithDelta(
            0.0,
            Cabling::power(Wall::grid($p, 1, 1), Supply::of(), CablePath::Rows)[0]->metres,
            1e-9,
        );
    }

    public function test_the_middles_of_columns_and_rows_of_unlike_sizes(): void
    {
        [$wide, $narrow, $low] = [
            Panel::of('W', 1000, 500, 20, 10, 1, 1, 1),
            Panel::of('N', 250, 500, 5, 10, 1, 1, 1),
            Panel::of('L', 1000, 100, 20, 2, 1, 1, 1),
        ];
        $wall = Wall::of([[$wide, null, $wide], [null, $narrow, null], [$low, null, null]], [0, 0]);
        self::assertEqualsWithDelta([0.5, 1.125, 1.75], $wall->columnMiddles(), 1e-12);
        self::assertEqualsWithDelta([0.25, 0.75, 1.05], $wall->rowMiddles(), 1e-12);
        self::assertSame(
            [[0.125], [0.25]],
            [Wall::grid($narrow, 1, 1)->columnMiddles(), Wall::grid($narrow, 1, 1)->rowMiddles()],
        );
    }

    public function test_hanging_points_share_the_columns_by_the_lever(): void
    {
        $column = Panel::of('P', 500, 500, 50, 50, 10, 1, 1);
        $wall = Wall::grid($column, 6, 1);
        // Points at 0.5, 1.5 and 2.5 m: the ends overhang by half a metre, and bear 22.5 kg of sixty.
        $three = Suspension::of($wall, '3');
        self::assertEqualsWithDelta([[0.5, 1.5, 2.5], [22.5, 15.0, 22.5]], [$three->points, $three->loads], 1e-9);
        // Without an end point, the middle one is under the centre of gravity and bears it all.
        self::assertEqualsWithDelta(60.0, $three->oneLost, 1e-9);
        self::assertFalse($three->tips);
        $two = Suspension::of($wall, '0; 3', 12);
        self::assertEqualsWithDelta([[36.0, 36.0], 0.0], [$two->loads, $two->oneLost], 1e-9);
        self::assertEqualsWithDelta([60.0], Suspension::of($wall, '1')->loads, 1e-9);
        // Both points on the left half: the first is lifted. 60 · 1.5 = 1 · F about the first, so 90 and −30.
        $tipping = Suspension::of($wall, '0; 1');
        self::assertEqualsWithDelta([-30.0, 90.0], $tipping->loads, 1e-9);
        self::assertTrue($tipping->tips);
        // None is lifted while all hold; without the right one, the left one is: 60 · 1.5 = 0.7 · F about the first.
        $lost = Suspension::of($wall, '0.5; 1.2; 2.5');
        self::assertGreaterThan(0.0, min($lost->loads));
        self::assertTrue($lost->tips);
        self::assertEqualsWithDelta((60 * (1.5 - 0.5)) / 0.7, $lost->oneLost, 1e-9);
        // A gap weighs nothing: the left column alone, on the left point.
        self::assertEqualsWithDelta(
            [10.0, 10.0],
            Suspension::of(Wall::of([[$column, null, $column]], [0, 0]), '0.25; 1.25')->loads,
            1e-9,
        );
        foreach (['-1', 'left', '0.5; 9', '1;1', '101', ';'] as $bad) {
            try {
                Suspension::of($wall, $bad);
                self::fail($bad);
            } catch (InvalidValue $refused) {
                self::assertSame('hangingPoints', $refused->field);
            }
        }
    }

    public function test_ports_are_charged_by_panels_or_by_the_rectangle_round_them(): void
    {
        $wall = Wall::grid(self::panel(), 12, 6);
        // 659,722 / 36,864 = 17 panels a port.
        $byPanel = Cabling::data($wall, DataLink::of(), CablePath::RowsSnake);
        self::assertSame([17, 17, 17, 17, 4], array_map(static fn ($r): int => count($r->cells), $byPanel));
        // A row is 442,368 px; the rectangle round one panel more is two rows: 884,736 px.
        $byRectangle = Cabling::data($wall, DataLink::of(), CablePath::RowsSnake, true);
        self::assertSame(array_fill(0, 6, 12), array_map(static fn ($r): int => count($r->cells), $byRectangle));
    }

    public function test_paths_go_where_they_say_and_leave_gaps_out(): void
    {
        $p = self::panel();
        $wall = Wall::of([[$p, $p, null], [$p, $p, $p]], [0, 0]);
        $way = static fn (CablePath $path, bool $right = false, bool $bottom = false): string => implode(
            ' ',
            array_map(static fn (array $c): string => "$c[0]$c[1]", $path->order($wall, $right, $bottom)),
        );
        self::assertSame('00 01 12 11 10', $way(CablePath::RowsSnake));
        self::assertSame('00 01 10 11 12', $way(CablePath::Rows));
        self::assertSame('00 10 11 01 12', $way(CablePath::ColumnsSnake));
        self::assertSame('12 11 10 00 01', $way(CablePath::RowsSnake, true, true));
        self::assertSame('12 11 01 10 00', $way(CablePath::Columns, true, true));
    }

    public function test_no_run_bears_more_than_it_may_whatever_the_wall(): void
    {
        mt_srand(3);
        for ($i = 0; $i < 40; $i++) {
            $cells = [];
            for ($r = 0; $r < mt_rand(1, 8); $r++) {
                for ($c = 0, $n = 11; $c < $n; $c++) {
                    $cells[$r][$c] = $c > 0 && mt_rand(0, 4) === 0 ? null : self::panel();
                }
            }
            $wall = Wall::of($cells, array_fill(0, 10, 0.0));
            foreach (CablePath::cases() as $path) {
                foreach (
                    [
                        Cabling::power($wall, Supply::of(), $path),
                        Cabling::data($wall, DataLink::of(), $path, $i % 2 === 0),
                    ] as $runs
                ) {
                    self::assertSame(
                        $wall->figures()->panels,
                        array_sum(array_map(static fn ($r): int => count($r->cells), $runs)),
                    );
                    foreach ($runs as $k => $run) {
                        self::assertLessThanOrEqual($run->limit, $run->load);
                        self::assertSame($k + 1, $run->number);
                    }
                }
            }
        }
    }

    public function test_a_panel_that_no_circuit_bears_is_named(): void
    {
        $this->expectException(InvalidValue::class);
        $this->expectExceptionMessage('One "Giant" draws 5000 W, more than the 2797 W of a circuit.');
        Cabling::power(
            Wall::grid(Panel::of('Giant', 500, 500, 10, 10, 1, 100, 5000), 1, 1),
            Supply::of(),
            CablePath::Rows,
        );
    }

    public function test_a_wall_from_size_and_pitch_alone_says_what_rounding_does(): void
    {
        $wall = WallBySize::of(9, 4.5, 2.3);
        self::assertSame([3913, 1957], [$wall->widthPx, $wall->heightPx]);
        self::assertEqualsWithDelta(
            [-0.0001, 0.0011, 9000 / 3913, 4500 / 1957],
            [$wall->widthChange, $wall->heightChange, $wall->pitchForWidth, $wall->pitchForHeight],
            1e-9,
        );
    }
}
