<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Exchange\Mpcdi;
use Core\Exchange\Pfm;
use Core\Geometry\Homography;
use Core\Geometry\Linear;
use Core\Geometry\Mat3;
use Core\Output\BezierGrid;
use Core\Output\DeliveryMesh;
use Core\Output\PlaceMap;
use Core\Output\ProjectedMesh;
use Core\Output\Rect;
use Core\Output\Region;
use Core\Output\SeenTriangles;
use Core\Output\WarpLattice;
use Core\Units\InvalidValue;
use PHPUnit\Framework\TestCase;

/** Homographies, Bézier patches and the triangles that a region is delivered through. */
final class WarpTest extends TestCase
{
    public function test_equations_are_solved_and_those_that_do_not_tell_are_not(): void
    {
        self::assertEqualsWithDelta(
            [1.0, -2.0, 3.0],
            Linear::solve([[0.0, 2.0, 1.0], [1.0, 1.0, 1.0], [2.0, 0.0, -1.0]], [-1.0, 2.0, -1.0]),
            1e-12,
        );
        self::assertNull(Linear::solve([[1.0, 2.0], [2.0, 4.0]], [1.0, 2.0]));
        self::assertSame([], Linear::solve([], []));
        // The matrix [[2, 1], [1, 2]] has 1 along (1, −1) and 3 along (1, 1).
        [$values, $vectors] = Linear::eigen([[2.0, 1.0], [1.0, 2.0]]);
        self::assertEqualsWithDelta([1.0, 3.0], $values, 1e-12);
        self::assertEqualsWithDelta(0.0, $vectors[0][0] + $vectors[0][1], 1e-12);
        self::assertEqualsWithDelta(M_SQRT1_2, abs($vectors[1][0]), 1e-12);
    }

    public function test_a_homography_carries_four_points_exactly_and_more_as_well_as_it_can(): void
    {
        mt_srand(3);
        $random = static fn (): float => mt_rand() / mt_getrandmax();
        for ($i = 0; $i < 200; $i++) {
            $true = Mat3::of([
                1 + $random(),
                $random() - 0.5,
                900 * $random(),
                $random() - 0.5,
                1 + $random(),
                500 * $random(),
                4e-4 * ($random() - 0.5),
                4e-4 * ($random() - 0.5),
                1.0,
            ]);
            $from = [[0.0 + 40 * $random(), 0.0], [900.0, 30 * $random()], [1000.0, 700.0], [-20.0 * $random(), 650.0]];
            $more = $from;
            for ($k = 0; $k < 8; $k++) {
                $more[] = [1000 * $random(), 700 * $random()];
            }
            foreach ([$from, $more] as $points) {
                $found = Homography::of(
                    $points,
                    array_map(static fn (array $p): array => $true->point($p[0], $p[1]), $points),
                );
                self::assertNotNull($found);
                self::assertEqualsWithDelta($true->m, $found->m, 2e-6 * 900);
                foreach ([[10.0, 10.0], [500.0, 333.0], [950.0, 640.0]] as [$x, $y]) {
                    self::assertEqualsWithDelta($true->point($x, $y), $found->point($x, $y), 1e-5);
                }
            }
            $square = array_map(static fn (array $p): array => $true->point($p[0], $p[1]), [
                [0.0, 0.0],
                [1000.0, 0.0],
                [1000.0, 700.0],
                [0.0, 700.0],
            ]);
            $closed = Homography::ofSquare([$square[0], $square[1], $square[2], $square[3]]);
            self::assertNotNull($closed);
            self::assertEqualsWithDelta($true->point(250, 525), $closed->point(0.25, 0.75), 1e-7);
        }
        self::assertNull(
            Homography::of(
                [[0.0, 0.0], [1.0, 1.0], [2.0, 2.0], [5.0, 0.0]],
                [[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]],
            ),
            'three on a line',
        );
        self::assertNull(
            Homography::of([[0.0, 0.0], [1.0, 0.0], [1.0, 1.0]], [[0.0, 0.0], [1.0, 0.0], [1.0, 1.0]]),
            'three points',
        );
        self::assertNull(
            Homography::ofSquare([[0.0, 0.0], [10.0, 0.0], [3.0, 3.0], [0.0, 10.0]]),
            'a corner pushed in',
        );
        self::assertNull(Homography::ofSquare([[0.0, 0.0], [0.0, 0.0], [0.0, 0.0], [0.0, 0.0]]), 'all in one place');
        self::assertEqualsWithDelta(
            [5.0, 2.5],
            Homography::ofSquare([[0.0, 0.0], [10.0, 0.0], [10.0, 5.0], [0.0, 5.0]])?->point(0.5, 0.5),
            1e-12,
        );
    }

