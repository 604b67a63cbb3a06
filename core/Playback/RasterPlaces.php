<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Plan\SurfaceMesh;

/** Where in the venue each pixel of a surface's raster is. */
final class RasterPlaces
{
    /** Pixels along a side of a square of the raster whose triangles are looked through. */
    private const CELL = 32;

    /** @var list<float> eight numbers for each corner */
    private readonly array $numbers;

    /** @var array<string, list<int>> triangles by square */
    private array $cells = [];

    public function __construct(SurfaceMesh $mesh)
    {
        $this->numbers = $mesh->numbers();
        $n = $this->numbers;
        for ($t = 0, $count = intdiv($mesh->corners(), 3); $t < $count; $t++) {
            $xs = [$n[24 * $t], $n[24 * $t + 8], $n[24 * $t + 16]];
            $ys = [$n[24 * $t + 1], $n[24 * $t + 9], $n[24 * $t + 17]];
            for ($cy = (int) floor(min($ys) / self::CELL), $bottom = (int) floor(max($ys) / self::CELL); $cy <= $bottom; $cy++) {
                for ($cx = (int) floor(min($xs) / self::CELL), $right = (int) floor(max($xs) / self::CELL); $cx <= $right; $cx++) {
                    $this->cells["$cx $cy"][] = $t;
                }
            }
        }
    }

    /**
     * @return array{array{float, float, float}, array{float, float, float}, array{float, float, float}, array{float, float, float}}|null
     *   the place of a point of the raster in metres, the normal there, and how far one goes when the raster goes a pixel to the right and down; null where the surface has nothing
     */
    public function at(float $x, float $y): ?array
    {
        $n = $this->numbers;
        foreach ($this->cells[(int) floor($x / self::CELL).' '.(int) floor($y / self::CELL)] ?? [] as $t) {
            $a = 24 * $t;
            [$x0, $y0] = [$n[$a], $n[$a + 1]];
            [$x1, $y1, $x2, $y2] = [$n[$a + 8] - $x0, $n[$a + 9] - $y0, $n[$a + 16] - $x0, $n[$a + 17] - $y0];
            $det = $x1 * $y2 - $x2 * $y1;
            if ($det === 0.0) {
                continue;
            }
            $s = (($x - $x0) * $y2 - ($y - $y0) * $x2) / $det;
            $q = (($y - $y0) * $x1 - ($x - $x0) * $y1) / $det;
            if (min($s, $q, 1 - $s - $q) < -1e-6) {
                continue;
            }
            [$bx, $by, $bz] = [$n[$a + 10] - $n[$a + 2], $n[$a + 11] - $n[$a + 3], $n[$a + 12] - $n[$a + 4]];
            [$cx, $cy, $cz] = [$n[$a + 18] - $n[$a + 2], $n[$a + 19] - $n[$a + 3], $n[$a + 20] - $n[$a + 4]];

            return [
                [$n[$a + 2] + $s * $bx + $q * $cx, $n[$a + 3] + $s * $by + $q * $cy, $n[$a + 4] + $s * $bz + $q * $cz],
                [$n[$a + 5], $n[$a + 6], $n[$a + 7]],
                [($bx * $y2 - $cx * $y1) / $det, ($by * $y2 - $cy * $y1) / $det, ($bz * $y2 - $cz * $y1) / $det],
                [($cx * $x1 - $bx * $x2) / $det, ($cy * $x1 - $by * $x2) / $det, ($cz * $x1 - $bz * $x2) / $det],
            ];
        }

        return null;
    }
}
