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
     * @param  list<list<float>>  $triangles  eighteen numbers each
     * @param  array<int, array<int, list<int>>>  $squares  numbers of triangles by column and row
     */
    private function __construct(private array $triangles, private array $squares)
    {
    }

    public static function of(DeliveryMesh $mesh): self
    {
        $triangles = array_chunk($mesh->numbers(), 3 * DeliveryMesh::NUMBERS);
        $squares = [];
        foreach ($triangles as $k => $t) {
            [$left, $top, $right, $bottom] = self::bounds($t);
            for ($i = Pixels::floor($left / self::SQUARE); $i <= Pixels::floor($right / self::SQUARE); $i++) {
                for ($j = Pixels::floor($top / self::SQUARE); $j <= Pixels::floor($bottom / self::SQUARE); $j++) {
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
        [$seen] = $this->nearest($x, $y);
        if ($seen === null || $this->triangles[$seen][5] < 0) {
            return null;
        }
        $t = $this->triangles[$seen];
        $place = static function (float $x, float $y) use ($t): array {
            $weights = self::spread($t, $x, $y);

            return [self::mean($t, $weights, 3), self::mean($t, $weights, 4)];
        };
        [$here, $right, $down] = [$place($x, $y), $place($x + 1, $y), $place($x, $y + 1)];

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
        [$seen, , $weights] = $this->nearest($x, $y);
        if ($seen === null || $weights === null || $this->triangles[$seen][5] < 0) {
            return null;
        }

        return [self::mean($this->triangles[$seen], $weights, 3), self::mean($this->triangles[$seen], $weights, 4)];
    }

    /** How deep what is nearest at a place of the output lies before the lens, in metres; null where nothing is. */
    public function depth(float $x, float $y): ?float
    {
        [$seen, $depth] = $this->nearest($x, $y);

        return $seen === null ? null : $depth;
    }

    /** @return array{int|null, float, array{float, float, float}|null} the triangle, its depth, and how its corners count */
    private function nearest(float $x, float $y): array
    {
        [$seen, $nearest, $counts] = [null, INF, null];
        foreach ($this->squares[Pixels::floor($x / self::SQUARE)][Pixels::floor($y / self::SQUARE)] ?? [] as $k) {
            $weights = self::weights($this->triangles[$k], $x, $y);
            if ($weights === null) {
                continue;
            }
            $depth = abs(self::mean($this->triangles[$k], $weights, 5));
            if ($depth <= $nearest) {
                [$seen, $nearest, $counts] = [$k, $depth, $weights];
            }
        }

        return [$seen, $nearest, $counts];
    }

    /**
     * How much each corner counts at a place within a triangle; null outside of it.
     *
     * @param  list<float>  $t
     * @return array{float, float, float}|null
     */
    private static function weights(array $t, float $x, float $y): ?array
    {
        [$a, $b, $c] = $weights = self::spread($t, $x, $y);
        $sum = $a + $b + $c;
        // Corners are kept with seven digits: what lies on an edge is within.
        $slack = 1e-7 * abs($sum);
        $least = $sum > 0 ? min($a, $b, $c) : -max($a, $b, $c);

        return $sum !== 0.0 && $least >= -$slack ? $weights : null;
    }

    /**
     * The same anywhere: the adjugate of the matrix of the corners' homogeneous places times the point.
     *
     * @param  list<float>  $t
     * @return array{float, float, float}
     */
    private static function spread(array $t, float $x, float $y): array
    {
        [$ax, $ay, $aw, , , , $bx, $by, $bw, , , , $cx, $cy, $cw] = $t;

        return [
            ($by * $cw - $cy * $bw) * $x + ($cx * $bw - $bx * $cw) * $y + $bx * $cy - $cx * $by,
            ($cy * $aw - $ay * $cw) * $x + ($ax * $cw - $cx * $aw) * $y + $cx * $ay - $ax * $cy,
            ($ay * $bw - $by * $aw) * $x + ($bx * $aw - $ax * $bw) * $y + $ax * $by - $bx * $ay,
        ];
    }

    /**
     * @param  list<float>  $t
     * @param  array{float, float, float}  $weights
     * @param  int  $of  number of a corner
     */
    private static function mean(array $t, array $weights, int $of): float
    {
        [$a, $b, $c] = $weights;
        $n = DeliveryMesh::NUMBERS;

        return ($a * $t[$of] + $b * $t[$n + $of] + $c * $t[2 * $n + $of]) / ($a + $b + $c);
    }

    /**
     * @param  list<float>  $t
     * @return array{float, float, float, float} left, top, right, bottom on the output
     */
    private static function bounds(array $t): array
    {
        [$xs, $ys] = [[], []];
        for ($k = 0; $k < 3 * DeliveryMesh::NUMBERS; $k += DeliveryMesh::NUMBERS) {
            $xs[] = $t[$k] / $t[$k + 2];
            $ys[] = $t[$k + 1] / $t[$k + 2];
        }

        return [min($xs), min($ys), max($xs), max($ys)];
    }
}
