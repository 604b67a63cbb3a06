<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Effects\Effect;
use Core\Effects\EffectPass;
use Core\Effects\EffectPicture;
use Core\Media\Chance;
use Core\Media\Picture;
use Core\Plan\PlanCompiler;
use Core\Playback\DrawStep;
use Core\Playback\Head;
use Core\Playback\LightRaster;
use Core\Playback\Moment;
use Core\Playback\ReferenceRaster;
use Core\Playback\Snapshot;
use Core\Preflight\Trace;
use Core\Show\ClipEditing;
use Core\Show\Document;
use Core\Show\Schema;
use Core\Show\Show;
use Core\Timeline\TransportMap;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use Core\Values\Address;
use Core\Values\HeldValue;
use Core\Values\Stratum;
use PHPUnit\Framework\TestCase;

/** What effects make of pictures whose result is known: by hand, by a closed form, or because they undo one another. */
final class EffectsTest extends TestCase
{
    /** @param  array<string, float|list<float>>  $values  as stored, over the defaults */
    private static function pass(Effect $effect, array $values = [], float $time = 0, float $mix = 1): EffectPass
    {
        $stored = $values + ['mix' => $mix];

        return EffectPass::of(static function (string $name) use ($stored, $effect): float {
            [$property, $slot] = [explode('#', $name)[0], (int) (explode('#', $name)[1] ?? 0)];
            $value =
                $property === 'effect'
                    ? (float) $effect->number()
                    : $stored[$property] ?? Effect::properties()->named($property)->default;

            return is_array($value) ? $value[$slot] : $value;
        }, $time) ?? self::fail('It changes nothing.');
    }

    /** @param  \Closure(int, int): array{int, int, int, int}  $colour */
    private static function picture(int $width, int $height, \Closure $colour): Picture
    {
        $bytes = '';
        for ($y = 0; $y < $height; $y++) {
            for ($x = 0; $x < $width; $x++) {
                $bytes .= pack('C4', ...$colour($x, $y));
            }
        }

        return Picture::of($width, $height, $bytes);
    }

    /** Red grows to the right, green downward, 8 a pixel. */
    private static function ramp(int $width = 32, int $height = 16): Picture
    {
        return self::picture($width, $height, static fn (int $x, int $y): array => [8 * $x, 8 * $y, 0, 255]);
    }

    /** @return list<float> */
    private static function rounded(array $light, int $digits = 6): array
    {
        return array_values(array_map(static fn (float $v): float => round($v, $digits) + 0.0, $light));
    }

    private static function over(Picture $picture, EffectPass ...$passes): EffectPicture
    {
        return EffectPicture::of($picture, array_values($passes));
    }

    /** @return list<float> what an effect makes of one colour */
    private static function of(array $rgba, EffectPass ...$passes): array
    {
        return self::rounded(
            self::over(Picture::of(2, 2, str_repeat(pack('C4', ...$rgba), 4)), ...$passes)->pixel(0, 0),
        );
    }

    public function test_each_has_a_number_values_of_the_set_and_presets_of_its_own_values(): void
    {
        $set = Effect::properties();
        foreach (Effect::cases() as $i => $effect) {
            self::assertSame($i + 1, $effect->number());
            self::assertSame($effect, Effect::numbered($i + 1));
            self::assertSame($effect->value, $set->named('effect')->options[$effect->number()]);
            foreach ($effect->presets() as $name => $preset) {
                self::assertEqualsCanonicalizing($effect->values(), array_keys($preset), "$effect->value $name");
                self::assertSame(array_keys($preset), array_keys($set->check($preset)));
            }
        }
        self::assertSame(
            [null, null, null],
            [Effect::numbered(0), Effect::numbered(-1), Effect::numbered(count(Effect::cases()) + 1)],
        );
        // By number, for good.
        self::assertSame(
            [
                'blur',
                'sharpen',
                'mosaic',
                'hue',
                'saturation',
                'levels',
                'posterize',
                'threshold',
                'tint',
                'edges',
                'kaleidoscope',
                'swirl',
                'bulge',
                'wave',
                'fringe',
                'vignette',
                'grain',
                'scroll',
                'strobe',
                'halftone',
                'fold',
            ],
            array_column(Effect::cases(), 'value'),
        );
        self::assertCount(8, Effect::Threshold->numbers());
    }

