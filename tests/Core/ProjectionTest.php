<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Geometry\Linear;
use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Light\Beam;
use Core\Light\Body;
use Core\Light\Scene;
use Core\Light\SurfaceChart;
use Core\Output\BlendMap;
use Core\Output\ComputedWarp;
use Core\Output\DeliveryMesh;
use Core\Output\DistanceField;
use Core\Output\EdgeBlend;
use Core\Output\Evenness;
use Core\Output\Matching;
use Core\Output\ModelWarp;
use Core\Output\OverlapBlend;
use Core\Output\ProjectedRegion;
use Core\Output\Rect;
use Core\Output\Region;
use Core\Output\SeamPicture;
use Core\Output\WarpLattice;
use Core\Units\InvalidValue;
use Core\Venue\Face;
use Core\Venue\Feeding;
use Core\Venue\Material;
use Core\Venue\Projector;
use Core\Venue\Surface;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Warps from the venue and blends of overlapping projectors, against closed forms. */
final class ProjectionTest extends TestCase
{
    /**
     * Degrees beyond which a projector does not count: flatter, its light falls too steeply for the lines of a blend.
     */
    private const LIMIT = 70;

    /** A projector of fewer pixels. */
    private const HALF = ['widthPx' => 960, 'heightPx' => 600, 'throw' => 1.5];

    /** Pixels of 480 across: five lines of a blend of 241. */
    private const NEAR_EDGE = 10;

    /** @param  array<string, mixed>  $shape */
    private static function face(string $kind, array $shape): Surface
    {
        $pose = Pose::of(Vec3::zero());

        return new Surface(
            'f',
            'Face',
            $pose,
            Face::fromRow($kind, $shape),
            Feeding::fromRow([]),
            Material::fromRow([]),
        );
    }

    private static function chart(Surface $surface): SurfaceChart
    {
        return SurfaceChart::of($surface, $surface->pose->matrix());
    }

    private static function scene(Surface $surface, Body ...$more): Scene
    {
        return Scene::of([
            new Body(
                'f',
                'Face',
                $surface->carrier->mesh(),
                $surface->pose->matrix(),
                $surface->material,
                $surface->width(),
                $surface->height(),
            ),
            ...array_values($more),
        ]);
    }

    /** @param  array<string, mixed>  $row */
    private static function projected(
        Surface $surface,
        Pose $pose,
        array $row = [],
        string $id = 'r',
        string $stack = '',
        ?Rect $part = null,
        ?Rect $source = null,
    ): ProjectedRegion {
        $projector = Projector::fromRow(
            $row + ['name' => 'P', 'lens' => ['widthPx' => 1920, 'heightPx' => 1200, 'throw' => 1.5]],
        );

        return new ProjectedRegion(
            $id,
            Region::of('f', $source ?? Rect::of(0, 0, $surface->width(), $surface->height()), 0, 0),
            $part ?? Rect::of(0, 0, 1920, 1200),
            new Beam("p$id", $projector, $pose->matrix()),
            $stack,
        );
    }

    /** @return array{float, float} */
    private static function onOutput(ProjectedRegion $of, float $x, float $y, float $z): array
    {
        $p = $of->pixel($x, $y, $z);
        self::assertNotNull($p);

        return [$p[0] / $p[2], $p[1] / $p[2]];
    }

    public function test_a_pixel_of_an_output_is_where_the_lens_throws_it(): void
    {
        $flat = self::face('flat', ['width' => 4, 'height' => 3]);
        // Eight metres before the face, its axis through (0, 1.5): a picture 8 / 1.5 m wide.
        $of = self::projected($flat, Pose::of(Vec3::of(0, 1.5, 8)));
        $scale = 1920 / (8 / 1.5);
        self::assertEqualsWithDelta([960.0, 600.0], self::onOutput($of, 0, 1.5, 0), 1e-9);
        self::assertEqualsWithDelta([960 + 1.3 * $scale, 600 - 0.7 * $scale], self::onOutput($of, 1.3, 2.2, 0), 1e-9);
        // The second half of an output of twice the width.
        $half = self::projected($flat, Pose::of(Vec3::of(0, 1.5, 8)), part: Rect::of(1920, 10, 1920, 1200));
        self::assertEqualsWithDelta([2880.0, 610.0], self::onOutput($half, 0, 1.5, 0), 1e-9);
        // Mirrored: what was right of the middle is left of it.
        $mirrored = self::projected($flat, Pose::of(Vec3::of(0, 1.5, 8)), ['mirrored' => true]);
        self::assertEqualsWithDelta(
            [960 - 1.3 * $scale, 600 - 0.7 * $scale],
            self::onOutput($mirrored, 1.3, 2.2, 0),
            1e-9,
        );
        // On its side: its picture is 1200 px wide and 1920 high, from an output that is not.
        $side = self::projected($flat, Pose::of(Vec3::of(0, 1.5, 8)), [
            'lens' => ['widthPx' => 1920, 'heightPx' => 1200, 'throw' => 1.5, 'portrait' => true],
        ]);
        self::assertEqualsWithDelta([960 - 0.7 * $scale, 600 - 1.3 * $scale], self::onOutput($side, 1.3, 2.2, 0), 1e-9);
        foreach ([$of, $half, $mirrored, $side] as $one) {
            [[$ox, $oy, $oz], [$dx, $dy, $dz]] = $one->ray(...self::onOutput($one, 1.3, 2.2, 0));
            $t = -$oz / $dz;
            self::assertEqualsWithDelta([1.3, 2.2], [$ox + $t * $dx, $oy + $t * $dy], 1e-9);
        }
        self::assertNull($of->pixel(0, 0, 9), 'behind the lens');
    }

