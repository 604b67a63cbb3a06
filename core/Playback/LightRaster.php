<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Effects\EffectPass;
use Core\Effects\EffectPicture;
use Core\Media\Picture;
use Core\Timeline\BlendMode;

/**
 * What a small surface shows, all of its pixels at once: the same picture as ReferenceRaster, made fast for lights.
 * Where a picture lies by a matrix, which of its pixels are read for each pixel of the raster, and how strongly, is
 * found once and kept as long as matrix, crop and size are the same; each frame only walks these lists. The same is
 * done for what a layer is cut out by. What is thrown, or drawn by formula, is asked of the reference, pixel by
 * pixel.
 */
final class LightRaster
{
    /** Lists that are kept; the oldest go first. */
    private const KEPT = 512;

    /** Places that were asked for once: only those that are asked for again get a list. */
    private const ASKED = 4096;

    /** Rasters that are kept. */
    private const SHOWN = 512;

    /**
     * @var array<string, array{list<int>, list<int>, list<float>}> by what they were made of: where each pixel's samples begin, which pixel of the picture each is, and its weight
     */
    private array $lists = [];

    /** @var array<string, true> */
    private array $asked = [];

    private readonly EffectPictures $effects;

    /**
     * @var \WeakMap<EffectPicture, array{array<int, float>, array<int, float>, array<int, float>, array<int, float>, bool}> what was read of pictures with effects, and whether all of it is opaque
     */
    private \WeakMap $pixels;

    /**
     * @var array<string, array{Picture, list<int>, list<int>, list<int>, list<int>}> premultiplied red, green, blue (0 to 65,025) and alpha of the picture last seen of a media; no alpha where it is opaque
     */
    private array $pictures = [];

    /**
     * @var array<string, array{list<float>, list<float>, list<float>}> what was shown lately, by what it was made of: also by another surface
     */
    private array $last = [];

    /**
     * @param  \Closure(string, int): ?Picture  $source  a media by its key in the plan, and a frame; null shows nothing
     * @param  (\Closure(string): int)|null  $version  of a media that shows something else though its frame is the
     *     same; null where none does
     */
    public function __construct(private readonly \Closure $source, private readonly ?\Closure $version = null)
    {
        $this->effects = new EffectPictures();
        $this->pixels = new \WeakMap();
    }

    /**
     * Signals of a surface's raster, 0 to 1, row by row from the top, the master allowed for.
     *
     * @return array{list<float>, list<float>, list<float>}
     */
    public function of(Moment $moment, string $surface): array
    {
        $raster = $moment->plan->parts["surface:$surface"] ?? null;
        if ($raster === null) {
            return [[], [], []];
        }
        [$width, $height] = [$raster['width'], $raster['height']];
        $count = $width * $height;
        $dark = array_fill(0, $count, 0.0);
        [$r, $g, $b] = [$dark, $dark, $dark];
        $master = $moment->master();
        $steps = $master <= 0 ? [] : DrawStep::of($moment, $surface);
        foreach ($steps as $step) {
            if (
                $step->thrown !== [] ||
                $step->pattern !== null ||
                $step->shared ||
                $step->mask?->pattern !== null ||
                $step->media === DrawStep::BAR ||
                str_starts_with($step->media, DrawStep::CARD)
            ) {
                return $this->slowly($moment, $surface, $width, $height);
            }
        }
        // The same steps show the same: a film has fewer frames than lights are sent.
        $made = '';
        foreach ($steps as $step) {
            $version =
                $this->version === null
                    ? 0
                    : ($this->version)($step->media) +
                        ($step->mask === null ? 0 : ($this->version)($step->mask->media) << 32);
            $made .=
                "$step->media $step->frame $version ".
                pack(
                    'e*',
                    $step->opacity,
                    ...$step->gain,
                    ...$step->invert,
                    ...$step->crop,
                    ...$step->clip ?? [],
                    ...$step->matrix->m,
                ).
                $step->blend->value.
                " $step->tile".
                ($step->opaque ? ' opaque' : '').
                ($step->mask?->key() ?? '').
                implode('', array_map(static fn (EffectPass $pass): string => ' '.$pass->key(), $step->effects));
        }
        $made .= " $master $width $height";
        if (isset($this->last[$made])) {
            return $this->last[$made];
        }
        foreach ($steps as $step) {
            $picture = ($this->source)($step->media, $step->frame);
            $inverse = $picture === null ? null : $step->matrix->inverse()?->m;
            if ($picture !== null && $inverse !== null) {
                $this->lay(
                    $step,
                    $step->effects === [] ? $picture : $this->effects->of($step, $picture),
                    $inverse,
                    $width,
                    $height,
                    $r,
                    $g,
                    $b,
                );
            }
        }
        // Only what is added can come to more than full light.
        $bounded =
            array_filter(
                $steps,
                static fn (DrawStep $step): bool => $step->blend === BlendMode::Add ||
                    $step->blend === BlendMode::Screen,
            ) === [];
        if ($master < 1 || ! $bounded) {
            for ($i = 0; $i < $count; $i++) {
                $r[$i] = min(1.0, $r[$i] * $master);
                $g[$i] = min(1.0, $g[$i] * $master);
                $b[$i] = min(1.0, $b[$i] * $master);
            }
        }

        $shown = [array_values($r), array_values($g), array_values($b)];
        count($this->last) >= self::SHOWN && ($this->last = []);
        $this->last[$made] = $shown;

        return $shown;
    }