    public function test_what_changes_nothing_is_left_out(): void
    {
        $of = static fn (array $values): ?EffectPass => EffectPass::of(
            static fn (string $name): float => $values[$name] ?? 1.0,
            3.0,
        );
        self::assertNull($of(['effect' => 0.0]));
        self::assertNull($of(['effect' => 99.0]));
        self::assertNull($of(['on' => 0.0]));
        self::assertNull($of(['mix' => 0.0]));
        self::assertSame(Effect::Blur, $of([])?->effect);
        // What does not move is the same at all times.
        self::assertSame([0.0, 3.0], [$of([])->time, $of(['effect' => (float) Effect::Wave->number()])?->time]);
    }

    public function test_colours(): void
    {
        $orange = [255, 128, 0, 255];
        $luma = 0.2126 + (0.7152 * 128) / 255;
        self::assertSame(
            self::rounded([$luma, $luma, $luma, 1.0]),
            self::of($orange, self::pass(Effect::Saturation, ['saturation' => 0.0])),
        );
        self::assertSame(
            self::rounded([1, 128 / 255, 0, 1]),
            self::of($orange, self::pass(Effect::Saturation, ['saturation' => 1.0])),
        );
        // A third of a turn: red becomes green, green blue. Half a turn of red: two thirds of white less red, cut off.
        self::assertSame([0.0, 1.0, 0.501961, 1.0], self::of($orange, self::pass(Effect::Hue, ['angle' => 120.0])));
        self::assertSame([0.501961, 0.0, 1.0, 1.0], self::of($orange, self::pass(Effect::Hue, ['angle' => -120.0])));
        self::assertSame(
            self::rounded([0, 2 / 3, 2 / 3, 1]),
            self::of([255, 0, 0, 255], self::pass(Effect::Hue, ['angle' => 180.0])),
        );
        self::assertSame([1.0, 0.501961, 0.0, 1.0], self::of($orange, self::pass(Effect::Hue, ['angle' => 720.0])));
        // 51 is a fifth: (0.2 − 0.5) · 1.5 + 0.5 + 0.1 = 0.15, to the power of a half.
        self::assertSame(
            self::rounded([sqrt(0.15), sqrt(0.15), 1, 1]),
            self::of(
                [51, 51, 255, 255],
                self::pass(Effect::Levels, ['contrast' => 1.5, 'brightness' => 0.1, 'gamma' => 2.0]),
            ),
        );
        self::assertSame(
            [0.5, 0.5, 0.5, 1.0],
            self::of([0, 255, 77, 255], self::pass(Effect::Levels, ['contrast' => 0.0])),
        );
        // Four steps: 0 to 63 are 0, 64 to 127 a third, 128 to 191 two thirds.
        self::assertSame(
            [0.0, 0.333333, 0.666667, 1.0],
            self::of([63, 64, 191, 255], self::pass(Effect::Posterize, ['steps' => 4.0])),
        );
        self::assertSame(
            [0.0, 1.0, 1.0, 1.0],
            self::of([127, 128, 255, 255], self::pass(Effect::Posterize, ['steps' => 2.0])),
        );
        $tint = ['front' => [1.0, 0.5, 0.0], 'back' => [0.0, 0.5, 1.0]];
        self::assertSame(
            self::rounded([0.7152, 0.5, 1 - 0.7152, 1]),
            self::of([0, 255, 0, 255], self::pass(Effect::Tint, $tint)),
        );
        // The ramp of a threshold is as wide as its softness.
        $threshold = static fn (int $grey): float => self::of(
            [$grey, $grey, $grey, 255],
            self::pass(Effect::Threshold, ['level' => 0.4, 'softness' => 0.4]),
        )[0];
        self::assertSame([0.0, 0.5, 1.0], [$threshold(51), $threshold(102), $threshold(153)]);
        self::assertEqualsWithDelta(0.25, $threshold((int) round(0.3 * 255)), 0.01);
    }

    public function test_half_of_it_is_mixed_in_and_what_is_clear_stays_clear(): void
    {
        self::assertSame(
            [0.75, 0.25, 0.25, 1.0],
            self::of([255, 0, 0, 255], self::pass(Effect::Levels, ['contrast' => 0.0], mix: 0.5)),
        );
        foreach (Effect::cases() as $effect) {
            $made = self::of(
                [255, 255, 255, 0],
                self::pass($effect, $effect->presets()[array_key_first($effect->presets())]),
            );
            self::assertSame([0.0, 0.0, 0.0, 0.0], $made, $effect->value);
        }
        // Half clear: the colour is changed, not how much of it there is.
        self::assertSame(
            self::rounded([0, 128 / 255, 0, 128 / 255]),
            self::of([255, 0, 0, 128], self::pass(Effect::Hue, ['angle' => 120.0])),
        );
    }

