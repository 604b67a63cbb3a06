<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Media\Picture;
use Core\PixelMap\LightEncoder;
use Core\Plan\PlanCompiler;
use Core\Playback\Head;
use Core\Playback\LightRaster;
use Core\Playback\Moment;
use Core\Playback\ReferenceRaster;
use Core\Show\Show;
use Core\Timeline\TransportMap;
use Core\Units\Flicks;
use Core\Values\HeldValue;
use Core\Values\Stratum;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What pixel lights show: their raster against the reference, and their bytes against figures by hand. */
final class LightRasterTest extends TestCase
{
    private const HOLE = '01hzz00000000000000000000m';

    /** A picture of 12 × 20 px, light in its middle and clear at its right edge. */
    private static function hole(): Picture
    {
        $bytes = '';
        for ($y = 0; $y < 20; $y++) {
            for ($x = 0; $x < 12; $x++) {
                $bytes .= pack('C4', 250 - 40 * abs($x - 6), 10 * $y, 120, $x > 9 ? 60 : 255);
            }
        }

        return Picture::of(12, 20, $bytes);
    }

    /** A picture of 16 × 9 px with every shade and some transparency. */
    private static function card(bool $opaque = false): Picture
    {
        $bytes = '';
        for ($y = 0; $y < 9; $y++) {
            for ($x = 0; $x < 16; $x++) {
                $bytes .= pack('C4', 16 * $x, 28 * $y, 255 - 15 * $x, ! $opaque && $x === 3 ? 100 : 255);
            }
        }

        return Picture::of(16, 9, $bytes);
    }

    /**
     * A light of 9 × 22 pixels that shows a picture in two layers.
     *
     * @param  array<string, mixed>  $lower
     * @param  array<string, mixed>  $upper
     * @param  array<string, mixed>  $route
     */
    private static function show(array $lower = [], array $upper = [], array $route = []): Show
    {
        $effects = $upper['effects'] ?? [];
        unset($upper['effects']);
        $clip = static fn (string $id, string $layer, string $media): array => [
            'id' => $id,
            'layer' => $layer,
            'media' => $media,
            'start' => 0,
            'length' => 20 * Flicks::PER_SECOND,
            'in' => 0,
            'pastEnd' => 'hold',
        ];
        $rows = LightShowTest::rows();

        return Show::fromRows(
            ['id' => 'show', 'name' => 'Test', 'frameRate' => '25'],
            [
                'effect' => array_map(
                    static fn (array $one, int $i): array => [
                        'id' => "e$i",
                        'layer' => 'up',
                        'order' => $i,
                        'values' => $one,
                    ],
                    $effects,
                    array_keys($effects),
                ),
                'media' => [
                    [
                        'id' => self::HOLE,
                        'name' => 'Hole',
                        'kind' => 'file',
                        'state' => 'ready',
                        'facts' => ['width' => 12, 'height' => 20, 'pixelAspect' => 1],
                        'form' => [
                            'kind' => 'still',
                            'frames' => 1,
                            'url' => '/hole.png',
                            'width' => 12,
                            'height' => 20,
                        ],
                    ],
                    [
                        'id' => 'card',
                        'name' => 'Card',
                        'kind' => 'file',
                        'state' => 'ready',
                        'facts' => ['width' => 16, 'height' => 9, 'pixelAspect' => 1],
                        'form' => [
                            'kind' => 'still',
                            'frames' => 1,
                            'url' => '/card.png',
                            'width' => 16,
                            'height' => 9,
                        ],
                    ],
                ],
                'timeline' => [['id' => 'line', 'name' => 'Main', 'duration' => 20 * Flicks::PER_SECOND]],
                'layer' => [
                    [
                        'id' => 'low',
                        'timeline' => 'line',
                        'name' => 'Low',
                        'order' => 0,
                        'route' => 'w',
                        'values' => $lower,
                    ],
                    [
                        'id' => 'up',
                        'timeline' => 'line',
                        'name' => 'Up',
                        'order' => 1,
                        'route' => 'w',
                        'values' => $upper,
                    ],
                ],
                'route' => [$route + ['id' => 'w', 'name' => 'Mast', 'surfaces' => ['m1', 'm2']]],
                'clip' => [$clip('c0', 'low', 'card'), $clip('c1', 'up', 'card')],
            ] + $rows,
        );
    }