    private static function bent(float $by = 1.0): BezierGrid
    {
        mt_srand(8);
        $grid = BezierGrid::straight([0.0, 0.4, 1.0], [0.0, 0.3, 0.75, 1.0]);
        $steps = [];
        foreach (array_keys($grid->points) as $at) {
            $steps[$at] = [($by * mt_rand(-100, 100)) / 1500, ($by * mt_rand(-100, 100)) / 1500];
        }

        return $grid->moved($steps);
    }

    public function test_patches_that_nothing_moved_move_nothing(): void
    {
        $grid = BezierGrid::straight([0.0, 0.4, 1.0], [0.0, 0.3, 0.75, 1.0]);
        foreach ([[0.0, 0.0], [0.17, 0.62], [0.4, 0.3], [1.0, 1.0], [1.2, -0.3]] as [$u, $v]) {
            self::assertEqualsWithDelta([$u, $v], $grid->at($u, $v), 1e-12);
        }
        self::assertTrue($grid->isPlain());
        self::assertFalse(self::bent()->isPlain());
    }

    public function test_a_line_more_keeps_the_shape_and_taking_it_out_brings_the_same_points_back(): void
    {
        $grid = self::bent();
        $more = $grid->withColumn(0.22)->withColumn(0.83)->withRow(0.5)->withRow(0.05);
        self::assertSame([4, 5], [$more->columns(), $more->rows()]);
        for ($v = 0.0; $v <= 1.0; $v += 0.04) {
            for ($u = 0.0; $u <= 1.0; $u += 0.04) {
                self::assertEqualsWithDelta($grid->at($u, $v), $more->at($u, $v), 1e-9);
            }
        }
        $back = $grid->withColumn(0.22)->withoutColumn(1)->withRow(0.9)->withoutRow(3);
        self::assertEqualsWithDelta($grid->toArray()['points'], $back->toArray()['points'], 1e-12);
        self::assertEquals($grid->us, $back->us);
        self::assertEqualsWithDelta($grid->toArray(), BezierGrid::of($grid->toArray())->toArray(), 1e-15);
    }

    public function test_an_anchor_takes_its_handles_along_and_others_as_far_as_they_are_near(): void
    {
        $grid = BezierGrid::straight([0.0, 0.5, 1.0], [0.0, 0.5, 1.0]);
        $middle = 3 * $grid->across() + 3;
        $moved = $grid->moved([$middle => [0.1, -0.05]]);
        self::assertEqualsWithDelta([0.6, 0.45], $moved->at(0.5, 0.5), 1e-12);
        self::assertEqualsWithDelta([0.5 - 1 / 6 + 0.1, 0.45], $moved->points[$middle - 1], 1e-12);
        self::assertEqualsWithDelta([0.0, 0.5], $moved->at(0, 0.5), 1e-12);
        // A handle alone, and one that its counterpart across the anchor answers.
        $one = $grid->moved([$middle + 1 => [0.0, 0.1]]);
        self::assertEqualsWithDelta($grid->points[$middle - 1], $one->points[$middle - 1], 1e-12);
        $both = $grid->moved([$middle + 1 => [0.0, 0.1]], true);
        self::assertEqualsWithDelta([0.5 - 1 / 6, 0.5 - 0.1], $both->points[$middle - 1], 1e-12);
        // Softly: half as far at half the radius.
        $soft = $grid->moved([$middle => [0.0, 0.2]], false, [1.0, 1.0]);
        self::assertEqualsWithDelta([0.5, 0.1], [$soft->points[3][0], $soft->points[3][1]], 1e-12);
        self::assertEqualsWithDelta(0.0 + (0.2 * (1 + cos(M_PI * hypot(0.5, 0.5)))) / 2, $soft->points[0][1], 1e-12);
        // A circle on a picture twice as wide as high is twice as far down, in units of the square, as across: the
        // same points, half as far down.
        $wide = $grid->moved([$middle => [0.0, 0.2]], false, [0.5, 1.0]);
        self::assertEqualsWithDelta(
            [0.1, 0.5, 0.5],
            [$wide->points[3][1], $wide->points[3 * $grid->across()][1], $wide->points[3 * $grid->across() + 6][1]],
            1e-12,
        );
    }