    public function test_places(): void
    {
        $ramp = self::ramp();
        $at = static fn (EffectPicture $made, int $x, int $y): array => array_map(
            static fn (float $v): float => round(($v * 255) / 8, 3),
            array_slice($made->pixel($x, $y), 0, 2),
        );
        // Folded at the middle, what is left of it is what is right of it.
        $fold = self::over($ramp, self::pass(Effect::Fold));
        self::assertSame(
            [[31.0, 3.0], [16.0, 3.0], [16.0, 3.0], [31.0, 3.0]],
            [$at($fold, 0, 3), $at($fold, 15, 3), $at($fold, 16, 3), $at($fold, 31, 3)],
        );
        self::assertSame(
            [[4.0, 12.0], [4.0, 12.0]],
            [
                $at(self::over($ramp, self::pass(Effect::Fold, ['angle' => 90.0])), 4, 3),
                $at(self::over($ramp, self::pass(Effect::Fold, ['angle' => 90.0])), 4, 12),
            ],
        );
        // A quarter of its width a second to the right, two seconds and a half: five eighths.
        $scrolled = self::over($ramp, self::pass(Effect::Scroll, ['speed' => 0.25], 2.5));
        self::assertSame(
            [[12.0, 5.0], [31.0, 5.0], [0.0, 5.0]],
            [$at($scrolled, 0, 5), $at($scrolled, 19, 5), $at($scrolled, 20, 5)],
        );
        // Upward, and backwards in time.
        self::assertSame(
            [7.0, 4.0],
            $at(self::over($ramp, self::pass(Effect::Scroll, ['speed' => 0.25, 'angle' => -90.0], 1.0)), 7, 0),
        );
        self::assertSame([8.0, 0.0], $at(self::over($ramp, self::pass(Effect::Scroll, ['speed' => -0.25], 1.0)), 0, 0));
        // Squares of a quarter of its width, eight pixels: the mean of each is its middle.
        $mosaic = self::over($ramp, self::pass(Effect::Mosaic, ['size' => 0.25]));
        self::assertSame(
            [[3.5, 3.5], [3.5, 3.5], [11.5, 3.5], [27.5, 11.5]],
            [$at($mosaic, 0, 0), $at($mosaic, 7, 7), $at($mosaic, 8, 0), $at($mosaic, 31, 15)],
        );
        // One pixel is the least.
        self::assertSame([5.0, 6.0], $at(self::over($ramp, self::pass(Effect::Mosaic, ['size' => 0.0])), 5, 6));
        // Of one segment, the lower half is seen above, too.
        $kaleidoscope = self::over($ramp, self::pass(Effect::Kaleidoscope, ['segments' => 1.0]));
        self::assertEqualsWithDelta(
            [[10.0, 12.0], [10.0, 12.0]],
            [$at($kaleidoscope, 10, 3), $at($kaleidoscope, 10, 12)],
            1e-6,
        );
        // Two: right of the middle and below it, four times.
        $two = self::over($ramp, self::pass(Effect::Kaleidoscope, ['segments' => 2.0]));
        self::assertEqualsWithDelta(
            array_fill(0, 4, [21.0, 12.0]),
            [$at($two, 10, 3), $at($two, 21, 3), $at($two, 10, 12), $at($two, 21, 12)],
            1e-6,
        );
        // A wave along the width moves up and down: a quarter of it by its whole amplitude, of 2 pixels.
        $wave = self::over(
            $ramp,
            self::pass(Effect::Wave, ['amplitude' => 2 / 32, 'size' => 1.0, 'speed' => 1.0], 0.25 + 0.5 / 32),
        );
        self::assertEqualsWithDelta([[16.0, 10.0], [0.0, 6.0]], [$at($wave, 16, 8), $at($wave, 0, 8)], 1e-6);
    }