    public function test_light_is_what_the_lumens_over_the_picture_come_to(): void
    {
        $flat = self::face('flat', ['width' => 4, 'height' => 3]);
        $of = self::projected($flat, Pose::of(Vec3::of(0, 1.5, 8)), ['lumens' => 12_000]);
        // In the middle of a picture of 5.333 × 3.333 m: lumens over its area.
        $area = (8 / 1.5) * (((8 / 1.5) * 1200) / 1920);
        self::assertEqualsWithDelta(
            12_000 / $area,
            $of->lux(self::scene($flat), [0.0, 1.5, 0.0], [0.0, 0.0, 1.0]),
            1e-6,
        );
        self::assertSame(0.0, $of->lux(self::scene($flat), [0.0, 1.5, 0.0], [0.0, 0.0, -1.0]), 'from behind');
        self::assertSame(0.0, $of->lux(self::scene($flat), [2.7, 1.5, 0.0], [0.0, 0.0, 1.0]), 'past the picture');
        self::assertSame(
            0.0,
            $of->lux(self::scene($flat), [0.0, 1.5, 0.0], [0.0, sin(1.3), cos(1.3)], 70),
            'flatter than the limit',
        );
        // Something between.
        $board = new Body(
            'b',
            'Board',
            Face::fromRow('flat', ['width' => 0.5, 'height' => 0.5])->mesh(),
            Pose::of(Vec3::of(0, 1.25, 4))->matrix(),
            null,
        );
        self::assertSame(0.0, $of->lux(self::scene($flat, $board), [0.0, 1.5, 0.0], [0.0, 0.0, 1.0]));
        self::assertGreaterThan(0.0, $of->lux(self::scene($flat, $board), [1.0, 1.5, 0.0], [0.0, 0.0, 1.0]));
    }

    /**
     * @return iterable<string, array{string, array<string, mixed>, \Closure(float, float): array{float, float, float}, Pose, float}>
     */
    public static function surfaces(): iterable
    {
        yield 'plane' => [
            'flat',
            ['width' => 4, 'height' => 3],
            static fn (float $u, float $v): array => [4 * $u - 2, 3 - 3 * $v, 0.0],
            Pose::of(Vec3::of(1.5, 2, 7), 12, -4, 3),
            0.05,
        ];
        $drum = static fn (float $u, float $v): array => [
            1.5 * sin(M_PI * ($u - 0.5)),
            4 * (1 - $v),
            1.5 * cos(M_PI * ($u - 0.5)) - 1.5,
        ];
        yield 'drum' => [
            'drum',
            ['radius' => 1.5, 'arc' => 180, 'height' => 4],
            $drum,
            Pose::of(Vec3::of(-3, 2.5, 7), -22, -3, 0),
            0.05,
        ];
        $dome = static function (float $u, float $v): array {
            [$dx, $dy] = [$u - 0.5, 0.5 - $v];
            $polar = (M_PI / 2) * 2 * hypot($dx, $dy);
            $round = atan2($dy, $dx);

            return [2 * sin($polar) * cos($round), 2 * sin($polar) * sin($round), 2 * cos($polar)];
        };
        yield 'dome from outside' => [
            'dome',
            ['radius' => 2, 'arc' => 180, 'outside' => true],
            $dome,
            Pose::of(Vec3::of(0.5, 0.5, 9), 3, -3, 0),
            0.15,
        ];
    }

