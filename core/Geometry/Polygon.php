<?php

declare(strict_types=1);

namespace Core\Geometry;

/**
 * A closed line in the plane and what lies within it; corners in either sense of turning, the last joined to the
 * first.
 */
final class Polygon
{
    /**
     * Twice the area, positive where it turns from X toward Y.
     *
     * @param  list<array{float, float}>  $corners
     */
    public static function doubleArea(array $corners): float
    {
        $sum = 0.0;
        $before = $corners === [] ? [0.0, 0.0] : $corners[count($corners) - 1];
        foreach ($corners as $corner) {
            $sum += $before[0] * $corner[1] - $corner[0] * $before[1];
            $before = $corner;
        }

        return $sum;
    }

    /**
     * How far a point lies within: positive inside by the even-odd rule, negative outside, by the distance to the
     * nearest edge.
     *
     * @param  list<array{float, float}>  $corners  two at least
     */
    public static function depth(array $corners, float $x, float $y): float
    {
        $least = INF;
        $inside = false;
        [$ax, $ay] = $corners[count($corners) - 1];
        foreach ($corners as [$bx, $by]) {
            [$dx, $dy] = [$bx - $ax, $by - $ay];
            $length = $dx * $dx + $dy * $dy;
            $t = $length > 0 ? max(0.0, min(1.0, (($x - $ax) * $dx + ($y - $ay) * $dy) / $length)) : 0.0;
            $least = min($least, ($x - $ax - $t * $dx) ** 2 + ($y - $ay - $t * $dy) ** 2);
            if ($ay > $y !== $by > $y && $x < $ax + (($y - $ay) / $dy) * $dx) {
                $inside = ! $inside;
            }
            [$ax, $ay] = [$bx, $by];
        }

        return $inside ? sqrt($least) : -sqrt($least);
    }

    /** @param  list<array{float, float}>  $corners */
    public static function crossesItself(array $corners): bool
    {
        $n = count($corners);
        $side = static fn (array $a, array $b, array $p): float => ($b[0] - $a[0]) * ($p[1] - $a[1]) -
            ($b[1] - $a[1]) * ($p[0] - $a[0]);
        for ($i = 0; $i < $n; $i++) {
            for ($j = $i + 2; $j < $n; $j++) {
                if ($i === 0 && $j === $n - 1) {
                    continue;
                }
                [$a, $b, $c, $d] = [$corners[$i], $corners[$i + 1], $corners[$j], $corners[($j + 1) % $n]];
                if ($side($a, $b, $c) * $side($a, $b, $d) < 0 && $side($c, $d, $a) * $side($c, $d, $b) < 0) {
                    return true;
                }
            }
        }

        return false;
    }

    /**
     * Cut into triangles by its ears; each turns as the polygon does.
     *
     * @param  list<array{float, float}>  $corners  of a line that does not cross itself
     * @return list<array{array{float, float}, array{float, float}, array{float, float}}>
     */
    public static function triangles(array $corners): array
    {
        $sign = self::doubleArea($corners) < 0 ? -1 : 1;
        $left = $corners;
        $found = [];
        $turn = static fn (array $a, array $b, array $c): float => $sign *
            (($b[0] - $a[0]) * ($c[1] - $a[1]) - ($b[1] - $a[1]) * ($c[0] - $a[0]));
        while (($n = count($left)) > 2) {
            $ear = null;
            for ($i = 0; $i < $n && $ear === null; $i++) {
                [$a, $b, $c] = [$left[($i + $n - 1) % $n], $left[$i], $left[($i + 1) % $n]];
                $area = $turn($a, $b, $c);
                if ($area < 0) {
                    continue;
                }
                $free = true;
                foreach ($left as $p) {
                    if (
                        $area > 0 &&
                        $p !== $a &&
                        $p !== $b &&
                        $p !== $c &&
                        $turn($a, $b, $p) >= 0 &&
                        $turn($b, $c, $p) >= 0 &&
                        $turn($c, $a, $p) >= 0
                    ) {
                        $free = false;
                        break;
                    }
                }
                $ear = $free ? $i : null;
            }
            // Corners that lie on one another leave no ear; any will do then.
            $ear ??= 0;
            [$a, $b, $c] = [$left[($ear + $n - 1) % $n], $left[$ear], $left[($ear + 1) % $n]];
            if ($turn($a, $b, $c) > 0) {
                $found[] = [$a, $b, $c];
            }
            array_splice($left, $ear, 1);
        }

        return $found;
    }

    /**
     * What a convex polygon and a triangle have in common (Sutherland and Hodgman 1974).
     *
     * @param  list<array{float, float}>  $convex
     * @param  array{array{float, float}, array{float, float}, array{float, float}}  $triangle
     * @return list<array{float, float}> convex; empty where they have no area in common
     */
    public static function common(array $convex, array $triangle): array
    {
        $sign = self::doubleArea($triangle) < 0 ? -1 : 1;
        for ($k = 0; $k < 3 && $convex !== []; $k++) {
            [$a, $b] = [$triangle[$k], $triangle[($k + 1) % 3]];
            $side = static fn (array $p): float => $sign *
                (($b[0] - $a[0]) * ($p[1] - $a[1]) - ($b[1] - $a[1]) * ($p[0] - $a[0]));
            $kept = [];
            $before = $convex[count($convex) - 1];
            $was = $side($before);
            foreach ($convex as $p) {
                $is = $side($p);
                if ($is >= 0 !== $was >= 0) {
                    $t = $was / ($was - $is);
                    $kept[] = [$before[0] + ($p[0] - $before[0]) * $t, $before[1] + ($p[1] - $before[1]) * $t];
                }
                if ($is >= 0) {
                    $kept[] = $p;
                }
                [$before, $was] = [$p, $is];
            }
            $convex = $kept;
        }

        return count($convex) > 2 && abs(self::doubleArea($convex)) > 1e-14 ? $convex : [];
    }
}