    public function test_swirls_and_bulges_reach_as_far_as_they_say(): void
    {
        $ramp = self::ramp(33, 33);
        $at = static fn (EffectPicture $made, int $x, int $y): array => array_map(
            static fn (float $v): float => round(($v * 255) / 8, 3),
            array_slice($made->pixel($x, $y), 0, 2),
        );
        // 16.5 pixels of reach; 4 right of the middle t is 1 − 4/16.5, and it is turned back by strength · t² turns.
        $swirl = self::over($ramp, self::pass(Effect::Swirl, ['strength' => 0.25, 'extent' => 0.5]));
        $angle = -2 * M_PI * 0.25 * (1 - 4 / 16.5) ** 2;
        self::assertEqualsWithDelta([16 + 4 * cos($angle), 16 + 4 * sin($angle)], $at($swirl, 20, 16), 2e-3);
        self::assertSame(
            [[16.0, 16.0], [0.0, 0.0], [31.0, 4.0]],
            [$at($swirl, 16, 16), $at($swirl, 0, 0), $at($swirl, 31, 4)],
        );
        $bulge = self::over($ramp, self::pass(Effect::Bulge, ['strength' => 0.5, 'extent' => 0.5]));
        self::assertEqualsWithDelta([16 - 6 * (1 - 0.5 * (1 - 6 / 16.5) ** 2), 16.0], $at($bulge, 10, 16), 2e-3);
        // Without reach, and there and back, nothing is changed.
        self::assertSame(
            [10.0, 16.0],
            $at(self::over($ramp, self::pass(Effect::Bulge, ['strength' => 1.0, 'extent' => 0.0])), 10, 16),
        );
        $back = self::over(
            $ramp,
            self::pass(Effect::Swirl, ['strength' => 0.25]),
            self::pass(Effect::Swirl, ['strength' => -0.25]),
        );
        self::assertEqualsWithDelta([20.0, 12.0], $at($back, 20, 12), 0.05);
    }

    public function test_blurs_and_edges(): void
    {
        // A white line in black: what of it is 4 pixels away is the bell's weight there, of a reach of 8 in 33
        // samples half a pixel apart.
        $line = self::picture(64, 8, static fn (int $x): array => $x === 32 ? [255, 255, 255, 255] : [0, 0, 0, 255]);
        $blurred = self::over($line, self::pass(Effect::Blur, ['radius' => 8 / 64]));
        $bell = static fn (float $x): float => exp(-3.125 * ($x / 8) ** 2);
        $whole = array_sum(array_map(static fn (int $i): float => $bell($i / 2), range(-16, 16)));
        // The samples at half a pixel to either side of it have half of it each.
        $share = static fn (int $off): float => ($bell($off) + ($bell($off - 0.5) + $bell($off + 0.5)) / 2) / $whole;
        self::assertEqualsWithDelta(
            array_map($share, [0, 4, 7]),
            [$blurred->pixel(32, 4)[0], $blurred->pixel(28, 4)[0], $blurred->pixel(39, 0)[0]],
            1e-9,
        );
        self::assertSame(0.0, $blurred->pixel(20, 4)[0]);
        // Nothing gets lost, and what is even stays even.
        self::assertEqualsWithDelta(
            1.0,
            array_sum(array_map(static fn (int $x): float => $blurred->pixel($x, 3)[0], range(0, 63))),
            1e-9,
        );
        self::assertEqualsWithDelta(
            [0.2, 0.4, 0.6, 1.0],
            self::over(Picture::solid(9, 9, [51, 102, 153]), self::pass(Effect::Blur, ['radius' => 0.4]))->pixel(0, 8),
            1e-9,
        );
        self::assertSame(
            $line->sample(32.5 / 64, 0.5),
            self::over($line, self::pass(Effect::Blur, ['radius' => 0.0]))->pixel(32, 4),
        );
        // A ramp has no edge but its slope: 2 · 2 pixels of 8 levels each, of red alone.
        $edges = self::over(
            self::ramp(),
            self::pass(Effect::Edges, [
                'strength' => 2.0,
                'radius' => 2 / 32,
                'front' => [0.0, 1.0, 0.0],
                'back' => [0.5, 0.0, 0.0],
            ]),
        );
        $slope = 2 * hypot((0.2126 * 32) / 255, (0.7152 * 32) / 255);
        self::assertSame(self::rounded([0.5 - 0.5 * $slope, $slope, 0, 1]), self::rounded($edges->pixel(16, 8)));
        // Sharpened, a step overshoots; the even stays.
        $step = self::picture(16, 3, static fn (int $x): array => $x < 8 ? [51, 51, 51, 255] : [153, 153, 153, 255]);
        $sharp = self::over($step, self::pass(Effect::Sharpen, ['strength' => 1.0, 'radius' => 1 / 16]));
        // Of eight places three lie across: one wholly, two by their cosine of 45°, as far as they are interpolated.
        $mean = (3 * 0.2 + 2 * 0.2 + 0.6 + 2 * (0.2 + 0.4 * M_SQRT1_2)) / 8;
        self::assertSame(self::rounded([0.2 + 0.2 - $mean]), self::rounded([$sharp->pixel(7, 1)[0]]));
        self::assertSame([0.2, 0.6], self::rounded([$sharp->pixel(2, 1)[0], $sharp->pixel(13, 1)[0]]));
    }

