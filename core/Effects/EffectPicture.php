<?php

declare(strict_types=1);

namespace Core\Effects;

use Core\Media\Chance;
use Core\Media\PatternPicture;
use Core\Media\Picture;

/**
 * A picture with a chain of effects over it, one raster after another, each as large as the picture. Only pixels that
 * are asked for are made, each once. Samples between pixels are interpolated, beyond the edge the nearest pixel is
 * taken; where an effect moves places, the picture is mirrored at its edges. Premultiplied, display-encoded. The
 * shader of players says the same (`resources/js/player/effects.ts`).
 */
final class EffectPicture
{
    /** Pixels of the longer side of its rasters. */
    public const LARGEST = 4096;

    /** Pixels of each side, where the picture is one colour without a size. */
    public const PLAIN = 256;

    /** Samples to either side of a blurred pixel. */
    private const KERNEL = 16;

    private const LUMA = [0.2126, 0.7152, 0.0722];

    /** @var array<int, array{float, float, float, float}> pixels that were made, by number */
    private array $made = [];

    /** @param  \Closure(int, int): array{float, float, float, float}  $make  a pixel by its column and row */
    private function __construct(
        public readonly int $width,
        public readonly int $height,
        private readonly \Closure $make,
    ) {
    }

    /** @param  list<EffectPass>  $passes  in the order in which they follow each other */
    public static function of(Picture|PatternPicture $picture, array $passes): self
    {
        $smaller = min(1, self::LARGEST / max($picture->width, $picture->height));
        [$width, $height] =
            $picture->width === 1 && $picture->height === 1
                ? [self::PLAIN, self::PLAIN]
                : [max(1, (int) round($picture->width * $smaller)), max(1, (int) round($picture->height * $smaller))];
        $chain = new self(
            $width,
            $height,
            static fn (int $x, int $y): array => $picture->sample(($x + 0.5) / $width, ($y + 0.5) / $height),
        );
        foreach ($passes as $pass) {
            $chain = $chain->with($pass);
        }

        return $chain;
    }

    private function with(EffectPass $pass): self
    {
        $from = $this;
        if ($pass->effect === Effect::Blur) {
            $kernel = self::kernel($pass->values['radius'] * $this->width);
            $across = new self(
                $this->width,
                $this->height,
                static fn (int $x, int $y): array => $from->blurred($kernel, $x, $y, 1, 0),
            );
            $make = static fn (int $x, int $y): array => $across->blurred($kernel, $x, $y, 0, 1);
        } elseif ($pass->effect === Effect::Mosaic) {
            [$size, $tiles] = [max(1.0, $pass->values['size'] * $this->width), []];
            $make = static function (int $x, int $y) use ($from, $size, &$tiles): array {
                [$column, $row] = [(int) floor(($x + 0.5) / $size), (int) floor(($y + 0.5) / $size)];

                return $tiles["$column $row"] ??= $from->tile($column, $row, $size);
            };
        } else {
            $make = static fn (int $x, int $y): array => $from->changed($pass, $x + 0.5, $y + 0.5);
        }

        return new self(
            $this->width,
            $this->height,
            $pass->mix >= 1
                ? $make
                : static fn (int $x, int $y): array => self::mixed($from->pixel($x, $y), $make($x, $y), $pass->mix),
        );
    }

    /** @return array{float, float, float, float} red, green, blue, alpha, 0 to 1; beyond the edge, the nearest pixel */
    public function pixel(int $x, int $y): array
    {
        [$x, $y] = [max(0, min($this->width - 1, $x)), max(0, min($this->height - 1, $y))];

        return $this->made[$y * $this->width + $x] ??= ($this->make)($x, $y);
    }

    /**
     * Interpolated between the four nearest pixels.
     *
     * @return array{float, float, float, float}
     */
    public function sample(float $u, float $v): array
    {
        return $this->at($u * $this->width, $v * $this->height);
    }

