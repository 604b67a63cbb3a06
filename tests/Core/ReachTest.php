<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Geometry\Mat3;
use Core\Geometry\Mat4;
use Core\Geometry\Vec3;
use Core\Media\Picture;
use Core\Plan\Bundle;
use Core\Plan\Plan;
use Core\Plan\PlanCompiler;
use Core\Plan\SurfaceMesh;
use Core\Playback\DrawStep;
use Core\Playback\Head;
use Core\Playback\Moment;
use Core\Playback\Occlusion;
use Core\Playback\PanePlace;
use Core\Playback\RasterPlaces;
use Core\Playback\ReferenceRaster;
use Core\Preflight\Figures;
use Core\Preflight\PixelTrace;
use Core\Routing\Feather;
use Core\Routing\GlobeProjection;
use Core\Routing\Landing;
use Core\Routing\LensOverlap;
use Core\Routing\LensProjection;
use Core\Routing\PlateWarp;
use Core\Routing\Route;
use Core\Routing\Share;
use Core\Routing\VirtualLens;
use Core\Show\Show;
use Core\Timeline\TransportMap;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use Core\Venue\Camera;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class ReachTest extends TestCase
{
    private const S = Flicks::PER_SECOND;

    /** @return \Closure(string): float the values of a lens or globe, those not given at their defaults */
    private static function values(string $kind, array $given): \Closure
    {
        $set = $kind === 'lens' ? VirtualLens::properties() : GlobeProjection::properties();

        return static fn (string $name): float => (float) ($given[$name] ?? $set->named($name)->default);
    }

    /**
     * @return array<string, array{array<string, float>, list<array{list<float>, list<float>}>}> values of a share of
     *     40 × 20 px at 10, 20 on a raster of 80 × 40, and which pane pixel gets where
     */
    public static function shares(): array
    {
        return [
            'as it is' => [[], [[[10, 20], [0, 0]], [[50, 40], [80, 40]], [[30, 30], [40, 20]]]],
            // Turned a quarter clockwise about 30, 30: its right end points down.
            'a quarter' => [['turn' => 90], [[[30, 10], [0, 20]], [[30, 50], [80, 20]], [[20, 30], [40, 40]]]],
            'half' => [['turn' => 180], [[[50, 40], [0, 0]], [[10, 20], [80, 40]]]],
            'three quarters back' => [['turn' => -270], [[[30, 50], [80, 20]]]],
            'mirrored' => [['mirror' => 1], [[[10, 20], [80, 0]], [[50, 40], [0, 40]]]],
            'turned and mirrored' => [['turn' => 90, 'mirror' => 1], [[[30, 10], [80, 20]], [[20, 30], [40, 40]]]],
            // 30° clockwise: the right end is at 30 + 20 cos 30°, 30 + 20 sin 30°.
            'freely' => [['turn' => 30], [[[30 + (20 * sqrt(3)) / 2, 40], [80, 20]]]],
            'narrower' => [['width' => 10], [[[10, 20], [0, 0]], [[20, 40], [80, 40]]]],
        ];
    }

    /**
     * @param  array<string, float>  $values
     * @param  list<array{list<float>, list<float>}>  $points
     */
    #[DataProvider('shares')]
    public function test_a_share_carries_its_part_of_the_pane_onto_the_whole_raster(array $values, array $points): void
    {
        $v = $values + ['x' => 10, 'y' => 20, 'width' => 40, 'height' => 20, 'turn' => 0, 'mirror' => 0];
        $matrix = Share::matrix($v['x'], $v['y'], $v['width'], $v['height'], $v['turn'], $v['mirror'], 80, 40);
        foreach ($points as [$from, $to]) {
            self::assertEqualsWithDelta($to, $matrix->point(...$from), 1e-9);
        }
        self::assertEqualsWithDelta(
            Mat3::identity()->m,
            ($matrix->inverse() ?? Mat3::identity())->times($matrix)->m,
            1e-9,
        );
        // What is stored says the same.
        $stored = new Share(
            's',
            'r',
            'w',
            array_map(static fn (float $one): array => [$one], array_map(floatval(...), $v)),
        );
        self::assertEqualsWithDelta($matrix->m, $stored->stored(80, 40)->m, 1e-12);
    }

    /**
     * @return array<string, array{list<float>, array{int, int, float}, array{float, float, float}}> a matrix, content
     *     and pixel aspect; longer, shorter, angle
     */
    public static function landings(): array
    {
        [$c, $s] = [cos(M_PI / 6), sin(M_PI / 6)];

        return [
            'twice as large' => [[200, 0, 0, 0, 100, 0, 0, 0, 1], [100, 50, 1], [2, 2, 0]],
            'wider' => [[200, 0, 7, 0, 100, 9, 0, 0, 1], [100, 100, 1], [2, 1, 0]],
            'higher' => [[100, 0, 0, 0, 300, 0, 0, 0, 1], [100, 100, 1], [3, 1, 90]],
            'mirrored and wider' => [[-200, 0, 0, 0, 100, 0, 0, 0, 1], [100, 100, 1], [2, 1, 0]],
            // Made twice as wide, then turned 30° clockwise.
            'along a slant' => [[200 * $c, -100 * $s, 0, 200 * $s, 100 * $c, 0, 0, 0, 1], [100, 100, 1], [2, 1, 30]],
            // Turned 30° first and made twice as wide then: still along the row.
            'turned and then wider' => [
                [200 * $c, -200 * $s, 0, 100 * $s, 100 * $c, 0, 0, 0, 1],
                [100, 100, 1],
                [2, 1, 0],
            ],
            // 720 × 576 with pixels of 64:45 is 1024 × 576.
            'wide pixels' => [[1024, 0, 0, 0, 576, 0, 0, 0, 1], [720, 576, 64 / 45], [1, 1, 0]],
        ];
    }

    /**
     * @param  array{float, float, float, float, float, float, float, float, float}  $m
     * @param  array{int, int, float}  $content
     * @param  array{float, float, float}  $wanted
     */
    #[DataProvider('landings')]
    public function test_what_a_circle_becomes(array $m, array $content, array $wanted): void
    {
        $landing = Landing::of(Mat3::of($m), ...$content);
        self::assertEqualsWithDelta(
            $wanted,
            [$landing->longer, $landing->shorter, $wanted[0] === $wanted[1] ? $wanted[2] : $landing->angle],
            1e-9,
        );
        self::assertSame($wanted[0] !== $wanted[1], $landing->isSquashed());
    }

    public function test_misfits_are_said_the_shape_first(): void
    {
        $of = static fn (float $w, float $h): array => Landing::of(Mat3::rectangle(0, 0, $w, $h), 100, 100)->remarks();
        self::assertSame([], $of(100, 100));
        self::assertSame([], $of(100, 99.5));
        self::assertSame(
            [
                'The picture is stretched 100 % wider than it was made.',
                'Soft: each pixel of the picture covers 2.00 pixels of the surface.',
            ],
            $of(200, 100),
        );
        self::assertSame(['The picture is stretched 25 % higher than it was made.'], $of(80, 100));
        self::assertSame(['Soft: each pixel of the picture covers 12.0 pixels of the surface.'], $of(1200, 1200));
        self::assertSame(['Wasteful: 4.00 pixels of the picture go into one of the surface, each way.'], $of(25, 25));
        self::assertSame([], $of(50, 50));
        self::assertTrue(Landing::of(Mat3::rectangle(3, 4, 100, 50), 100, 50)->isPixelForPixel());
        self::assertFalse(Landing::of(Mat3::rectangle(3, 4, 100.02, 50), 100, 50)->isPixelForPixel());
        self::assertSame(
            'The picture is stretched out of all measure wider than it was made.',
            Landing::of(Mat3::rectangle(0, 0, 100, 0), 100, 100)->remarks()[0],
        );
    }

    public function test_a_feather_rises_from_0_to_1_and_two_that_overlap_sum_to_1(): void
    {
        self::assertSame(0.0, Feather::weight(-0.001, 0, 1));
        self::assertSame(1.0, Feather::weight(0, 0, 1));
        self::assertEqualsWithDelta(0.5, Feather::weight(0.1, 0.2, 1), 1e-12);
        // A quarter of the way with curve 2: 0.0625 / (0.0625 + 0.5625).
        self::assertEqualsWithDelta(0.1, Feather::weight(0.05, 0.2, 2), 1e-12);
        foreach ([0.25, 1, 2.2, 8] as $curve) {
            for ($i = 0; $i <= 20; $i++) {
                self::assertEqualsWithDelta(
                    1,
                    Feather::weight($i / 100, 0.2, $curve) + Feather::weight(0.2 - $i / 100, 0.2, $curve),
                    1e-12,
                );
            }
        }
    }

    /**
     * @return array<string, array{array<string, float>, list<float>, list<float>|null}> values of a lens of 90° with
     *     a pane of 200 × 100; a place; pane pixel and weight
     */
    public static function thrown(): array
    {
        return [
            // Half as far to the right as it is away is half of the half picture.
            'ahead to the right' => [[], [1, 0, -2], [150, 50, 1]],
            'just below the upper edge' => [[], [0, 0.499, -1], [100, 0.1, 1]],
            'above it' => [[], [0, 0.6, -1], [100, -10, 0]],
            'behind' => [[], [0, 0, 1], null],
            'turned to the left' => [['yaw' => 90], [-2, 0, -1], [150, 50, 1]],
            'turned by whole turns more' => [['yaw' => 90 + 3600], [-2, 0, -1], [150, 50, 1]],
            'looking up' => [['pitch' => 90], [1, 2, 0], [150, 50, 1]],
            // Rolled a quarter to the left, what is above is to the right of its picture.
            'rolled' => [['roll' => 90], [0, 1, -2], [150, 50, 1]],
            'elsewhere' => [['x' => 5, 'y' => 1, 'z' => 2], [6, 1, 0], [150, 50, 1]],
            'shifted' => [['shiftX' => 0.1, 'shiftY' => 0.2], [1, 0, -2], [130, 70, 1]],
            // r² = 0.25: 0.5 · (1 + 0.1 · 0.25) = 0.5125.
            'bent' => [['k1' => 0.1], [1, 0, -2], [151.25, 50, 1]],
            // 0.5 · 0.2 · 0.0625 = 0.00625 and 0.5 · 0.4 · 0.015625 = 0.003125 more of the half picture.
            'bent more' => [['k2' => 0.2, 'k3' => 0.4], [1, 0, -2], [150.9375, 50, 1]],
            // p2 (r² + 2x²) = 0.01 · 0.75 across, p1 r² = 0.02 · 0.25 down, of a half picture of 0.5.
            'decentred' => [['p1' => 0.02, 'p2' => 0.01], [1, 0, -2], [150.75, 50.5, 1]],
            // u = 0.75: 0.25 from the right edge, half of its feather; v = 0.5.
            'feathered' => [['featherRight' => 0.5, 'featherTop' => 0.25], [1, 0, -2], [150, 50, 0.5]],
            'narrow' => [['angle' => rad2deg(2 * atan(0.5))], [0.25, 0, -1], [150, 50, 1]],
        ];
    }

    /**
     * @param  array<string, float>  $values
     * @param  array{float, float, float}  $place
     * @param  list<float>|null  $wanted
     */
    #[DataProvider('thrown')]
    public function test_a_lens_throws_its_part_of_the_pane(array $values, array $place, ?array $wanted): void
    {
        $lens = LensProjection::of(
            Mat4::identity(),
            [0, 0, 200, 100],
            self::values('lens', $values + ['angle' => 90, 'x' => 0, 'y' => 0, 'z' => 0]),
        );
        $wanted === null
            ? self::assertNull($lens->at(...$place))
            : self::assertEqualsWithDelta($wanted, $lens->at(...$place), 1e-9);
        // On a rig that stands 10 m to the right and is turned, the same happens there.
        $rig = Mat4::translation(Vec3::of(10, 0, 0))->times(Mat4::rotation('y', 1.1));
        $ridden = LensProjection::of(
            $rig->rigidInverse(),
            [300, 40, 200, 100],
            self::values('lens', $values + ['angle' => 90, 'x' => 0, 'y' => 0, 'z' => 0]),
        );
        $there = $rig->point(Vec3::of(...$place));
        $at = $ridden->at($there->x, $there->y, $there->z);
        $wanted === null
            ? self::assertNull($at)
            : self::assertEqualsWithDelta([$wanted[0] + 300, $wanted[1] + 40, $wanted[2]], $at, 1e-9);
    }

    public function test_bending_ends_where_it_would_fold_the_picture_back(): void
    {
        // 1 + 3 k1 s = 0 at s = 1 / 1.2; 1 − 3 s + 5 · 0.3 s² = 0 first at (3 − √3) / 3.
        self::assertEqualsWithDelta(1 / 1.2, LensProjection::farthest(-0.4, 0, 0), 1e-9);
        self::assertEqualsWithDelta((3 - sqrt(3)) / 3, LensProjection::farthest(-1, 0.3, 0), 1e-9);
        self::assertSame(1e9, LensProjection::farthest(0.2, 0, 0));
        self::assertSame(1e9, LensProjection::farthest(-0.1, 0.5, 0));
        $lens = LensProjection::of(
            Mat4::identity(),
            [0, 0, 200, 100],
            self::values('lens', ['angle' => 90, 'y' => 0, 'k1' => -0.4]),
        );
        // At r = √2.5 the formula alone would say 0: the middle of the picture.
        self::assertNull($lens->at(sqrt(2.5), 0, -1));
        self::assertNotNull($lens->at(0.9, 0, -1));
    }

    public function test_a_lens_lights_fronts_only(): void
    {
        $lens = LensProjection::of(Mat4::identity(), [0, 0, 200, 100], self::values('lens', ['y' => 0]));
        self::assertTrue($lens->lights(0, 0, -5, 0, 0, 1));
        self::assertFalse($lens->lights(0, 0, -5, 0, 0, -1));
        self::assertFalse($lens->lights(0, 0, -5, 1, 0, 0));
        self::assertTrue($lens->lights(3, 0, -5, -1, 0, 0));
    }

    /**
     * @return array<string, array{array<string, float>, list<float>, list<float>|null}> values of a globe with a pane
     *     of 3600 × 1800; a place; pane pixel and weight
     */
    public static function wrapped(): array
    {
        return [
            'ahead' => [[], [0, 0, -7], [1800, 900, 1]],
            'to the right' => [[], [2, 0, 0], [2700, 900, 1]],
            'to the left' => [[], [-2, 0, 0], [900, 900, 1]],
            'above' => [[], [0, 3, 0], [1800, 0, 1]],
            // Elevation 45°, azimuth 45°.
            'up to the right' => [[], [1, sqrt(2), -1], [2250, 450, 1]],
            'in the centre' => [[], [0, 0, 0], null],
            'turned to the left' => [['yaw' => 90], [-2, 0, 0], [1800, 900, 1]],
            'the end of an arc' => [['arc' => 180], [2, 0, 0], [3600, 900, 1]],
            'beyond it' => [['arc' => 180], [2, 0, 0.1], null],
            'a band' => [['top' => 45, 'bottom' => -45], [0, tan(deg2rad(22.5)), -1], [1800, 450, 1]],
            'above the band' => [['top' => 45, 'bottom' => -45], [0, 2, -1], null],
            'the band the other way round' => [
                ['top' => -45, 'bottom' => 45],
                [0, tan(deg2rad(22.5)), -1],
                [1800, 450, 1],
            ],
            // At azimuth 81° of an arc of 180: 5 % from its end, half of a feather of 10 %.
            'feathered' => [
                ['arc' => 180, 'feather' => 0.1],
                [sin(deg2rad(81)), 0, -cos(deg2rad(81))],
                [3420, 900, 0.5],
            ],
            'a whole turn has no ends' => [
                ['feather' => 0.5],
                [0.001, 0, 1],
                [3600 * (1 - atan(0.001) / 2 / M_PI), 900, 1],
            ],
        ];
    }

    /**
     * @param  array<string, float>  $values
     * @param  array{float, float, float}  $place
     * @param  list<float>|null  $wanted  null where nothing is
     */
    #[DataProvider('wrapped')]
    public function test_a_globe_wraps_its_pane_round_the_centre(array $values, array $place, ?array $wanted): void
    {
        $globe = GlobeProjection::of(Mat4::identity(), [3600, 1800], self::values('route', $values + ['y' => 0]));
        $at = $globe->at(...$place);
        $wanted === null ? self::assertSame(0.0, $at[2] ?? 0.0) : self::assertEqualsWithDelta($wanted, $at, 1e-6);
    }

    /**
     * Two walls of 40 × 20 px, 1 × 0.5 m, the second 2 m to the right; a layer with one media of a size and colours,
     * by a route.
     *
     * @param  array<string, mixed>  $route
     * @param  array<string, list<array<string, mixed>>>  $more  rows
     * @param  array<string, mixed>  $layer
     */
    private static function show(array $route, array $more = [], array $layer = []): Show
    {
        $wall = static fn (string $id, float $x): array => [
            'id' => $id,
            'name' => "Wall $id",
            'position' => [$x, 0, 0],
            'rotation' => [0, 0, 0],
            'cells' => [['panel', 'panel']],
            'seams' => [0],
        ];

        return Show::fromRows(
            ['id' => 'show', 'name' => 'Test', 'frameRate' => '25'],
            $more + [
                'panel' => [
                    [
                        'id' => 'panel',
                        'name' => 'P',
                        'widthMm' => 500,
                        'heightMm' => 500,
                        'widthPx' => 20,
                        'heightPx' => 20,
                        'kilograms' => 1,
                        'wattsAverage' => 1,
                        'wattsMaximum' => 2,
                    ],
                ],
                'surface' => [$wall('a', 0), $wall('b', 2)],
                'media' => [
                    [
                        'id' => 'still',
                        'name' => 'Still',
                        'kind' => 'file',
                        'state' => 'ready',
                        'facts' => ['width' => 40, 'height' => 20],
                        'form' => ['kind' => 'still', 'url' => '/still.png'],
                    ],
                ],
                'timeline' => [['id' => 'line', 'name' => 'Main', 'duration' => 20 * self::S]],
                'layer' => [
                    $layer + [
                        'id' => 'l',
                        'timeline' => 'line',
                        'name' => 'Layer',
                        'order' => 0,
                        'route' => 'r',
                        'fitting' => 'one-to-one',
                        'anchorX' => 0,
                        'anchorY' => 0,
                    ],
                ],
                'route' => [$route + ['id' => 'r', 'name' => 'Way', 'surfaces' => ['a', 'b']]],
                'clip' => [['id' => 'c', 'layer' => 'l', 'media' => 'still', 'start' => 0, 'length' => 20 * self::S]],
            ],
        );
    }

    private static function raster(Show $show, Picture $picture, int $second = 1): ReferenceRaster
    {
        $compiler = new PlanCompiler();
        $plan = Plan::empty()->with(Bundle::fromBytes($compiler->compile($show, 1)->toBytes()));

        return new ReferenceRaster(
            new Moment($plan, [Head::of('line', TransportMap::standing(0, $second * self::S))], [], 100 * self::S),
            static fn (): Picture => $picture,
        );
    }

    public function test_content_travels_from_wall_to_wall_through_the_space_between(): void
    {
        $white = Picture::solid(40, 20, [255, 255, 255]);
        $at = static function (int $second) use ($white): array {
            $share = static fn (string $id, float $x): array => [
                'id' => "s$id",
                'route' => 'r',
                'surface' => $id,
                'values' => ['x' => $x, 'y' => 0, 'width' => 40, 'height' => 20],
            ];
            // From 0 to 120 px in 3 s: 40 px a second. The shares lie at 0 to 40 and at 100 to 140.
            $show = self::show(
                ['reach' => 'canvas', 'width' => 200, 'height' => 20],
                [
                    'share' => [$share('a', 0), $share('b', 100)],
                    'curve' => [
                        [
                            'id' => 'k',
                            'owner' => 'l',
                            'property' => 'x',
                            'keyframes' => [['t' => 0, 'v' => 0], ['t' => 3 * self::S, 'v' => 120]],
                        ],
                    ],
                ],
            );
            $raster = self::raster($show, $white, $second);

            return array_map(
                static fn (string $wall): int => array_sum(
                    array_map(
                        static fn (int $x): int => intdiv($raster->surfacePixel($wall, $x, 10)[0], 255),
                        range(0, 39),
                    ),
                ),
                ['a', 'b'],
            );
        };
        self::assertSame([40, 0], $at(0));
        self::assertSame([0, 0], $at(1));
        self::assertSame([0, 20], $at(2));
        self::assertSame([0, 20], $at(3));
    }

    public function test_two_surfaces_that_share_one_place_show_the_same_part_and_move_with_it(): void
    {
        $rows = static fn (?string $follows): array => [
            'share' => [
                ['id' => 'sa', 'route' => 'r', 'surface' => 'a', 'values' => ['y' => 0, 'width' => 40, 'height' => 20]],
                [
                    'id' => 'sb',
                    'route' => 'r',
                    'surface' => 'b',
                    'follows' => $follows,
                    'values' => ['x' => 150, 'y' => 0, 'width' => 40, 'height' => 20],
                ],
            ],
            'curve' => [
                [
                    'id' => 'k',
                    'ownerKind' => 'share',
                    'owner' => 'sa',
                    'property' => 'x',
                    'keyframes' => [['t' => 0, 'v' => 0], ['t' => 4 * self::S, 'v' => 40]],
                ],
            ],
        ];
        $at = static function (?string $follows) use ($rows): array {
            $raster = self::raster(
                self::show(['reach' => 'canvas', 'width' => 200, 'height' => 20], $rows($follows)),
                Picture::solid(40, 20, [255, 255, 255]),
            );

            return array_map(static fn (array $place): int => $raster->surfacePixel(...$place)[0], [
                ['a', 29, 5],
                ['a', 30, 5],
                ['b', 29, 5],
                ['b', 30, 5],
            ]);
        };
        // At 1 s the share begins at 10: of the picture's 40 columns 30 are seen, on both; alone, the other's place
        // is dark.
        self::assertSame([255, 0, 255, 0], $at('sa'));
        self::assertSame([255, 0, 0, 0], $at(null));
    }

    public function test_the_share_of_a_canvas_can_itself_be_keyframed(): void
    {
        $picture = Picture::solid(40, 20, [255, 255, 255]);
        $show = self::show(
            ['reach' => 'canvas', 'width' => 200, 'height' => 20],
            [
                'share' => [
                    [
                        'id' => 'sa',
                        'route' => 'r',
                        'surface' => 'a',
                        'values' => ['y' => 0, 'width' => 40, 'height' => 20],
                    ],
                ],
                'curve' => [
                    [
                        'id' => 'k',
                        'ownerKind' => 'share',
                        'owner' => 'sa',
                        'property' => 'x',
                        'keyframes' => [['t' => 0, 'v' => 0], ['t' => 4 * self::S, 'v' => 40]],
                    ],
                ],
            ],
        );
        // At 1 s the share begins at 10, so that the picture's last 30 columns are seen.
        $raster = self::raster($show, $picture);
        self::assertSame([255, 255, 255], $raster->surfacePixel('a', 29, 10));
        self::assertSame([0, 0, 0], $raster->surfacePixel('a', 30, 10));
        self::assertSame([0, 0, 0], $raster->surfacePixel('b', 5, 10));
    }

    public function test_a_layer_may_be_fitted_into_one_share(): void
    {
        $share = [
            'id' => 'sb',
            'route' => 'r',
            'surface' => 'b',
            'values' => ['x' => 100, 'y' => 0, 'width' => 40, 'height' => 20],
        ];
        $show = self::show(
            ['reach' => 'canvas', 'width' => 200, 'height' => 20],
            ['share' => [$share]],
            ['part' => 'sb', 'fitting' => 'cover'],
        );
        $raster = self::raster($show, Picture::solid(40, 20, [255, 255, 255]));
        self::assertSame([255, 255, 255], $raster->surfacePixel('b', 0, 0));
        self::assertSame([255, 255, 255], $raster->surfacePixel('b', 39, 19));
        // A part that is not there is told, and the whole pane taken.
        $gone = self::show(
            ['reach' => 'canvas', 'width' => 200, 'height' => 20],
            ['share' => [$share]],
            ['part' => 'sx'],
        );
        self::assertStringContainsString('does not have', $gone->broken[0]->message);
    }

    public function test_the_pane_of_a_skin_is_fitted_to_each_surface_and_ends_where_it_ends(): void
    {
        // A pane of 20 × 20 contained in 40 × 20 leaves ten columns on each side dark, whatever the layer does.
        $show = self::show(['width' => 20, 'height' => 20, 'fittings' => ['a' => 'contain']]);
        $raster = self::raster($show, Picture::solid(40, 20, [255, 255, 255]));
        $lit = static fn (string $wall): array => array_values(
            array_filter(
                range(0, 39),
                static fn (int $x): bool => $raster->surfacePixel($wall, $x, 5) === [255, 255, 255],
            ),
        );
        self::assertSame(range(10, 29), $lit('a'));
        self::assertSame(range(0, 39), $lit('b'));
        $told = Figures::of($show)['placements'];
        self::assertFalse($told['l a still']['squashed']);
        self::assertTrue($told['l b still']['squashed']);
        self::assertSame([20, 20], $told['l b still']['pane']);
        self::assertSame('The picture is stretched 100 % wider than it was made.', $told['l b still']['remarks'][0]);
    }

    public function test_a_fitting_for_one_surface_goes_before_the_clips_and_that_before_the_layers(): void
    {
        $clip = [
            'id' => 'c',
            'layer' => 'l',
            'media' => 'still',
            'start' => 0,
            'length' => self::S,
            'fitting' => 'stretch',
        ];
        $told = Figures::of(
            self::show(['fittings' => ['a' => 'contain']], ['clip' => [$clip]], ['fitting' => 'cover']),
        )['placements'];
        self::assertSame(['contain', 'stretch'], [$told['l a still']['fitting'], $told['l b still']['fitting']]);
        $two = Figures::of(
            self::show(
                [],
                ['clip' => [$clip, ['id' => 'd', 'fitting' => null, 'start' => 2 * self::S] + $clip]],
                ['fitting' => 'cover'],
            ),
        )['placements'];
        self::assertSame(['stretch', 'cover'], [$two['l a still']['fitting'], $two['l a still 2']['fitting']]);
    }

    public function test_two_stitched_lenses_sum_to_one_wherever_both_reach(): void
    {
        $lens = static fn (string $id, float $x, array $more): array => [
            'id' => $id,
            'route' => 'r',
            'name' => $id,
            'values' => ['x' => $x, 'y' => 0.25, 'z' => 1, 'angle' => 40] + $more,
        ];
        $show = self::show(
            ['reach' => 'lens', 'width' => 40, 'height' => 40, 'surfaces' => ['a']],
            [
                'lens' => [
                    $lens('one', -0.15, ['featherRight' => 0.4, 'curve' => 2]),
                    $lens('two', 0.15, ['featherLeft' => 0.55]),
                ],
            ],
            ['fitting' => 'stretch'],
        );
        $raster = self::raster($show, Picture::solid(40, 40, [255, 255, 255]));
        // Each throws 0.728 m wide: from −0.514 to 0.214, and from −0.214 to 0.514. A pixel is 0.025 m, the wall 1 m.
        foreach (range(0, 39) as $x) {
            self::assertSame([255, 255, 255], $raster->surfacePixel('a', $x, 10), "Column $x is not fully lit.");
        }
        // One alone fades: at 0.2 m from its middle, 0.225 of the picture from its right edge, 0.56 of its feather,
        // with curve 2.
        $alone = self::show(
            ['reach' => 'lens', 'width' => 40, 'height' => 40, 'surfaces' => ['a']],
            ['lens' => [$lens('one', -0.15, ['featherRight' => 0.4, 'curve' => 2])]],
            ['fitting' => 'stretch'],
        );
        $t = (1 - (0.5 + (0.0625 + 0.15) / 2 / tan(deg2rad(20)))) / 0.4;
        $wanted = ($t ** 2 / ($t ** 2 + (1 - $t) ** 2)) * 255;
        self::assertEqualsWithDelta(
            $wanted,
            self::raster($alone, Picture::solid(40, 40, [255, 255, 255]))->surfacePixel('a', 22, 10)[0],
            1,
        );
        self::assertSame(
            [0, 0, 0],
            self::raster($alone, Picture::solid(40, 40, [255, 255, 255]))->surfacePixel('a', 39, 10),
        );
    }

    public function test_a_lens_lands_each_pixel_of_the_pane_where_it_would_be_seen_from_it(): void
    {
        // Columns of the picture grow brighter: 0, 6, 12 … 234. From 1 m before the middle of the wall, at an angle
        // that takes in just its metre, column n of 40 lands on column n.
        $bytes = '';
        for ($y = 0; $y < 20; $y++) {
            for ($x = 0; $x < 40; $x++) {
                $bytes .= pack('C4', 6 * $x, 6 * $x, 6 * $x, 255);
            }
        }
        $picture = Picture::of(40, 20, $bytes);
        $lens = [
            'id' => 'one',
            'route' => 'r',
            'name' => 'One',
            'values' => ['y' => 0.25, 'z' => 1, 'angle' => rad2deg(2 * atan(0.5))],
        ];
        $raster = self::raster(
            self::show(['reach' => 'lens', 'width' => 40, 'height' => 20], ['lens' => [$lens]]),
            $picture,
        );
        foreach ([0, 1, 13, 20, 39] as $x) {
            self::assertEqualsWithDelta(6 * $x, $raster->surfacePixel('a', $x, 7)[0], 1);
        }
        // From the side it does not reach the wall beside, which faces the same way but is not in its picture.
        self::assertSame([0, 0, 0], $raster->surfacePixel('b', 39, 7));
    }

    public function test_a_globe_lands_by_azimuth(): void
    {
        // From 0.5 m before the wall, its half metre to the right is at 45°: an eighth of a turn of 720 columns is 90.
        $bytes = '';
        for ($y = 0; $y < 4; $y++) {
            for ($x = 0; $x < 720; $x++) {
                $bytes .= pack('C4', $x >= 360 && $x < 450 ? 255 : 0, 0, 0, 255);
            }
        }
        $show = self::show(
            ['reach' => 'globe', 'width' => 720, 'height' => 4, 'values' => ['y' => 0.25, 'z' => 0.5]],
            [
                'media' => [
                    [
                        'id' => 'still',
                        'name' => 'Still',
                        'kind' => 'file',
                        'state' => 'ready',
                        'facts' => ['width' => 720, 'height' => 4],
                        'form' => ['kind' => 'still', 'url' => '/still.png'],
                    ],
                ],
            ],
        );
        $raster = self::raster($show, Picture::of(720, 4, $bytes));
        self::assertSame([0, 0, 0], $raster->surfacePixel('a', 17, 10));
        self::assertSame(255, $raster->surfacePixel('a', 22, 10)[0]);
        self::assertSame(255, $raster->surfacePixel('a', 37, 10)[0]);
        // The other wall, 1.5 to 2.5 m to the right, is at more than 45°.
        self::assertSame([0, 0, 0], $raster->surfacePixel('b', 5, 10));
    }

    public function test_what_a_pixel_is_is_told_from_the_top_down_with_the_pixel_of_the_content(): void
    {
        $share = [
            'id' => 'sa',
            'route' => 'r',
            'surface' => 'a',
            'values' => ['x' => 10, 'y' => 0, 'width' => 20, 'height' => 10],
        ];
        $rows = static fn (array $more): array => $more + [
            'share' => [$share],
            'layer' => [
                [
                    'id' => 'l',
                    'timeline' => 'line',
                    'name' => 'Below',
                    'order' => 0,
                    'route' => 'r',
                    'fitting' => 'one-to-one',
                    'anchorX' => 0,
                    'anchorY' => 0,
                ],
                [
                    'id' => 'm',
                    'timeline' => 'line',
                    'name' => 'Above',
                    'order' => 1,
                    'route' => 's',
                    'fitting' => 'stretch',
                    'values' => ['opacity' => 0.5, 'blend' => 'add', 'cropLeft' => 0.5],
                ],
            ],
            'route' => [
                ['id' => 'r', 'name' => 'Canvas', 'reach' => 'canvas', 'width' => 100, 'height' => 20],
                ['id' => 's', 'layer' => 'm', 'surfaces' => ['a']],
            ],
            'clip' => [
                ['id' => 'c', 'layer' => 'l', 'media' => 'still', 'start' => 0, 'length' => self::S],
                ['id' => 'd', 'layer' => 'm', 'media' => 'still', 'start' => 0, 'length' => self::S],
            ],
        ];
        $show = self::show([], $rows([]));
        $compiler = new PlanCompiler();
        $compiler->compile($show, 1);
        $moment = new Moment($compiler->plan(), [Head::of('line', TransportMap::standing(0, 0))], [], 0);
        $at = static fn (int $x, int $y): array => array_map(
            static fn (array $one): array => [
                $one['name'],
                $one['route'],
                $one['x'],
                $one['y'],
                $one['opacity'],
                $one['blend'],
            ],
            PixelTrace::of($show, 'a', $x, $y, $moment),
        );
        // The wall's 40 × 20 are 20 × 10 of the pane from 10 on: its pixel 30, 7 is 25.25, 3.75 of the pane, where
        // the 40 × 20 of the content begin at 0.
        self::assertEqualsWithDelta(
            [['Above', 'skin', 30.5, 7.5, 0.5, 'add'], ['Below', 'Canvas', 25.25, 3.75, 1.0, 'normal']],
            $at(30, 7),
            1e-9,
        );
        // The left half of the upper one is cropped.
        self::assertEqualsWithDelta([['Below', 'Canvas', 10.25, 0.25, 1.0, 'normal']], $at(0, 0), 1e-9);
        self::assertSame([], PixelTrace::of($show, 'b', 0, 0, $moment));
        foreach ([['a', -1, 0], ['a', 40, 0], ['a', 0, 20], ['nowhere', 0, 0]] as [$surface, $x, $y]) {
            try {
                PixelTrace::of($show, $surface, $x, $y, $moment);
                self::fail("$surface $x, $y was told.");
            } catch (InvalidValue $refused) {
                self::assertNotSame('', $refused->getMessage());
            }
        }
        // Two lenses that both reach it: each with its share of the light.
        $lens = static fn (string $id, float $x): array => [
            'id' => $id,
            'route' => 'r',
            'name' => $id,
            'values' => ['x' => $x, 'y' => 0.25, 'z' => 1, 'angle' => 60, 'featherLeft' => 0.5, 'featherRight' => 0.5],
        ];
        $stitched = self::show(
            ['reach' => 'lens', 'width' => 40, 'height' => 20, 'surfaces' => ['a']],
            ['lens' => [$lens('one', -0.1), $lens('two', 0.1)]],
        );
        $compiler = new PlanCompiler();
        $compiler->compile($stitched, 1);
        $both = PixelTrace::of(
            $stitched,
            'a',
            17,
            10,
            new Moment($compiler->plan(), [Head::of('line', TransportMap::standing(0, 0))], [], 0),
        );
        self::assertCount(2, $both);
        self::assertEqualsWithDelta(1, $both[0]['opacity'] + $both[1]['opacity'], 1e-9);
    }

    public function test_a_globe_says_its_pixels_a_degree_and_what_each_surface_asks_and_a_lens_its_focal_length(): void
    {
        // Half a turn in 3,600 px: 20 a degree across, and 10 of elevation, which are the fewer. The wall of 40 px on
        // a metre, square to the eye 2 m from its middle.
        $show = self::show([
            'reach' => 'globe',
            'width' => 3600,
            'height' => 1800,
            'values' => ['x' => 0, 'y' => 0.25, 'z' => 2, 'arc' => 180],
            'surfaces' => ['a'],
        ]);
        $figures = Figures::of($show)['routes']['r'];
        self::assertEqualsWithDelta(10.0, $figures['perDegree'], 1e-9);
        // In its middle a pixel of 25 mm takes atan(0.025 / 2), so 1.396 of its pixels take a degree; nowhere does
        // one take more.
        self::assertEqualsWithDelta(1 / rad2deg(atan(0.025 / 2)), $figures['coverage']['a']['perDegree'], 0.1);
        $lens = self::show(
            ['reach' => 'lens', 'width' => 40, 'height' => 20, 'surfaces' => ['a']],
            [
                'lens' => [
                    ['id' => 'one', 'route' => 'r', 'name' => 'One', 'sensorWidth' => 24, 'values' => ['angle' => 90]],
                    ['id' => 'two', 'route' => 'r', 'name' => 'Two'],
                ],
            ],
        );
        $told = Figures::of($lens)['routes']['r'];
        self::assertEqualsWithDelta(['one' => 12.0, 'two' => 18 * sqrt(3)], $told['focals'], 1e-9);
        self::assertNull($told['perDegree']);
        self::assertEqualsWithDelta([90.0, 60.0], [Camera::angleFor(24, 12), Camera::angleFor(36, 18 * sqrt(3))], 1e-9);
    }

    public function test_a_picture_is_turned_and_scaled_about_its_pivot(): void
    {
        $corners = static function (array $values): array {
            $show = self::show(
                ['reach' => 'skin', 'surfaces' => ['a']],
                [
                    'layer' => [
                        [
                            'id' => 'l',
                            'timeline' => 'line',
                            'name' => 'L',
                            'order' => 0,
                            'route' => 'r',
                            'fitting' => 'stretch',
                            'values' => $values,
                        ],
                    ],
                ],
            );
            $compiler = new PlanCompiler();
            $compiler->compile($show, 1);
            $matrix = DrawStep::of(
                new Moment($compiler->plan(), [Head::of('line', TransportMap::standing(0, 0))], [], 0),
                'a',
            )[0]->matrix;

            return [$matrix->point(0, 0), $matrix->point(1, 1)];
        };
        // Of 40 × 20: by itself about the middle.
        self::assertEqualsWithDelta([[10, 5], [30, 15]], $corners(['scale' => 0.5]), 1e-9);
        // About the top left corner, about the middle of the right edge, and about a place beyond the picture.
        self::assertEqualsWithDelta([[0, 0], [20, 10]], $corners(['scale' => 0.5, 'pivotX' => 0, 'pivotY' => 0]), 1e-9);
        self::assertEqualsWithDelta([[80, 20], [40, 0]], $corners(['turn' => 180, 'pivotX' => 1]), 1e-9);
        // A quarter turn clockwise about (−40, 10): what was 40 right and 10 above of it lies 10 right and 40 below.
        self::assertEqualsWithDelta([[-30, 50], [-50, 90]], $corners(['turn' => 90, 'pivotX' => -1]), 1e-9);
        // Mirrored, the pivot stays where it is in the pane; moved, it goes along.
        self::assertEqualsWithDelta(
            [[23, 4], [3, 14]],
            $corners(['scale' => 0.5, 'pivotX' => 0, 'pivotY' => 0, 'mirror' => 'across', 'x' => 3, 'y' => 4]),
            1e-9,
        );
    }

    public function test_where_in_its_pane_a_pixel_lies_is_the_way_of_the_picture_walked_backward(): void
    {
        $place = static function (array $route, array $rows, string $surface, float $x, float $y): ?array {
            $compiler = new PlanCompiler();
            $compiler->compile(self::show($route, $rows), 1);

            return PanePlace::of(
                new Moment($compiler->plan(), [Head::of('line', TransportMap::standing(0, 0))], [], 0),
                'l',
                $surface,
                $x,
                $y,
            );
        };
        // Straight at its surfaces, the pane is the raster; also where no picture is.
        self::assertSame([3.5, 4.0], $place([], [], 'a', 3.5, 4.0));
        self::assertSame([-20.0, 4.0], $place([], [], 'a', -20.0, 4.0));
        // A share of 20 × 10 px at 10, 0, mirrored: 40 × 20 px of the wall.
        $share = static fn (array $values): array => [
            'share' => [
                [
                    'id' => 'sa',
                    'route' => 'r',
                    'surface' => 'a',
                    'values' => $values + ['x' => 10, 'y' => 0, 'width' => 20, 'height' => 10],
                ],
            ],
        ];
        $canvas = ['reach' => 'canvas', 'width' => 100, 'height' => 20];
        self::assertEqualsWithDelta([25.25, 3.75], $place($canvas, $share([]), 'a', 30.5, 7.5), 1e-9);
        self::assertEqualsWithDelta([14.75, 3.75], $place($canvas, $share(['mirror' => true]), 'a', 30.5, 7.5), 1e-9);
        self::assertNull($place($canvas, $share([]), 'b', 1, 1));
        // From 1 m before the middle of a wall of 0.5 m half width and 0.25 m half height: 20 px a tangent of 30°.
        $lens = [
            'lens' => [
                [
                    'id' => 'one',
                    'route' => 'r',
                    'name' => 'One',
                    'values' => ['x' => 0, 'y' => 0.25, 'z' => 1, 'angle' => 60],
                ],
            ],
        ];
        $thrown = ['reach' => 'lens', 'width' => 40, 'height' => 20, 'surfaces' => ['a']];
        self::assertEqualsWithDelta([20 + (20 * 0.25) / tan(M_PI / 6), 10], $place($thrown, $lens, 'a', 30, 10), 1e-5);
        self::assertNull($place($thrown, $lens, 'a', 50, 10));
        self::assertNull($place([], [], 'nowhere', 1, 1));
    }

    public function test_a_plate_is_warped_by_its_corners_and_by_the_points_between(): void
    {
        $warp = static fn (array $by, float $u, float $v): array => PlateWarp::of(
            static fn (string $name): float => (float) ($by[$name] ?? 0),
        )->at($u, $v);
        // A corner carries what lies between it and the others along in straight lines.
        self::assertEqualsWithDelta([0.1, 0], $warp(['warpTopLeftX' => 0.1], 0, 0), 1e-12);
        self::assertEqualsWithDelta([0.05, 0], $warp(['warpTopLeftX' => 0.1], 0.5, 0), 1e-12);
        self::assertEqualsWithDelta([0.025, 0], $warp(['warpTopLeftX' => 0.1], 0.5, 0.5), 1e-12);
        self::assertEqualsWithDelta([0, 0.1 * 0.75 * 0.2], $warp(['warpBottomRightY' => 0.1], 0.75, 0.2), 1e-12);
        self::assertEqualsWithDelta([0, 0], $warp(['warpTopLeftX' => 0.1], 1, 0.3), 1e-12);
        // All corners alike move everything alike.
        $all = ['warpTopLeftX' => 0.1, 'warpTopRightX' => 0.1, 'warpBottomLeftX' => 0.1, 'warpBottomRightX' => 0.1];
        self::assertEqualsWithDelta([0.1, 0], $warp($all, 0.3, 0.8), 1e-12);
        // A point between: whole where it is, 3/4 half way to the corner across, a half of −1/8 … of it down: (2·1/4
        // − 1)(1/4 − 1) = 3/8.
        self::assertEqualsWithDelta([0, 0.08], $warp(['warpTopY' => 0.08], 0.5, 0), 1e-12);
        self::assertEqualsWithDelta([0, 0.08 * 0.75], $warp(['warpTopY' => 0.08], 0.25, 0), 1e-12);
        self::assertEqualsWithDelta([0, (0.08 * 3) / 8], $warp(['warpTopY' => 0.08], 0.5, 0.25), 1e-12);
        self::assertEqualsWithDelta(
            [0, 0],
            $warp(['warpTopY' => 0.08, 'warpMiddleX' => 0.1, 'warpLeftX' => 0.1], 0, 0),
            1e-12,
        );
        self::assertEqualsWithDelta([0.1, 0], $warp(['warpMiddleX' => 0.1], 0.5, 0.5), 1e-12);
        // Beyond its edge as at the edge.
        self::assertEqualsWithDelta([0.1, 0], $warp(['warpTopLeftX' => 0.1], -3, -0.2), 1e-12);
        // Seen through the lens: what was in the middle of the plate is seen a tenth of the picture to the right.
        $lens = static fn (array $values): LensProjection => LensProjection::of(
            Mat4::identity(),
            [0, 0, 100, 50],
            self::values('lens', ['x' => 0, 'y' => 0, 'z' => 0] + $values),
        );
        self::assertEqualsWithDelta([50, 25, 1], $lens([])->at(0, 0, -1), 1e-9);
        self::assertEqualsWithDelta([50, 25, 1], $lens($all)->at(0.2 * tan(M_PI / 6), 0, -1), 1e-9);
    }

    public function test_what_stands_in_the_way_of_a_lens_keeps_its_light_off_where_that_is_wanted(): void
    {
        // A box half way between lens and wall: 0 to 0.2 m to the right, 0.1 m high round the axis, 2 cm deep. Its
        // front, at 0.49 m from the lens, throws 0.2 m as 0.2 / 0.49 = 0.408 m on the wall, and 0.05 m as 0.102 m.
        $rows = static fn (bool $on): array => [
            'lens' => [
                [
                    'id' => 'one',
                    'route' => 'r',
                    'name' => 'One',
                    'values' => ['x' => 0, 'y' => 0.25, 'z' => 1, 'angle' => 60, 'occlusion' => $on],
                ],
            ],
            'prop' => [
                [
                    'id' => 'box',
                    'name' => 'Crate',
                    'kind' => 'box',
                    'position' => [0.1, 0.2, 0.5],
                    'rotation' => [0, 0, 0],
                    'shape' => ['width' => 0.2, 'height' => 0.1, 'depth' => 0.02],
                ],
            ],
        ];
        $route = ['reach' => 'lens', 'width' => 40, 'height' => 20, 'surfaces' => ['a']];
        $raster = self::raster(self::show($route, $rows(true)), Picture::solid(40, 20, [255, 255, 255]));
        $lit = static fn (int $x, int $y): int => $raster->surfacePixel('a', $x, $y)[0];
        // 40 px a metre: from 20 to 36.3 across, from 5.9 to 14.1 down.
        self::assertSame([255, 0, 0, 255], [$lit(19, 10), $lit(20, 10), $lit(35, 10), $lit(36, 10)]);
        self::assertSame([255, 0, 0, 255], [$lit(28, 5), $lit(28, 6), $lit(28, 13), $lit(28, 14)]);
        // The wall does not stand in its own way, and without occlusion nothing does.
        self::assertSame(255, $lit(2, 2));
        self::assertSame(
            255,
            self::raster(self::show($route, $rows(false)), Picture::solid(40, 20, [255, 255, 255]))->surfacePixel(
                'a',
                28,
                10,
            )[0],
        );
        // The figure of what is reached knows of it: 16.3 × 8.2 of 40 × 20 px are missing.
        $reached = static fn (bool $on): float => Figures::of(self::show($route, $rows($on)))['routes']['r']['coverage'][
            'a'
        ]['reached'];
        self::assertEqualsWithDelta($reached(false) - (16.3 * 8.2) / 800, $reached(true), 0.02);
    }

    public function test_the_solids_of_the_venue_are_in_the_plan_only_where_a_lens_asks_for_them(): void
    {
        $plan = static function (array $values, array $more = []): array {
            $compiler = new PlanCompiler();
            $compiler->compile(
                self::show(
                    ['reach' => 'lens', 'width' => 40, 'height' => 20],
                    $more + ['lens' => [['id' => 'one', 'route' => 'r', 'name' => 'One', 'values' => $values]]],
                ),
                1,
            );

            return $compiler->plan()->tracks;
        };
        self::assertArrayNotHasKey('venue/solids', $plan([]));
        self::assertInstanceOf(SurfaceMesh::class, $plan(['occlusion' => true])['venue/solids']);
        self::assertArrayHasKey(
            'venue/solids',
            $plan(
                [],
                [
                    'curve' => [
                        [
                            'id' => 'k',
                            'ownerKind' => 'lens',
                            'owner' => 'one',
                            'property' => 'occlusion',
                            'keyframes' => [['t' => 0, 'v' => true, 'i' => 'step']],
                        ],
                    ],
                ],
            ),
        );
        self::assertFalse(Occlusion::of(SurfaceMesh::solids([]))->hides([0, 0, 1], [0, 0, 0]));
    }

    /**
     * @return array<string, array{array<string, mixed>, \Closure(float, float): ?array{float, float, float}}> shape
     *     of a face, and where a place of its raster (0 to 1) is by the plain formula, in its own place
     */
    public static function rounds(): array
    {
        return [
            'a drum' => [
                ['kind' => 'drum', 'radius' => 2, 'arc' => 200, 'height' => 3],
                static function (float $u, float $v): array {
                    $angle = deg2rad(200) * ($u - 0.5);

                    return [2 * sin($angle), 3 * (1 - $v), 2 * cos($angle) - 2];
                },
            ],
            'drums' => [
                ['kind' => 'drums', 'tiers' => '3 × 2; 1.5 × 1', 'arc' => 120],
                static function (float $u, float $v): ?array {
                    $y = 3 * (1 - $v);
                    $radius = $y > 2 ? 1.5 : 3.0;
                    $angle = (($u - 0.5) * deg2rad(120) * 3) / $radius;

                    return abs($angle) > deg2rad(60) ? null : [$radius * sin($angle), $y, $radius * cos($angle) - 3];
                },
            ],
            'a dome from within' => [
                ['kind' => 'dome', 'radius' => 5, 'arc' => 180, 'tilt' => 0, 'outside' => false],
                static function (float $u, float $v): ?array {
                    [$across, $up] = [2 * $u - 1, 1 - 2 * $v];
                    $from = hypot($across, $up);

                    // The rim of the mesh is a polygon of 72 corners.
                    return $from > cos(M_PI / 72)
                        ? null
                        : [
                            (5 * sin(($from * M_PI) / 2) * $across) / $from,
                            (5 * sin(($from * M_PI) / 2) * $up) / $from,
                            -5 * cos(($from * M_PI) / 2),
                        ];
                },
            ],
            // Its pole points at the sky.
            'a dome from outside' => [
                ['kind' => 'dome', 'radius' => 1, 'arc' => 90, 'tilt' => 90, 'outside' => true],
                static function (float $u, float $v): ?array {
                    [$across, $up] = [2 * $u - 1, 1 - 2 * $v];
                    $from = hypot($across, $up);

                    return $from > cos(M_PI / 72)
                        ? null
                        : [
                            (sin(($from * M_PI) / 4) * $across) / $from,
                            cos(($from * M_PI) / 4),
                            (-sin(($from * M_PI) / 4) * $up) / $from,
                        ];
                },
            ],
        ];
    }

    /**
     * @param  array<string, mixed>  $shape
     * @param  \Closure(float, float): ?array{float, float, float}  $formula
     */
    #[DataProvider('rounds')]
    public function test_a_picture_is_thrown_onto_the_true_shape_of_what_is_round(array $shape, \Closure $formula): void
    {
        $kind = $shape['kind'];
        $rows = [
            'surface' => [
                [
                    'id' => 'a',
                    'name' => 'Round',
                    'kind' => $kind,
                    'position' => [1, 2, -3],
                    'rotation' => [90, 0, 0],
                    'shape' => array_diff_key($shape, ['kind' => 0]) + ['pixelsPerMetre' => 100],
                ],
            ],
        ];
        // It looks at the round thing from 12 m to the right of it, 0.3 m to the side and 0.4 m up, with a quarter
        // turn as well.
        $lens = [
            'id' => 'one',
            'route' => 'r',
            'name' => 'One',
            'values' => ['x' => 13, 'y' => 2.4, 'z' => -3.3, 'yaw' => 90, 'angle' => 90],
        ];
        $show = self::show(
            ['reach' => 'lens', 'width' => 1000, 'height' => 1000, 'surfaces' => ['a']],
            $rows + ['lens' => [$lens]],
        );
        $compiler = new PlanCompiler();
        $plan = Plan::empty()->with(Bundle::fromBytes($compiler->compile($show, 1)->toBytes()));
        $moment = new Moment($plan, [Head::of('line', TransportMap::standing(0, 0))], [], 0);
        $places = new RasterPlaces($plan->tracks['surface:a/mesh'], $plan->parts['round:a']);
        [$width, $height] = [$plan->parts['surface:a']['width'], $plan->parts['surface:a']['height']];
        [$tried, $thrown] = [0, 0];
        for ($y = 0.5; $y < $height; $y += $height / 23) {
            for ($x = 0.5; $x < $width; $x += $width / 29) {
                $own = $formula($x / $width, $y / $height);
                if ($own === null) {
                    continue;
                }
                // A quarter turn about the upright axis: what pointed at the audience points to the right.
                $true = [1 + $own[2], 2 + $own[1], -3 - $own[0]];
                $found = $places->at($x, $y);
                self::assertEqualsWithDelta($true, $found[0] ?? [], 2e-5, "$x, $y");
                foreach ([2 => [1, 0], 3 => [0, 1]] as $way => [$dx, $dy]) {
                    [$to, $from] = [
                        $formula(($x + $dx / 2) / $width, ($y + $dy / 2) / $height),
                        $formula(($x - $dx / 2) / $width, ($y - $dy / 2) / $height),
                    ];
                    if ($to !== null && $from !== null && hypot($to[0] - $from[0], $to[2] - $from[2]) < 0.1) {
                        self::assertEqualsWithDelta(
                            [$to[2] - $from[2], $to[1] - $from[1], $from[0] - $to[0]],
                            $found[$way] ?? [],
                            2e-5,
                            "$x, $y",
                        );
                    }
                }
                $tried++;
                // By the pinhole: 500 px for the tangent of half of 90 degrees.
                $depth = 13 - $true[0];
                $seen = [500 + (500 * (-3.3 - $true[2])) / $depth, 500 + (500 * (2.4 - $true[1])) / $depth];
                if (min($seen) > 0 && max($seen) < 1000) {
                    self::assertEqualsWithDelta($seen, PanePlace::of($moment, 'l', 'a', $x, $y), 0.002, "$x, $y");
                    $thrown++;
                }
            }
        }
        self::assertGreaterThan(250, min($tried, $thrown));
    }

    public function test_light_meets_what_is_round_at_its_true_slope(): void
    {
        // A drum of 1 m, seen from 2 m before its axis: light comes as far round as 60°, half of 120°, and no farther.
        $rows = [
            'surface' => [
                [
                    'id' => 'a',
                    'name' => 'Round',
                    'kind' => 'drum',
                    'position' => [0, 0, 1],
                    'rotation' => [0, 0, 0],
                    'shape' => [
                        'radius' => 1,
                        'arc' => 360,
                        'height' => 0.2,
                        'rasterWidth' => 3600,
                        'rasterHeight' => 20,
                    ],
                ],
            ],
        ];
        $lens = [
            'id' => 'one',
            'route' => 'r',
            'name' => 'One',
            'values' => ['x' => 0, 'y' => 0.1, 'z' => 2, 'angle' => 120],
        ];
        $raster = self::raster(
            self::show(
                ['reach' => 'lens', 'width' => 400, 'height' => 400, 'surfaces' => ['a']],
                $rows + ['lens' => [$lens]],
                ['fitting' => 'stretch'],
            ),
            Picture::solid(40, 20, [255, 255, 255]),
        );
        $line = array_map(static fn (int $x): int => $raster->surfacePixel('a', $x, 10)[0], range(0, 3599));
        $lit = array_keys(array_filter($line, static fn (int $v): bool => $v > 0));
        self::assertSame([1200, 2399, 1200], [min($lit), max($lit), count($lit)]);
    }

    public function test_the_triangles_that_are_thrown_onto_travel_with_the_plan(): void
    {
        $show = self::show(['reach' => 'lens', 'width' => 40, 'height' => 20]);
        $compiler = new PlanCompiler();
        $bundle = $compiler->compile($show, 1);
        $mesh = $bundle->tracks['surface:b/mesh'];
        self::assertInstanceOf(SurfaceMesh::class, $mesh);
        self::assertEquals($mesh, Bundle::fromBytes($bundle->toBytes())->tracks['surface:b/mesh']);
        $numbers = array_chunk($mesh->numbers(), SurfaceMesh::NUMBERS);
        self::assertEqualsWithDelta([1.5, 2.5], [min(array_column($numbers, 2)), max(array_column($numbers, 2))], 1e-6);
        self::assertEqualsWithDelta([0, 40], [min(array_column($numbers, 0)), max(array_column($numbers, 0))], 1e-6);
        self::assertSame([1.0], array_values(array_unique(array_column($numbers, 7))));
        // Nothing has them that nothing is thrown onto.
        $plain = (new PlanCompiler())->compile(self::show([]), 1);
        self::assertArrayNotHasKey('surface:b/mesh', $plain->tracks);
    }

    public function test_what_a_route_can_not_be_is_refused(): void
    {
        foreach (
            [
                ['reach' => 'canvas'],
                ['reach' => 'lens', 'width' => 100],
                ['width' => 100],
                ['width' => 32_769, 'height' => 10],
                ['width' => -1, 'height' => 10],
                ['reach' => 'air'],
                ['fittings' => ['a' => 'squeeze']],
                ['name' => ''],
            ] as $row
        ) {
            try {
                Route::fromRow($row + ['id' => 'r', 'name' => 'Way']);
                self::fail(json_encode($row).' was taken.');
            } catch (InvalidValue $refused) {
                self::assertNotSame('', $refused->getMessage());
            }
        }
        self::assertSame(
            32_768,
            Route::fromRow(['id' => 'r', 'name' => 'Way', 'reach' => 'canvas', 'width' => 32_768, 'height' => 1])
                ->width,
        );
        foreach (
            [['part' => [1, 2, 3]], ['part' => [0, 0, 40_000, 10]], ['part' => [-1, 0, 10, 10]], ['name' => '']] as $row
        ) {
            try {
                VirtualLens::fromRow($row + ['id' => 'l', 'route' => 'r', 'name' => 'Lens'], []);
                self::fail(json_encode($row).' was taken.');
            } catch (InvalidValue $refused) {
                self::assertNotSame('', $refused->getMessage());
            }
        }
    }

    public function test_parts_that_a_route_can_not_use_are_told_and_the_rest_goes_on(): void
    {
        $share = static fn (string $id, string $surface): array => ['id' => $id, 'route' => 'r', 'surface' => $surface];
        $show = self::show(
            ['reach' => 'canvas', 'width' => 100, 'height' => 20],
            ['share' => [$share('s1', 'a'), $share('s2', 'a'), $share('s3', 'gone')]],
        );
        self::assertSame(
            [['share', 's2'], ['share', 's3']],
            array_map(static fn ($broken): array => [$broken->kind, $broken->id], $show->broken),
        );
        self::assertSame(['a'], $show->programme->routes['r']->surfaces());
        $lenses = array_map(
            static fn (int $n): array => [
                'id' => "l$n",
                'route' => 'r',
                'name' => "Lens $n",
                'rig' => $n === 2 ? 'gone' : null,
            ],
            range(1, 9),
        );
        $stitched = self::show(['reach' => 'lens', 'width' => 100, 'height' => 20], ['lens' => $lenses]);
        self::assertSame(
            [['lens', 'l2'], ['lens', 'l9']],
            array_map(static fn ($broken): array => [$broken->kind, $broken->id], $stitched->broken),
        );
        self::assertCount(8, $stitched->programme->routes['r']->lenses);
    }

    public function test_an_edit_of_one_share_makes_only_what_it_touches_anew(): void
    {
        $rows = static fn (float $x): array => [
            'share' => [
                ['id' => 'sa', 'route' => 'r', 'surface' => 'a', 'values' => ['x' => $x]],
                ['id' => 'sb', 'route' => 'r', 'surface' => 'b', 'values' => ['x' => 100]],
            ],
        ];
        $compiler = new PlanCompiler();
        $route = ['reach' => 'canvas', 'width' => 200, 'height' => 20];
        $compiler->compile(self::show($route, $rows(0)), 1);
        $changed = $compiler->compile(self::show($route, $rows(7)), 2);
        self::assertSame([], $changed->parts);
        self::assertSame(['share:sa/x'], array_keys($changed->tracks));
    }

    public function test_feathers_that_take_more_than_two_lenses_have_in_common_are_told(): void
    {
        $lens = static fn (string $id, array $values): VirtualLens => VirtualLens::fromRow(
            ['id' => $id, 'route' => 'r', 'name' => $id, 'part' => [0, 0, 100, 100]],
            array_map(static fn (float $v): array => [$v], $values),
        );
        $pair = static fn (array $first, array $second): array => LensOverlap::of(
            [$lens('a', $first), $lens('b', $second)],
            [100, 100],
        );
        // Sixty degrees each, turned by fifty: ten in common. A tenth of the picture at its edge is 5.2 of them, a
        // quarter 13.9.
        [$fine] = $pair(['featherLeft' => 0.1], ['yaw' => 50, 'featherRight' => 0.1]);
        self::assertEqualsWithDelta(
            [10.0, 5.208, 5.208],
            [$fine->degrees, $fine->firstFeather, $fine->secondFeather],
            0.001,
        );
        self::assertFalse($fine->isDark());
        [$wide] = $pair(['featherLeft' => 0.25], ['yaw' => 50, 'featherRight' => 0.25]);
        self::assertEqualsWithDelta(30 - rad2deg(atan(tan(M_PI / 6) / 2)), $wide->firstFeather, 1e-9);
        self::assertTrue($wide->isDark());
        // As rays have it: the sum of both weights over the angles between them is below one just where it is told.
        foreach ([[0.1, false], [0.15, false], [0.19, true], [0.25, true], [0.5, true]] as [$feather, $dark]) {
            $frames = [];
            foreach (
                [['yaw' => 0.0, 'featherLeft' => $feather], ['yaw' => 50.0, 'featherRight' => $feather]] as $values
            ) {
                $frames[] = LensProjection::of(
                    Mat4::identity(),
                    [0, 0, 100, 100],
                    static fn (string $name): float => $values[$name] ??
                        ($name === 'y' ? 0.0 : VirtualLens::properties()->named($name)->default),
                );
            }
            $least = 2.0;
            for ($angle = 0.0; $angle <= 50; $angle += 0.05) {
                $weights = array_map(static function (LensProjection $one) use ($angle): float {
                    $at = $one->at(-sin(deg2rad($angle)), 0, -cos(deg2rad($angle)));

                    return $at !== null && $at[0] >= 0 && $at[0] <= 100 ? $at[2] : 0.0;
                }, $frames);
                $least = min($least, array_sum($weights));
            }
            [$one] = $pair(['featherLeft' => $feather], ['yaw' => 50, 'featherRight' => $feather]);
            self::assertSame($dark, $one->isDark(), (string) $feather);
            $dark && self::assertLessThan(1.0, $least, (string) $feather);
        }
        // One above the other, shifted, elsewhere, without anything in common, and three in a row.
        self::assertEqualsWithDelta(10.0, $pair([], ['pitch' => 50])[0]->degrees, 1e-9);
        self::assertEqualsWithDelta(
            30 + rad2deg(atan(tan(M_PI / 6) * 0.8)) - 50,
            $pair(['shiftX' => 0.1], ['yaw' => 50])[0]->degrees,
            1e-9,
        );
        self::assertSame(
            [[], [], []],
            [$pair([], ['yaw' => 50, 'x' => 1]), $pair([], ['yaw' => 61]), $pair([], ['yaw' => 50, 'roll' => 90])],
        );
        self::assertSame(
            [['a', 'b'], ['b', 'c']],
            array_map(
                static fn (LensOverlap $o): array => [$o->first->id, $o->second->id],
                LensOverlap::of(
                    [$lens('a', ['yaw' => 170]), $lens('b', ['yaw' => -140]), $lens('c', ['yaw' => -90])],
                    [100, 100],
                ),
            ),
        );
    }
}