    /**
     * @param  array<string, mixed>  $shape
     * @param  \Closure(float, float): array{float, float, float}  $true
     */
    #[DataProvider('surfaces')]
    public function test_a_warp_from_the_venue_meets_the_closed_form(
        string $kind,
        array $shape,
        \Closure $true,
        Pose $pose,
        float $limit,
    ): void {
        $surface = self::face($kind, $shape);
        $chart = self::chart($surface);
        foreach ([[0.5, 0.5], [0.31, 0.62], [0.7, 0.4]] as [$u, $v]) {
            self::assertEqualsWithDelta($true($u, $v), $chart->place($u, $v), 1e-9);
        }
        $of = self::projected($surface, $pose, ['lens' => self::HALF], part: Rect::of(0, 0, 960, 600));
        $warp = ModelWarp::of($surface, $of, self::scene($surface), 0);
        self::assertLessThan($limit, $warp->error);
        $triangles = array_chunk(DeliveryMesh::of($of->region, $warp)->numbers(), 3 * DeliveryMesh::NUMBERS);
        // Places all over each of some triangles: where they land, against where the lens throws the true place.
        $worst = 0.0;
        foreach ($triangles as $k => $t) {
            if ($t[5] < 0) {
                continue;
            }
            foreach (
                $k % 5 === 0 ? [[1 / 3, 1 / 3, 1 / 3], [0.5, 0.0, 0.5], [0.0, 0.5, 0.5], [0.2, 0.7, 0.1]] : [] as [$a, $b, $c]
            ) {
                $w = $a * $t[2] + $b * $t[8] + $c * $t[14];
                $lands = [($a * $t[0] + $b * $t[6] + $c * $t[12]) / $w, ($a * $t[1] + $b * $t[7] + $c * $t[13]) / $w];
                if ($lands[0] < 0 || $lands[1] < 0 || $lands[0] > 960 || $lands[1] > 600) {
                    continue;
                }
                [$u, $v] = [
                    ($a * $t[3] + $b * $t[9] + $c * $t[15]) / $surface->width(),
                    ($a * $t[4] + $b * $t[10] + $c * $t[16]) / $surface->height(),
                ];
                [$place, $normal] = [$chart->place($u, $v), $chart->normal($u, $v)];
                self::assertTrue($place !== null && $normal !== null);
                $to = [$pose->position->x - $place[0], $pose->position->y - $place[1], $pose->position->z - $place[2]];
                if (
                    cos(deg2rad(80)) * sqrt($to[0] ** 2 + $to[1] ** 2 + $to[2] ** 2) >
                    $normal[0] * $to[0] + $normal[1] * $to[1] + $normal[2] * $to[2]
                ) {
                    continue;
                }
                // A triangle is drawn in perspective, its source by the same weights: both are linear in the same
                // measure.
                $exact = self::onOutput($of, ...$true($u, $v));
                $worst = max($worst, hypot($lands[0] - $exact[0], $lands[1] - $exact[1]));
            }
        }
        self::assertGreaterThan($kind === 'flat' ? 1 : 100, count($triangles));
        self::assertLessThan($limit, $worst, "worst of $kind");
    }

    public function test_what_the_projector_does_not_reach_is_left_out_and_nothing_at_all_is_refused(): void
    {
        $drum = self::face('drum', ['radius' => 1, 'arc' => 360, 'height' => 2]);
        $of = self::projected($drum, Pose::of(Vec3::of(0, 1, 8)));
        $warp = ModelWarp::of($drum, $of, self::scene($drum), 0);
        $lit = array_filter($warp->triangles(), static fn (array $t): bool => $t[5] > 0);
        self::assertNotEmpty($lit);
        foreach ($lit as $t) {
            // From eight metres it sees to arccos(1/9) from the middle.
            foreach ([$t[3], $t[9], $t[15]] as $x) {
                self::assertLessThan(acos(1 / 9) / (2 * M_PI) + 0.02, abs($x / $drum->width() - 0.5));
            }
        }
        $this->expectException(InvalidValue::class);
        ModelWarp::of($drum, self::projected($drum, Pose::of(Vec3::of(0, 1, 8), 180)), self::scene($drum), 0);
    }

    public function test_stacked_drums_jump_between_their_lines(): void
    {
        $drums = self::face('drums', ['tiers' => '2 × 1; 1 × 1', 'arc' => 120]);
        $chart = self::chart($drums);
        self::assertEqualsWithDelta([0.0, 1.5, -1.0], $chart->place(0.5, 0.25), 1e-9);
        self::assertEqualsWithDelta([0.0, 0.5, 0.0], $chart->place(0.5, 0.75), 1e-9);
        self::assertNull($chart->place(0.05, 0.25), 'beside the narrower one');
        self::assertSame([0.5], $chart->yBreaks);
        $of = self::projected($drums, Pose::of(Vec3::of(0, 1, 7)));
        $warp = ModelWarp::of($drums, $of, self::scene($drums), 0);
        foreach ($warp->triangles() as $t) {
            $high = [$t[4], $t[10], $t[16]];
            self::assertTrue(
                $t[5] < 0 || max($high) <= $drums->height() / 2 + 1e-3 || min($high) >= $drums->height() / 2 - 1e-3,
                'nothing is drawn over the step',
            );
        }
    }

    public function test_distances_are_those_of_a_search_through_all(): void
    {
        mt_srand(4);
        [$n, $m] = [23, 17];
        $set = [];
        for ($k = 0; $k < $n * $m; $k++) {
            $set[] = mt_rand(0, 9) > 0;
        }
        $found = DistanceField::of($set, $n, $m);
        foreach ($found as $k => $distance) {
            $least = INF;
            foreach ($set as $j => $on) {
                if (! $on) {
                    $least = min($least, hypot(($k % $n) - ($j % $n), intdiv($k, $n) - intdiv($j, $n)));
                }
            }
            self::assertEqualsWithDelta($least, $distance, 1e-9);
        }
        self::assertGreaterThan(1e5, min(DistanceField::of(array_fill(0, 12, true), 4, 3)));
        self::assertSame([0.0], DistanceField::of([false], 1, 1));
    }

