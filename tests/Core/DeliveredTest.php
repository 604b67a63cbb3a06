<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Media\Picture;
use Core\Output\BezierGrid;
use Core\Output\BlendMap;
use Core\Output\ComputedWarp;
use Core\Output\DeliveryMesh;
use Core\Output\WarpLattice;
use Core\Plan\Bundle;
use Core\Plan\Plan;
use Core\Plan\PlanCompiler;
use Core\Playback\Delivered;
use Core\Playback\Head;
use Core\Playback\Moment;
use Core\Playback\ReferenceRaster;
use Core\Show\Show;
use Core\Timeline\TransportMap;
use Core\Units\Flicks;
use PHPUnit\Framework\TestCase;

/** The last pass: what a pixel of an output gives of a surface's raster, against figures by hand. */
final class DeliveredTest extends TestCase
{
    /**
     * A wall of 40 × 20 px that shows a picture of its own size, on an output of 60 × 40.
     *
     * @param  array<string, mixed>  $region
     * @param  array<string, mixed>  $output
     * @param  list<array<string, mixed>>  $masks
     * @param  array<string, mixed>|null  $second  another region, over the first
     */
    private static function show(array $region = [], array $output = [], array $masks = [], ?array $second = null): Show
    {
        $plain = ['output' => 'out', 'surface' => 'wall', 'source' => [0, 0, 40, 20], 'x' => 10, 'y' => 5];

        return Show::fromRows(
            ['id' => 'show', 'name' => 'Test', 'frameRate' => '25'],
            [
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
                'surface' => [
                    [
                        'id' => 'wall',
                        'name' => 'Wall',
                        'position' => [0, 0, 0],
                        'rotation' => [0, 0, 0],
                        'cells' => [['panel', 'panel']],
                        'seams' => [0],
                    ],
                ],
                'media' => [
                    [
                        'id' => 'card',
                        'name' => 'Card',
                        'kind' => 'file',
                        'state' => 'ready',
                        'facts' => ['width' => 40, 'height' => 20, 'pixelAspect' => 1],
                        'form' => [
                            'kind' => 'still',
                            'frames' => 1,
                            'url' => '/card.png',
                            'width' => 40,
                            'height' => 20,
                        ],
                    ],
                ],
                'timeline' => [['id' => 'line', 'name' => 'Main', 'duration' => 20 * Flicks::PER_SECOND]],
                'layer' => [['id' => 'l', 'timeline' => 'line', 'name' => 'L', 'order' => 0, 'route' => 'w']],
                'route' => [['id' => 'w', 'name' => 'Wall', 'surfaces' => ['wall']]],
                'clip' => [
                    [
                        'id' => 'c',
                        'layer' => 'l',
                        'media' => 'card',
                        'start' => 0,
                        'length' => 20 * Flicks::PER_SECOND,
                        'in' => 0,
                        'pastEnd' => 'hold',
                    ],
                ],
                'output' => [
                    $output + ['id' => 'out', 'name' => 'Output', 'width' => 60, 'height' => 40, 'refresh' => 60],
                ],
                'region' => [
                    $region + ['id' => 'r'] + $plain,
                    ...$second === null ? [] : [$second + ['id' => 's'] + $plain],
                ],
                'mask' => $masks,
            ],
        );
    }

    /** A picture whose red grows across and whose green grows down; its blue is 100 throughout. */
    private static function card(): Picture
    {
        $bytes = '';
        for ($y = 0; $y < 20; $y++) {
            for ($x = 0; $x < 40; $x++) {
                $bytes .= pack('C4', 6 * $x, 12 * $y, 100, 255);
            }
        }

        return Picture::of(40, 20, $bytes);
    }

    private static function raster(Show $show, ?\Closure $kept = null): ReferenceRaster
    {
        $plan = Plan::empty()->with(Bundle::fromBytes((new PlanCompiler($kept))->compile($show, 1)->toBytes()));

        return new ReferenceRaster(
            new Moment($plan, [Head::of('line', TransportMap::standing(0, 0))], [], 0),
            static fn (): Picture => self::card(),
        );
    }