    private static function moment(Show $show, float $master = 1): Moment
    {
        $compiler = new PlanCompiler();
        $compiler->compile($show, 1);

        return new Moment($compiler->plan(), [Head::of('line', TransportMap::standing(0, Flicks::PER_SECOND))], [], 0);
    }

    /** @return array<string, array{array<string, mixed>, array<string, mixed>, array<string, mixed>}> */
    public static function shows(): array
    {
        return [
            'one over the other' => [[], ['opacity' => 0.4, 'scale' => 0.5], []],
            'added, turned and moved' => [
                ['scale' => 1.7, 'x' => 3],
                ['turn' => 33, 'blend' => 'add', 'opacity' => 0.7, 'y' => -4],
                [],
            ],
            'screened, cropped, with gain' => [
                ['gain' => [1.5, 0.5, 1]],
                ['blend' => 'screen', 'cropLeft' => 0.3, 'cropBottom' => 0.2],
                [],
            ],
            'multiplied, mirrored' => [['mirror' => 'both'], ['blend' => 'multiply', 'mirror' => 'left and right'], []],
            'lightened' => [['opacity' => 0.6], ['blend' => 'lighten', 'turn' => 90], []],
            'darkened, small' => [[], ['blend' => 'darken', 'scale' => 0.1], []],
            'tiled' => [[], ['tile' => 'both', 'scale' => 0.3], []],
            'tiled across, cropped and turned' => [
                [],
                ['tile' => 'across', 'scale' => 0.4, 'cropLeft' => 0.2, 'turn' => 15, 'opacity' => 0.8],
                [],
            ],
            'cut out by lightness' => [[], ['mask' => self::HOLE], []],
            'cut out by alpha, inverted, moved' => [
                ['opacity' => 0.5],
                [
                    'mask' => self::HOLE,
                    'maskKey' => 'alpha',
                    'maskInverted' => true,
                    'maskX' => 0.2,
                    'maskScale' => 0.6,
                    'blend' => 'add',
                ],
                [],
            ],
            'cut out by a colour, feathered, opaque and turned' => [
                [],
                [
                    'mask' => self::HOLE,
                    'maskKey' => 'colour',
                    'maskColour' => [0.9, 0.3, 0.5],
                    'maskWidth' => 0.7,
                    'maskFeather' => 0.2,
                    'maskScale' => 1.4,
                    'turn' => 30,
                    'opaque' => true,
                    'invert' => [1, 0, 0],
                ],
                [],
            ],
            'cut out by one that is smaller and feathered' => [
                [],
                ['mask' => self::HOLE, 'maskScale' => 0.6, 'maskX' => 0.1, 'maskFeather' => 0.3],
                [],
            ],
            'cut out by nothing that is large enough' => [[], ['mask' => self::HOLE, 'maskScale' => 0], []],
            'through effects' => [
                [],
                [
                    'effects' => [
                        ['effect' => 'blur', 'radius' => 0.1],
                        ['effect' => 'hue', 'angle' => 70, 'mix' => 0.5],
                    ],
                    'scale' => 0.8,
                ],
                [],
            ],
            'through effects that move, cut out and tiled' => [
                [],
                [
                    'effects' => [['effect' => 'scroll', 'speed' => 0.3], ['effect' => 'vignette']],
                    'tile' => 'both',
                    'scale' => 0.5,
                    'turn' => 10,
                    'mask' => self::HOLE,
                ],
                [],
            ],
            'inverted, and in part' => [
                ['invert' => [1, 1, 1], 'gain' => [1, 0.5, 2]],
                ['opacity' => 0.5, 'invert' => [0.25, 0, 0.75], 'scale' => 0.7],
                [],
            ],
            'opaque' => [
                ['gain' => [0.5, 0.5, 0.5]],
                ['opaque' => true, 'invert' => [0.5, 0, 0], 'opacity' => 0.8, 'turn' => 20],
                [],
            ],
            'nothing seen' => [['opacity' => 0], ['scale' => 0.0], []],
            'on a pane of many pixels' => [[], ['scale' => 0.5], ['width' => 640, 'height' => 360]],
            'on a canvas' => [[], ['opacity' => 0.5], ['reach' => 'canvas', 'width' => 40, 'height' => 30]],
            'thrown by a globe' => [[], [], ['reach' => 'globe', 'width' => 64, 'height' => 32]],
        ];
    }