    public function test_fringes_vignettes_dots_grain_and_flashes(): void
    {
        $dot = self::picture(16, 1, static fn (int $x): array => $x === 8 ? [255, 255, 255, 255] : [0, 0, 0, 0]);
        $fringed = self::over($dot, self::pass(Effect::Fringe, ['amplitude' => 3 / 16]));
        self::assertSame(
            [[0.0, 0.0, 1.0, 1.0], [0.0, 1.0, 0.0, 1.0], [1.0, 0.0, 0.0, 1.0], [0.0, 0.0, 0.0, 0.0]],
            [
                self::rounded($fringed->pixel(5, 0)),
                self::rounded($fringed->pixel(8, 0)),
                self::rounded($fringed->pixel(11, 0)),
                self::rounded($fringed->pixel(7, 0)),
            ],
        );
        // An oval that touches all four sides: half of the way through its soft edge there is half.
        $oval = self::over(
            Picture::solid(200, 100, [255, 255, 255]),
            self::pass(Effect::Vignette, ['extent' => 0.5, 'softness' => 0.5]),
        );
        self::assertSame([1.0, 0.0], [$oval->pixel(100, 50)[3], $oval->pixel(0, 0)[3]]);
        // Of 199 pixels, the 26th is 74 from the middle, of 99.5: there s is 0.4874, on the middle row.
        self::assertEqualsWithDelta(
            1 - 0.487437 ** 2 * (3 - 2 * 0.487437),
            self::over(
                Picture::solid(199, 101, [255, 255, 255]),
                self::pass(Effect::Vignette, ['extent' => 0.5, 'softness' => 0.5]),
            )->pixel(25, 50)[0],
            1e-5,
        );
        self::assertSame(
            [0.0, 0.0, 0.0, 0.0],
            self::of([255, 255, 255, 255], self::pass(Effect::Vignette, ['extent' => 0.0])),
        );
        // A dot of a grey of a quarter has half the radius of that of white, which fills its square.
        $share = static function (int $grey): float {
            $made = self::over(
                Picture::solid(64, 64, [$grey, $grey, $grey]),
                self::pass(Effect::Halftone, ['size' => 0.5, 'softness' => 0.0]),
            );

            return array_sum(
                array_map(static fn (int $i): float => $made->pixel($i % 64, intdiv($i, 64))[3], range(0, 4095)),
            ) / 4096;
        };
        self::assertEqualsWithDelta([0.0, M_PI / 8, 1.0], [$share(0), $share(64), $share(255)], 0.01);
        // Grain of one seed is the same again, and other at the next step of time.
        $grain = static fn (float $time): array => self::over(
            Picture::solid(8, 8, [128, 128, 128]),
            self::pass(Effect::Grain, ['strength' => 0.5, 'size' => 0.25, 'speed' => 24.0, 'seed' => 7.0], $time),
        )->pixel(5, 2);
        self::assertSame(
            self::rounded([128 / 255 + (Chance::of(2, 1, 24, 7) - 0.5) * 0.5]),
            self::rounded([$grain(1.02)[0]]),
        );
        self::assertSame([$grain(1.0), true], [$grain(1.03), $grain(1.0) !== $grain(1.05)]);
        // Two flashes a second, a tenth of the time lit.
        $lit = static fn (float $time): float => self::over(
            Picture::solid(2, 2, [255, 255, 255]),
            self::pass(Effect::Strobe, ['speed' => 2.0, 'level' => 0.1], $time),
        )->pixel(0, 0)[3];
        self::assertSame([1.0, 1.0, 0.0, 0.0, 1.0], array_map($lit, [0.0, 0.04, 0.06, 0.49, 0.5]));
    }