    public function test_warps_that_can_not_be_are_refused(): void
    {
        $good = BezierGrid::plain()->toArray();
        foreach (
            [
                ['us' => [0.0, 0.5]] + $good,
                ['us' => [0.0, 0.7, 0.7, 1.0]] + $good,
                ['points' => [1.0]] + $good,
                ['points' => array_fill(0, 32, NAN)] + $good,
                ['points' => array_fill(0, 32, 11.0)] + $good,
                ['points' => array_fill(0, 32, 'x')] + $good,
                [],
            ] as $bad
        ) {
            try {
                BezierGrid::of($bad);
                self::fail('was taken: '.json_encode($bad, JSON_PARTIAL_OUTPUT_ON_ERROR));
            } catch (InvalidValue $refused) {
                self::assertSame('warp', $refused->field);
            }
        }
        foreach (
            [
                static fn () => BezierGrid::plain()->withColumn(0.0),
                static fn () => BezierGrid::plain()->withRow(1.5),
                static fn () => BezierGrid::plain()->withoutColumn(0),
                static fn () => BezierGrid::plain()->withoutRow(1),
                static fn () => BezierGrid::plain()->moved([16 => [0.0, 0.0]]),
            ] as $do
        ) {
            try {
                $do();
                self::fail('was done');
            } catch (InvalidValue) {
                self::addToAssertionCount(1);
            }
        }
        $grid = BezierGrid::plain();
        for ($k = 1; $k < BezierGrid::MAX_PATCHES; $k++) {
            $grid = $grid->withColumn($k / BezierGrid::MAX_PATCHES);
        }
        $this->expectException(InvalidValue::class);
        $grid->withColumn(0.01);
    }

    /**
     * Where a mesh has a pixel of the output on the surface, worked out from its triangles alone.
     *
     * @return array{float, float}|null
     */
    private static function source(DeliveryMesh $mesh, float $x, float $y): ?array
    {
        $found = null;
        foreach (array_chunk($mesh->numbers(), 3 * DeliveryMesh::NUMBERS) as $t) {
            $l = Linear::solve([[$t[0], $t[6], $t[12]], [$t[1], $t[7], $t[13]], [$t[2], $t[8], $t[14]]], [$x, $y, 1.0]);
            if ($l !== null && min($l) >= -1e-9) {
                $sum = array_sum($l);
                $found = [
                    ($l[0] * $t[3] + $l[1] * $t[9] + $l[2] * $t[15]) / $sum,
                    ($l[0] * $t[4] + $l[1] * $t[10] + $l[2] * $t[16]) / $sum,
                ];
            }
        }

        return $found;
    }

    public function test_a_pinned_region_takes_two_triangles_and_is_exact(): void
    {
        $region = Region::of(
            's',
            Rect::of(8, 4, 200, 100),
            100,
            100,
            turn: 90,
            mirror: true,
            pin: [[40.0, -10.0], [-20.0, 5.0], [12.0, 30.0], [0.0, -7.0]],
        );
        $mesh = DeliveryMesh::of($region);
        self::assertSame(6, $mesh->corners());
        foreach ([[10.0, 10.0], [100.0, 50.0], [207.0, 103.0], [60.0, 99.0]] as [$x, $y]) {
            self::assertEqualsWithDelta([$x, $y], self::source($mesh, ...$region->lands($x, $y)), 2e-3);
        }
        self::assertNull(self::source($mesh, 90, 90));
    }

    public function test_bent_regions_are_met_within_a_tenth_of_a_pixel(): void
    {
        $region = Region::of(
            's',
            Rect::of(0, 0, 640, 360),
            100,
            50,
            1280,
            720,
            grid: self::bent(0.25),
            pin: [[40.0, 0.0], [0.0, 20.0], [0.0, 0.0], [0.0, 0.0]],
        );
        $mesh = DeliveryMesh::of($region);
        $worst = 0.0;
        foreach (array_chunk($mesh->numbers(), 3 * DeliveryMesh::NUMBERS) as $k => $t) {
            // The middle of a triangle and of its longest side, where its flat piece is farthest from the surface.
            foreach ($k % 7 === 0 ? [[1 / 3, 1 / 3, 1 / 3], [0.5, 0.0, 0.5]] : [] as [$a, $b, $c]) {
                $w = $a * $t[2] + $b * $t[8] + $c * $t[14];
                $flat = [($a * $t[0] + $b * $t[6] + $c * $t[12]) / $w, ($a * $t[1] + $b * $t[7] + $c * $t[13]) / $w];
                $true = $region->lands($a * $t[3] + $b * $t[9] + $c * $t[15], $a * $t[4] + $b * $t[10] + $c * $t[16]);
                $worst = max($worst, hypot($flat[0] - $true[0], $flat[1] - $true[1]));
            }
        }
        self::assertGreaterThan(0.0, $worst);
        self::assertLessThan(0.1, $worst);
    }