    /**
     * @param  array<int, float>  $inverse  the raster's pixels onto the picture's unit square
     * @param  array<int, float>  $r
     * @param  array<int, float>  $g
     * @param  array<int, float>  $b
     */
    private function lay(
        DrawStep $step,
        Picture|EffectPicture $picture,
        array $inverse,
        int $width,
        int $height,
        array &$r,
        array &$g,
        array &$b,
    ): void {
        $key =
            pack('e*', ...$inverse, ...$step->crop, ...$step->clip ?? []).
            "$picture->width $picture->height $width $step->tile";
        [$gr, $gg, $gb] = $step->gain;
        [$opacity, $normal, [$ir, $ig, $ib]] = [$step->opacity, $step->blend === BlendMode::Normal, $step->invert];
        // What needs no more than its colours, where they are opaque.
        $even =
            $step->mask === null &&
            $step->tile === 0 &&
            $normal &&
            $ir + $ig + $ib == 0 &&
            $gr <= 1 &&
            $gg <= 1 &&
            $gb <= 1;
        $grid = $even ? self::grid($step, $picture, $inverse, $width, $height) : null;
        $kept =
            $picture instanceof EffectPicture
                ? [
                    $picture,
                    ...$this->made(
                        $picture,
                        $grid === null
                            ? $this->list($key, $step, $picture, $inverse, $width, $height)[1]
                            : self::indices($grid, $picture->width),
                    ),
                ]
                : $this->unpackedOnce($step->media, $picture);
        [, $red, $green, $blue, $alpha] = $kept;
        // What is clear is black in an opaque one: its colours are premultiplied.
        $alpha = $step->opaque ? [] : $alpha;
        $there = $step->mask === null ? null : $this->cut($step->mask, $inverse, $width, $height);
        $plain = $even && $alpha === [];
        if ($plain && $grid !== null) {
            self::straight($step, $grid, $picture->width, $width, $kept, $r, $g, $b);

            return;
        }
        if (
            $plain &&
            $picture instanceof Picture &&
            ! isset($this->lists[$key]) &&
            ! isset($this->asked[$key]) &&
            $this->directly($step, $picture, $inverse, $width, $height, $kept, $r, $g, $b)
        ) {
            // What moves lies elsewhere at each frame: lists of it would be for nothing.
            count($this->asked) >= self::ASKED && ($this->asked = []);
            $this->asked[$key] = true;

            return;
        }
        [$starts, $indices, $weights] = $this->list($key, $step, $picture, $inverse, $width, $height);
        $from = $starts[0];
        if ($plain) {
            // Opaque, laid on what is below: the common case, without what it does not need.
            [$left, $gr, $gg, $gb] = [
                1 - $opacity,
                ($gr * $opacity) / 65_025,
                ($gg * $opacity) / 65_025,
                ($gb * $opacity) / 65_025,
            ];
            for ($i = 0, $n = $width * $height; $i < $n; $i++) {
                $to = $starts[$i + 1];
                if ($from === $to) {
                    continue;
                }
                $sr = $sg = $sb = 0.0;
                for (; $from < $to; $from++) {
                    $at = $indices[$from];
                    $w = $weights[$from];
                    $sr += $w * $red[$at];
                    $sg += $w * $green[$at];
                    $sb += $w * $blue[$at];
                }
                $r[$i] = $sr * $gr + $r[$i] * $left;
                $g[$i] = $sg * $gg + $g[$i] * $left;
                $b[$i] = $sb * $gb + $b[$i] * $left;
            }

            return;
        }
        $opaque = $alpha === [];
        for ($i = 0, $n = $width * $height; $i < $n; $i++) {
            $to = $starts[$i + 1];
            if ($from === $to) {
                continue;
            }
            $sr = $sg = $sb = $sa = 0.0;
            for ($k = $from; $k < $to; $k++) {
                $at = $indices[$k];
                $w = $weights[$k];
                $sr += $w * $red[$at];
                $sg += $w * $green[$at];
                $sb += $w * $blue[$at];
                $sa += $opaque ? 255 * $w : $w * $alpha[$at];
            }
            $from = $to;
            $sa /= 255;
            [$sr, $sg, $sb] = [$sr / 65_025, $sg / 65_025, $sb / 65_025];
            if ($there !== null) {
                $left = $there[$i];
                [$sr, $sg, $sb, $sa] = [$sr * $left, $sg * $left, $sb * $left, $sa * $left];
            }
            $sr = min($sa, ($sr + ($sa - 2 * $sr) * $ir) * $gr) * $opacity;
            $sg = min($sa, ($sg + ($sa - 2 * $sg) * $ig) * $gg) * $opacity;
            $sb = min($sa, ($sb + ($sa - 2 * $sb) * $ib) * $gb) * $opacity;
            $sa *= $opacity;
            if ($normal) {
                $left = 1 - $sa;
                $r[$i] = $sr + $r[$i] * $left;
                $g[$i] = $sg + $g[$i] * $left;
                $b[$i] = $sb + $b[$i] * $left;
            } elseif ($sa > 0 || $sr + $sg + $sb > 0) {
                $r[$i] = $step->blend->over($sr, $sa, $r[$i]);
                $g[$i] = $step->blend->over($sg, $sa, $g[$i]);
                $b[$i] = $step->blend->over($sb, $sa, $b[$i]);
            }
        }
    }