    /**
     * @param  list<ProjectedRegion>  $regions
     * @param  array<string, BlendMap>  $maps
     * @param  array{float, float, float}  $place
     * @param  array{float, float, float}  $normal
     * @return array{float, float, int} shares, light and how many reach it
     */
    private static function at(array $regions, array $maps, Scene $scene, array $place, array $normal): array
    {
        [$shares, $light, $count] = [0.0, 0.0, 0];
        foreach ($regions as $region) {
            $lux = $region->lux($scene, $place, $normal, self::LIMIT);
            if ($lux <= 0) {
                continue;
            }
            $share = $maps[$region->id]->at(...self::onOutput($region, ...$place));
            $shares += $share;
            $light += $share * $lux;
            $count++;
        }

        return [$shares, $light, $count];
    }

    public function test_shares_of_equal_projectors_sum_to_one(): void
    {
        $wall = self::face('flat', ['width' => 9, 'height' => 5]);
        $scene = self::scene($wall);
        $at = static fn (float $x, float $y, string $id): ProjectedRegion => self::projected(
            $wall,
            Pose::of(Vec3::of($x, $y, 6)),
            id: $id,
        );
        $sets = [
            'two' => [$at(-1.6, 2.5, 'a'), $at(1.6, 2.5, 'b')],
            'three' => [$at(-3, 2.5, 'a'), $at(0, 2.5, 'b'), $at(3, 2.5, 'c')],
            'four' => [$at(-1.6, 1.6, 'a'), $at(1.6, 1.6, 'b'), $at(-1.6, 3.4, 'c'), $at(1.6, 3.4, 'd')],
        ];
        foreach ($sets as $name => $regions) {
            ['maps' => $maps, 'target' => $target] = (new OverlapBlend(
                $scene,
                0,
                $wall,
                $regions,
                limit: self::LIMIT,
                lines: 121,
            ))->maps();
            self::assertSame(0.0, $target);
            mt_srand(9);
            [$worst, $met, $seams] = [0.0, 0, 0];
            for ($i = 0; $i < 4000; $i++) {
                $place = [mt_rand(-4400, 4400) / 1000, mt_rand(100, 4900) / 1000, 0.0];
                [$shares, , $count] = self::at($regions, $maps, $scene, $place, [0.0, 0.0, 1.0]);
                if ($count > 0) {
                    $met++;
                    $seams += $count > 1 ? 1 : 0;
                    $worst = max($worst, abs($shares - 1));
                }
            }
            self::assertGreaterThan(1000, $met);
            self::assertGreaterThan(150, $seams);
            self::assertLessThanOrEqual(1 / 255, $worst, $name);
        }
    }

    public function test_shares_of_three_on_a_drum_sum_to_one_wherever_they_light_it(): void
    {
        foreach ([1.7, 3.0] as $radius) {
            $drum = self::face('drum', ['radius' => $radius, 'arc' => 180, 'height' => 2]);
            $scene = self::scene($drum);
            [$width, $height] = [480, 300];
            $regions = [];
            foreach ([-45, 0, 45] as $yaw) {
                $away = $radius + 4;
                $at = Vec3::of($away * sin(deg2rad($yaw)), 1, $away * cos(deg2rad($yaw)) - $radius);
                $regions[] = self::projected(
                    $drum,
                    Pose::of($at, $yaw),
                    ['lens' => ['widthPx' => $width, 'heightPx' => $height, 'throw' => 1.5]],
                    "at $yaw",
                    part: Rect::of(0, 0, $width, $height),
                );
            }
            ['maps' => $maps] = (new OverlapBlend($scene, 0, $drum, $regions, limit: 75, lines: 241))->maps();
            mt_srand(5);
            [$worst, $met, $shared] = [0.0, 0, 0];
            for ($i = 0; $i < 4000; $i++) {
                [$a, $y] = [deg2rad(mt_rand(-89_000, 89_000) / 1000), mt_rand(20, 1980) / 1000];
                $place = [$radius * sin($a), $y, $radius * cos($a) - $radius];
                [$sum, $count, $clear] = [0.0, 0, true];
                foreach ($regions as $region) {
                    [$px, $py] = self::onOutput($region, ...$place);
                    $flat = rad2deg(acos($region->straight($place, [sin($a), 0.0, cos($a)])));
                    $out = $region->beam->world->m;
                    $front = sin($a) * ($out[12] - $place[0]) + cos($a) * ($out[14] - $place[2]) > 0;
                    // Where a picture ends, or comes in as flat as it may, its share changes within few lines.
                    $inside = min($px, $py, $width - $px, $height - $py);
                    $clear =
                        $clear &&
                        (! $front || abs($inside) > self::NEAR_EDGE) &&
                        (! $front || $inside < 0 || abs($flat - 75) > 2);
                    if ($front && $inside > 0 && $flat < 75) {
                        $sum += $maps[$region->id]->at($px, $py);
                        $count++;
                    }
                }
                if ($clear && $count > 0) {
                    $met++;
                    $shared += $count > 1 ? 1 : 0;
                    $worst = max($worst, abs($sum - 1));
                }
            }
            self::assertGreaterThan(2000, $met);
            self::assertGreaterThan(200, $shared);
            self::assertLessThanOrEqual(1 / 255, $worst, "on $radius m");
        }
    }