    public function test_a_plain_region_is_one_pixel_for_one(): void
    {
        $raster = self::raster(self::show());
        self::assertSame([6 * 7, 12 * 3, 100], $raster->outputPixel('out', 17, 8));
        self::assertSame([0, 0, 100], $raster->outputPixel('out', 10, 5));
        self::assertSame([6 * 39, 12 * 19, 100], $raster->outputPixel('out', 49, 24));
        foreach ([[9, 5], [50, 24], [10, 4], [10, 25]] as [$x, $y]) {
            self::assertSame([0, 0, 0], $raster->outputPixel('out', $x, $y));
        }
    }

    public function test_turns_and_mirrors_are_pixels_for_pixels(): void
    {
        // A quarter clockwise: the place is 20 × 40; its top right corner is the picture's top left.
        $turned = self::raster(self::show(['turn' => 90, 'x' => 0, 'y' => 0]));
        self::assertSame([0, 0, 100], $turned->outputPixel('out', 19, 0));
        self::assertSame([6 * 39, 0, 100], $turned->outputPixel('out', 19, 39));
        self::assertSame([0, 12 * 19, 100], $turned->outputPixel('out', 0, 0));
        $half = self::raster(self::show(['turn' => 180]));
        self::assertSame([6 * 39, 12 * 19, 100], $half->outputPixel('out', 10, 5));
        $mirror = self::raster(self::show(['mirror' => true]));
        self::assertSame([6 * 39, 12 * 2, 100], $mirror->outputPixel('out', 10, 7));
    }

    public function test_a_larger_region_is_interpolated_and_a_smaller_one_averaged(): void
    {
        // Twice as large: the middles of its pixels lie a quarter and three quarters of the way.
        $large = self::raster(self::show(['width' => 80, 'height' => 40, 'x' => 0, 'y' => 0]));
        // Pixel 21 shows x = 10.75: between the middles of 10 (10.5) and 11 (11.5), a quarter of the way.
        self::assertSame((int) round(6 * 10 + 6 * 0.25), $large->outputPixel('out', 21, 10)[0]);
        self::assertSame((int) round(12 * 4 + 12 * 0.75), $large->outputPixel('out', 21, 10)[1]);
        // A quarter as large each way: pixel 3 covers 12 to 16, of which two samples, at 13 and 15, are the mean at 14.
        $small = self::raster(self::show(['width' => 10, 'height' => 5, 'x' => 0, 'y' => 0]));
        self::assertEqualsWithDelta(6 * (14 - 0.5), $small->outputPixel('out', 3, 2)[0], 1);
        self::assertEqualsWithDelta(12 * (10 - 0.5), $small->outputPixel('out', 3, 2)[1], 1);
        // At its edge, the outermost pixel goes on.
        self::assertSame(0, $large->outputPixel('out', 0, 0)[0]);
    }

    public function test_a_polygon_is_shown_alone(): void
    {
        $raster = self::raster(self::show(['polygon' => [0, 0, 40, 0, 0, 20]]));
        self::assertSame([0, 0, 100], $raster->outputPixel('out', 10, 5));
        self::assertSame([6 * 20, 12 * 5, 100], $raster->outputPixel('out', 30, 10));
        self::assertSame([0, 0, 0], $raster->outputPixel('out', 45, 20), 'beyond its slope');
    }

