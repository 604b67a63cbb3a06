<?php

declare(strict_types=1);

namespace Core\Output;

/**
 * How evenly squares of content come out. Of each cell of a surface's raster, in its middle: the stretch is the ratio of
 * the singular values of the map from pixels to where they land, the size the root of their product against the median
 * of all. It is that of a pixel, not of the cell, so that a ledge within a cell counts for nothing. The score is the share of the landed area whose stretch is below 1.2 and whose size is within 0.8 and 1.25.
 */
final readonly class Evenness
{
    public const STRETCH = 1.2;

    public const SIZES = [0.8, 1.25];

    /** Share of a cell over which a pixel is looked at. */
    private const STEP = 1e-3;

    /**
     * @param  list<array{float, float}|null>  $cells  stretch and size, row by row; null where it does not land
     * @param  float  $score  0 to 1
     * @param  int|null  $worst  number of the cell that is stretched most
     * @param  float  $pixel  the median size of a pixel where it lands
     */
    private function __construct(
        public int $columns,
        public int $rows,
        public array $cells,
        public float $score,
        public ?int $worst,
        public float $pixel,
    ) {
    }

    /**
     * @param  \Closure(float, float): ?array{float, float, float}  $lands  where a pixel of the surface's raster lands
     */
    public static function of(Rect $source, int $columns, int $rows, \Closure $lands): self
    {
        [$w, $h] = [$source->width / $columns, $source->height / $rows];
        [$found, $sizes] = [[], []];
        for ($j = 0; $j < $rows; $j++) {
            for ($i = 0; $i < $columns; $i++) {
                $found[] = self::cell($lands, $source->x + ($i + 0.5) * $w, $source->y + ($j + 0.5) * $h, $w, $h);
            }
        }
        foreach ($found as $cell) {
            if ($cell !== null) {
                $sizes[] = $cell[1];
            }
        }
        sort($sizes);
        $n = count($sizes);
        $median = $n === 0 ? 0.0 : ($sizes[intdiv($n - 1, 2)] + $sizes[intdiv($n, 2)]) / 2;
        [$cells, $good, $all, $worst] = [[], 0.0, 0.0, null];
        foreach ($found as $k => $cell) {
            if ($cell === null || $median <= 0) {
                $cells[] = null;

                continue;
            }
            $size = $cell[1] / $median;
            $cells[] = [$cell[0], $size];
            $all += $cell[1] ** 2;
            if ($cell[0] < self::STRETCH && $size >= self::SIZES[0] && $size <= self::SIZES[1]) {
                $good += $cell[1] ** 2;
            }
            if ($worst === null || $cell[0] > ($cells[$worst][0] ?? 0)) {
                $worst = $k;
            }
        }

        return new self($columns, $rows, $cells, $all > 0 ? $good / $all : 0.0, $worst, $median);
    }

    /**
     * @param  \Closure(float, float): ?array{float, float, float}  $lands
     * @return array{float, float}|null stretch, and the root of the product of the singular values; null where it does
     *     not land
     */
    private static function cell(\Closure $lands, float $x, float $y, float $w, float $h): ?array
    {
        $here = $lands($x, $y);
        if ($here === null) {
            return null;
        }
        $e = self::STEP;
        $across = self::slope($here, $lands($x - $e * $w, $y), $lands($x + $e * $w, $y), $e * $w);
        $down = self::slope($here, $lands($x, $y - $e * $h), $lands($x, $y + $e * $h), $e * $h);
        if ($across === null || $down === null) {
            return null;
        }
        [$ss, $tt, $st] = [0.0, 0.0, 0.0];
        foreach ($across as $k => $s) {
            [$ss, $tt, $st] = [$ss + $s * $s, $tt + $down[$k] ** 2, $st + $s * $down[$k]];
        }
        // Squares of the singular values are the eigenvalues of the Gram matrix.
        $root = sqrt((($ss - $tt) / 2) ** 2 + $st * $st);
        [$large, $small] = [($ss + $tt) / 2 + $root, ($ss + $tt) / 2 - $root];

        // Flattened to a line it has no area.
        return $small <= 1e-9 * $large ? [1e6, 0.0] : [sqrt($large / $small), sqrt(sqrt($large * $small))];
    }

    /**
     * How far a pixel goes: on both sides alike, or, where one of them jumps or is missing, as on the other.
     *
     * @param  array{float, float, float}  $here
     * @param  array{float, float, float}|null  $before
     * @param  array{float, float, float}|null  $after
     * @return list<float>|null
     */
    private static function slope(array $here, ?array $before, ?array $after, float $by): ?array
    {
        $step = static fn (array $a, array $b): array => [
            ($b[0] - $a[0]) / $by,
            ($b[1] - $a[1]) / $by,
            ($b[2] - $a[2]) / $by,
        ];
        $one = $before === null ? null : $step($before, $here);
        $other = $after === null ? null : $step($here, $after);
        if ($one === null || $other === null) {
            return $one ?? $other;
        }
        $length = static fn (array $d): float => sqrt($d[0] ** 2 + $d[1] ** 2 + $d[2] ** 2);
        [$a, $b] = [$length($one), $length($other)];
        if ($a > 2 * $b || $b > 2 * $a) {
            return $a < $b ? $one : $other;
        }

        return [($one[0] + $other[0]) / 2, ($one[1] + $other[1]) / 2, ($one[2] + $other[2]) / 2];
    }
}
