<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Media\Picture;
use Core\Plan\Bundle;
use Core\Plan\Plan;
use Core\Plan\PlanCompiler;
use Core\Playback\CueSheet;
use Core\Playback\DrawStep;
use Core\Playback\Head;
use Core\Playback\Moment;
use Core\Playback\ReferenceRaster;
use Core\Playback\Transport;
use Core\Preflight\Figures;
use Core\Show\Document;
use Core\Show\Show;
use Core\Timeline\TransportMap;
use Core\Units\Flicks;
use Core\Values\HeldValue;
use Core\Values\Reference;
use Core\Values\Stratum;
use Core\Values\Track;
use PHPUnit\Framework\TestCase;

final class PlaybackTest extends TestCase
{
    private const S = Flicks::PER_SECOND;

    /**
     * A wall of 40 × 20 px, a red solid below, and above it a clip of a video of 50 frames from 1 s on that fades in
     * from 1 s to 3 s.
     *
     * @param  array<string, mixed>  $layer
     * @param  array<string, list<array<string, mixed>>>  $rows  in place of its own, by kind
     */
    public static function show(array $layer = [], array $rows = []): Show
    {
        $video = [
            'id' => 'video',
            'name' => 'Tide',
            'kind' => 'file',
            'state' => 'ready',
            'facts' => ['width' => 20, 'height' => 10, 'pixelAspect' => 1],
            'form' => ['kind' => 'video', 'frameRate' => '25', 'frames' => 50, 'url' => '/tide.mp4'],
        ];

        return Show::fromRows(
            ['id' => 'show', 'name' => 'Test', 'frameRate' => '25'],
            $rows + [
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
                'media' => [$video, ['id' => 'red', 'name' => 'Red', 'kind' => 'solid', 'colour' => '#ff0000']],
                'timeline' => [['id' => 'line', 'name' => 'Main', 'duration' => 20 * self::S]],
                'layer' => [
                    ['id' => 'ground', 'timeline' => 'line', 'name' => 'Ground', 'order' => 0, 'route' => 'w'],
                    $layer + ['id' => 'top', 'timeline' => 'line', 'name' => 'Top', 'order' => 1, 'route' => 'w'],
                ],
                'route' => [['id' => 'w', 'name' => 'Wall', 'surfaces' => ['wall']]],
                'clip' => [
                    [
                        'id' => 'c0',
                        'layer' => 'ground',
                        'media' => 'red',
                        'start' => 0,
                        'length' => 20 * self::S,
                        'in' => 0,
                        'pastEnd' => 'hold',
                    ],
                    [
                        'id' => 'c1',
                        'layer' => 'top',
                        'media' => 'video',
                        'start' => self::S,
                        'length' => 4 * self::S,
                        'in' => 0,
                        'pastEnd' => 'loop',
                    ],
                ],
                'curve' => [
                    [
                        'id' => 'k',
                        'owner' => 'top',
                        'property' => 'opacity',
                        'keyframes' => [['t' => self::S, 'v' => 0], ['t' => 3 * self::S, 'v' => 1]],
                    ],
                ],
                'cue' => [
                    [
                        'id' => 'q',
                        'timeline' => 'line',
                        'time' => 4 * self::S,
                        'number' => '1',
                        'name' => 'Wait',
                        'holds' => true,
                    ],
                ],
                'output' => [['id' => 'out', 'name' => 'Output 1', 'width' => 100, 'height' => 50, 'refresh' => 60]],
                'region' => [
                    [
                        'id' => 'r',
                        'output' => 'out',
                        'surface' => 'wall',
                        'source' => [0, 0, 40, 20],
                        'x' => 30,
                        'y' => 10,
                    ],
                ],
            ],
        );
    }

    /** @param  array<string, list<HeldValue>>  $held */
    private static function moment(Show $show, TransportMap $map, int $engine, array $held = []): Moment
    {
        $compiler = new PlanCompiler();

        return new Moment(
            Plan::empty()->with(Bundle::fromBytes($compiler->compile($show, 1)->toBytes())),
            [Head::of('line', $map)],
            $held,
            $engine,
        );
    }