    /**
     * Where a picture that is neither turned nor shown smaller than it is lies, by its rows and columns, each as
     * along() has them; null where it is turned or smaller.
     *
     * @param  array<int, float>  $m
     * @return array{list<array{int, int, int, float}>, list<array{int, int, int, float}>}|null
     */
    private static function grid(
        DrawStep $step,
        Picture|EffectPicture $picture,
        array $m,
        int $width,
        int $height,
    ): ?array {
        [$w, $h] = [$picture->width, $picture->height];
        if (
            $m[1] != 0 ||
            $m[3] != 0 ||
            $m[6] != 0 ||
            $m[7] != 0 ||
            $m[8] == 0 ||
            $w * abs($m[0]) >= 1.01 ||
            $h * abs($m[4]) >= 1.01
        ) {
            return null;
        }
        [$fromX, $fromY, $toX, $toY] = $step->clip ?? [0.0, 0.0, (float) $width, (float) $height];

        return [
            self::along($height, $m[4] / $m[8], $m[5] / $m[8], $h, $step->crop[1], $step->crop[3], $fromY, $toY),
            self::along($width, $m[0] / $m[8], $m[2] / $m[8], $w, $step->crop[0], $step->crop[2], $fromX, $toX),
        ];
    }

    /**
     * The pixels of a picture that are read where it lies so.
     *
     * @param  array{list<array{int, int, int, float}>, list<array{int, int, int, float}>}  $grid
     * @return list<int>
     */
    private static function indices(array $grid, int $w): array
    {
        $columns = array_keys(array_flip(array_merge(array_column($grid[1], 1), array_column($grid[1], 2))));
        $found = [];
        foreach (array_keys(array_flip(array_merge(array_column($grid[0], 1), array_column($grid[0], 2)))) as $row) {
            foreach ($columns as $column) {
                $found[] = $row * $w + $column;
            }
        }

        return $found;
    }

