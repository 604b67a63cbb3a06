<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Media\Picture;
use Core\Plan\PlanCompiler;
use Core\Playback\DrawStep;
use Core\Playback\Head;
use Core\Playback\LayerMask;
use Core\Playback\LightRaster;
use Core\Playback\Moment;
use Core\Playback\ReferenceRaster;
use Core\Playback\Snapshot;
use Core\Show\Show;
use Core\Timeline\MaskKey;
use Core\Timeline\TransportMap;
use Core\Units\Flicks;
use Core\Values\HeldValue;
use Core\Values\Reference;
use Core\Values\Stratum;
use PHPUnit\Framework\TestCase;

/** What a layer's picture is cut out by, against figures by hand. */
final class LayerMaskTest extends TestCase
{
    private const SEA = '01hzz00000000000000000000a';

    private const HOLE = '01hzz00000000000000000000b';

    /** @param  array{float, float, float}  $colour */
    private static function mask(
        MaskKey $key = MaskKey::Lightness,
        float $width = 1,
        bool $inverted = false,
        array $colour = [1.0, 1.0, 1.0],
        float $x = 0,
        float $y = 0,
        float $scale = 1,
        float $feather = 0,
    ): LayerMask {
        return new LayerMask('m', 0, $key, $inverted, $width, $colour, $x, $y, $scale, $feather);
    }

    public function test_the_outer_edge_of_a_scaled_mask_is_as_soft_as_what_is_within(): void
    {
        $white = Picture::solid(64, 64, [255, 255, 255]);
        $at = static fn (LayerMask $mask, float $u, float $v = 0.5): float => $mask->at($white, $u, $v, 0.001, 0.001);
        // Half as large: its edges lie at a quarter and at three quarters of the picture. A feather of 0.2 of its
        // width is 0.1 of the picture's.
        $half = self::mask(scale: 0.5, feather: 0.2);
        self::assertEqualsWithDelta(
            [0, 0, 0.25, 0.5, 0.75, 1, 1, 1, 0.5, 0],
            array_map(static fn (float $u): float => $at($half, $u), [
                0.1,
                0.2,
                0.225,
                0.25,
                0.275,
                0.3,
                0.5,
                0.7,
                0.75,
                0.8,
            ]),
            1e-9,
        );
        self::assertEqualsWithDelta([0.5, 0.25], [$at($half, 0.5, 0.25), $at($half, 0.25, 0.25)], 1e-9);
        // Inverted, what is not there; without a feather, and with a hard key, the edge is where it was.
        self::assertEqualsWithDelta(
            [1, 0.5, 0],
            array_map(static fn (float $u): float => $at(self::mask(inverted: true, scale: 0.5, feather: 0.2), $u), [
                0.2,
                0.25,
                0.3,
            ]),
            1e-9,
        );
        self::assertSame([0.0, 1.0], [$at(self::mask(scale: 0.5), 0.2499), $at(self::mask(scale: 0.5), 0.2501)]);
        // As large as the picture, and larger, it leaves the picture's own edge alone; just smaller, nothing leaps.
        self::assertSame(
            [1.0, 1.0, 1.0, 1.0],
            [
                $at(self::mask(feather: 0.2), 0.0),
                $at(self::mask(feather: 0.2), 0.9999),
                $at(self::mask(scale: 1.5, feather: 0.2), 0.0),
                $at(self::mask(feather: 0.2), 0.5, 0.0001),
            ],
        );
        $before = 1.0;
        for ($scale = 1.0; $scale > 0.7; $scale -= 0.001) {
            $now = $at(self::mask(scale: $scale, feather: 0.2), 0.16);
            self::assertLessThan(0.05, abs($before - $now), "scale $scale");
            $before = $now;
        }
        // A mask twice as wide as high: the square over which it is averaged is as many pixels high, so twice the
        // share.
        self::assertEqualsWithDelta(
            [0.5, 0.75],
            array_map(
                static fn (float $v): float => self::mask(scale: 0.5, feather: 0.1)->at(
                    Picture::solid(64, 32, [255, 255, 255]),
                    0.5,
                    $v,
                    0.001,
                    0.001,
                ),
                [0.25, 0.275],
            ),
            1e-9,
        );
    }