    public function test_the_dark_is_lifted_to_where_most_projectors_reach(): void
    {
        $wall = self::face('flat', ['width' => 12, 'height' => 5]);
        $scene = self::scene($wall);
        $at = static fn (float $x, string $id): ProjectedRegion => self::projected(
            $wall,
            Pose::of(Vec3::of($x, 2.5, 6)),
            id: $id,
        );
        $lifts = static fn (array $regions): array => (new OverlapBlend(
            $scene,
            0,
            $wall,
            $regions,
            limit: self::LIMIT,
            lines: 121,
        ))->maps()['lifts'];
        self::assertSame([], $lifts([$at(0, 'a')]), 'alone, it has no black to come up to');
        self::assertSame([], $lifts([$at(-3, 'a'), $at(3, 'b')]), 'nor beside one that it does not touch');

        // Pictures of 4 m at −1.6 and 1.6: both from −0.4 to 0.4.
        $two = [$at(-1.6, 'a'), $at(1.6, 'b')];
        ['a' => $a, 'b' => $b] = $lifts($two);
        foreach ([[-2.5, 1.0], [-0.6, 1.0], [-0.3, 0.0], [0.3, 0.0]] as [$x, $share]) {
            self::assertEqualsWithDelta($share, $a->at(...self::onOutput($two[0], $x, 2.5, 0)), 1e-6, "$x");
        }
        self::assertEqualsWithDelta(1.0, $b->at(...self::onOutput($two[1], 2.5, 2.5, 0)), 1e-6);

        // At −1, 0 and 1: all three from −1 to 1, two beyond to ±2, one to ±3. The dark is 3 everywhere, in blacks of
        // one: 3 · 1; 2 · (1 + 2 · ¼); 1 + 2 · 1.
        $three = [$at(-1, 'a'), $at(0, 'b'), $at(1, 'c')];
        $found = $lifts($three);
        foreach (
            [[0.5, [0.0, 0.0, 0.0]], [1.5, [null, 0.25, 0.25]], [2.5, [null, null, 1.0]], [-1.5, [0.25, 0.25, null]]] as [$x, $shares]
        ) {
            $dark = 0.0;
            foreach ($shares as $i => $share) {
                if ($share !== null) {
                    $lift = $found[$three[$i]->id]->at(...self::onOutput($three[$i], $x, 2.5, 0));
                    self::assertEqualsWithDelta($share, $lift, 1e-6, "$i at $x");
                    $dark += 1 + 2 * $lift;
                }
            }
            self::assertEqualsWithDelta(3.0, $dark, 1e-6);
        }
    }

    public function test_what_is_computed_is_kept_with_and_without_its_lift(): void
    {
        $lattice = new WarpLattice(
            [0.0, 1.0],
            [0.0, 1.0],
            [[0.0, 0.0, 1.0], [1.0, 0.0, 1.0], null, [1.0, 1.0, 1.0]],
            0.25,
        );
        $blend = new BlendMap([1, 2, 30, 40], 2, 2, [0.0, 0.25, 0.5, 1.0]);
        $lift = new BlendMap([1, 2, 30, 40], 3, 2, [1.0, 0.5, 0.0, 1.0, 0.5, 0.0]);
        foreach ([[null, null], [$blend, null], [$blend, $lift]] as [$first, $second]) {
            $read = ComputedWarp::fromBytes((new ComputedWarp($lattice, $first, $second))->toBytes());
            self::assertEquals([$first, $second], [$read->blend, $read->lift]);
        }
        $this->expectException(\UnexpectedValueException::class);
        ComputedWarp::fromBytes((new ComputedWarp($lattice, $blend, $lift))->toBytes().'1');
    }

    public function test_stacked_projectors_add_their_light(): void
    {
        $wall = self::face('flat', ['width' => 9, 'height' => 5]);
        $scene = self::scene($wall);
        $regions = [
            self::projected($wall, Pose::of(Vec3::of(-1.6, 2.5, 6)), id: 'a', stack: 'left'),
            self::projected($wall, Pose::of(Vec3::of(-1.6, 2.5, 6)), id: 'b', stack: 'left'),
            self::projected($wall, Pose::of(Vec3::of(1.6, 2.5, 6)), id: 'c'),
        ];
        ['maps' => $maps] = (new OverlapBlend($scene, 0, $wall, $regions, limit: self::LIMIT, lines: 121))->maps();
        self::assertEqualsWithDelta(2.0, self::at($regions, $maps, $scene, [-2.5, 2.5, 0.0], [0.0, 0.0, 1.0])[0], 1e-9);
        [$shares] = self::at($regions, $maps, $scene, [0.0, 2.5, 0.0], [0.0, 0.0, 1.0]);
        self::assertEqualsWithDelta(1.5, $shares, 0.01, 'in the middle of the overlap: half of both, and half of one');
    }