    /**
     * Lays an opaque picture by its rows and columns.
     *
     * @param  array{list<array{int, int, int, float}>, list<array{int, int, int, float}>}  $grid
     * @param  array{Picture|EffectPicture, array<int, float|int>, array<int, float|int>, array<int, float|int>, array<int, float|int>}  $kept
     * @param  array<int, float>  $r
     * @param  array<int, float>  $g
     * @param  array<int, float>  $b
     */
    private static function straight(
        DrawStep $step,
        array $grid,
        int $w,
        int $width,
        array $kept,
        array &$r,
        array &$g,
        array &$b,
    ): void {
        [, $red, $green, $blue] = $kept;
        [$opacity, [$gr, $gg, $gb]] = [$step->opacity, $step->gain];
        [$left, $gr, $gg, $gb] = [
            1 - $opacity,
            ($gr * $opacity) / 65_025,
            ($gg * $opacity) / 65_025,
            ($gb * $opacity) / 65_025,
        ];
        [$rows, $columns] = $grid;
        foreach ($rows as [$y, $above, $below, $down]) {
            [$above, $below, $row, $up] = [$above * $w, $below * $w, $y * $width, 1 - $down];
            foreach ($columns as [$x, $x0, $x1, $across]) {
                $d = $across * $down;
                $c = $across - $d;
                $e = $down - $d;
                $a = $up - $c;
                $p = $above + $x0;
                $q = $above + $x1;
                $s = $below + $x0;
                $t = $below + $x1;
                $i = $row + $x;
                $r[$i] = ($a * $red[$p] + $c * $red[$q] + $e * $red[$s] + $d * $red[$t]) * $gr + $r[$i] * $left;
                $g[$i] = ($a * $green[$p] + $c * $green[$q] + $e * $green[$s] + $d * $green[$t]) * $gg + $g[$i] * $left;
                $b[$i] = ($a * $blue[$p] + $c * $blue[$q] + $e * $blue[$s] + $d * $blue[$t]) * $gb + $b[$i] * $left;
            }
        }
    }

    /**
     * Of the pixels along a side of the raster, those that show something: which two of the picture's each lies
     * between, and how far.
     *
     * @return list<array{int, int, int, float}>
     */
    private static function along(
        int $length,
        float $scale,
        float $move,
        int $size,
        float $cropFrom,
        float $cropTo,
        float $from,
        float $to,
    ): array {
        $found = [];
        for ($i = 0; $i < $length; $i++) {
            $at = $i + 0.5;
            $u = $scale * $at + $move;
            if ($u < $cropFrom || $u >= $cropTo || $at < $from || $at >= $to) {
                continue;
            }
            $p = $u * $size - 0.5;
            $first = (int) floor($p);
            $found[] = [$i, max(0, min($size - 1, $first)), max(0, min($size - 1, $first + 1)), $p - $first];
        }

        return $found;
    }