    public function test_one_follows_another_and_a_colour_without_size_has_room(): void
    {
        // First grey, then tinted is not first tinted, then grey.
        [$grey, $tint] = [
            self::pass(Effect::Saturation, ['saturation' => 0.0]),
            self::pass(Effect::Tint, ['front' => [1.0, 0.0, 0.0]]),
        ];
        self::assertSame(
            [[1.0, 0.0, 0.0], [0.2126, 0.2126, 0.2126]],
            [
                array_slice(self::of([255, 255, 255, 255], $grey, $tint), 0, 3),
                array_slice(self::of([255, 255, 255, 255], $tint, $grey), 0, 3),
            ],
        );
        $colour = EffectPicture::of(Picture::solid(1, 1, [255, 0, 0]), [self::pass(Effect::Vignette)]);
        self::assertSame(
            [256, 256, 0.0, 1.0],
            [$colour->width, $colour->height, $colour->pixel(0, 0)[0], $colour->pixel(128, 128)[0]],
        );
        self::assertSame(
            [4096, 1],
            [($long = EffectPicture::of(Picture::solid(8192, 2, [9, 9, 9]), []))->width, $long->height],
        );
        // Beyond the edge there is the nearest pixel; between, what lies between.
        self::assertEqualsWithDelta([(8 * 31) / 255, 0.0, 0.0, 1.0], self::over(self::ramp())->sample(1.5, -1.0), 1e-9);
        self::assertEqualsWithDelta(
            [(8 * 2.5) / 255, (8 * 3.25) / 255, 0.0, 1.0],
            self::over(self::ramp())->sample(3 / 32, 3.75 / 16),
            1e-9,
        );
    }

    /**
     * @param  list<array<string, mixed>>  $effects
     * @param  array<string, list<array<string, mixed>>>  $more
     * @return array<string, list<array<string, mixed>>>
     */
    private static function rows(array $effects, array $more = []): array
    {
        return $more + [
            'panel' => [
                [
                    'id' => 'p',
                    'name' => 'P',
                    'widthMm' => 500,
                    'heightMm' => 500,
                    'widthPx' => 32,
                    'heightPx' => 16,
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
                    'values' => [],
                ],
            ],
            'media' => [
                [
                    'id' => 'm',
                    'name' => 'M',
                    'kind' => 'file',
                    'state' => 'ready',
                    'facts' => ['width' => 32, 'height' => 16],
                    'form' => ['frames' => 1, 'frameRate' => '25', 'kind' => 'still'],
                ],
            ],
            'clip' => [
                ['id' => 'c', 'layer' => 'l', 'media' => 'm', 'start' => 0, 'length' => 20 * Flicks::PER_SECOND],
                [
                    'id' => 'd',
                    'layer' => 'l',
                    'media' => 'm',
                    'start' => 20 * Flicks::PER_SECOND,
                    'length' => 20 * Flicks::PER_SECOND,
                ],
            ],
            'effect' => $effects,
        ];
    }