    /**
     * @return iterable<string, array{string, array<string, mixed>, list<array{Vec3, float, float, float}>, \Closure(SurfaceChart): iterable<array{float, float}>, int}>
     */
    public static function lit(): iterable
    {
        $over = static fn (float $fromU, float $toU, float $fromV, float $toV): \Closure => static function () use (
            $fromU,
            $toU,
            $fromV,
            $toV,
        ): iterable {
            mt_srand(21);
            for ($i = 0; $i < 1500; $i++) {
                yield [
                    $fromU + (($toU - $fromU) * mt_rand()) / mt_getrandmax(),
                    $fromV + (($toV - $fromV) * mt_rand()) / mt_getrandmax(),
                ];
            }
        };
        yield 'plane' => [
            'flat',
            ['width' => 9, 'height' => 5],
            [[Vec3::of(-1.6, 2.5, 6), 0, 0, 10_000], [Vec3::of(1.6, 2.5, 6), 0, 0, 6_500]],
            $over(0.1, 0.9, 0.2, 0.8),
            121,
        ];
        yield 'drum' => [
            'drum',
            ['radius' => 2, 'arc' => 180, 'height' => 3],
            [[Vec3::of(-5, 1.5, 4), -51, 0, 12_000], [Vec3::of(5, 1.5, 4), 51, 0, 7_000]],
            $over(0.15, 0.85, 0.1, 0.9),
            241,
        ];
        yield 'dome' => [
            'dome',
            ['radius' => 2, 'arc' => 140, 'outside' => true],
            [
                [Vec3::of(-5, 0, 7), -36, 0, 12_000],
                [Vec3::of(5, 0, 7), 36, 0, 9_000],
                [Vec3::of(0, 5, 7), 0, -36, 8_000],
            ],
            $over(0.2, 0.8, 0.2, 0.8),
            361,
        ];
    }

    /**
     * @param  array<string, mixed>  $shape
     * @param  list<array{Vec3, float, float, float}>  $projectors
     * @param  \Closure(SurfaceChart): iterable<array{float, float}>  $places
     */
    #[DataProvider('lit')]
    public function test_light_of_unequal_projectors_is_level(
        string $kind,
        array $shape,
        array $projectors,
        \Closure $places,
        int $lines,
    ): void {
        $surface = self::face($kind, $shape);
        $scene = self::scene($surface);
        $regions = [];
        foreach ($projectors as $i => [$place, $yaw, $pitch, $lumens]) {
            $regions[] = self::projected(
                $surface,
                Pose::of($place, $yaw, $pitch),
                ['lumens' => $lumens, 'lens' => self::HALF],
                "r$i",
                part: Rect::of(0, 0, 960, 600),
            );
        }
        $chart = self::chart($surface);
        $told = [];
        $blend = new OverlapBlend(
            $scene,
            0,
            $surface,
            $regions,
            limit: self::LIMIT,
            lines: $lines,
            progress: static function (float $share) use (&$told): void {
                $told[] = $share;
            },
        );
        ['maps' => $maps, 'target' => $target, 'cost' => $cost] = $blend->maps(true);
        [$least, $most, $seams] = [INF, 0.0, 0];
        foreach ($places($chart) as [$u, $v]) {
            [$place, $normal] = [$chart->place($u, $v), $chart->normal($u, $v)];
            if ($place === null || $normal === null) {
                continue;
            }
            [, $light, $count] = self::at($regions, $maps, $scene, $place, $normal);
            $seams += $count > 1 ? 1 : 0;
            if ($count > 0) {
                [$least, $most] = [min($least, $light), max($most, $light)];
            }
        }
        self::assertGreaterThan(100, $seams);
        self::assertEqualsWithDelta($target, $least, 0.01 * $target, "$kind: the darkest place");
        self::assertEqualsWithDelta($target, $most, 0.01 * $target, "$kind: the brightest place");
        self::assertGreaterThan(0.0, $cost);
        self::assertLessThan(1.0, $cost);
        $sorted = $told;
        sort($sorted);
        self::assertSame($sorted, $told, 'progress only grows');
    }