    /**
     * Lays an opaque picture that is not shown smaller than it is without a list, where its matrix keeps parallels:
     * false where it does not, or the picture is shown smaller.
     *
     * @param  array<int, float>  $m
     * @param  array{Picture|EffectPicture, array<int, float|int>, array<int, float|int>, array<int, float|int>, array<int, float|int>}  $kept
     * @param  array<int, float>  $r
     * @param  array<int, float>  $g
     * @param  array<int, float>  $b
     */
    private function directly(
        DrawStep $step,
        Picture $picture,
        array $m,
        int $width,
        int $height,
        array $kept,
        array &$r,
        array &$g,
        array &$b,
    ): bool {
        [$w, $h] = [$picture->width, $picture->height];
        if (
            $m[6] !== 0.0 ||
            $m[7] !== 0.0 ||
            $m[8] === 0.0 ||
            $w * hypot($m[0], $m[1]) >= 1.01 ||
            $h * hypot($m[3], $m[4]) >= 1.01
        ) {
            return false;
        }
        [, $red, $green, $blue] = $kept;
        [$opacity, [$gr, $gg, $gb]] = [$step->opacity, $step->gain];
        [$left, $gr, $gg, $gb] = [
            1 - $opacity,
            ($gr * $opacity) / 65_025,
            ($gg * $opacity) / 65_025,
            ($gb * $opacity) / 65_025,
        ];
        [$cropLeft, $cropTop, $cropRight, $cropBottom] = $step->crop;
        [$fromX, $fromY, $toX, $toY] = $step->clip ?? [0.0, 0.0, (float) $width, (float) $height];
        [$lastX, $lastY] = [$w - 1, $h - 1];
        for ($y = 0; $y < $height; $y++) {
            if ($y + 0.5 < $fromY || $y + 0.5 >= $toY) {
                continue;
            }
            $rowU = $m[1] * ($y + 0.5) + $m[2];
            $rowV = $m[4] * ($y + 0.5) + $m[5];
            for ($x = 0; $x < $width; $x++) {
                $at = $x + 0.5;
                $u = ($m[0] * $at + $rowU) / $m[8];
                $v = ($m[3] * $at + $rowV) / $m[8];
                if (
                    $u < $cropLeft ||
                    $u >= $cropRight ||
                    $v < $cropTop ||
                    $v >= $cropBottom ||
                    $at < $fromX ||
                    $at >= $toX
                ) {
                    continue;
                }
                $px = $u * $w - 0.5;
                $py = $v * $h - 0.5;
                $x0 = $px < 0 ? -1 : (int) $px;
                $y0 = $py < 0 ? -1 : (int) $py;
                $fx = $px - $x0;
                $fy = $py - $y0;
                $x1 = $x0 < $lastX ? $x0 + 1 : $lastX;
                $x0 = $x0 < 0 ? 0 : $x0;
                $below = ($y0 < $lastY ? $y0 + 1 : $lastY) * $w;
                $above = ($y0 < 0 ? 0 : $y0) * $w;
                $a = (1 - $fx) * (1 - $fy);
                $c = $fx * (1 - $fy);
                $d = (1 - $fx) * $fy;
                $e = $fx * $fy;
                $i = $y * $width + $x;
                $r[$i] =
                    ($a * $red[$above + $x0] +
                        $c * $red[$above + $x1] +
                        $d * $red[$below + $x0] +
                        $e * $red[$below + $x1]) *
                        $gr +
                    $r[$i] * $left;
                $g[$i] =
                    ($a * $green[$above + $x0] +
                        $c * $green[$above + $x1] +
                        $d * $green[$below + $x0] +
                        $e * $green[$below + $x1]) *
                        $gg +
                    $g[$i] * $left;
                $b[$i] =
                    ($a * $blue[$above + $x0] +
                        $c * $blue[$above + $x1] +
                        $d * $blue[$below + $x0] +
                        $e * $blue[$below + $x1]) *
                        $gb +
                    $b[$i] * $left;
            }
        }

        return true;
    }

    /**
     * Which pixels of a picture are read for each of the raster: as ReferenceRaster averages and interpolates them.
     *
     * @param  array<int, float>  $m
     * @return array{list<int>, list<int>, list<float>}
     */
    private function list(
        string $key,
        DrawStep $step,
        Picture|EffectPicture $picture,
        array $m,
        int $width,
        int $height,
    ): array {
        if (isset($this->lists[$key])) {
            return $this->lists[$key];
        }
        [$w, $h] = [$picture->width, $picture->height];
        // Along one pixel of the raster, in pixels of the picture.
        [$across, $down] = [$w * hypot($m[0], $m[1]), $h * hypot($m[3], $m[4])];
        [$nx, $ny] = [ReferenceRaster::samples($across), ReferenceRaster::samples($down)];
        if ($nx === 1 && $ny === 1) {
            [$across, $down] = [0.0, 0.0];
        }
        [$starts, $indices, $weights] = [[0], [], []];
        for ($y = 0; $y < $height; $y++) {
            for ($x = 0; $x < $width; $x++) {
                foreach (
                    self::samples($step, $m, $x + 0.5, $y + 0.5, $w, $h, $nx, $ny, $across, $down) as $index => $weight
                ) {
                    $indices[] = $index;
                    $weights[] = $weight;
                }
                $starts[] = count($indices);
            }
        }
        count($this->lists) >= self::KEPT && array_shift($this->lists);

        return $this->lists[$key] = [$starts, $indices, $weights];
    }