    public function test_a_pixel_at_an_outline_has_the_light_of_what_is_covered_of_it(): void
    {
        // Moved by 0.6 px: of the first and of the last column, two of four places are covered, at 0.625 and 0.875, and
        // at 0.125 and 0.375; of blue, half the light, 100 · 0.5^(1 / 2.2) = 73.
        $moved = [...array_fill(0, 4, [0.6, 0.0])];
        $raster = self::raster(self::show(['pin' => array_merge(...$moved)]));
        foreach ([9 => 0, 10 => 73, 11 => 100, 49 => 100, 50 => 73, 51 => 0] as $x => $blue) {
            self::assertSame($blue, $raster->outputPixel('out', $x, 14)[2], "column $x");
        }
        // What lies past the middle of the pixel goes on as it does beside it.
        self::assertSame(0, $raster->outputPixel('out', 10, 14)[0]);
        self::assertSame((int) round(6 * 39 * 0.5 ** (1 / 2.2)), $raster->outputPixel('out', 50, 14)[0]);
        // A corner: 0.6 to the right and 0.3 down, of the places at (0.625, 0.875) and (0.875, 0.375) both; of those at
        // (0.125, 0.625) and (0.375, 0.125) none.
        $raster = self::raster(self::show(['pin' => [0.6, 0.3, 0.6, 0.3, 0.6, 0.3, 0.6, 0.3]]));
        self::assertSame(73, $raster->outputPixel('out', 10, 5)[2]);
        // Of the first row, all but that at 0.125.
        self::assertSame((int) round(100 * 0.75 ** (1 / 2.2)), $raster->outputPixel('out', 30, 5)[2]);
    }

    public function test_pieces_that_share_an_edge_leave_no_dark_line_between_them(): void
    {
        $pin = [0.6, 0.0, 0.6, 0.0, 0.6, 0.0, 0.6, 0.0];
        $left = ['source' => [0, 0, 20, 20], 'pin' => $pin];
        $right = ['source' => [20, 0, 20, 20], 'x' => 30, 'pin' => $pin];
        foreach ([[$left, $right], [$right, $left]] as [$first, $second]) {
            $raster = self::raster(self::show($first, second: $second));
            foreach ([10 => 73, 29 => 100, 30 => 100, 31 => 100, 50 => 73] as $x => $blue) {
                self::assertSame($blue, $raster->outputPixel('out', $x, 14)[2], "column $x");
            }
            // The pixel is that one's which has its middle.
            self::assertSame(6 * 19, $raster->outputPixel('out', 30, 14)[0]);
        }
        // Over one that covers all of a pixel, an outline takes nothing away.
        $raster = self::raster(
            self::show([], second: ['source' => [10, 5, 8, 8], 'x' => 20, 'y' => 10, 'pin' => $pin]),
        );
        self::assertSame(100, $raster->outputPixel('out', 20, 12)[2]);
        self::assertSame(6 * 10, $raster->outputPixel('out', 20, 12)[0], 'what is below it');
        self::assertSame(100, $raster->outputPixel('out', 28, 12)[2]);
    }

    public function test_a_pin_is_in_perspective_between_its_corners(): void
    {
        // Its top is half as wide, in the middle.
        $raster = self::raster(self::show(['pin' => [10, 0, -10, 0, 0, 0, 0, 0]]));
        self::assertSame([0, 0, 0], $raster->outputPixel('out', 12, 6));
        // Where the diagonals cross, two thirds of the way up as a trapezium has it, is the middle of the picture.
        [$x, $y] = [30, 5 + 20 * (1 - 1 / (1 + 0.5)) + 0.0];
        $pixel = $raster->outputPixel('out', $x, (int) floor($y));
        self::assertEqualsWithDelta(6 * 20, $pixel[0], 8);
        self::assertEqualsWithDelta(12 * 9.5, $pixel[1], 14);
    }

    public function test_a_painted_mask_travels_with_the_plan_and_takes_light_away(): void
    {
        $key = str_repeat('0f', 32);
        $kept = static fn (string $k): ?string => $k === $key
            ? (new BlendMap([0, 0, 9, 9], 2, 2, [0.0, 1.0, 0.0, 1.0]))->toBytes()
            : null;
        $raster = static fn (string $on, string $of, ?\Closure $kept): ReferenceRaster => self::raster(
            self::show([], ['gamma' => 2.0], [['id' => 'm', $on => $of, 'name' => 'Fade', 'image' => $key]]),
            $kept,
        );
        // Over the surface, 40 px wide: its pixel 9 is 9.5 of 40 across.
        self::assertSame(
            (int) round(100 * sqrt(9.5 / 40)),
            $raster('surface', 'wall', $kept)->outputPixel('out', 19, 10)[2],
        );
        // Over the output, 60 px wide: its pixel 19 is 19.5 of 60 across.
        self::assertSame(
            (int) round(100 * sqrt(19.5 / 60)),
            $raster('output', 'out', $kept)->outputPixel('out', 19, 10)[2],
        );
        // One whose picture is gone keeps no light off.
        self::assertSame(100, $raster('output', 'out', static fn (): ?string => null)->outputPixel('out', 19, 10)[2]);
    }

