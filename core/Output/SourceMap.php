<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Units\Pixels;

/**
 * A warp the other way round: for the middles of columns × rows cells of an output, which pixel of the surface's
 * raster is shown there; null where nothing is. Row by row from the top.
 */
final readonly class SourceMap
{
    /** @param  list<array{float, float}|null>  $places */
    public function __construct(public int $columns, public int $rows, public array $places)
    {
    }

    public static function of(DeliveryMesh $mesh, Output $output, int $columns, int $rows): self
    {
        [$cellWidth, $cellHeight] = [$output->width / $columns, $output->height / $rows];
        $seen = SeenTriangles::of($mesh);
        $places = [];
        for ($j = 0; $j < $rows; $j++) {
            for ($i = 0; $i < $columns; $i++) {
                $places[] = $seen->place(($i + 0.5) * $cellWidth, ($j + 0.5) * $cellHeight);
            }
        }

        return new self($columns, $rows, $places);
    }

    /**
     * The warp that such a map is of: lines of the surface's raster, with their crossings found in the cells between
     * four middles.
     *
     * @param  array{int, int}  $size  of the output, in pixels
     */
    public function lattice(Rect $source, array $size, int $lines = 65): WarpLattice
    {
        [$cw, $ch] = [$size[0] / $this->columns, $size[1] / $this->rows];
        $xs = array_map(
            static fn (int $k): float => $source->x + ($source->width * $k) / ($lines - 1),
            range(0, $lines - 1),
        );
        $ys = array_map(
            static fn (int $k): float => $source->y + ($source->height * $k) / ($lines - 1),
            range(0, $lines - 1),
        );
        $points = array_fill(0, $lines * $lines, null);
        [$sx, $sy] = [$source->width / ($lines - 1), $source->height / ($lines - 1)];
        // Beyond the outermost middles, half a cell goes on as the last one went.
        for ($j = 0; $j < $this->rows - 1; $j++) {
            for ($i = 0; $i < $this->columns - 1; $i++) {
                $at = $j * $this->columns + $i;
                $corners = [
                    $this->places[$at],
                    $this->places[$at + 1],
                    $this->places[$at + $this->columns],
                    $this->places[$at + $this->columns + 1],
                ];
                if (in_array(null, $corners, true)) {
                    continue;
                }
                [$p, $q, $r, $s] = $corners;
                $reach = 0.75;
                foreach (
                    [[$p, $q, $r, 0.0, 0.0, 1.0, 1.0], [$s, $r, $q, 1.0, 1.0, -1.0, -1.0]] as [$o, $u, $v, $ox, $oy, $dx, $dy]
                ) {
                    $det = ($u[0] - $o[0]) * ($v[1] - $o[1]) - ($u[1] - $o[1]) * ($v[0] - $o[0]);
                    if (abs($det) < 1e-12) {
                        continue;
                    }
                    [$xa, $xb] = [min($o[0], $u[0], $v[0]), max($o[0], $u[0], $v[0])];
                    [$ya, $yb] = [min($o[1], $u[1], $v[1]), max($o[1], $u[1], $v[1])];
                    [$mx, $my] = [$reach * ($xb - $xa), $reach * ($yb - $ya)];
                    for (
                        $l = max(0, Pixels::ceil(($ya - $my - $source->y) / $sy));
                        $l <= min($lines - 1, Pixels::floor(($yb + $my - $source->y) / $sy));
                        $l++
                    ) {
                        for (
                            $k = max(0, Pixels::ceil(($xa - $mx - $source->x) / $sx));
                            $k <= min($lines - 1, Pixels::floor(($xb + $mx - $source->x) / $sx));
                            $k++
                        ) {
                            [$ex, $ey] = [$xs[$k] - $o[0], $ys[$l] - $o[1]];
                            $a = ($ex * ($v[1] - $o[1]) - $ey * ($v[0] - $o[0])) / $det;
                            $b = (($u[0] - $o[0]) * $ey - ($u[1] - $o[1]) * $ex) / $det;
                            $within = min($a, $b, 1 - $a - $b);
                            $known = $points[$l * $lines + $k];
                            if ($within < -0.5 || ($known !== null && $known[3] >= $within)) {
                                continue;
                            }
                            $points[$l * $lines + $k] = [
                                ($i + 0.5 + $ox + $dx * $a) * $cw,
                                ($j + 0.5 + $oy + $dy * $b) * $ch,
                                1.0,
                                $within,
                            ];
                        }
                    }
                }
            }
        }

        return new WarpLattice(
            $xs,
            $ys,
            array_values(
                array_map(static fn (?array $p): ?array => $p === null ? null : [$p[0], $p[1], $p[2]], $points),
            ),
            0.0,
        );
    }
}