    public function test_lightness_alpha_and_colours_say_how_much_is_there(): void
    {
        $said = static fn (LayerMask $mask, array $sample): float => round($mask->of($sample), 6);
        // By the weights of BT.709; half of a white is half.
        self::assertSame(
            [0.0, 0.2126, 0.7152, 0.0722, 1.0, 0.5],
            array_map(static fn (array $s): float => $said(self::mask(), $s), [
                [0.0, 0.0, 0.0, 1.0],
                [1.0, 0.0, 0.0, 1.0],
                [0.0, 1.0, 0.0, 1.0],
                [0.0, 0.0, 1.0, 1.0],
                [1.0, 1.0, 1.0, 1.0],
                [0.5, 0.5, 0.5, 0.5],
            ]),
        );
        self::assertSame(
            [0.25, 1.0],
            array_map(static fn (float $a): float => $said(self::mask(MaskKey::Alpha), [0.0, 0.0, 0.0, $a]), [
                0.25,
                1.0,
            ]),
        );
        // A key of half the width rises twice as steeply about the middle; one of none is a step.
        self::assertSame(
            [0.0, 0.0, 0.5, 0.8, 1.0],
            array_map(static fn (float $a): float => $said(self::mask(MaskKey::Alpha, 0.5), [0.0, 0.0, 0.0, $a]), [
                0.0,
                0.25,
                0.5,
                0.65,
                0.75,
            ]),
        );
        self::assertSame(
            [0.0, 1.0],
            array_map(static fn (float $a): float => $said(self::mask(MaskKey::Alpha, 0.0), [0.0, 0.0, 0.0, $a]), [
                0.49,
                0.51,
            ]),
        );
        // All within half of the width of a colour, nothing beyond it.
        $green = self::mask(MaskKey::Colour, 0.4, colour: [0.0, 1.0, 0.0]);
        self::assertSame(
            [1.0, 1.0, 0.5, 0.0],
            array_map(static fn (float $off): float => $said($green, [$off, 1.0, 0.0, 1.0]), [0.0, 0.2, 0.3, 0.4]),
        );
        self::assertSame(0.0, $said($green, [1.0, 1.0, 1.0, 1.0]));
    }

    public function test_it_is_moved_scaled_blurred_and_inverted(): void
    {
        // Left half black, right half white, sharp: 200 × 100.
        $half = Picture::of(
            200,
            100,
            str_repeat(str_repeat("\0\0\0\xFF", 100).str_repeat("\xFF\xFF\xFF\xFF", 100), 100),
        );
        $at = static fn (LayerMask $mask, float $u, float $v = 0.5): float => round(
            $mask->at($half, $u, $v, 1 / 200, 1 / 100),
            6,
        );
        self::assertSame([0.0, 1.0, 0.0], [$at(self::mask(), 0.25), $at(self::mask(), 0.75), $at(self::mask(), 1.0)]);
        self::assertSame([1.0, 0.0], [$at(self::mask(inverted: true), 0.25), $at(self::mask(inverted: true), 0.75)]);
        // A quarter to the right: what was at a half is at three quarters; before its left edge there is nothing.
        self::assertSame(
            [0.0, 0.0, 1.0, 1.0],
            array_map(static fn (float $u): float => $at(self::mask(x: 0.25), $u), [0.1, 0.74, 0.76, 0.99]),
        );
        self::assertSame(
            [1.0],
            array_map(static fn (float $u): float => $at(self::mask(x: 0.25, inverted: true), $u), [0.1]),
        );
        // At half its size about the middle, it is white from a half to three quarters.
        self::assertSame(
            [0.0, 0.0, 1.0, 0.0],
            array_map(static fn (float $u): float => $at(self::mask(scale: 0.5), $u), [0.2, 0.49, 0.6, 0.76]),
        );
        self::assertSame([0.0, 1.0], [$at(self::mask(scale: 0.5), 0.6, 0.2), $at(self::mask(scale: 0.5), 0.6, 0.3)]);
        self::assertSame(
            [0.0, 1.0],
            [$at(self::mask(scale: 0.0), 0.5), $at(self::mask(scale: 0.0, inverted: true), 0.5)],
        );
        // Averaged over a fifth of its width: a rise from 0.4 to 0.6.
        foreach ([[0.38, 0.0], [0.45, 0.25], [0.5, 0.5], [0.55, 0.75], [0.62, 1.0]] as [$u, $there]) {
            self::assertEqualsWithDelta($there, $at(self::mask(feather: 0.2), $u), 0.04, "$u");
        }
        // Nothing where it is not here yet.
        self::assertSame(
            [0.0, 1.0],
            [self::mask()->at(null, 0.5, 0.5, 0, 0), self::mask(inverted: true)->at(null, 0.5, 0.5, 0, 0)],
        );
    }