    public function test_edges_fade_by_shares_of_the_light(): void
    {
        $raster = self::raster(self::show(['blend' => ['left' => 10, 'curve' => 1]], ['gamma' => 2.0]));
        // Pixel 4 lies 4.5 of 10 px within: 0.45 of the light, its root of the signal.
        self::assertSame((int) round(100 * sqrt(0.45)), $raster->outputPixel('out', 14, 10)[2]);
        self::assertSame(100, $raster->outputPixel('out', 25, 10)[2]);
        self::assertSame((int) round(100 * sqrt(0.05)), $raster->outputPixel('out', 10, 10)[2]);
    }

    public function test_gain_peak_and_black_are_light(): void
    {
        $raster = self::raster(
            self::show([], ['gamma' => 2.0, 'gain' => [1, 1, 0.25], 'peak' => 0.64, 'black' => 0.01]),
        );
        $given = static fn (float $signal, float $gain): int => (int) round(
            255 * sqrt(($signal / 255) ** 2 * $gain * 0.64 + 0.01),
        );
        self::assertSame([$given(6 * 10, 1), $given(12 * 4, 1), $given(100, 0.25)], $raster->outputPixel('out', 20, 9));
        // Where nothing is delivered, nothing is added.
        self::assertSame([0, 0, 0], $raster->outputPixel('out', 2, 2));
        // What would be more than all is all.
        $bright = self::raster(self::show([], ['gamma' => 2.0, 'black' => 0.5]));
        self::assertSame(255, $bright->outputPixel('out', 49, 10)[0] > 250 ? 255 : 0);
    }

    public function test_masks_of_surface_and_output_are_multiplied(): void
    {
        $square = static fn (float $l, float $t, float $r, float $b): array => [
            $l,
            $t,
            0,
            0,
            0,
            0,
            $r,
            $t,
            0,
            0,
            0,
            0,
            $r,
            $b,
            0,
            0,
            0,
            0,
            $l,
            $b,
            0,
            0,
            0,
            0,
        ];
        $masks = [
            [
                'id' => 'm1',
                'surface' => 'wall',
                'name' => 'Window',
                'nodes' => $square(10, 0, 20, 20),
                'inverted' => true,
            ],
            ['id' => 'm2', 'output' => 'out', 'name' => 'Stage', 'nodes' => $square(0, 0, 60, 15)],
        ];
        $raster = self::raster(self::show([], [], $masks));
        self::assertSame(100, $raster->outputPixel('out', 15, 8)[2]);
        self::assertSame(0, $raster->outputPixel('out', 25, 8)[2], 'within the window');
        self::assertSame(0, $raster->outputPixel('out', 15, 20)[2], 'below the stage');
        // A feather of 8 px about the stage's lower edge: at 13.5, 1.5 px within, t = 0.6875, 3t² − 2t³ of the light.
        $masks[1]['feather'] = 8;
        $soft = self::raster(self::show([], ['gamma' => 2.0], $masks));
        $t = 1.5 / 8 + 0.5;
        self::assertSame((int) round(100 * sqrt($t * $t * (3 - 2 * $t))), $soft->outputPixel('out', 15, 13)[2]);
    }