    private static function document(array $effects, array $more = []): Document
    {
        return Document::of(['id' => 's', 'name' => 'S', 'frameRate' => '25'], self::rows($effects, $more));
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
            0,
        );
    }

    /** @return list<string> of the picture that is shown, in the order in which they follow each other */
    private static function chain(Moment $moment): array
    {
        return array_map(
            static fn (EffectPass $pass): string => $pass->effect->value,
            DrawStep::of($moment, 'w')[0]->effects ?? [],
        );
    }

    public function test_a_layer_has_those_of_its_clip_before_its_own(): void
    {
        $effects = [
            ['id' => 'e1', 'layer' => 'l', 'order' => 2, 'values' => ['effect' => 'hue', 'angle' => 120]],
            ['id' => 'e2', 'layer' => 'l', 'order' => 1, 'values' => ['effect' => 'mosaic', 'size' => 0.25]],
            ['id' => 'e3', 'clip' => 'd', 'values' => ['effect' => 'fold']],
            ['id' => 'e4', 'layer' => 'l', 'order' => 3, 'values' => ['effect' => 'blur', 'on' => false]],
        ];
        $show = self::document($effects)->show;
        self::assertSame([], $show->broken);
        self::assertSame(['mosaic', 'hue'], self::chain(self::moment($show)));
        self::assertSame(['fold', 'mosaic', 'hue'], self::chain(self::moment($show, 21)));
        // What is seen: the mean of eight pixels, its red as green, its green as blue.
        $source = static fn (): Picture => self::ramp();
        $seen = [0, (int) round(3.5 * 8), (int) round(11.5 * 8)];
        self::assertSame($seen, (new ReferenceRaster(self::moment($show), $source))->surfacePixel('w', 4, 12));
        [$r, $g, $b] = (new LightRaster($source))->of(self::moment($show), 'w');
        self::assertSame(
            $seen,
            array_map(static fn (float $v): int => (int) round(255 * $v), [
                $r[12 * 32 + 4],
                $g[12 * 32 + 4],
                $b[12 * 32 + 4],
            ]),
        );
        // Hands and consoles switch and choose them: another effect by its number.
        $hold = static fn (string $value, float $number): array => [
            "effect:$value" => [HeldValue::from(Stratum::Bound, 1, 'console', 0, $number)],
        ];
        self::assertSame(['mosaic'], self::chain(self::moment($show, 1, $hold('e1/on', 0.0))));
        self::assertSame(
            ['mosaic', 'tint'],
            self::chain(self::moment($show, 1, $hold('e1/effect', (float) Effect::Tint->number()))),
        );
        self::assertSame(['mosaic', 'hue', 'blur'], self::chain(self::moment($show, 1, $hold('e4/on', 1.0))));
    }

    public function test_the_trace_names_them(): void
    {
        $show = self::document([
            ['id' => 'e1', 'layer' => 'l', 'order' => 2, 'values' => ['effect' => 'hue']],
            ['id' => 'e2', 'clip' => 'c', 'values' => ['effect' => 'fold']],
            ['id' => 'e3', 'layer' => 'l', 'order' => 3, 'values' => ['effect' => 'blur', 'mix' => 0]],
        ])->show;
        $said = static fn (float $second): string => array_column(
            Trace::of($show, 'w', self::moment($show, $second), null),
            'message',
            'link',
        )['Layer'];
        self::assertSame(
            ['L is up at 100 %, through fold, hue.', 'L is up at 100 %, through hue.'],
            [$said(1), $said(21)],
        );
    }

    public function test_their_values_move_on_the_timeline_of_their_layer(): void
    {
        $key = static fn (string $owner, string $property, array $keys): array => [
            'id' => "k$owner",
            'ownerKind' => 'effect',
            'owner' => $owner,
            'property' => $property,
            'slot' => 0,
            'keyframes' => array_map(
                static fn (array $k): array => ['t' => $k[0] * Flicks::PER_SECOND, 'v' => $k[1]],
                $keys,
            ),
        ];
        $effects = [['id' => 'e', 'clip' => 'c', 'order' => 0, 'values' => ['effect' => 'hue']]];
        $document = self::document($effects, ['curve' => [$key('e', 'angle', [[0, 0], [10, 90]])]]);
        $angle = static fn (Show $show, float $second): float => round(
            DrawStep::of(self::moment($show, $second), 'w')[0]->effects[0]->values['angle'] ?? -1.0,
            3,
        );
        self::assertSame(
            [9.0, 45.0, 90.0],
            [$angle($document->show, 1), $angle($document->show, 5), $angle($document->show, 15)],
        );
        self::assertSame('t', $document->show->programme->timelineOf(Address::of('effect', 'e', 'angle')));
        // Cut in two, both have it; copied, it comes along with its keyframes.
        $count = 0;
        $editing = static function (Document $document) use (&$count): ClipEditing {
            return new ClipEditing($document->show, $document, static function () use (&$count): string {
                return sprintf('n%02d', ++$count);
            });
        };
        [$changes] = $editing($document)->split(['c'], 5 * Flicks::PER_SECOND);
        $split = $document->with($document->changedRows($changes));
        self::assertSame([], $split->show->broken);
        self::assertSame(
            [9.0, 63.0, 90.0],
            [$angle($split->show, 1), $angle($split->show, 7), $angle($split->show, 15)],
        );
        [$changes, [$made]] = $editing($document)->paste(['c'], 40 * Flicks::PER_SECOND);
        $pasted = $document->with($document->changedRows($changes));
        self::assertSame([['hue'], 45.0], [self::chain(self::moment($pasted->show, 45)), $angle($pasted->show, 45)]);
        self::assertCount(1, $pasted->show->programme->effects($made));
        // Before the beginning of all there is nothing: it begins where it would have been.
        $late = self::document($effects, [
            'curve' => [$key('e', 'angle', [[0, 0], [10, 90]])],
            'clip' => [
                [
                    'id' => 'c',
                    'layer' => 'l',
                    'media' => 'm',
                    'start' => 4 * Flicks::PER_SECOND,
                    'length' => 8 * Flicks::PER_SECOND,
                ],
            ],
        ]);
        [$changes] = $editing($late)->paste(['c'], 0);
        $early = $late->with(
            $late->changedRows(
                array_values(
                    array_filter([...$changes, ['kind' => 'clip', 'id' => 'c', 'op' => 'delete', 'fields' => []]]),
                ),
            ),
        );
        self::assertSame(
            [36.0, 45.0, 90.0],
            [$angle($early->show, 0), $angle($early->show, 1), $angle($early->show, 7)],
        );
    }

    public function test_what_is_recorded_has_what_they_are_made_of(): void
    {
        $seen = static fn (array $effects, float $second = 1): array => array_keys(
            array_filter(
                Snapshot::of($show = self::document($effects)->show, self::moment($show, $second))->visible(),
                static fn (string $address): bool => str_starts_with($address, 'effect:'),
                ARRAY_FILTER_USE_KEY,
            ),
        );
        self::assertSame([], $seen([]));
        self::assertSame(
            ['effect:e/effect', 'effect:e/on', 'effect:e/mix'],
            $seen([['id' => 'e', 'layer' => 'l', 'values' => []]]),
        );
        $tint = array_map(static fn (string $name): string => "effect:e/$name", [
            'effect',
            'on',
            'mix',
            'front',
            'front#1',
            'front#2',
            'back',
            'back#1',
            'back#2',
        ]);
        self::assertSame($tint, $seen([['id' => 'e', 'layer' => 'l', 'values' => ['effect' => 'tint']]]));
        // Those of the clip that is seen.
        self::assertSame(
            [[], $tint],
            [
                $seen([['id' => 'e', 'clip' => 'd', 'values' => ['effect' => 'tint']]]),
                $seen([['id' => 'e', 'clip' => 'd', 'values' => ['effect' => 'tint']]], 21),
            ],
        );
    }

    public function test_only_what_changed_is_made_anew(): void
    {
        $document = self::document([['id' => 'e', 'layer' => 'l', 'values' => ['effect' => 'hue', 'angle' => 10]]]);
        $compiler = new PlanCompiler();
        $compiler->compile($document->show, 1);
        $next = $document->with([
            'effect' => ['e' => ['id' => 'e', 'layer' => 'l', 'values' => ['effect' => 'hue', 'angle' => 20]]],
        ]);
        $bundle = $compiler->compile($next->show, 2);
        self::assertSame([[], ['effect:e/angle']], [array_keys($bundle->parts), array_keys($bundle->tracks)]);
        // Without it, neither the picture nor the plan knows of it.
        $bundle = $compiler->compile($next->with(['effect' => ['e' => null]])->show, 3);
        self::assertSame(['contribution:l@w'], array_keys($bundle->parts));
        self::assertSame(
            ['effect:e/effect', 'effect:e/angle'],
            array_keys(array_filter($bundle->tracks, is_null(...))),
        );
    }

    public function test_rows_that_are_refused_and_chains_that_are_too_long(): void
    {
        $kind = Schema::named('effect');
        foreach ([['layer' => 'l', 'clip' => 'c'], []] as $on) {
            try {
                $kind->build($on + ['id' => 'e', 'values' => []], []);
                self::fail('It was taken.');
            } catch (InvalidValue $refused) {
                self::assertStringContainsString('on one of them', $refused->getMessage());
            }
        }
        foreach ([['effect' => 'melt'], ['radius' => 1.5], ['wobble' => 1], ['front' => [0, 0]]] as $values) {
            $broken = self::document([['id' => 'e', 'layer' => 'l', 'values' => $values]])->show->broken;
            self::assertCount(1, $broken, json_encode($values) ?: '');
        }
        $many = array_map(
            static fn (int $i): array => [
                'id' => sprintf('e%02d', $i),
                'layer' => 'l',
                'order' => $i,
                'values' => ['effect' => 'hue'],
            ],
            range(1, Effect::MAX + 1),
        );
        $show = self::document($many)->show;
        self::assertSame(
            ['e65', 'A layer or a clip has at most 64 effects; this one is too many and does nothing.'],
            [$show->broken[0]->id ?? '', $show->broken[0]->message ?? ''],
        );
        self::assertCount(64, self::chain(self::moment($show)));
    }
}
