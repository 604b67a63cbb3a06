<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Units\Refused;
use Core\Venue\CablePath;
use Core\Venue\Cabling;
use Core\Venue\Curvature;
use Core\Venue\DataLink;
use Core\Venue\Feeding;
use Core\Venue\Panel;
use Core\Venue\Supply;
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
        self::assertEqualsWithDelta([5.0, 2 * 2.5 * tan(deg2rad(20))], [$sheet(['viewAngle' => 90])['widthAtNearest'], $sheet([])['widthAtNearest']], 1e-9);
        $this->expectException(Refused::class);
        Feeding::fromRow(['viewAngle' => 180]);
    }

    public function test_a_curved_wall_has_the_chord_depth_and_radii_of_the_closed_forms(): void
    {
        foreach ([[12, 5.0], [7, -7.5], [36, 10.0], [2, 90.0]] as [$n, $angle]) {
            $c = Curvature::of(array_fill(0, $n, 0.5), array_fill(0, $n - 1, $angle));
            $half = deg2rad(abs($angle)) / 2;
            $r = 0.5 / (2 * sin($half));
            self::assertEqualsWithDelta([$r, 0.5 / (2 * tan($half)), $n * 0.5, ($n - 1) * $angle], [$c->radiusAtSeams, $c->radiusAtFaces, $c->arc, $c->turn], 1e-9);
            self::assertEqualsWithDelta(abs(2 * $r * sin($n * $half)), $c->chord, 1e-9, "$n panels at $angle degrees");
            if ($n * 2 * $half <= M_PI && $n % 2 === 0) {
                // An even number of panels has a seam in the middle: the sagitta of the circle through the seams.
                self::assertEqualsWithDelta($r * (1 - cos($n * $half)), $c->depth, 1e-9);
            }
        }
        $flat = Curvature::of([0.5, 0.5], [0.0]);
        self::assertSame([1.0, 0.0, null], [$flat->chord, $flat->depth, $flat->radiusAtSeams]);
    }

    public function test_the_mesh_of_a_curved_wall_is_as_wide_as_its_chord_says(): void
    {
        $wall = Wall::of([array_fill(0, 9, self::panel())], array_fill(0, 8, 6.5));
        $mesh = $wall->mesh();
        self::assertEqualsWithDelta($wall->curvature()->chord, $mesh->position($mesh->vertexCount() - 1)->minus($mesh->position(0))->length(), 1e-9);
    }

    public function test_seams_are_found_for_a_radius_and_for_a_turn(): void
    {
        self::assertEqualsWithDelta(6.0, Curvature::of(array_fill(0, 5, 0.5), array_fill(0, 4, Curvature::seamForRadius(0.5, 6.0)))->radiusAtSeams, 1e-9);
        self::assertLessThan(0, Curvature::seamForRadius(0.5, -6.0));
        self::assertEqualsWithDelta(90.0, array_sum(Curvature::seamsForTurn(10, 90)), 1e-9);
        $this->expectException(Refused::class);
        $this->expectExceptionMessage('radius must be between 0.25');
        Curvature::seamForRadius(0.5, 0.2);
    }

    public function test_a_joint_opens_by_what_the_depth_of_the_panels_makes_it(): void
    {
        // 80 mm deep at 10°: 160 · sin 5° = 13.94 mm.
        self::assertEqualsWithDelta(13.945, Curvature::opening(80, -10), 0.001);
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
        $this->expectException(Refused::class);
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
        $phases = $supply->phases(array_map(static fn ($r): float => $r->load, $runs));
        // Circuits 1 and 4, 2 and 5, 3: 5280, 3960 and 2640 W.
        self::assertEqualsWithDelta([5280.0, 3960.0, 2640.0], $phases['watts'], 1e-9);
        self::assertEqualsWithDelta(5280 / 3960 - 1, $phases['unbalance'], 1e-9);
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
        $way = static fn (CablePath $path, bool $right = false, bool $bottom = false): string => implode(' ', array_map(static fn (array $c): string => "$c[0]$c[1]", $path->order($wall, $right, $bottom)));
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
                foreach ([Cabling::power($wall, Supply::of(), $path), Cabling::data($wall, DataLink::of(), $path, $i % 2 === 0)] as $runs) {
                    self::assertSame($wall->figures()->panels, array_sum(array_map(static fn ($r): int => count($r->cells), $runs)));
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
        $this->expectException(Refused::class);
        $this->expectExceptionMessage('One "Giant" draws 5000 W, more than the 2797 W of a circuit.');
        Cabling::power(Wall::grid(Panel::of('Giant', 500, 500, 10, 10, 1, 100, 5000), 1, 1), Supply::of(), CablePath::Rows);
    }

    public function test_a_wall_from_size_and_pitch_alone_says_what_rounding_does(): void
    {
        $wall = WallBySize::of(8, 4.5, 1.9);
        self::assertSame([4211, 2368], [$wall->widthPx, $wall->heightPx]);
        self::assertEqualsWithDelta([0.0009, -0.0008, 8000 / 4211, 4500 / 2368], [$wall->widthChange, $wall->heightChange, $wall->pitchForWidth, $wall->pitchForHeight], 1e-9);
    }
}