    /**
     * @param  array<int, float>  $m
     * @return array<int, float> weights by pixel of the picture
     */
    private static function samples(
        DrawStep $step,
        array $m,
        float $x,
        float $y,
        int $w,
        int $h,
        int $nx,
        int $ny,
        float $across,
        float $down,
    ): array {
        if (
            $step->clip !== null &&
            ($x < $step->clip[0] || $y < $step->clip[1] || $x >= $step->clip[2] || $y >= $step->clip[3])
        ) {
            return [];
        }
        $z = $m[6] * $x + $m[7] * $y + $m[8];
        [$u, $v] = [($m[0] * $x + $m[1] * $y + $m[2]) / $z, ($m[3] * $x + $m[4] * $y + $m[5]) / $z];
        if (
            (($step->tile & 1) === 0 && ($u < $step->crop[0] || $u >= $step->crop[2])) ||
            (($step->tile & 2) === 0 && ($v < $step->crop[1] || $v >= $step->crop[3]))
        ) {
            return [];
        }
        $found = [];
        $part = 1 / ($nx * $ny);
        for ($j = 0; $j < $ny; $j++) {
            for ($i = 0; $i < $nx; $i++) {
                [$su, $sv] = $step->tiled(
                    $u + ((($i + 0.5) / $nx - 0.5) * $across) / $w,
                    $v + ((($j + 0.5) / $ny - 0.5) * $down) / $h,
                );
                self::between($found, $su * $w - 0.5, $sv * $h - 0.5, $w, $h, $part);
            }
        }

        return $found;
    }

    /**
     * Adds the four pixels that a place lies between, as far as it lies towards each.
     *
     * @param  array<int, float>  $found  weights by pixel
     */
    private static function between(array &$found, float $px, float $py, int $w, int $h, float $part): void
    {
        [$x0, $y0] = [(int) floor($px), (int) floor($py)];
        [$fx, $fy] = [$px - $x0, $py - $y0];
        foreach (
            [[0, 0, (1 - $fx) * (1 - $fy)], [1, 0, $fx * (1 - $fy)], [0, 1, (1 - $fx) * $fy], [1, 1, $fx * $fy]] as [$dx, $dy, $weight]
        ) {
            if ($weight > 0) {
                $index = max(0, min($h - 1, $y0 + $dy)) * $w + max(0, min($w - 1, $x0 + $dx));
                $found[$index] = ($found[$index] ?? 0.0) + $weight * $part;
            }
        }
    }

    /**
     * How much of a layer's picture its mask leaves of each pixel of the raster.
     *
     * @param  array<int, float>  $m  the raster's pixels onto the picture's unit square
     * @return array<int, float> 0 to 1
     */
    private function cut(LayerMask $mask, array $m, int $width, int $height): array
    {
        $picture = ($this->source)($mask->media, $mask->frame);
        if ($picture === null || $mask->scale <= 0) {
            return array_fill(0, $width * $height, $mask->inverted ? 1.0 : 0.0);
        }
        $key =
            'mask '.
            pack('e*', ...$m, ...[$mask->x, $mask->y, $mask->scale, $mask->feather]).
            "$picture->width $picture->height $width";
        if (! isset($this->lists[$key])) {
            count($this->lists) >= self::KEPT && array_shift($this->lists);
            $this->lists[$key] = self::reads($mask, $picture, $m, $width, $height);
        }
        [$starts, $indices, $weights] = $this->lists[$key];
        $shares = $this->lists[$key][3] ?? [];
        [, $red, $green, $blue, $alpha] = $this->unpackedOnce($mask->media, $picture);
        [$opaque, $there, $from] = [$alpha === [], [], 0];
        for ($i = 0, $n = $width * $height; $i < $n; $i++) {
            $to = $starts[$i + 1];
            $seen = 0.0;
            if ($from < $to) {
                $r = $g = $b = $a = 0.0;
                for (; $from < $to; $from++) {
                    [$at, $w] = [$indices[$from], $weights[$from]];
                    $r += $w * $red[$at];
                    $g += $w * $green[$at];
                    $b += $w * $blue[$at];
                    $a += $opaque ? 255 * $w : $w * $alpha[$at];
                }
                $seen = $shares[$i] * $mask->of([$r / 65_025, $g / 65_025, $b / 65_025, $a / 255]);
            }
            $there[] = $mask->inverted ? 1 - $seen : $seen;
        }

        return $there;
    }

