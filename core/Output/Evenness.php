<?php

declare(strict_types=1);

namespace Core\Output;

/**
 * How evenly squares of content come out. Of each cell of a surface's raster: the stretch is the ratio of the
 * singular values of the map from pixels to where they land, the size the root of their product against the median of
 * all. The score is the share of the landed area whose stretch is below 1.2 and whose size is within 0.8 and 1.25.
 */
final readonly class Evenness
{
    public const STRETCH = 1.2;

    public const SIZES = [0.8, 1.25];

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
        $points = [];
        for ($j = 0; $j <= $rows; $j++) {
            for ($i = 0; $i <= $columns; $i++) {
                // A hair within, where the surface's edge is.
                $points[] = $lands(
                    $source->x + max(1e-6, min($columns * $w - 1e-6, $i * $w)),
                    $source->y + max(1e-6, min($rows * $h - 1e-6, $j * $h)),
                );
            }
        }
        [$found, $sizes, $areas] = [[], [], []];
        for ($j = 0; $j < $rows; $j++) {
            for ($i = 0; $i < $columns; $i++) {
                $at = $j * ($columns + 1) + $i;
                [$a, $b, $c, $d] = [
                    $points[$at],
                    $points[$at + 1],
                    $points[$at + $columns + 1],
                    $points[$at + $columns + 2],
                ];
                $found[] =
                    $a === null || $b === null || $c === null || $d === null
                        ? null
                        : self::cell($a, $b, $c, $d, $w, $h);
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
     * @param  array{float, float, float}  $a
     * @param  array{float, float, float}  $b
     * @param  array{float, float, float}  $c
     * @param  array{float, float, float}  $d
     * @return array{float, float} stretch, and the root of the product of the singular values
     */
    private static function cell(array $a, array $b, array $c, array $d, float $w, float $h): array
    {
        [$ss, $tt, $st] = [0.0, 0.0, 0.0];
        for ($k = 0; $k < 3; $k++) {
            $s = ($b[$k] - $a[$k] + $d[$k] - $c[$k]) / 2 / $w;
            $t = ($c[$k] - $a[$k] + $d[$k] - $b[$k]) / 2 / $h;
            [$ss, $tt, $st] = [$ss + $s * $s, $tt + $t * $t, $st + $s * $t];
        }
        // Squares of the singular values are the eigenvalues of the Gram matrix.
        $root = sqrt((($ss - $tt) / 2) ** 2 + $st * $st);
        [$large, $small] = [($ss + $tt) / 2 + $root, ($ss + $tt) / 2 - $root];

        return [$small <= 1e-12 * $large ? 1e6 : sqrt($large / $small), sqrt(sqrt(max(0.0, $large * $small)))];
    }
}