    /** @return array{float, float, float, float} at a place in pixels, whose middles are at a half */
    private function at(float $x, float $y): array
    {
        [$x, $y] = [max(0.5, min($this->width - 0.5, $x)) - 0.5, max(0.5, min($this->height - 0.5, $y)) - 0.5];
        [$x0, $y0] = [(int) $x, (int) $y];
        [$fx, $fy] = [$x - $x0, $y - $y0];
        if ($fx <= 0) {
            return $fy <= 0
                ? $this->pixel($x0, $y0)
                : self::mixed($this->pixel($x0, $y0), $this->pixel($x0, $y0 + 1), $fy);
        }
        if ($fy <= 0) {
            return self::mixed($this->pixel($x0, $y0), $this->pixel($x0 + 1, $y0), $fx);
        }
        // Neither is at the last pixel, so all four are there.
        $i = $y0 * $this->width + $x0;
        $a = $this->made[$i] ??= ($this->make)($x0, $y0);
        $b = $this->made[$i + 1] ??= ($this->make)($x0 + 1, $y0);
        $c = $this->made[$i + $this->width] ??= ($this->make)($x0, $y0 + 1);
        $d = $this->made[$i + $this->width + 1] ??= ($this->make)($x0 + 1, $y0 + 1);
        [$wd, $wb, $wc] = [$fx * $fy, $fx * (1 - $fy), (1 - $fx) * $fy];
        $wa = (1 - $fx) * (1 - $fy);

        return [
            $wa * $a[0] + $wb * $b[0] + $wc * $c[0] + $wd * $d[0],
            $wa * $a[1] + $wb * $b[1] + $wc * $c[1] + $wd * $d[1],
            $wa * $a[2] + $wb * $b[2] + $wc * $c[2] + $wd * $d[2],
            $wa * $a[3] + $wb * $b[3] + $wc * $c[3] + $wd * $d[3],
        ];
    }

    /** @return array{float, float, float, float} the same, mirrored at the edges */
    private function folded(float $x, float $y): array
    {
        $fold = static function (float $at, int $size): float {
            $at -= 2 * $size * floor($at / (2 * $size));

            return $at > $size ? 2 * $size - $at : $at;
        };

        return $this->at($fold($x, $this->width), $fold($y, $this->height));
    }

    /**
     * A bell of which 2.5 deviations are seen, of 33 samples over a reach in pixels: what of them falls to each
     * pixel, as they are interpolated.
     *
     * @return array<int, float> weights by how far a pixel is away; they come to 1
     */
    private static function kernel(float $reach): array
    {
        $kernel = [];
        for ($i = -self::KERNEL; $i <= self::KERNEL; $i++) {
            $weight = exp(-3.125 * ($i / self::KERNEL) ** 2);
            $at = ($i * $reach) / self::KERNEL;
            $from = (int) floor($at);
            $kernel[$from] = ($kernel[$from] ?? 0.0) + $weight * (1 - $at + $from);
            if ($at > $from) {
                $kernel[$from + 1] = ($kernel[$from + 1] ?? 0.0) + $weight * ($at - $from);
            }
        }
        $whole = array_sum($kernel);

        return array_map(static fn (float $weight): float => $weight / $whole, $kernel);
    }

    /**
     * The mean along a row or a column, weighted by a kernel.
     *
     * @param  array<int, float>  $kernel
     * @return array{float, float, float, float}
     */
    private function blurred(array $kernel, int $x, int $y, int $dx, int $dy): array
    {
        $r = $g = $b = $a = 0.0;
        foreach ($kernel as $off => $weight) {
            $light = $this->pixel($x + $off * $dx, $y + $off * $dy);
            $r += $weight * $light[0];
            $g += $weight * $light[1];
            $b += $weight * $light[2];
            $a += $weight * $light[3];
        }

        return [$r, $g, $b, $a];
    }