    public function test_a_polygon_keeps_its_area_through_a_warp(): void
    {
        $polygon = [[10.0, 10.0], [190.0, 10.0], [190.0, 90.0], [100.0, 30.0], [10.0, 90.0]];
        foreach ([null, self::bent()] as $grid) {
            $mesh = DeliveryMesh::of(Region::of('s', Rect::of(0, 0, 200, 100), 0, 0, polygon: $polygon, grid: $grid));
            $area = 0.0;
            foreach (array_chunk($mesh->numbers(), 3 * DeliveryMesh::NUMBERS) as $t) {
                $area += abs(($t[9] - $t[3]) * ($t[16] - $t[4]) - ($t[10] - $t[4]) * ($t[15] - $t[3])) / 2;
            }
            // By the shoelace formula: (180 × 80) less the notch of 90 + 90 by 60 over 2, twice.
            self::assertEqualsWithDelta(180 * 80 - (180 * 60) / 2, $area, 0.5);
        }
        self::assertEqualsWithDelta(
            [50.0, 20.0],
            self::source(DeliveryMesh::of(Region::of('s', Rect::of(0, 0, 200, 100), 0, 0, polygon: $polygon)), 50, 20),
            1e-3,
        );
        self::assertNull(
            self::source(DeliveryMesh::of(Region::of('s', Rect::of(0, 0, 200, 100), 0, 0, polygon: $polygon)), 100, 60),
            'in the notch',
        );
    }

    public function test_a_computed_warp_is_bent_further_by_hand_and_travels_as_bytes(): void
    {
        $lattice = new WarpLattice(
            [0.0, 100.0, 200.0],
            [0.0, 50.0],
            [[10.0, 10.0, 1.0], [120.0, 12.0, 1.0], [440.0, 20.0, 2.0], [10.0, 60.0, 1.0], [120.0, 66.0, 1.0], null],
            0.02,
        );
        $back = WarpLattice::fromBytes($lattice->toBytes());
        self::assertEquals($lattice, $back);
        $region = Region::of('s', Rect::of(0, 0, 200, 50), 0, 0);
        $mesh = DeliveryMesh::of($region, $back);
        self::assertSame(6, $mesh->corners(), 'the cell with a corner that is not reached is left out');
        self::assertEqualsWithDelta([50.0, 25.0], self::source($mesh, 65, 38), 1e-3);
        $moved = DeliveryMesh::of(
            Region::of('s', Rect::of(0, 0, 200, 50), 0, 0, pin: [[5.0, 7.0], [5.0, 7.0], [5.0, 7.0], [5.0, 7.0]]),
            $back,
        );
        self::assertEqualsWithDelta(self::source($mesh, 65, 37), self::source($moved, 70, 44), 1e-3);
        $this->expectException(\UnexpectedValueException::class);
        WarpLattice::fromBytes(substr($lattice->toBytes(), 0, -1));
    }

    public function test_a_warp_told_the_other_way_round_comes_back(): void
    {
        $region = Region::of(
            's',
            Rect::of(10, 20, 640, 360),
            10,
            8,
            320,
            180,
            pin: [[15.0, 2.0], [-5.0, 7.0], [-10.0, 0.0], [2.0, -6.0]],
            grid: self::bent(0.2),
        );
        $mesh = DeliveryMesh::of($region);
        $map = PlaceMap::of($mesh, 350, 200);
        $met = 0;
        foreach (range(3, 199, 3) as $y) {
            $row = $map->row($y);
            foreach (range(1, 349, 3) as $x) {
                if (is_nan($row[2 * $x])) {
                    continue;
                }
                $met++;
                $lands = $region->lands($row[2 * $x], $row[2 * $x + 1]);
                self::assertEqualsWithDelta([$x + 0.5, $y + 0.5], [$lands[0], $lands[1]], 0.1);
            }
        }
        self::assertGreaterThan(5000, $met);
        // And back: no pixel lost, none more, each where it was.
        $this->assertSameMap($map, $map->mesh(), 0.01);
        self::assertSame('', PlaceMap::of(DeliveryMesh::fromBytes(''), 10, 10)->mesh()->bytes);
    }