    public function test_a_bent_region_shows_each_place_where_it_lands(): void
    {
        $grid = BezierGrid::plain()
            ->withColumn(0.5)
            ->moved([3 => [0.0, 0.25], 3 + 3 * 7 => [0.0, 0.25]])
            ->toArray();
        $show = self::show(['columns' => $grid['us'], 'rows' => $grid['vs'], 'points' => $grid['points']]);
        $region = $show->delivery->regions['out']['r'];
        $raster = self::raster($show);
        $met = 0;
        foreach ([[8.5, 4.5], [20.5, 10.5], [30.5, 15.5], [20.5, 2.5]] as [$x, $y]) {
            [$px, $py] = $region->lands($x, $y);
            $pixel = $raster->outputPixel('out', (int) floor($px), (int) floor($py));
            self::assertEqualsWithDelta(6 * ($x - 0.5), $pixel[0], 7);
            self::assertEqualsWithDelta(12 * ($y - 0.5), $pixel[1], 14);
            $met++;
        }
        self::assertSame(4, $met);
        // In the middle it was pulled down by a quarter of its height.
        self::assertSame([0, 0, 0], $raster->outputPixel('out', 30, 7));
        self::assertSame(100, $raster->outputPixel('out', 30, 28)[2]);
    }

    public function test_a_computed_warp_and_its_shares_are_drawn_and_without_the_file_nothing_is(): void
    {
        $key = str_repeat('a', 64);
        // The picture moved by (5, 10) and half as large, at half the light on its right half.
        $warp = new ComputedWarp(
            new WarpLattice(
                [0.0, 40.0],
                [0.0, 20.0],
                [[15.0, 15.0, 1.0], [35.0, 15.0, 1.0], [15.0, 25.0, 1.0], [35.0, 25.0, 1.0]],
                0.0,
            ),
            new BlendMap([0, 0, 60, 40], 2, 2, [1.0, 0.0, 1.0, 0.0]),
        );
        $bytes = $warp->toBytes();
        self::assertEquals($warp, ComputedWarp::fromBytes($bytes));
        self::assertNull(ComputedWarp::fromBytes((new ComputedWarp($warp->warp, null))->toBytes())->blend);
        $show = self::show(['model' => $key, 'blend' => ['left' => 30]], ['gamma' => 2.0]);
        $raster = self::raster($show, static fn (string $asked): ?string => $asked === $key ? $bytes : null);
        self::assertSame([0, 0, 0], $raster->outputPixel('out', 12, 20));
        // The place (25, 20) shows the middle of the picture, at 1 − 25.5 / 60 of the light: edges set by hand are
        // not asked.
        $share = 1 - 25.5 / 60;
        self::assertEqualsWithDelta(100 * sqrt($share), $raster->outputPixel('out', 25, 20)[2], 1.0);
        self::assertEqualsWithDelta(6 * 20.5 * sqrt($share), $raster->outputPixel('out', 25, 20)[0], 5.0);
        // Two keys later the file is gone: the region is drawn as it was set by hand, not dark.
        $without = self::raster($show);
        self::assertSame(100, $without->outputPixel('out', 40, 10)[2]);
        foreach (['', 'short', $bytes.'x'] as $bad) {
            $broken = self::raster($show, static fn (): string => $bad);
            self::assertSame(100, $broken->outputPixel('out', 40, 10)[2]);
        }
    }

    public function test_later_regions_lie_over_earlier_ones(): void
    {
        $show = Show::fromRows(
            ['id' => 'show', 'name' => 'Test', 'frameRate' => '25'],
            [
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
                'surface' => [
                    [
                        'id' => 'wall',
                        'name' => 'Wall',
                        'position' => [0, 0, 0],
                        'rotation' => [0, 0, 0],
                        'cells' => [['panel', 'panel']],
                        'seams' => [0],
                    ],
                ],
                'output' => [['id' => 'out', 'name' => 'Output', 'width' => 60, 'height' => 40, 'refresh' => 60]],
                'region' => [
                    [
                        'id' => 'a',
                        'output' => 'out',
                        'surface' => 'wall',
                        'source' => [0, 0, 40, 20],
                        'x' => 0,
                        'y' => 0,
                    ],
                    [
                        'id' => 'b',
                        'output' => 'out',
                        'surface' => 'wall',
                        'source' => [20, 0, 20, 20],
                        'x' => 10,
                        'y' => 0,
                    ],
                ],
            ],
        );
        $compiler = new PlanCompiler();
        $compiler->compile($show, 1);
        $light = Delivered::of($compiler->plan(), 'out');
        $asked = [];
        $pixel = $light->pixel(15, 3, static function (string $surface, int $x, int $y) use (&$asked): array {
            $asked[] = [$surface, $x, $y];

            return [$x / 100, 0.0, 0.0];
        });
        self::assertSame([['wall', 15, 3], ['wall', 25, 3]], $asked);
        self::assertSame(0.25, $pixel[0]);
    }