    public function test_the_plan_says_what_to_draw_where(): void
    {
        $compiler = new PlanCompiler();
        $compiler->compile(self::show(), 7);
        $plan = $compiler->plan();
        self::assertSame(['ground', 'top'], array_column($plan->contributions('wall'), 'layer'));
        self::assertEqualsWithDelta(
            [40, 0, 0, 0, 20, 0, 0, 0, 1],
            $plan->parts['contribution:top@wall']['clips'][0]['fit'],
            1e-9,
        );
        self::assertSame(
            ['output' => 'out', 'surface' => 'wall', 'source' => [0, 0, 40, 20], 'place' => [30, 10]],
            $plan->parts['delivery:r'],
        );
        self::assertSame(
            ['layer:ground/media', 'layer:top/media', 'layer:top/opacity'],
            (static function (array $names): array {
                sort($names);

                return $names;
            })(array_keys($plan->tracks)),
        );
    }

    public function test_a_running_show_has_every_value_and_frame_at_its_engine_time(): void
    {
        $show = self::show();
        $engine = 1000 * self::S + 123;
        $sheet = CueSheet::forTimeline($show->programme->timelines['line'], $show->rate);
        $map = Transport::heldAt(0, 0)->play($engine, $sheet)->map($sheet);
        $moment = self::moment($show, $map, 0);
        $top = static fn (float $seconds): array => (new Moment(
            $moment->plan,
            $moment->heads,
            [],
            $engine + (int) round($seconds * self::S),
        ))->media('top', $moment->heads[0]);
        $opacity = static fn (float $seconds): float => (new Moment(
            $moment->plan,
            $moment->heads,
            [],
            $engine + (int) round($seconds * self::S),
        ))->value('layer:top/opacity', $moment->heads[0]);
        self::assertSame([-1, 0], [$top(0.99)[0], $top(1.0)[0]]);
        self::assertEqualsWithDelta(
            [0.0, 0.25, 0.51, 1.0],
            [$opacity(0.5), $opacity(1.5), $opacity(2.02), $opacity(3.7)],
            1e-6,
        );
        for ($k = 0; $k < 75; $k++) {
            self::assertSame([0, $k % 50], $top(1 + $k / 25 + 0.001), "frame $k");
            self::assertSame([0, $k % 50], $top(1 + ($k + 0.97) / 25), "frame $k, late");
        }
        // The show waits at the hold point at 4 s: frame 75, however long.
        self::assertSame([[0, 25], [0, 25]], [$top(4.5), $top(4000)]);
    }

    public function test_a_loose_value_beats_keyframes_from_its_moment_on_and_glides_back_when_let_go(): void
    {
        $show = self::show();
        $sheet = CueSheet::forTimeline($show->programme->timelines['line'], $show->rate);
        $map = Transport::heldAt(0, 0)->play(0, $sheet)->map($sheet);
        $held = HeldValue::from(Stratum::Loose, 1, 'hand', (int) (1.8 * self::S), 0.2);
        $at = fn (float $seconds, HeldValue $held): float => self::moment($show, $map, (int) ($seconds * self::S), [
            'layer:top/opacity' => [$held],
        ])->value('layer:top/opacity', self::moment($show, $map, 0)->heads[0]);
        self::assertEqualsWithDelta([0.25, 0.2, 0.2], [$at(1.5, $held), $at(1.8, $held), $at(2.5, $held)], 1e-6);
        // Let go at 2 s within half a second: half way between 0.2 and the curve's own 0.625 at 2.25 s, and gone at
        // 2.5.
        $gone = $held->letGo(2, 2 * self::S, intdiv(self::S, 2));
        self::assertEqualsWithDelta(
            [0.2, (0.2 + 0.625) / 2, 0.75],
            [$at(2.0, $gone), $at(2.25, $gone), $at(2.5, $gone)],
            1e-6,
        );
        self::assertSame([false, true], [$gone->isGone(2 * self::S), $gone->isGone(3 * self::S)]);
    }