    /**
     * What an effect makes of the picture at a place in pixels.
     *
     * @return array{float, float, float, float}
     */
    private function changed(EffectPass $pass, float $x, float $y): array
    {
        $v = $pass->values;
        [$w, $h] = [$this->width, $this->height];

        return match ($pass->effect) {
            Effect::Sharpen => $this->sharpened($x, $y, $v['strength'], $v['radius'] * $w),
            Effect::Edges => $this->edges($pass, $x, $y, max(1.0, $v['radius'] * $w)),
            Effect::Kaleidoscope => $this->folded(...$this->segment($pass, $x, $y)),
            Effect::Swirl => $this->folded(...$this->swirled($pass, $x, $y)),
            Effect::Bulge => $this->folded(...$this->bulged($pass, $x, $y)),
            Effect::Wave => $this->folded(...$this->waved($pass, $x, $y)),
            Effect::Fringe => $this->fringed(
                $x,
                $y,
                $v['amplitude'] * $w * cos($pass->angle()),
                $v['amplitude'] * $w * sin($pass->angle()),
            ),
            Effect::Scroll => $this->at(
                self::wrapped($x - $w * $pass->phase(cos($pass->angle())), $w),
                self::wrapped($y - $h * $pass->phase(sin($pass->angle())), $h),
            ),
            Effect::Fold => $this->folded(...$this->mirrored($pass, $x, $y)),
            Effect::Halftone => $this->dots($pass, $x, $y, max(1.0, $v['size'] * $w)),
            Effect::Vignette => self::scaled($this->at($x, $y), $this->within($pass, $x / $w, $y / $h)),
            Effect::Strobe => self::scaled($this->at($x, $y), $pass->phase() < $v['level'] ? 1.0 : 0.0),
            default => self::coloured($pass, $this->at($x, $y), $x, $y, $w),
        };
    }

    /**
     * What it makes of the colour of a place alone.
     *
     * @param  array{float, float, float, float}  $light
     * @return array{float, float, float, float}
     */
    private static function coloured(EffectPass $pass, array $light, float $x, float $y, int $width): array
    {
        $a = $light[3];
        if ($a <= 0) {
            return [0.0, 0.0, 0.0, 0.0];
        }
        $v = $pass->values;
        $colour = [$light[0] / $a, $light[1] / $a, $light[2] / $a];
        $luma = self::luma($colour);
        $each = static fn (\Closure $of): array => [$of($colour[0], 0), $of($colour[1], 1), $of($colour[2], 2)];
        $made = match ($pass->effect) {
            Effect::Hue => self::turned($colour, $pass->angle()),
            Effect::Saturation => $each(static fn (float $c): float => $luma + ($c - $luma) * $v['saturation']),
            Effect::Levels => $each(
                static fn (float $c): float => max(
                    0.0,
                    min(1.0, ($c - 0.5) * $v['contrast'] + 0.5 + $v['brightness']),
                ) **
                    (1 / max(0.1, $v['gamma'])),
            ),
            Effect::Posterize => ($n = max(2, round($v['steps']))) > 0
                ? $each(static fn (float $c): float => min(floor($c * $n), $n - 1) / ($n - 1))
                : $colour,
            Effect::Threshold => self::between(
                $pass,
                max(0.0, min(1.0, ($luma - $v['level']) / max(1 / 255, $v['softness']) + 0.5)),
            ),
            Effect::Tint => self::between($pass, $luma),
            Effect::Grain => self::grained($pass, $colour, $x, $y, max(1.0, floor($v['size'] * $width))),
            default => $colour,
        };

        return [
            max(0.0, min(1.0, $made[0])) * $a,
            max(0.0, min(1.0, $made[1])) * $a,
            max(0.0, min(1.0, $made[2])) * $a,
            $a,
        ];
    }

    /**
     * Turned about the axis of greys (Rodrigues' formula).
     *
     * @param  array{float, float, float}  $c
     * @return array{float, float, float}
     */
    private static function turned(array $c, float $angle): array
    {
        [$cos, $sin] = [cos($angle), sin($angle) / sqrt(3)];
        $grey = (($c[0] + $c[1] + $c[2]) / 3) * (1 - $cos);

        return [
            $c[0] * $cos + ($c[2] - $c[1]) * $sin + $grey,
            $c[1] * $cos + ($c[0] - $c[2]) * $sin + $grey,
            $c[2] * $cos + ($c[1] - $c[0]) * $sin + $grey,
        ];
    }

    /**
     * @param  array{float, float, float}  $c
     * @return array{float, float, float}
     */
    private static function grained(EffectPass $pass, array $c, float $x, float $y, float $cell): array
    {
        $step = (int) floor(fmod($pass->time * $pass->values['speed'], 65_536));
        $off =
            (Chance::of((int) floor($x / $cell), (int) floor($y / $cell), $step, (int) floor($pass->values['seed'])) -
                0.5) *
            $pass->values['strength'];

        return [$c[0] + $off, $c[1] + $off, $c[2] + $off];
    }

    /** @return array{float, float, float} */
    private static function between(EffectPass $pass, float $share): array
    {
        [$front, $back] = [$pass->colour('front'), $pass->colour('back')];

        return [
            $back[0] + ($front[0] - $back[0]) * $share,
            $back[1] + ($front[1] - $back[1]) * $share,
            $back[2] + ($front[2] - $back[2]) * $share,
        ];
    }