    /** Holds triangles against a map at the middle of every pixel, and one pixel around it. */
    private function assertSameMap(PlaceMap $map, ProjectedMesh $mesh, float $within): void
    {
        $seen = SeenTriangles::of(DeliveryMesh::fromBytes($mesh->bytes));
        [$worst, $lost, $more] = [0.0, 0, 0];
        for ($y = -1; $y <= $map->height; $y++) {
            $row = $y < 0 || $y >= $map->height ? [] : $map->row($y);
            for ($x = -1; $x <= $map->width; $x++) {
                $is = $seen->place($x + 0.5, $y + 0.5);
                $was = $x < 0 ? NAN : $row[2 * $x] ?? NAN;
                if (is_nan($was)) {
                    $more += $is === null ? 0 : 1;
                } elseif ($is === null) {
                    $lost++;
                } else {
                    $worst = max($worst, abs($is[0] - $was), abs($is[1] - $row[2 * $x + 1]));
                }
            }
        }
        self::assertSame([0, 0], [$lost, $more]);
        self::assertLessThanOrEqual($within, $worst);
    }

    public function test_a_place_map_with_ledges_holes_and_bars_becomes_triangles_pixel_by_pixel(): void
    {
        // A plane in perspective, 40 px farther behind a slanted ledge, with a round hole, bars of one pixel, and a
        // single pixel alone.
        $place = static function (int $x, int $y): array {
            [$u, $v] = [$x + 0.5, $y + 0.5];
            if ($x === 300 && $y === 3) {
                return [7.0, 8.0];
            }
            if ($y < 10 || $x < 7 || hypot($u - 200, $v - 90) < 31 || ($x > 260 && $x < 280 && $x % 2 === 0)) {
                return [NAN, NAN];
            }
            $w = 1 + 4e-4 * $u - 3e-4 * $v;
            $ledge = $u + 0.3 * $v > 170 ? 40.0 : 0.0;

            return [(3 * $u + 0.1 * $v) / $w + $ledge, (0.2 * $u + 2.5 * $v) / $w];
        };
        $map = new PlaceMap(317, 211, static function (int $y) use ($place): array {
            return array_merge(...array_map(static fn (int $x): array => $place($x, $y), range(0, 316)));
        });
        $mesh = $map->mesh();
        self::assertSame(0.004, $mesh->error);
        $this->assertSameMap($map, $mesh, 0.005);
        self::assertLessThan(20_000, count($mesh->triangles()));
        // What a pixel covers is that of its own side of the ledge: some three pixels by some two and a half.
        $seen = SeenTriangles::of(DeliveryMesh::fromBytes($mesh->bytes));
        for ($y = 12; $y < 211; $y++) {
            for ($x = 9; $x < 250; $x++) {
                $at = $seen->at($x + 0.5, $y + 0.5);
                if ($at !== null) {
                    self::assertLessThan(3.6, max($at[1]), "$x, $y");
                }
            }
        }
        // One row, one column, one pixel.
        foreach ([[1, 40], [40, 1], [1, 1], [64, 64], [65, 2]] as [$w, $h]) {
            $thin = new PlaceMap(
                $w,
                $h,
                static fn (int $y): array => array_merge(
                    ...array_map(static fn (int $x): array => [2.0 * $x, 3.0 * $y], range(0, $w - 1)),
                ),
            );
            $this->assertSameMap($thin, $thin->mesh(), 0.005);
        }
        // Noise of many pixels is refused.
        $noise = new PlaceMap(400, 400, static function (int $y): array {
            mt_srand($y);
            for ($row = [], $x = 0; $x < 400; $x++) {
                array_push($row, $x + 50.0 * (mt_rand() / mt_getrandmax()), 1.0 * $y);
            }

            return $row;
        });
        $this->expectException(InvalidValue::class);
        $this->expectExceptionMessage('ragged');
        $noise->mesh();
    }

