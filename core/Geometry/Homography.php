<?php

declare(strict_types=1);

namespace Core\Geometry;

/** How one plane is carried onto another in perspective, points onto points (a homography). */
final class Homography
{
    /**
     * By the direct linear transform on coordinates brought to the middle and to a mean distance of √2 (Hartley
     * 1997): exact for four points, the least algebraic error for more.
     *
     * @param  list<array{float, float}>  $from  four at least
     * @param  list<array{float, float}>  $to  as many
     * @return Mat3|null null where three of four lie on one line, so that no such map exists or many do
     */
    public static function of(array $from, array $to): ?Mat3
    {
        $n = min(count($from), count($to));
        if ($n < 4) {
            return null;
        }
        [$a, $b] = [self::normal($from), self::normal($to)];
        if ($a === null || $b === null) {
            return null;
        }
        $sum = array_fill(0, 9, array_fill(0, 9, 0.0));
        for ($i = 0; $i < $n; $i++) {
            [$x, $y] = $a->point($from[$i][0], $from[$i][1]);
            [$u, $v] = $b->point($to[$i][0], $to[$i][1]);
            foreach (
                [
                    [$x, $y, 1.0, 0.0, 0.0, 0.0, -$u * $x, -$u * $y, -$u],
                    [0.0, 0.0, 0.0, $x, $y, 1.0, -$v * $x, -$v * $y, -$v],
                ] as $row
            ) {
                for ($r = 0; $r < 9; $r++) {
                    for ($c = 0; $c < 9; $c++) {
                        $sum[$r][$c] += $row[$r] * $row[$c];
                    }
                }
            }
        }
        [$values, $vectors] = Linear::eigen($sum);
        // One direction alone may be free: two say that the points do not tell.
        if ($values[1] <= 1e-9 * $values[8]) {
            return null;
        }
        [$h0, $h1, $h2, $h3, $h4, $h5, $h6, $h7, $h8] = $vectors[0];
        $back = $b->inverse();
        $m = $back?->times(Mat3::of([$h0, $h1, $h2, $h3, $h4, $h5, $h6, $h7, $h8]))->times($a);
        if ($m === null || $m->inverse() === null) {
            return null;
        }
        // So that what is carried has a weight above 0.
        [$x, $y] = $from[0];
        $w = $m->m[6] * $x + $m->m[7] * $y + $m->m[8];
        $scale = abs($m->m[8]) > 1e-9 * abs($w) ? 1 / $m->m[8] : 1 / $w;

        return Mat3::of(array_map(static fn (float $v): float => $v * $scale, $m->m));
    }

    /**
     * The unit square onto a quadrilateral, in closed form (Heckbert 1989).
     *
     * @param  array{array{float, float}, array{float, float}, array{float, float}, array{float, float}}  $corners  of
     *     (0, 0), (1, 0), (1, 1), (0, 1)
     * @return Mat3|null null where the four are no convex quadrilateral
     */
    public static function ofSquare(array $corners): ?Mat3
    {
        [[$x0, $y0], [$x1, $y1], [$x2, $y2], [$x3, $y3]] = $corners;
        $size = max(
            abs($x1 - $x0),
            abs($y1 - $y0),
            abs($x2 - $x0),
            abs($y2 - $y0),
            abs($x3 - $x0),
            abs($y3 - $y0),
            1e-300,
        );
        $turns = [];
        for ($i = 0; $i < 4; $i++) {
            [[$ax, $ay], [$bx, $by], [$cx, $cy]] = [$corners[$i], $corners[($i + 1) % 4], $corners[($i + 2) % 4]];
            $turns[] = ($bx - $ax) * ($cy - $by) - ($by - $ay) * ($cx - $bx);
        }
        if (min($turns) <= 1e-9 * $size * $size && max($turns) >= -1e-9 * $size * $size) {
            return null;
        }
        [$sx, $sy] = [$x0 - $x1 + $x2 - $x3, $y0 - $y1 + $y2 - $y3];
        [$dx1, $dx2, $dy1, $dy2] = [$x1 - $x2, $x3 - $x2, $y1 - $y2, $y3 - $y2];
        $det = $dx1 * $dy2 - $dx2 * $dy1;
        if (abs($det) < 1e-12 * $size * $size) {
            return null;
        }
        $g = ($sx * $dy2 - $dx2 * $sy) / $det;
        $h = ($dx1 * $sy - $sx * $dy1) / $det;
        // Weights of all four corners have one sign, else the square would be torn.
        if (1 + $g <= 1e-9 || 1 + $h <= 1e-9 || 1 + $g + $h <= 1e-9) {
            return null;
        }

        return Mat3::of([
            $x1 - $x0 + $g * $x1,
            $x3 - $x0 + $h * $x3,
            $x0,
            $y1 - $y0 + $g * $y1,
            $y3 - $y0 + $h * $y3,
            $y0,
            $g,
            $h,
            1.0,
        ]);
    }

    /** @param  list<array{float, float}>  $points */
    private static function normal(array $points): ?Mat3
    {
        $n = count($points);
        [$mx, $my] = [array_sum(array_column($points, 0)) / $n, array_sum(array_column($points, 1)) / $n];
        $mean = array_sum(array_map(static fn (array $p): float => hypot($p[0] - $mx, $p[1] - $my), $points)) / $n;
        if ($mean < 1e-300) {
            return null;
        }
        $s = M_SQRT2 / $mean;

        return Mat3::of([$s, 0.0, -$s * $mx, 0.0, $s, -$s * $my, 0.0, 0.0, 1.0]);
    }
}