    /**
     * @param  array<string, mixed>  $lower
     * @param  array<string, mixed>  $upper
     * @param  array<string, mixed>  $route
     */
    #[DataProvider('shows')]
    public function test_it_is_the_same_picture_as_the_reference(array $lower, array $upper, array $route): void
    {
        $moment = self::moment(self::show($lower, $upper, $route));
        foreach ([false, true] as $opaque) {
            $card = self::card($opaque);
            $hole = self::hole();
            $source = static fn (string $media): Picture => str_contains($media, self::HOLE) ? $hole : $card;
            $raster = new LightRaster($source);
            // At first without a list; at the same place again by one; then as it was kept.
            foreach ([1.0, 0.5, 1.0] as $time => $master) {
                $at = new Moment(
                    $moment->plan,
                    $moment->heads,
                    ['master:show/level' => [HeldValue::from(Stratum::Loose, 1, 'hand', 0, $master)]],
                    0,
                );
                $reference = new ReferenceRaster($at, $source);
                [$r, $g, $b] = $raster->of($at, 'm1');
                self::assertCount(9 * 22, $r);
                for ($y = 0; $y < 22; $y++) {
                    for ($x = 0; $x < 9; $x++) {
                        self::assertEqualsWithDelta(
                            $reference->surfaceLight('m1', $x, $y),
                            [$r[9 * $y + $x], $g[9 * $y + $x], $b[9 * $y + $x]],
                            1e-9,
                            "time $time at $x, $y",
                        );
                    }
                }
            }
        }
    }

    public function test_inverting_and_opacity_of_the_picture_are_as_by_hand(): void
    {
        // Half of (0.8, 0.4, 0) is there: premultiplied (0.4, 0.2, 0).
        $half = Picture::of(1, 1, pack('C4', 204, 102, 0, 128));
        $a = 128 / 255;
        $pixel = static fn (array $values): array => (new ReferenceRaster(
            self::moment(self::show(['opacity' => 0], $values)),
            static fn (): Picture => $half,
        ))->surfaceLight('m1', 4, 11);
        self::assertEqualsWithDelta([0.8 * $a, 0.4 * $a, 0], $pixel([]), 1e-9);
        self::assertEqualsWithDelta([0.2 * $a, 0.4 * $a, 1 * $a], $pixel(['invert' => [1, 0, 1]]), 1e-9);
        self::assertEqualsWithDelta([0.5 * $a, 0.4 * $a, 0.25 * $a], $pixel(['invert' => [0.5, 0, 0.25]]), 1e-9);
        // Then the gain, cut off at what is there.
        self::assertEqualsWithDelta(
            [0.4 * $a, 0.4 * $a, 1 * $a],
            $pixel(['invert' => [1, 0, 1], 'gain' => [2, 1, 2]]),
            1e-9,
        );
        // Opaque, it is black where it is clear: over white, nothing of that comes through.
        $white = static fn (array $values): array => (new ReferenceRaster(
            self::moment(self::show(['gain' => [4, 4, 4], 'opaque' => true, 'invert' => [1, 1, 1]], $values)),
            static fn (): Picture => $half,
        ))->surfaceLight('m1', 4, 11);
        self::assertEqualsWithDelta([0.8 * $a, 0.4 * $a, 0], $white(['opaque' => true]), 1e-9);
        self::assertEqualsWithDelta([0.8 * $a + 1 - $a, 0.4 * $a + 1 - $a, 1 - $a], $white([]), 1e-9);
        self::assertEqualsWithDelta(
            [1 - 0.8 * $a, 1 - 0.4 * $a, 1],
            $white(['opaque' => true, 'invert' => [1, 1, 1]]),
            1e-9,
        );
    }

    public function test_it_is_asked_for_what_is_not_there(): void
    {
        $raster = new LightRaster(static fn (): ?Picture => null);
        self::assertSame([[], [], []], $raster->of(self::moment(self::show()), 'nothing'));
        self::assertSame(0.0, max($raster->of(self::moment(self::show()), 'm1')[0]));
        // A test card that is put up is drawn as the reference draws it.
        $moment = self::moment(self::show());
        $carded = new Moment($moment->plan, $moment->heads, [], 5 * Flicks::PER_SECOND, ['m2']);
        $source = static fn (): Picture => self::card();
        $reference = new ReferenceRaster($carded, $source);
        self::assertEqualsWithDelta(
            $reference->surfaceLight('m2', 4, 11)[0],
            (new LightRaster($source))->of($carded, 'm2')[0][11 * 9 + 4],
            1e-9,
        );
    }

