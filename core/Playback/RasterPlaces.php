<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Plan\SurfaceMesh;
use Core\Venue\Round;

/** Where in the venue each pixel of a surface's raster is. */
final class RasterPlaces
{
    /** Pixels along a side of a square of the raster whose triangles are looked through. */
    private const CELL = 32;

    /** @var list<float> eleven numbers for each corner */
    private readonly array $numbers;

    /** @var array<string, list<int>> triangles by square */
    private array $cells = [];

    /**
     * @param  array<string, mixed>|null  $round  the true shape of what is round, in the venue (`dome`, `frame`);
     *     null for one that is as flat as its triangles
     */
    public function __construct(SurfaceMesh $mesh, private readonly ?array $round = null)
    {
        $this->numbers = $mesh->numbers();
        $n = $this->numbers;
        for ($t = 0, $count = intdiv($mesh->corners(), 3); $t < $count; $t++) {
            $xs = [$n[33 * $t], $n[33 * $t + 11], $n[33 * $t + 22]];
            $ys = [$n[33 * $t + 1], $n[33 * $t + 12], $n[33 * $t + 23]];
            for (
                $cy = (int) floor(min($ys) / self::CELL), $bottom = (int) floor(max($ys) / self::CELL);
                $cy <= $bottom;
                $cy++
            ) {
                for (
                    $cx = (int) floor(min($xs) / self::CELL), $right = (int) floor(max($xs) / self::CELL);
                    $cx <= $right;
                    $cx++
                ) {
                    $this->cells["$cx $cy"][] = $t;
                }
            }
        }
    }

    /**
     * @return array{array{float, float, float}, array{float, float, float}, array{float, float, float}, array{float, float, float}, array{float, float, float}}|null
     *   the place of a point of the raster in metres, the normal there, how far one goes when the raster goes a pixel
     *   to the right and
     *   down, and the place on the flat triangle, which is what stands in the way of light; null where the surface
     *   has nothing
     */
    public function at(float $x, float $y): ?array
    {
        $n = $this->numbers;
        foreach ($this->cells[(int) floor($x / self::CELL).' '.(int) floor($y / self::CELL)] ?? [] as $t) {
            $a = 33 * $t;
            [$x0, $y0] = [$n[$a], $n[$a + 1]];
            [$x1, $y1, $x2, $y2] = [$n[$a + 11] - $x0, $n[$a + 12] - $y0, $n[$a + 22] - $x0, $n[$a + 23] - $y0];
            $det = $x1 * $y2 - $x2 * $y1;
            if ($det === 0.0) {
                continue;
            }
            $s = (($x - $x0) * $y2 - ($y - $y0) * $x2) / $det;
            $q = (($y - $y0) * $x1 - ($x - $x0) * $y1) / $det;
            if (min($s, $q, 1 - $s - $q) < -1e-6) {
                continue;
            }
            [$bx, $by, $bz] = [$n[$a + 13] - $n[$a + 2], $n[$a + 14] - $n[$a + 3], $n[$a + 15] - $n[$a + 4]];
            [$cx, $cy, $cz] = [$n[$a + 24] - $n[$a + 2], $n[$a + 25] - $n[$a + 3], $n[$a + 26] - $n[$a + 4]];

            $flat = [
                $n[$a + 2] + $s * $bx + $q * $cx,
                $n[$a + 3] + $s * $by + $q * $cy,
                $n[$a + 4] + $s * $bz + $q * $cz,
            ];
            $normal = [$n[$a + 5], $n[$a + 6], $n[$a + 7]];
            if ($this->round !== null) {
                [$b0, $b1, $b2] = [$n[$a + 9], $n[$a + 20] - $n[$a + 9], $n[$a + 31] - $n[$a + 9]];
                [$c0, $c1, $c2] = [$n[$a + 10], $n[$a + 21] - $n[$a + 10], $n[$a + 32] - $n[$a + 10]];

                return [
                    ...self::trueAt(
                        $this->round,
                        $n[$a + 8],
                        [$b0 + $s * $b1 + $q * $b2, $c0 + $s * $c1 + $q * $c2],
                        [($b1 * $y2 - $b2 * $y1) / $det, ($c1 * $y2 - $c2 * $y1) / $det],
                        [($b2 * $x1 - $b1 * $x2) / $det, ($c2 * $x1 - $c1 * $x2) / $det],
                        $normal,
                    ),
                    $flat,
                ];
            }

            return [
                $flat,
                $normal,
                [($bx * $y2 - $cx * $y1) / $det, ($by * $y2 - $cy * $y1) / $det, ($bz * $y2 - $cz * $y1) / $det],
                [($cx * $x1 - $bx * $x2) / $det, ($cy * $x1 - $by * $x2) / $det, ($cz * $x1 - $bz * $x2) / $det],
                $flat,
            ];
        }

        return null;
    }

    /**
     * @param  array<string, mixed>  $round
     * @param  array{float, float}  $at  the second and third of its numbers
     * @param  array{float, float}  $right  how they grow a pixel to the right
     * @param  array{float, float}  $down  and down
     * @param  array{float, float, float}  $front  of the flat triangle
     * @return array{array{float, float, float}, array{float, float, float}, array{float, float, float}, array{float, float, float}}
     */
    private static function trueAt(
        array $round,
        float $radius,
        array $at,
        array $right,
        array $down,
        array $front,
    ): array {
        $place = static fn (float $a, float $b): array => Round::at($round['dome'], $round['frame'], $radius, $a, $b)[0];
        $step = static function (array $by) use ($place, $at): array {
            [$to, $from] = [
                $place($at[0] + $by[0] / 2, $at[1] + $by[1] / 2),
                $place($at[0] - $by[0] / 2, $at[1] - $by[1] / 2),
            ];

            return [$to[0] - $from[0], $to[1] - $from[1], $to[2] - $from[2]];
        };
        [$here, $out] = Round::at($round['dome'], $round['frame'], $radius, ...$at);
        $side = $out[0] * $front[0] + $out[1] * $front[1] + $out[2] * $front[2] < 0 ? -1 : 1;

        return [$here, [$side * $out[0], $side * $out[1], $side * $out[2]], $step($right), $step($down)];
    }
}