    public function test_meshes_and_shares_travel_in_bundles(): void
    {
        $show = self::show(['turn' => 90]);
        $compiler = new PlanCompiler();
        $whole = $compiler->compile($show, 1);
        $back = Bundle::fromBytes($whole->toBytes());
        self::assertEquals($whole->tracks, $back->tracks);
        self::assertInstanceOf(DeliveryMesh::class, $back->tracks['delivery:r/mesh']);
        self::assertTrue($back->parts['delivery:r']['mesh']);
        // An edit elsewhere makes none of it anew; making the region plain takes it away.
        self::assertTrue($compiler->compile($show, 2)->isEmpty());
        $gone = $compiler->compile(self::show(), 3);
        self::assertArrayHasKey('delivery:r/mesh', $gone->tracks);
        self::assertNull($gone->tracks['delivery:r/mesh']);
        self::assertArrayNotHasKey('mesh', $gone->parts['delivery:r'] ?? []);
        $map = new BlendMap([3, -4, 60, 40], 3, 2, [0.0, 0.25, 0.5, 0.75, 1.0, 0.125]);
        $bundle = Bundle::fromBytes((new Bundle('s', 1, [], ['delivery:r/blend' => $map]))->toBytes());
        self::assertEquals($map, $bundle->tracks['delivery:r/blend']);
    }

    public function test_shares_of_pixels_are_told_by_few_lines_and_are_right_at_each(): void
    {
        $check = static function (int $width, int $height, \Closure $share): BlendMap {
            $shares = [];
            for ($y = 0; $y < $height; $y++) {
                for ($x = 0; $x < $width; $x++) {
                    $shares[] = $share($x, $y);
                }
            }
            $map = BlendMap::fromBytes(BlendMap::ofPixels($width, $height, $shares, 2.2)->toBytes());
            foreach ($shares as $k => $is) {
                if ($is !== null) {
                    $told = $map->at(($k % $width) + 0.5, intdiv($k, $width) + 0.5);
                    self::assertLessThan(1 / 254, abs($told ** (1 / 2.2) - $is ** (1 / 2.2)), "$k of $width");
                }
            }

            return $map;
        };
        // A ramp across 203 pixels, as far as something is shown: a line each 16 pixels.
        $ramp = $check(
            203,
            77,
            static fn (int $x, int $y): ?float => hypot($x - 100, $y - 40) > 60 ? null : 0.2 + $x / 300,
        );
        self::assertSame([16, 8], [$ramp->columns, $ramp->rows]);
        self::assertEquals([-15.5, -15.5, 240, 112], $ramp->place);
        // The same in steps of 255, as a picture has it.
        $steps = $check(
            203,
            77,
            static fn (int $x, int $y): float => (round(255 * (0.2 + $x / 300) ** (1 / 2.2)) / 255) ** 2.2,
        );
        self::assertSame([16, 8], [$steps->columns, $steps->rows]);
        // A hard edge needs all of them; nothing is lost of it.
        $edge = $check(203, 77, static fn (int $x, int $y): float => $x + $y > 90 ? 1.0 : 0.0);
        self::assertSame([205, 79], [$edge->columns, $edge->rows]);
        self::assertEquals([-0.5, -0.5, 204, 78], $edge->place);
        foreach ([[1, 1], [2, 1], [1, 9], [17, 17], [18, 16], [33, 2]] as [$w, $h]) {
            $check($w, $h, static fn (int $x, int $y): float => ($x + $y) / ($w + $h));
        }
        $check(9, 9, static fn (int $x, int $y): ?float => null);
        $check(9, 9, static fn (int $x, int $y): ?float => $y === 4 && $x > 6 ? 0.3 : null);
    }
}