    public function test_the_reference_raster_blends_places_and_masters(): void
    {
        $blue = Picture::solid(20, 10, [0, 0, 255]);
        $source = static fn (string $media): ?Picture => $media === 'video' ? $blue : Picture::solid(1, 1, [255, 0, 0]);
        $loose = static fn (array $values): array => array_map(
            static fn (float $v): array => [HeldValue::from(Stratum::Loose, 1, 'hand', 0, $v)],
            $values,
        );
        $raster = fn (array $values): ReferenceRaster => new ReferenceRaster(
            self::moment(self::show(), TransportMap::standing(0, 2 * self::S), 9, $loose($values)),
            $source,
        );
        // Red under a quarter of blue, at half master: (0.75, 0, 0.25) / 2.
        $first = $raster(['master:show/level' => 0.5, 'layer:top/opacity' => 0.25]);
        self::assertSame([96, 0, 32], $first->outputPixel('out', 30, 10));
        self::assertSame([96, 0, 32], $first->outputPixel('out', 69, 29));
        self::assertSame([0, 0, 0], $first->outputPixel('out', 70, 29));
        // Moved right by ten pixels, the blue leaves the left edge to the red.
        $moved = $raster(['master:show/level' => 0.5, 'layer:top/opacity' => 0.25, 'layer:top/x' => 10.0]);
        self::assertSame(
            [[128, 0, 0], [96, 0, 32]],
            [$moved->outputPixel('out', 39, 15), $moved->outputPixel('out', 40, 15)],
        );
        // At half its size about the middle of the wall, it leaves a quarter at each side.
        $small = $raster(['layer:top/opacity' => 1.0, 'layer:top/scale' => 0.5]);
        self::assertSame(
            [[255, 0, 0], [0, 0, 255], [0, 0, 255], [255, 0, 0]],
            array_map(static fn (int $x): array => $small->surfacePixel('wall', $x, 10), [9, 10, 29, 30]),
        );
        // A quarter turn of 40 × 20 about (20, 10) covers 10 to 30 across, and more than the wall down.
        $turned = $raster(['layer:top/opacity' => 1.0, 'layer:top/turn' => 90.0]);
        self::assertSame(
            [[255, 0, 0], [0, 0, 255], [0, 0, 255], [255, 0, 0]],
            array_map(static fn (int $x): array => $turned->surfacePixel('wall', $x, 0), [9, 10, 29, 30]),
        );
        // The level of the timeline dims both layers of it: half of each over black.
        self::assertSame(
            [64, 0, 128],
            $raster(['layer:top/opacity' => 1.0, 'timeline:line/level' => 0.5])->surfacePixel('wall', 0, 0),
        );
    }

    public function test_what_is_shown_smaller_is_averaged(): void
    {
        // Columns of white and black, 40 × 20, on a wall of 40 × 20 at a quarter of its size: every pixel is the mean
        // of what it covers, four columns.
        $stripes = Picture::of(40, 20, str_repeat("\xff\xff\xff\xff\0\0\0\xff", 400));
        $held = [
            'layer:top/scale' => [HeldValue::from(Stratum::Loose, 1, 'hand', 0, 0.25)],
            'layer:top/opacity' => [HeldValue::from(Stratum::Loose, 1, 'hand', 0, 1.0)],
        ];
        $raster = new ReferenceRaster(
            self::moment(self::show(), TransportMap::standing(0, 2 * self::S), 9, $held),
            static fn (string $media): ?Picture => $media === 'video' ? $stripes : null,
        );
        self::assertEqualsWithDelta(
            [[127.5, 127.5, 127.5], [127.5, 127.5, 127.5]],
            [$raster->surfacePixel('wall', 20, 10), $raster->surfacePixel('wall', 17, 9)],
            0.5,
        );
    }

