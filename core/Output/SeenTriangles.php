<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Units\Pixels;

/** The triangles of a region by where they lie on the output, so that the one that is seen at a place is found at once. */
final readonly class SeenTriangles
{
    /** Pixels of the output along a square of the search. */
    private const SQUARE = 16;

    /**
     * Four places of a pixel, from its middle, no two in one row or column: those that are shown say what share of it
     * is.
     */
    private const WITHIN = [[-0.125, -0.375], [0.375, -0.125], [0.125, 0.375], [-0.375, 0.125]];

    /**
     * @param  list<list<float>>  $triangles  of each nine numbers that carry a place of the output to how its corners
     *     count, which sum to 1 times a weight, then pixel x, pixel y and depth of each corner
     * @param  array<int, array<int, list<int>>>  $squares  numbers of triangles by column and row
     */
    private function __construct(private array $triangles, private array $squares)
    {
    }

    public static function of(DeliveryMesh $mesh): self
    {
        [$triangles, $squares] = [[], []];
        foreach (array_chunk($mesh->numbers(), 3 * DeliveryMesh::NUMBERS) as $t) {
            [$ax, $ay, $aw, $as, $at, $ad, $bx, $by, $bw, $bs, $bt, $bd, $cx, $cy, $cw, $cs, $ct, $cd] = $t;
            // The inverse of the matrix of the corners' homogeneous places, but for its determinant.
            $inverse = [
                $by * $cw - $cy * $bw,
                $cx * $bw - $bx * $cw,
                $bx * $cy - $cx * $by,
                $cy * $aw - $ay * $cw,
                $ax * $cw - $cx * $aw,
                $cx * $ay - $ax * $cy,
                $ay * $bw - $by * $aw,
                $bx * $aw - $ax * $bw,
                $ax * $by - $bx * $ay,
            ];
            $det = $ax * $inverse[0] + $ay * $inverse[1] + $aw * $inverse[2];
            if ($det === 0.0) {
                continue;
            }
            $k = count($triangles);
            $triangles[] = [
                ...array_map(static fn (float $v): float => $v / $det, $inverse),
                ...[$as, $at, $ad, $bs, $bt, $bd, $cs, $ct, $cd],
            ];
            [$xs, $ys] = [[$ax / $aw, $bx / $bw, $cx / $cw], [$ay / $aw, $by / $bw, $cy / $cw]];
            [$left, $right] = [Pixels::floor(min($xs) / self::SQUARE), Pixels::floor(max($xs) / self::SQUARE)];
            [$top, $bottom] = [Pixels::floor(min($ys) / self::SQUARE), Pixels::floor(max($ys) / self::SQUARE)];
            for ($i = $left; $i <= $right; $i++) {
                for ($j = $top; $j <= $bottom; $j++) {
                    $squares[$i][$j][] = $k;
                }
            }
        }

        return new self($triangles, $squares);
    }

    /**
     * Where the triangle that is seen at a place of the output has it on the surface's raster.
     *
     * @return array{array{float, float}, array{float, float}}|null the place, and how many pixels one of the output
     *     covers there; null where nothing is seen, or what only hides
     */
    public function at(float $x, float $y): ?array
    {
        [$t] = $this->nearest($x, $y);
        if ($t === null || $t[11] < 0) {
            return null;
        }
        [$here, $right, $down] = [self::raster($t, $x, $y), self::raster($t, $x + 1, $y), self::raster($t, $x, $y + 1)];

        return [
            $here,
            [hypot($right[0] - $here[0], $down[0] - $here[0]), hypot($right[1] - $here[1], $down[1] - $here[1])],
        ];
    }

    /**
     * The place of the surface's raster that is seen at a place of the output, alone.
     *
     * @return array{float, float}|null
     */
    public function place(float $x, float $y): ?array
    {
        [$t] = $this->nearest($x, $y);

        return $t === null || $t[11] < 0 ? null : self::raster($t, $x, $y);
    }

    /** What share of a pixel of the output, whose middle is given, shows anything: 0, a quarter, … 1. */
    public function covered(float $x, float $y): float
    {
        $shown = 0;
        foreach (self::WITHIN as [$dx, $dy]) {
            [$t] = $this->nearest($x + $dx, $y + $dy);
            $shown += $t === null || $t[11] < 0 ? 0 : 1;
        }

        return $shown / 4;
    }

    /**
     * The same as `at` of a pixel at an outline whose middle is past it: as it goes on from the pixel beside it.
     *
     * @param  array{float, float, float, float}  $source  of the surface's raster: left, top, width, height
     * @return array{array{float, float}, array{float, float}}|null null where no pixel beside it shows anything
     */
    public function beside(float $x, float $y, array $source): ?array
    {
        foreach ([[-1, 0], [1, 0], [0, -1], [0, 1], [-1, -1], [1, -1], [-1, 1], [1, 1]] as [$i, $j]) {
            $near = $this->at($x + $i, $y + $j);
            if ($near === null) {
                continue;
            }
            [$at, $covers] = $near;
            $next = $this->place($x + 2 * $i, $y + 2 * $j) ?? $at;
            $by = [$at[0] - $next[0], $at[1] - $next[1]];
            if (abs($by[0]) > 2 * $covers[0] + 0.5 || abs($by[1]) > 2 * $covers[1] + 0.5) {
                $by = [0.0, 0.0];
            }

            return [
                [
                    max($source[0], min($source[0] + $source[2] - 0.001, $at[0] + $by[0])),
                    max($source[1], min($source[1] + $source[3] - 0.001, $at[1] + $by[1])),
                ],
                $covers,
            ];
        }

        return null;
    }

    /** How deep what is nearest at a place of the output lies before the lens, in metres; null where nothing is. */
    public function depth(float $x, float $y): ?float
    {
        [$t, $depth] = $this->nearest($x, $y);

        return $t === null ? null : $depth;
    }

    /** @return array{list<float>|null, float} the triangle, and its depth */
    private function nearest(float $x, float $y): array
    {
        [$seen, $nearest] = [null, INF];
        foreach ($this->squares[Pixels::floor($x / self::SQUARE)][Pixels::floor($y / self::SQUARE)] ?? [] as $k) {
            $t = $this->triangles[$k];
            $a = $t[0] * $x + $t[1] * $y + $t[2];
            $b = $t[3] * $x + $t[4] * $y + $t[5];
            $c = $t[6] * $x + $t[7] * $y + $t[8];
            $sum = $a + $b + $c;
            // Corners are kept with seven digits: what lies on an edge is within.
            $slack = -1e-7 * $sum;
            if ($sum <= 0 || $a < $slack || $b < $slack || $c < $slack) {
                continue;
            }
            $depth = abs($a * $t[11] + $b * $t[14] + $c * $t[17]) / $sum;
            if ($depth <= $nearest) {
                [$seen, $nearest] = [$t, $depth];
            }
        }

        return [$seen, $nearest];
    }

    /**
     * Where a triangle, or what goes on as it does, has a place of the output on the raster.
     *
     * @param  list<float>  $t
     * @return array{float, float}
     */
    private static function raster(array $t, float $x, float $y): array
    {
        $a = $t[0] * $x + $t[1] * $y + $t[2];
        $b = $t[3] * $x + $t[4] * $y + $t[5];
        $c = $t[6] * $x + $t[7] * $y + $t[8];
        $sum = $a + $b + $c;

        return [($a * $t[9] + $b * $t[12] + $c * $t[15]) / $sum, ($a * $t[10] + $b * $t[13] + $c * $t[16]) / $sum];
    }
}