    public function test_the_edge_of_the_dimmer_wall_is_solved_by_hand_in_one_place(): void
    {
        // Two equal projectors 3.2 m apart, pictures 4 m wide: they overlap by 0.8 m. A place 0.2 m from the left
        // one's edge lies 0.6 m within the right one; with a curve of 1 their shares are 1 : 3.
        $wall = self::face('flat', ['width' => 9, 'height' => 5]);
        $shape = static fn (ProjectedRegion $r): ProjectedRegion => new ProjectedRegion(
            $r->id,
            Region::of('f', Rect::of(0, 0, 900, 500), 0, 0, blend: EdgeBlend::of(['curve' => 1])),
            $r->part,
            $r->beam,
        );
        $regions = [
            $shape(self::projected($wall, Pose::of(Vec3::of(-1.6, 2.5, 6)), id: 'a')),
            $shape(self::projected($wall, Pose::of(Vec3::of(1.6, 2.5, 6)), id: 'b')),
        ];
        ['maps' => $maps] = (new OverlapBlend(
            self::scene($wall),
            0,
            $wall,
            $regions,
            limit: self::LIMIT,
            lines: 121,
        ))->maps();
        self::assertEqualsWithDelta(0.25, $maps['a']->at(...self::onOutput($regions[0], 0.2, 2.5, 0)), 0.002);
        self::assertEqualsWithDelta(0.75, $maps['b']->at(...self::onOutput($regions[1], 0.2, 2.5, 0)), 0.002);
        self::assertSame(0.0, $maps['a']->at(-1, 5));
        $again = BlendMap::fromBytes($maps['a']->toBytes());
        self::assertEqualsWithDelta($maps['a']->at(1800.5, 600), $again->at(1800.5, 600), 1e-6);
        self::assertNull(Linear::solve([[0.0]], [1.0]));
    }

    public function test_evenness_is_that_of_the_singular_values(): void
    {
        // Twice as wide as high, everywhere: a stretch of 2, of one size.
        $wide = Evenness::of(
            Rect::of(0, 0, 100, 50),
            10,
            5,
            static fn (float $x, float $y): array => [0.02 * $x, 0.01 * $y, 0.0],
        );
        foreach ($wide->cells as $cell) {
            self::assertNotNull($cell);
            self::assertEqualsWithDelta([2.0, 1.0], $cell, 1e-6);
        }
        self::assertSame(0.0, $wide->score);
        self::assertEqualsWithDelta(sqrt(0.02 * 0.01), $wide->pixel, 1e-9);
        // Turned and of one scale, in space: even.
        $turned = Evenness::of(
            Rect::of(5, 5, 100, 100),
            4,
            4,
            static fn (float $x, float $y): array => [0.6 * $x - 0.8 * $y, 0.0, 0.8 * $x + 0.6 * $y],
        );
        self::assertEqualsWithDelta(1.0, $turned->score, 1e-9);
        // Sheared by one: the golden ratio squared is the ratio of its singular values.
        $sheared = Evenness::of(
            Rect::of(0, 0, 10, 10),
            1,
            1,
            static fn (float $x, float $y): array => [$x + $y, $y, 0.0],
        );
        self::assertEqualsWithDelta(((1 + sqrt(5)) / 2) ** 2, $sheared->cells[0][0] ?? 0, 1e-9);
        // The last four of ten cells twice as wide: they are stretched by 2, and take 80 of 140.
        $mixed = Evenness::of(
            Rect::of(0, 0, 100, 100),
            10,
            1,
            static fn (float $x, float $y): array => [$x < 60 ? $x : 60 + ($x - 60) * 2, $y, 0.0],
        );
        self::assertEqualsWithDelta(60 / 140, $mixed->score, 1e-4);
        self::assertSame(6, $mixed->worst);
        // A ledge of a metre within the third of ten cells: all pixels are square.
        $ledge = Evenness::of(
            Rect::of(0, 0, 100, 100),
            10,
            1,
            static fn (float $x, float $y): array => [$x / 100, $y / 100, $x < 25.0 ? 0.0 : 1.0],
        );
        self::assertSame([1.0, 10], [round($ledge->score, 6), count(array_filter($ledge->cells))]);
        self::assertEqualsWithDelta(1.0, max(array_column($ledge->cells, 0)), 1e-6);
        $none = Evenness::of(Rect::of(0, 0, 10, 10), 2, 2, static fn (): ?array => null);
        self::assertSame([0.0, null, 0.0], [$none->score, $none->worst, $none->pixel]);
        self::assertNull(
            Evenness::of(Rect::of(0, 0, 10, 10), 1, 1, static fn (float $x, float $y): array => [$x, 0.0, 0.0])
                ->cells[0],
            'flattened to a line: it has no area',
        );
    }