    /** @return array{float, float, float, float} what differs from the mean of eight places around it, made stronger */
    private function sharpened(float $x, float $y, float $strength, float $reach): array
    {
        $light = $this->at($x, $y);
        $sum = [0.0, 0.0, 0.0, 0.0];
        for ($i = 0; $i < 8; $i++) {
            foreach (
                $this->at($x + $reach * cos(($i * M_PI) / 4), $y + $reach * sin(($i * M_PI) / 4)) as $c => $there
            ) {
                $sum[$c] += $there / 8;
            }
        }
        $more = static fn (int $c): float => max(0.0, min($light[3], $light[$c] + $strength * ($light[$c] - $sum[$c])));

        return [$more(0), $more(1), $more(2), $light[3]];
    }

    /** @return array{float, float, float, float} the mean of sixteen samples of a square */
    private function tile(int $left, int $top, float $size): array
    {
        $sum = [0.0, 0.0, 0.0, 0.0];
        for ($i = 0; $i < 16; $i++) {
            foreach (
                $this->at(($left + (($i % 4) + 0.5) / 4) * $size, ($top + (intdiv($i, 4) + 0.5) / 4) * $size) as $c => $there
            ) {
                $sum[$c] += $there / 16;
            }
        }

        return [$sum[0], $sum[1], $sum[2], $sum[3]];
    }

    /** @return array{float, float, float, float} */
    private function edges(EffectPass $pass, float $x, float $y, float $reach): array
    {
        $luma = fn (float $dx, float $dy): float => self::luma($this->at($x + $dx, $y + $dy));
        $edge = min(
            1.0,
            max(0.0, $pass->values['strength']) *
                hypot($luma($reach, 0) - $luma(-$reach, 0), $luma(0, $reach) - $luma(0, -$reach)),
        );
        $a = $this->at($x, $y)[3];
        [$r, $g, $b] = self::between($pass, $edge);

        return [$r * $a, $g * $a, $b * $a, $a];
    }

    /**
     * @return array{float, float, float, float} round dots on a turned lattice, each as large as the picture is light
     *     in its middle
     */
    private function dots(EffectPass $pass, float $x, float $y, float $size): array
    {
        [$cos, $sin] = [cos($pass->angle()), sin($pass->angle())];
        [$dx, $dy] = [$x - $this->width / 2, $y - $this->height / 2];
        [$qx, $qy] = [$cos * $dx + $sin * $dy, $cos * $dy - $sin * $dx];
        [$mx, $my] = [(floor($qx / $size) + 0.5) * $size, (floor($qy / $size) + 0.5) * $size];
        $light = $this->at($this->width / 2 + $cos * $mx - $sin * $my, $this->height / 2 + $sin * $mx + $cos * $my);
        $most = max($light[0], $light[1], $light[2]);
        if ($most <= 0) {
            return [0.0, 0.0, 0.0, 0.0];
        }
        $radius = $size * M_SQRT1_2 * sqrt(self::luma($light));
        $there = max(
            0.0,
            min(1.0, ($radius - hypot($qx - $mx, $qy - $my)) / max(1.0, $pass->values['softness'] * $size) + 0.5),
        );

        return [($light[0] / $most) * $there, ($light[1] / $most) * $there, ($light[2] / $most) * $there, $there];
    }

    /** @return array{float, float, float, float} red from one side, blue from the other */
    private function fringed(float $x, float $y, float $dx, float $dy): array
    {
        [$red, $green, $blue] = [$this->at($x - $dx, $y - $dy), $this->at($x, $y), $this->at($x + $dx, $y + $dy)];

        return [$red[0], $green[1], $blue[2], max($red[3], $green[3], $blue[3])];
    }

    /** How much there is of a place in the unit square of an oval with a soft edge. */
    private function within(EffectPass $pass, float $u, float $v): float
    {
        $extent = $pass->values['extent'];
        if ($extent <= 0) {
            return 0.0;
        }
        $soft = max(1e-3, $pass->values['softness']);
        $t = max(
            0.0,
            min(
                1.0,
                (hypot(($u - $pass->values['x']) / $extent, ($v - $pass->values['y']) / $extent) - 1 + $soft) / $soft,
            ),
        );

        return 1 - $t * $t * (3 - 2 * $t);
    }

