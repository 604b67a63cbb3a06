<?php

declare(strict_types=1);

namespace Core\Light;

/**
 * Points spread evenly over the raster of a body: the middles of columns × rows cells, each with its place in the
 * venue, its normal, the directions in which the raster goes right and down, and the area that it stands for. Cells
 * without surface are left out.
 */
final readonly class SampleGrid
{
    /**
     * @param  array<int, array{float, float, float, float, float, float, float, float, float, float, float, float, float}>  $points  by
     *     cell (row · columns + column): place, normal, right, down, square metres
     */
    private function __construct(public int $columns, public int $rows, public array $points)
    {
    }

    /** @param  int  $cells  about how many */
    public static function of(Scene $scene, int $body, int $cells): self
    {
        $of = $scene->bodies[$body];
        $aspect = max(0.02, min(50.0, $of->rasterWidth / max(1, $of->rasterHeight)));
        $columns = max(2, min(2048, (int) round(sqrt($cells * $aspect))));
        $rows = max(2, min(2048, (int) round($cells / $columns)));
        [$points, $depths] = [[], []];
        [$positions, $uvs, $indices] = [$scene->mesh->positions, $scene->mesh->uvs, $scene->mesh->indices];
        $cell = 1 / ($columns * $rows);
        foreach ($scene->owner as $t => $owner) {
            if ($owner !== $body) {
                continue;
            }
            [$a, $b, $c] = [$indices[3 * $t], $indices[3 * $t + 1], $indices[3 * $t + 2]];
            [$u0, $v0] = [$uvs[2 * $a], $uvs[2 * $a + 1]];
            [$u1, $v1, $u2, $v2] = [
                $uvs[2 * $b] - $u0,
                $uvs[2 * $b + 1] - $v0,
                $uvs[2 * $c] - $u0,
                $uvs[2 * $c + 1] - $v0,
            ];
            $det = $u1 * $v2 - $u2 * $v1;
            if (abs($det) < 1e-14) {
                continue;
            }
            [$x0, $y0, $z0] = [$positions[3 * $a], $positions[3 * $a + 1], $positions[3 * $a + 2]];
            [$bx, $by, $bz] = [$positions[3 * $b] - $x0, $positions[3 * $b + 1] - $y0, $positions[3 * $b + 2] - $z0];
            [$cx, $cy, $cz] = [$positions[3 * $c] - $x0, $positions[3 * $c + 1] - $y0, $positions[3 * $c + 2] - $z0];
            // Where the surface goes when the raster goes right and down: the inverse of the UV map.
            [$rx, $ry, $rz] = [
                ($bx * $v2 - $cx * $v1) / $det,
                ($by * $v2 - $cy * $v1) / $det,
                ($bz * $v2 - $cz * $v1) / $det,
            ];
            [$dx, $dy, $dz] = [
                ($cx * $u1 - $bx * $u2) / $det,
                ($cy * $u1 - $by * $u2) / $det,
                ($cz * $u1 - $bz * $u2) / $det,
            ];
            $normal = $scene->mesh->normal($t);
            $cross = sqrt(($by * $cz - $bz * $cy) ** 2 + ($bz * $cx - $bx * $cz) ** 2 + ($bx * $cy - $by * $cx) ** 2);
            $area = ($cross / abs($det)) * $cell;
            $right = sqrt($rx * $rx + $ry * $ry + $rz * $rz) ?: 1.0;
            $down = sqrt($dx * $dx + $dy * $dy + $dz * $dz) ?: 1.0;
            $from = max(0, (int) floor((min(0, $u1, $u2) + $u0) * $columns - 0.5));
            $to = min($columns - 1, (int) ceil((max(0, $u1, $u2) + $u0) * $columns - 0.5));
            $first = max(0, (int) floor((min(0, $v1, $v2) + $v0) * $rows - 0.5));
            $last = min($rows - 1, (int) ceil((max(0, $v1, $v2) + $v0) * $rows - 0.5));
            for ($r = $first; $r <= $last; $r++) {
                for ($k = $from; $k <= $to; $k++) {
                    [$pu, $pv] = [($k + 0.5) / $columns - $u0, ($r + 0.5) / $rows - $v0];
                    $s = ($pu * $v2 - $pv * $u2) / $det;
                    $q = ($pv * $u1 - $pu * $v1) / $det;
                    $inside = min($s, $q, 1 - $s - $q);
                    $at = $r * $columns + $k;
                    // A cell on a common edge belongs to the triangle that it lies in deepest.
                    if ($inside < -1e-9 || (isset($depths[$at]) && $depths[$at] >= $inside)) {
                        continue;
                    }
                    $depths[$at] = $inside;
                    $points[$at] = [
                        $x0 + $s * $bx + $q * $cx,
                        $y0 + $s * $by + $q * $cy,
                        $z0 + $s * $bz + $q * $cz,
                        $normal[0],
                        $normal[1],
                        $normal[2],
                        $rx / $right,
                        $ry / $right,
                        $rz / $right,
                        $dx / $down,
                        $dy / $down,
                        $dz / $down,
                        $area,
                    ];
                }
            }
        }
        ksort($points);

        return new self($columns, $rows, $points);
    }

    public function area(): float
    {
        return array_sum(array_column($this->points, 12));
    }
}