    /** @param  array<string, mixed>  $values */
    private static function show(array $values, array $more = []): Show
    {
        return Show::fromRows(
            ['id' => 's', 'name' => 'S', 'frameRate' => '25'],
            $more + [
                'panel' => [
                    [
                        'id' => 'p',
                        'name' => 'P',
                        'widthMm' => 500,
                        'heightMm' => 500,
                        'widthPx' => 40,
                        'heightPx' => 20,
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
                'timeline' => [['id' => 't', 'name' => 'T', 'duration' => 60 * Flicks::PER_SECOND]],
                'route' => [['id' => 'r', 'surfaces' => ['w'], 'layer' => 'l']],
                'layer' => [
                    [
                        'id' => 'l',
                        'timeline' => 't',
                        'name' => 'L',
                        'order' => 0,
                        'route' => 'r',
                        'fitting' => 'stretch',
                        'values' => $values,
                    ],
                ],
                'media' => [
                    ['id' => self::SEA, 'name' => 'Sea', 'kind' => 'solid', 'colour' => '#ff8000'],
                    [
                        'id' => self::HOLE,
                        'name' => 'Hole',
                        'kind' => 'file',
                        'state' => 'ready',
                        'facts' => ['width' => 40, 'height' => 20],
                        'form' => ['frames' => 50, 'frameRate' => '25', 'kind' => 'video'],
                    ],
                ],
                'clip' => [
                    [
                        'id' => 'c',
                        'layer' => 'l',
                        'media' => self::SEA,
                        'start' => 0,
                        'length' => 60 * Flicks::PER_SECOND,
                    ],
                ],
            ],
        );
    }

    /** @param  array<string, list<HeldValue>>  $held */
    private static function moment(Show $show, float $second = 1, array $held = []): Moment
    {
        $compiler = new PlanCompiler();
        $compiler->compile($show, 1);

        return new Moment(
            $compiler->plan(),
            [Head::of('t', TransportMap::standing(0, (int) ($second * Flicks::PER_SECOND)))],
            $held,
            100 * Flicks::PER_SECOND,
        );
    }

    public function test_a_layer_shows_only_what_its_mask_leaves(): void
    {
        // A frame of the mask is a bar of ten pixels, white, that stands where the frame's number says; its rest is
        // clear.
        $bar = static function (int $frame): Picture {
            $row = '';
            for ($x = 0; $x < 40; $x++) {
                $row .= $x >= $frame && $x < $frame + 10 ? "\xFF\xFF\xFF\xFF" : "\0\0\0\0";
            }

            return Picture::of(40, 20, str_repeat($row, 20));
        };
        $source = static fn (string $media, int $frame): Picture => $media === self::HOLE ||
        str_contains($media, self::HOLE)
            ? $bar($frame)
            : Picture::solid(1, 1, [255, 128, 0]);
        $lit = static fn (Moment $moment, int $x): array => (new ReferenceRaster($moment, $source))->surfacePixel(
            'w',
            $x,
            10,
        );
        // At a second, its 25th frame: from pixel 25 to 35.
        $moment = self::moment(self::show(['mask' => self::HOLE]));
        self::assertSame(
            [[0, 0, 0], [255, 128, 0], [255, 128, 0], [0, 0, 0]],
            array_map(static fn (int $x): array => $lit($moment, $x), [24, 25, 34, 35]),
        );
        $inverted = self::moment(self::show(['mask' => self::HOLE, 'maskInverted' => true, 'maskKey' => 'alpha']));
        self::assertSame([[255, 128, 0], [0, 0, 0]], [$lit($inverted, 24), $lit($inverted, 25)]);
        // It goes along with the picture, and runs again and again.
        $moved = self::moment(self::show(['mask' => self::HOLE, 'x' => 5.0]), 2.2);
        self::assertSame(
            [[0, 0, 0], [255, 128, 0], [255, 128, 0], [0, 0, 0]],
            array_map(static fn (int $x): array => $lit($moved, $x), [9, 10, 19, 20]),
        );
        // Called by hand it runs from then on: 2 s ago, of two seconds of it, and 0.4 s more.
        $call = static fn (float $number, float $ago): array => [
            'layer:l/mask' => [
                HeldValue::from(Stratum::Bound, 1, 'console', (int) ((100 - $ago) * Flicks::PER_SECOND), $number),
            ],
        ];
        $called = self::moment(
            self::show(['mask' => self::HOLE]),
            1,
            $call((float) Reference::number(self::HOLE), 2.4),
        );
        self::assertSame([[0, 0, 0], [255, 128, 0]], [$lit($called, 9), $lit($called, 10)]);
        // None by hand: all of it, as of a media that is not in the plan.
        self::assertSame([255, 128, 0], $lit(self::moment(self::show(['mask' => self::HOLE]), 1, $call(0.0, 1)), 0));
        self::assertNull(DrawStep::of(self::moment(self::show([]), 1, $call(77.0, 1)), 'w')[0]->mask);
        // Lights see the same.
        [$r] = (new LightRaster($source))->of($moment, 'w');
        self::assertEqualsWithDelta([0.0, 1.0], [$r[10 * 40 + 24], $r[10 * 40 + 25]], 1e-9);
    }

    public function test_what_is_recorded_of_a_layer_has_how_it_is_cut_out_where_it_is(): void
    {
        $seen = static fn (array $values): array => array_keys(
            Snapshot::of($show = self::show($values), self::moment($show))->visible(),
        );
        $whole = $seen([]);
        self::assertContains('layer:l/mask', $whole);
        self::assertSame(
            ['layer:l/mask'],
            array_values(array_filter($whole, static fn (string $a): bool => str_contains($a, '/mask'))),
        );
        self::assertNotContains('layer:l/speed', $whole, 'It is set on the timeline only.');
        self::assertCount(count($whole) + 10, $seen(['mask' => self::HOLE]));
    }

    public function test_which_media_a_layer_may_be_cut_out_by(): void
    {
        $masks = static fn (Show $show): array => $show->programme->masks(
            $show->programme->layer('l') ?? self::fail('no layer'),
        );
        self::assertSame([], $masks(self::show([])));
        self::assertSame([self::HOLE], array_values($masks(self::show(['mask' => self::HOLE]))));
        // Keyframes and cues name others.
        $keyed = self::show(
            [],
            [
                'curve' => [
                    [
                        'id' => 'k',
                        'ownerKind' => 'layer',
                        'owner' => 'l',
                        'property' => 'mask',
                        'slot' => 0,
                        'keyframes' => [['t' => 0, 'v' => ''], ['t' => Flicks::PER_SECOND, 'v' => self::SEA]],
                    ],
                ],
            ],
        );
        self::assertSame([self::SEA], array_values($masks($keyed)));
        $layer = '01hzz00000000000000000000c';
        $cued = self::show(
            [],
            [
                'layer' => [
                    ['id' => $layer, 'timeline' => 't', 'name' => 'L', 'order' => 0, 'values' => ['mask' => self::SEA]],
                ],
                'clip' => [],
                'route' => [],
                'cue' => [
                    [
                        'id' => 'q',
                        'number' => '1',
                        'name' => 'Q',
                        'held' => [['a' => "layer:$layer/mask", 'v' => Reference::number(self::HOLE)]],
                    ],
                ],
            ],
        );
        self::assertEqualsCanonicalizing(
            [self::SEA, self::HOLE],
            array_values($cued->programme->masks($cued->programme->layer($layer) ?? self::fail('no layer'))),
        );
        self::assertSame(1, $cued->programme->clipsByMedia()[self::HOLE] ?? 0);
        // One that was removed is said, and the layer is whole.
        $gone = self::show(['mask' => '01hzz00000000000000000000f']);
        self::assertStringContainsString(
            'cut out by a media at some time that was removed',
            $gone->broken[0]->message ?? '',
        );
        self::assertNull(DrawStep::of(self::moment($gone), 'w')[0]->mask);
        // A console calls any that has a number, and the plan has what it may call.
        $driven = self::show(
            [],
            [
                'media' => [
                    ['id' => self::SEA, 'name' => 'Sea', 'kind' => 'solid', 'colour' => '#ff8000'],
                    [
                        'id' => self::HOLE,
                        'name' => 'Hole',
                        'kind' => 'solid',
                        'colour' => '#ffffff',
                        'folder' => 1,
                        'index' => 2,
                    ],
                ],
                'personality' => [
                    ['id' => 'p', 'name' => 'P', 'parts' => 'mask folder, mask media, mask key, mask x 16'],
                ],
                'control' => [['id' => 'k', 'layer' => 'l', 'personality' => 'p']],
            ],
        );
        self::assertSame([self::HOLE], array_values($masks($driven)));
        self::assertEquals(
            (object) [258 => Reference::number(self::HOLE)],
            self::moment($driven)->plan->of('control')['k']['media'],
        );
    }
}