    /** @return array{float, float} a place in pixels as it is about the centre of an effect */
    private function about(EffectPass $pass, float $x, float $y): array
    {
        return [$x - $pass->values['x'] * $this->width, $y - $pass->values['y'] * $this->height];
    }

    /** @return array{float, float} */
    private function back(EffectPass $pass, float $x, float $y): array
    {
        return [$x + $pass->values['x'] * $this->width, $y + $pass->values['y'] * $this->height];
    }

    /** @return array{float, float} */
    private function segment(EffectPass $pass, float $x, float $y): array
    {
        [$dx, $dy] = $this->about($pass, $x, $y);
        $each = (2 * M_PI) / max(1, round($pass->values['segments']));
        $angle = atan2($dy, $dx) - $pass->angle();
        $angle -= $each * floor($angle / $each);
        $angle = min($angle, $each - $angle) + $pass->angle();
        $far = hypot($dx, $dy);

        return $this->back($pass, $far * cos($angle), $far * sin($angle));
    }

    /** @return array{float, float} */
    private function swirled(EffectPass $pass, float $x, float $y): array
    {
        [$dx, $dy] = $this->about($pass, $x, $y);
        $t = $this->toCentre($pass, $dx, $dy);
        $angle = -2 * M_PI * $pass->values['strength'] * $t * $t;

        return $this->back($pass, $dx * cos($angle) - $dy * sin($angle), $dx * sin($angle) + $dy * cos($angle));
    }

    /** @return array{float, float} */
    private function bulged(EffectPass $pass, float $x, float $y): array
    {
        [$dx, $dy] = $this->about($pass, $x, $y);
        $t = $this->toCentre($pass, $dx, $dy);
        $by = 1 - $pass->values['strength'] * $t * $t;

        return $this->back($pass, $dx * $by, $dy * $by);
    }

    /** From 0 at the extent of an effect to 1 in its centre. */
    private function toCentre(EffectPass $pass, float $dx, float $dy): float
    {
        $reach = $pass->values['extent'] * $this->width;

        return $reach <= 0 ? 0.0 : max(0.0, 1 - hypot($dx, $dy) / $reach);
    }

    /** @return array{float, float} */
    private function waved(EffectPass $pass, float $x, float $y): array
    {
        [$cos, $sin] = [cos($pass->angle()), sin($pass->angle())];
        $off =
            $pass->values['amplitude'] *
            $this->width *
            sin(2 * M_PI * (($cos * $x + $sin * $y) / max(1.0, $pass->values['size'] * $this->width) - $pass->phase()));

        return [$x - $sin * $off, $y + $cos * $off];
    }

    /** @return array{float, float} */
    private function mirrored(EffectPass $pass, float $x, float $y): array
    {
        [$dx, $dy] = $this->about($pass, $x, $y);
        [$cos, $sin] = [cos($pass->angle()), sin($pass->angle())];
        $past = min(0.0, $cos * $dx + $sin * $dy);

        return $this->back($pass, $dx - 2 * $past * $cos, $dy - 2 * $past * $sin);
    }

    private static function wrapped(float $at, int $size): float
    {
        return $at - $size * floor($at / $size);
    }

    /** @param  array{0: float, 1: float, 2: float, 3?: float}  $light */
    private static function luma(array $light): float
    {
        return self::LUMA[0] * $light[0] + self::LUMA[1] * $light[1] + self::LUMA[2] * $light[2];
    }

    /**
     * @param  array{float, float, float, float}  $light
     * @return array{float, float, float, float}
     */
    private static function scaled(array $light, float $by): array
    {
        return [$light[0] * $by, $light[1] * $by, $light[2] * $by, $light[3] * $by];
    }

    /**
     * @param  array{float, float, float, float}  $a
     * @param  array{float, float, float, float}  $b
     * @return array{float, float, float, float}
     */
    private static function mixed(array $a, array $b, float $share): array
    {
        return [
            $a[0] + ($b[0] - $a[0]) * $share,
            $a[1] + ($b[1] - $a[1]) * $share,
            $a[2] + ($b[2] - $a[2]) * $share,
            $a[3] + ($b[3] - $a[3]) * $share,
        ];
    }
}