    /**
     * Which pixels of a mask are read for each of the raster, as LayerMask averages and interpolates them, and how
     * much of them counts: none beyond its edge.
     *
     * @param  array<int, float>  $m
     * @return array{list<int>, list<int>, list<float>, list<float>}
     */
    private static function reads(LayerMask $mask, Picture $picture, array $m, int $width, int $height): array
    {
        [$w, $h] = [$picture->width, $picture->height];
        [$starts, $indices, $weights, $shares] = [[0], [], [], []];
        [$across, $down] = $mask->covers(hypot($m[0], $m[1]), hypot($m[3], $m[4]), $w, $h);
        [$nx, $ny] = [ReferenceRaster::samples($across), ReferenceRaster::samples($down)];
        if ($nx === 1 && $ny === 1) {
            [$across, $down] = [0.0, 0.0];
        }
        for ($i = 0, $n = $width * $height; $i < $n; $i++) {
            [$x, $y] = [($i % $width) + 0.5, intdiv($i, $width) + 0.5];
            $z = $m[6] * $x + $m[7] * $y + $m[8];
            [$u, $v] = $mask->place(($m[0] * $x + $m[1] * $y + $m[2]) / $z, ($m[3] * $x + $m[4] * $y + $m[5]) / $z);
            $found = [];
            $shares[] = $share = $mask->within($u, $v, $w / $h);
            for ($k = 0; $share > 0 && $k < $nx * $ny; $k++) {
                self::between(
                    $found,
                    ($u + (((($k % $nx) + 0.5) / $nx - 0.5) * $across) / $w) * $w - 0.5,
                    ($v + (((intdiv($k, $nx) + 0.5) / $ny - 0.5) * $down) / $h) * $h - 0.5,
                    $w,
                    $h,
                    1 / ($nx * $ny),
                );
            }
            array_push($indices, ...array_keys($found));
            array_push($weights, ...array_values($found));
            $starts[] = count($indices);
        }

        return [$starts, $indices, $weights, $shares];
    }

    /**
     * The pixels that are read of a picture with effects: no others are made.
     *
     * @param  list<int>  $indices
     * @return array{array<int, float>, array<int, float>, array<int, float>, array<int, float>} as those of a picture
     *     that is unpacked
     */
    private function made(EffectPicture $picture, array $indices): array
    {
        [$r, $g, $b, $a, $opaque] = $this->pixels[$picture] ?? [[], [], [], [], true];
        unset($this->pixels[$picture]);
        foreach ($indices as $i) {
            if (! isset($a[$i])) {
                $light = $picture->pixel($i % $picture->width, intdiv($i, $picture->width));
                [$r[$i], $g[$i], $b[$i], $a[$i]] = [
                    65_025 * $light[0],
                    65_025 * $light[1],
                    65_025 * $light[2],
                    255 * $light[3],
                ];
                $opaque = $opaque && $light[3] > 1 - 1e-9;
            }
        }
        $this->pixels[$picture] = [$r, $g, $b, $a, $opaque];

        return [$r, $g, $b, $opaque ? [] : $a];
    }

    /**
     * @return array{Picture, list<int>, list<int>, list<int>, list<int>} the same as long as the media shows the same
     */
    private function unpackedOnce(string $media, Picture $picture): array
    {
        $kept = $this->pictures[$media] ?? null;
        if ($kept === null || $kept[0] !== $picture) {
            count($this->pictures) >= self::KEPT && array_shift($this->pictures);
            $kept = $this->pictures[$media] = self::unpacked($picture);
        }

        return $kept;
    }

    /** @return array{Picture, list<int>, list<int>, list<int>, list<int>} */
    private static function unpacked(Picture $picture): array
    {
        $bytes = (array) unpack('C*', $picture->bytes);
        [$r, $g, $b, $a] = [[], [], [], []];
        [$opaque, $n] = [true, count($bytes)];
        for ($i = 1; $i <= $n; $i += 4) {
            $a[] = $alpha = $bytes[$i + 3];
            $opaque = $opaque && $alpha === 255;
            $r[] = $bytes[$i] * $alpha;
            $g[] = $bytes[$i + 1] * $alpha;
            $b[] = $bytes[$i + 2] * $alpha;
        }

        return [$picture, $r, $g, $b, $opaque ? [] : $a];
    }

    /** @return array{list<float>, list<float>, list<float>} */
    private function slowly(Moment $moment, string $surface, int $width, int $height): array
    {
        $reference = new ReferenceRaster($moment, $this->source, $this->effects);
        [$r, $g, $b] = [[], [], []];
        for ($y = 0; $y < $height; $y++) {
            for ($x = 0; $x < $width; $x++) {
                [$r[], $g[], $b[]] = $reference->surfaceLight($surface, $x, $y);
            }
        }

        return [$r, $g, $b];
    }
}