    /**
     * @param  array<string, mixed>  $type
     * @param  array<string, mixed>  $patch
     */
    private static function encoder(array $type, array $patch = [], int $fineness = 1): LightEncoder
    {
        return new LightEncoder(
            $type + [
                'name' => 'L',
                'columns' => 3,
                'rows' => 2,
                'widthMm' => 300,
                'heightMm' => 200,
                'channels' => 'RGB',
            ],
            $patch + ['surface' => 's', 'node' => 'n'],
            $fineness,
        );
    }

    /**
     * @return array{list<float>, list<float>, list<float>} the first pixel red, the next green, and so on: blue,
     *     white, black, grey
     */
    private static function colours(): array
    {
        return [[1.0, 0, 0, 1, 0, 0.5], [0.0, 1, 0, 1, 0, 0.5], [0.0, 0, 1, 1, 0, 0.5]];
    }

    public function test_bytes_run_along_the_wiring(): void
    {
        $grey = (int) round(255 * (128 / 255) ** 2.2);
        $pixels = ["\xFF\0\0", "\0\xFF\0", "\0\0\xFF", "\xFF\xFF\xFF", "\0\0\0", str_repeat(chr($grey), 3)];
        self::assertSame(implode('', $pixels), self::encoder([])->bytes(self::colours()));
        // Serpentine: the second row from the right.
        self::assertSame(
            implode('', array_map(static fn (int $i): string => $pixels[$i], [0, 1, 2, 5, 4, 3])),
            self::encoder([], ['wiring' => ['serpentine' => true]])->bytes(self::colours()),
        );
        // From channel 10, with a header: eight slots that are another's before it.
        $header = self::encoder(['header' => 'dimmer, fixed 7, unused'], ['channel' => 10]);
        self::assertSame(str_repeat("\0", 9)."\xFF\x07\0".implode('', $pixels), $header->bytes(self::colours()));
        self::assertSame(str_repeat("\0", 9)."\xFF\xFF\0".str_repeat("\xFF", 18), $header->mask);
        // At half level, 16 bits, other order.
        $fine = self::encoder(['bits' => 16, 'channels' => 'BRG', 'columns' => 1, 'rows' => 1]);
        self::assertSame(
            "\0\0".pack('n', (int) round(65_535 * 0.5))."\0\0",
            $fine->bytes([[1.0], [0.0], [0.0]], 0.5),
        );
        // Nothing to read is dark, not broken.
        self::assertSame(str_repeat("\0", 18), self::encoder([])->bytes([[], [], []]));
    }

    public function test_what_changes_without_a_frame_of_its_own_is_composed_anew(): void
    {
        $moment = self::moment(self::show());
        [$colour, $version] = [[255, 0, 0], 1];
        $raster = new LightRaster(
            static function () use (&$colour): Picture {
                return Picture::solid(4, 4, $colour);
            },
            static function () use (&$version): int {
                return $version;
            },
        );
        $first = $raster->of($moment, 'm1');
        $colour = [0, 255, 0];
        self::assertSame($first, $raster->of($moment, 'm1'), 'the same version is the same picture');
        $version = 2;
        self::assertNotSame($first, $raster->of($moment, 'm1'));
        self::assertGreaterThan(0.9, $raster->of($moment, 'm1')[1][0]);
    }

    public function test_a_pixel_that_does_not_fit_begins_the_next_universe(): void
    {
        $mast = self::encoder(
            ['columns' => 9, 'rows' => 22, 'channels' => 'red, green, blue, white 3200, white 6500'],
            ['whites' => 'minimum'],
        );
        $white = array_fill(0, 198, 1.0);
        $bytes = $mast->bytes([$white, $white, $white]);
        self::assertSame(512 + 480, strlen($bytes));
        self::assertSame(
            ["\0\0\0\xFF\xFF", "\0\0", "\0\0\0\xFF\xFF"],
            [substr($bytes, 505, 5), substr($bytes, 510, 2), substr($bytes, 512, 5)],
        );
        self::assertSame(["\0\0", strlen($bytes)], [substr($mast->mask, 510, 2), strlen($mast->mask)]);
        // Whites carry half.
        self::assertSame("\x80\x80\x80\x80\x80", substr($mast->bytes([$white, $white, $white], 1, 0.5), 0, 5));
    }