    public function test_a_test_card_lies_over_whatever_plays_with_a_bar_that_runs(): void
    {
        $at = static function (float $seconds, array $cards, float $master = 1): ReferenceRaster {
            $of = self::moment(self::show(), TransportMap::standing(0, 2 * self::S), (int) ($seconds * self::S), [
                'master:show/level' => [HeldValue::from(Stratum::Loose, 1, 'hand', 0, $master)],
            ]);

            return new ReferenceRaster(
                new Moment($of->plan, $of->heads, $of->held, $of->engine, $cards),
                static fn (): Picture => Picture::solid(1, 1, [255, 0, 0]),
            );
        };
        // Half way of 4 s: the bar of 2 px has gone half of 42 px from 2 px before the left edge, so it lies from 19
        // to 21.
        $row = static fn (ReferenceRaster $raster): array => array_map(
            static fn (int $x): array => $raster->surfacePixel('wall', $x, 19),
            [0, 18, 19, 20, 21],
        );
        [$edge, $bar] = [[240, 236, 224], [253, 252, 250]];
        self::assertSame([$edge, $edge, $bar, $bar, $edge], $row($at(2, ['wall'])));
        self::assertSame([$edge, $edge, $bar, $bar, $edge], $row($at(4_000_002, ['wall'])), 'the same after weeks');
        self::assertSame([$edge, $edge, $edge, $edge, $edge], $row($at(4, ['wall'])), 'before the left edge');
        self::assertSame([120, 118, 112], $at(2, ['wall'], 0.5)->outputPixel('out', 30, 10), 'the master dims it too');
        self::assertSame([255, 0, 0], $at(2, ['another'])->surfacePixel('wall', 0, 0));
        self::assertSame([255, 0, 0], $at(2, [])->surfacePixel('wall', 0, 0));
    }

    public function test_an_output_is_recognised_by_a_card_over_the_whole_of_it_past_the_master_until_its_time_is_over(): void
    {
        $at = static function (int $engine, int $until): ReferenceRaster {
            $of = self::moment(self::show(), TransportMap::standing(0, 2 * self::S), $engine, [
                'master:show/level' => [HeldValue::from(Stratum::Loose, 1, 'hand', 0, 0.5)],
            ]);

            return new ReferenceRaster(
                new Moment($of->plan, $of->heads, $of->held, $engine, [], ['out' => $until, 'gone' => $until]),
                static fn (): Picture => Picture::solid(1, 1, [255, 0, 0]),
            );
        };
        // The output is 100 × 50 and its wall lies from 30 to 70: the card's edge is at the corners of the output,
        // none at the wall's.
        self::assertSame(
            [[240, 236, 224], [240, 236, 224]],
            [$at(9, 10)->outputPixel('out', 0, 0), $at(9, 10)->outputPixel('out', 99, 49)],
        );
        self::assertSame(
            [[0, 0, 0], [128, 0, 0]],
            [$at(10, 10)->outputPixel('out', 0, 0), $at(10, 10)->outputPixel('out', 30, 10)],
        );
        self::assertSame(
            [[0, 0, 0], [0, 0, 0]],
            [$at(9, 10)->outputPixel('gone', 0, 0), $at(9, 10)->outputPixel('out', 100, 0)],
        );
    }

    public function test_sampling_between_pixels_is_linear_and_premultiplied(): void
    {
        $picture = Picture::of(2, 1, "\xff\0\0\xff\0\xff\0\0");
        self::assertEqualsWithDelta([0.5, 0.0, 0.0, 0.5], $picture->sample(0.5, 0.5), 1e-9);
        self::assertEqualsWithDelta([1.0, 0.0, 0.0, 1.0], $picture->sample(0.1, 0.5), 1e-9);
    }