    public function test_a_place_map_of_other_pixels_is_read_between_its_middles(): void
    {
        // 20 pixels for 80 of the output: the middle of pixel 2 is 0.125 of the way from that of 0 on, as (2.5 / 4 - 0.5).
        $map = new PlaceMap(
            20,
            10,
            static fn (int $y): array => array_merge(
                ...array_map(
                    static fn (int $x): array => $y === 9
                        ? [NAN, NAN]
                        : [40.0 * $x + ($x > 9 ? 5000.0 : 0.0), 30.0 * $y],
                    range(0, 19),
                ),
            ),
        );
        $fine = $map->onto(80, 40, Rect::of(0, 0, 800, 300));
        $row = $fine->row(8);
        self::assertEqualsWithDelta([40 * 0.125, 30 * 1.625], array_slice($row, 4, 2), 1e-9);
        // The outermost middles stand for the edge, and nobody is between a pixel and what is far from it.
        self::assertSame([0.0, 360.0, 5400.0], [$row[0], $row[2 * 39], $row[2 * 40]]);
        // The last row shows nothing, and nothing is made up for it.
        self::assertSame([false, true], [is_nan($fine->row(35)[0]), is_nan($fine->row(36)[0])]);
        self::assertSame($map, $map->onto(20, 10, Rect::of(0, 0, 800, 300)));
    }

    public function test_float_maps_are_written_as_the_format_has_them_and_read_back(): void
    {
        $numbers = [0.0, 0.5, 1.0, 0.25, 0.0, 0.0, 1.0, 2.0, 3.0, 4.0, 5.0, 6.0, -1.0, -2.0, -3.0, 7.0, 8.0, 9.0];
        $map = new Pfm(2, 3, static fn (int $y): array => array_slice($numbers, 6 * $y, 6));
        $bytes = implode('', iterator_to_array($map->bytes(), false));
        self::assertStringStartsWith("PF\n2 3\n-1.0\n", $bytes);
        // The first numbers of the file are those of the lowest row.
        self::assertSame([-1.0, -2.0, -3.0], array_values((array) unpack('g3', substr($bytes, 12))));
        $read = self::floats($bytes);
        self::assertSame(
            [2, 3, $map->row(0), $map->row(2)],
            [$read->width, $read->height, $read->row(0), $read->row(2)],
        );
        $big = self::floats("PF 2 2 1.0\n".pack('G12', ...range(1, 12)));
        self::assertSame(
            [[7.0, 8.0, 9.0, 10.0, 11.0, 12.0], [1.0, 2.0, 3.0]],
            [$big->row(0), array_slice($big->row(1), 0, 3)],
        );
        foreach (
            [
                '',
                "Pf\n2 2\n-1\n",
                "PF\n2 2\n-1.0\nshort",
                "PF\n1 1\n-1.0\n".pack('g3', 1, 2, 3),
                "PF\n999999 999999\n-1.0\n",
            ] as $bad
        ) {
            try {
                self::floats($bad);
                self::fail('was taken');
            } catch (InvalidValue $refused) {
                self::assertSame('pfm', $refused->field);
            }
        }
    }

    private static function floats(string $bytes): Pfm
    {
        return Pfm::from(strlen($bytes), static fn (int $at, int $length): string => substr($bytes, $at, $length));
    }

    public function test_the_interchange_description_is_valid_and_reads_back(): void
    {
        $regions = [
            new Mpcdi(
                'House "front" & door',
                [1120, 640],
                'r1',
                [1920, 1200],
                [0.0, 0.0, 0.55, 1.0],
                'r1.pfm',
                'r1.png',
                2.2,
            ),
            new Mpcdi(
                'House "front" & door',
                [1120, 640],
                'r2',
                [1920, 1080],
                [0.45, 0.0, 0.55, 1.0],
                'r2.pfm',
                null,
                1.0,
            ),
        ];
        $xml = Mpcdi::xml($regions, '2026-11-29 09:00:00');
        $document = new \DOMDocument();
        self::assertTrue($document->loadXML($xml));
        self::assertSame(
            ['MPCDI', '2d', '2.0'],
            [
                $document->documentElement?->nodeName,
                $document->documentElement?->getAttribute('profile'),
                $document->documentElement?->getAttribute('version'),
            ],
        );
        self::assertSame(
            [1, 2, 2],
            [
                $document->getElementsByTagName('buffer')->length,
                $document->getElementsByTagName('region')->length,
                $document->getElementsByTagName('fileset')->length,
            ],
        );
        self::assertEquals($regions, Mpcdi::read($xml));
        foreach (
            [
                '',
                '<MPCDI/>',
                '<x/>',
                '<!DOCTYPE a [<!ENTITY b "c">]><MPCDI/>',
                str_replace('<path>r1.pfm</path>', '', $xml),
                str_replace('Xresolution="1920" Yresolution="1200"', '', $xml),
            ] as $bad
        ) {
            try {
                Mpcdi::read($bad);
                self::fail('was taken: '.substr($bad, 0, 60));
            } catch (InvalidValue $refused) {
                self::assertSame('mpcdi', $refused->field);
            }
        }
    }
}