    public function test_lights_that_are_alike_share_what_they_know_and_keep_their_own_levels(): void
    {
        $codecs = [];
        $type = ['name' => 'L', 'columns' => 1, 'rows' => 1, 'widthMm' => 100, 'heightMm' => 100];
        $of = static function (string $channels) use (&$codecs, $type): LightEncoder {
            return new LightEncoder($type + ['channels' => $channels], ['surface' => 's', 'node' => 'n'], 1, $codecs);
        };
        foreach (['RGB', 'RGBW'] as $channels) {
            [$one, $two] = [$of($channels), $of($channels)];
            $white = str_repeat("\0", strlen($channels) - 3);
            foreach ([[1.0, "\xFF\0\0"], [0.5, "\x80\0\0"], [1.0, "\xFF\0\0"]] as [$level, $bytes]) {
                self::assertSame(
                    [$bytes.$white, "\x40\0\0".$white],
                    [$one->bytes([[1.0], [0.0], [0.0]], $level), $two->bytes([[1.0], [0.0], [0.0]], 0.25)],
                );
            }
            // More levels than are kept ready: the first comes out as before.
            for ($i = 1; $i <= 40; $i++) {
                self::assertSame((int) round((255 * $i) / 40), ord($one->bytes([[1.0], [0.0], [0.0]], $i / 40)[0]));
            }
            self::assertSame("\x40\0\0".$white, $two->bytes([[1.0], [0.0], [0.0]], 0.25, 1, 1));
        }
        self::assertCount(2, $codecs);
    }

    public function test_a_pixel_reads_its_area_or_what_lies_around_it(): void
    {
        // Two by two pixels of the raster each: black and white by half are half of the light.
        $fine = self::encoder(['columns' => 2, 'rows' => 1], [], 2);
        $half = [1.0, 0, 1, 1, 0.0, 1, 1, 1];
        self::assertSame(
            [(int) round(255 * (186 / 255) ** 2.2), 255],
            [ord($fine->bytes([$half, $half, $half])[0]), ord($fine->bytes([$half, $half, $half])[3])],
        );
        // A bell around it: symmetric, strongest in the middle, and all of it where all is lit.
        $bell = self::encoder(['columns' => 5, 'rows' => 1], ['radius' => 1]);
        $one = [0.0, 0, 1, 0, 0];
        $bytes = array_map(ord(...), str_split($bell->bytes([$one, $one, $one])));
        self::assertSame([$bytes[0], $bytes[3]], [$bytes[12], $bytes[9]]);
        self::assertGreaterThan($bytes[3], $bytes[6]);
        self::assertEqualsWithDelta(
            (255 * (int) (255 * (1 / (1 + 2 * exp(-0.5) + 2 * exp(-2))) ** (1 / 2.2) + 0.5) ** 2.2) / 255 ** 2.2,
            $bytes[6],
            1,
        );
        $lit = array_fill(0, 5, 1.0);
        self::assertSame(str_repeat("\xFF", 15), $bell->bytes([$lit, $lit, $lit]));
        // At free points, whatever lies there.
        $points = self::encoder(['columns' => 3, 'rows' => 2, 'points' => [290, 190, 10, 10]]);
        self::assertSame(
            chr((int) round(255 * (128 / 255) ** 2.2)).'|'."\xFF\0\0",
            $points->bytes(self::colours())[0].'|'.substr($points->bytes(self::colours()), 3),
        );
    }

    public function test_what_is_dithered_comes_to_its_light_over_four_frames(): void
    {
        $light = self::encoder(['columns' => 1, 'rows' => 1], ['dithered' => true]);
        $signal = 0.3;
        $wanted = 255 * ((int) ($signal * 1023 + 0.5) / 1023) ** 2.2;
        $sum = array_sum(
            array_map(
                static fn (int $frame): int => ord($light->bytes([[$signal], [0.0], [0.0]], 1, 1, $frame)[0]),
                range(0, 3),
            ),
        );
        self::assertEqualsWithDelta($wanted, $sum / 4, 0.126);
    }
}