    public function test_media_that_are_called_take_their_part_of_the_picture_and_run_from_then_on(): void
    {
        $id = static fn (string $end): string => str_pad($end, 26, '0', STR_PAD_LEFT);
        [$layer, $sea, $red] = [$id('1'), $id('2'), $id('3')];
        $show = Document::of(
            ['id' => 's', 'name' => 'S', 'frameRate' => '25'],
            [
                'panel' => [
                    [
                        'id' => 'p',
                        'name' => 'P',
                        'widthMm' => 500,
                        'heightMm' => 500,
                        'widthPx' => 100,
                        'heightPx' => 100,
                        'kilograms' => 1,
                        'wattsAverage' => 1,
                        'wattsMaximum' => 1,
                    ],
                ],
                'surface' => [
                    [
                        'id' => 'w',
                        'name' => 'W',
                        'cells' => [['p']],
                        'seams' => [],
                        'position' => [0, 0, 0],
                        'rotation' => [0, 0, 0],
                    ],
                ],
                'timeline' => [['id' => 't', 'name' => 'T', 'duration' => 60 * self::S]],
                'route' => [['id' => 'r', 'surfaces' => ['w'], 'layer' => $layer]],
                'layer' => [
                    ['id' => $layer, 'timeline' => 't', 'name' => 'L', 'order' => 0, 'route' => 'r', 'stock' => [$sea]],
                ],
                'media' => [
                    [
                        'id' => $sea,
                        'name' => 'Sea',
                        'kind' => 'file',
                        'state' => 'ready',
                        'facts' => ['width' => 64, 'height' => 64],
                        'form' => ['frames' => 100, 'frameRate' => '25', 'kind' => 'video'],
                    ],
                    ['id' => $red, 'name' => 'Red', 'kind' => 'solid', 'colour' => '#ff0000'],
                    ['id' => $id('4'), 'name' => 'Other', 'kind' => 'solid'],
                ],
                'clip' => [['id' => 'c', 'layer' => $layer, 'media' => $red, 'start' => 0, 'length' => 60 * self::S]],
                'cue' => [
                    [
                        'id' => 'q',
                        'number' => '1',
                        'name' => 'Q',
                        'held' => [['a' => "layer:$layer/source", 'v' => Reference::number($id('4'))]],
                    ],
                ],
            ],
        )->show;
        $compiler = new PlanCompiler();
        $compiler->compile($show, 1);
        $plan = $compiler->plan();
        // What its stock and its cues name, and nothing else.
        self::assertEqualsCanonicalizing(
            [$sea, $id('4')],
            array_column($plan->parts["contribution:$layer@w"]['stock'], 'media'),
        );
        $held = static fn (string $media, int $sequence, float $weight, int $since): HeldValue => HeldValue::of(
            Stratum::Cue,
            $sequence,
            'q',
            Track::constant((float) Reference::number($media)),
            Track::constant($weight),
            null,
            $since,
        );
        $steps = static fn (array $held): array => array_map(
            static fn (DrawStep $step): array => [$step->media, $step->frame, round($step->opacity, 9), $step->shared],
            DrawStep::of(
                new Moment(
                    $plan,
                    [Head::of('t', TransportMap::standing(0, 5 * self::S))],
                    ["layer:$layer/source" => $held],
                    100 * self::S,
                ),
                'w',
            ),
        );
        self::assertSame([[$red, 0, 1.0, false]], $steps([]));
        self::assertSame([[$sea, 50, 1.0, false]], $steps([$held($sea, 1, 1.0, 98 * self::S)]));
        // After its hundred frames it begins anew; half of it over the clip.
        self::assertSame([[$red, 0, 0.5, true], [$sea, 25, 0.5, false]], $steps([$held($sea, 1, 0.5, 95 * self::S)]));
        // The newer takes its part first, the older the rest.
        self::assertSame(
            [[$red, 0, 0.125, true], [$sea, 25, 0.125, true], [$id('4'), 0, 0.75, false]],
            $steps([$held($id('4'), 2, 0.75, 0), $held($sea, 1, 0.5, 95 * self::S)]),
        );
        // One that names none takes its part for the clips, and leaves the rest to what was called before.
        self::assertSame(
            [[$red, 0, 0.75, true], [$sea, 25, 0.25, false]],
            $steps([
                HeldValue::of(Stratum::Cue, 2, 'q', Track::constant(0.0), Track::constant(0.75)),
                $held($sea, 1, 1.0, 95 * self::S),
            ]),
        );
        // One that names none leaves it to the clips; one that is not in the plan shows nothing in its part.
        self::assertSame(
            [[$red, 0, 1.0, false]],
            $steps([
                $held($sea, 1, 1.0, 0),
                HeldValue::of(Stratum::Loose, 9, 'hand', Track::constant(0.0), Track::constant(1.0)),
            ]),
        );
        self::assertSame(
            [],
            $steps([HeldValue::of(Stratum::Cue, 1, 'q', Track::constant(77.0), Track::constant(1.0))]),
        );
        self::assertSame(['clips' => 1], array_intersect_key(Figures::of($show)['media'][$sea], ['clips' => 0]));
    }
}