    public function test_the_seam_picture_shows_the_band_and_the_gap(): void
    {
        $wall = self::face('flat', ['width' => 9, 'height' => 5]);
        $scene = self::scene($wall);
        // Two pictures that lie on one another by 0.8 m in the middle, without a blend: twice the light there.
        $regions = [
            self::projected($wall, Pose::of(Vec3::of(-1.6, 2.5, 6)), id: 'a'),
            self::projected($wall, Pose::of(Vec3::of(1.6, 2.5, 6)), id: 'b'),
        ];
        $line = [[1 / 9, 0.5], [8 / 9, 0.5]];
        $whole = static fn (ProjectedRegion $r): ProjectedRegion => new ProjectedRegion(
            $r->id,
            Region::of('f', Rect::of(0, 0, 900, 500), 0, 0, 1920, 1200),
            $r->part,
            $r->beam,
        );
        $regions = array_map($whole, $regions);
        $band = SeamPicture::of($scene, self::chart($wall), $regions, [], [], $line[0], $line[1], 700);
        self::assertEqualsWithDelta(7.0, $band->along[700], 1e-9);
        // Lit at 1 over 6.2 m, and at 2 over 0.8: the mean is 7.8 / 7, the band lies 2 / (7.8 / 7) − 1 above it.
        self::assertEqualsWithDelta(2 / (7.8 / 7) - 1, $band->off, 0.01);
        ['maps' => $maps] = (new OverlapBlend($scene, 0, $wall, $regions, limit: self::LIMIT, lines: 121))->maps();
        self::assertLessThan(
            0.004,
            SeamPicture::of($scene, self::chart($wall), $regions, $maps, [], $line[0], $line[1])->off,
        );
        // The right one half as bright: from 1 to ½, whose mean is ¾.
        $dim = SeamPicture::of($scene, self::chart($wall), $regions, $maps, ['b' => 0.5], $line[0], $line[1]);
        self::assertEqualsWithDelta(1 / 3, $dim->off, 0.02);
        self::assertEqualsWithDelta($band->lux['a'][10], $dim->lux['a'][10], 1e-6);
    }

    public function test_projectors_are_brought_to_one_white_and_one_black(): void
    {
        // The same white: the brighter one gives as much as the dimmer has.
        $same = Matching::of([
            'a' => ['white' => 200.0, 'black' => 0.2, 'x' => 0.3127, 'y' => 0.329],
            'b' => ['white' => 150.0, 'black' => 0.3, 'x' => 0.3127, 'y' => 0.329],
        ]);
        self::assertEqualsWithDelta([0.75, 0.75, 0.75], $same->gains['a']['gain'], 1e-12);
        self::assertEqualsWithDelta([1.0, 1.0, 1.0], $same->gains['b']['gain'], 1e-12);
        self::assertEqualsWithDelta([150.0, 0.3], [$same->white, $same->black], 1e-12);
        self::assertEqualsWithDelta([0.1 / 200, 0.0], [$same->gains['a']['black'], $same->gains['b']['black']], 1e-12);
        self::assertEqualsWithDelta([0.25, 0.0], [$same->gains['a']['cost'], $same->gains['b']['cost']], 1e-12);
        // Whites apart: with the gains, both have the same XYZ. Luminance of red, green and blue is 0.2126, 0.7152,
        // 0.0722 of white at D65.
        $apart = Matching::of(
            [
                'a' => ['white' => 200.0, 'black' => 0.0, 'x' => 0.3, 'y' => 0.315],
                'b' => ['white' => 180.0, 'black' => 0.0, 'x' => 0.33, 'y' => 0.345],
            ],
            Matching::D65,
        );
        $light = [];
        foreach (['a' => [200.0, 0.3, 0.315], 'b' => [180.0, 0.33, 0.345]] as $name => [$white, $x, $y]) {
            // Strengths from the BT.709 matrix as published (inverse of RGB to XYZ), which is rounded to four digits.
            [$X, $Y, $Z] = [($white * $x) / $y, $white, ($white * (1 - $x - $y)) / $y];
            $rgb = [
                3.2406 * $X - 1.5372 * $Y - 0.4986 * $Z,
                -0.9689 * $X + 1.8758 * $Y + 0.0415 * $Z,
                0.0557 * $X - 0.204 * $Y + 1.057 * $Z,
            ];
            $given = array_map(static fn (float $s, float $g): float => $s * $g, $rgb, $apart->gains[$name]['gain']);
            self::assertLessThanOrEqual(1.0, max($apart->gains[$name]['gain']));
            $light[$name] = $given;
        }
        self::assertEqualsWithDelta($light['a'], $light['b'], 0.05);
        self::assertEqualsWithDelta(0.0, max($light['a']) - min($light['a']), 0.1, 'grey at D65: all three alike');
        self::assertEqualsWithDelta(
            $apart->white,
            0.2126 * $light['a'][0] + 0.7152 * $light['a'][1] + 0.0722 * $light['a'][2],
            0.05,
        );
        self::assertEqualsWithDelta(
            1.0,
            max([...$apart->gains['a']['gain'], ...$apart->gains['b']['gain']]),
            1e-12,
            'as bright as can be',
        );
        foreach (
            [
                [],
                ['a' => ['white' => 0.0, 'black' => 0.0, 'x' => 0.3, 'y' => 0.3]],
                ['a' => ['white' => 100.0, 'black' => 60.0, 'x' => 0.3, 'y' => 0.3]],
                ['a' => ['white' => 100.0, 'black' => 0.0, 'x' => 0.12, 'y' => 0.12]],
            ] as $bad
        ) {
            try {
                Matching::of($bad);
                self::fail('was taken');
            } catch (InvalidValue) {
                self::addToAssertionCount(1);
            }
        }
    }
}
