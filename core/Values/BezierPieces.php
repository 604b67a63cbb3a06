<?php

declare(strict_types=1);

namespace Core\Values;

/**
 * A Bézier between two keyframes as polynomials of third degree in the share of the time, within a tolerance.
 *
 * Each piece goes through the curve at its ends and at two points between; where it misses the curve by more than the
 * tolerance it is halved. Where the curve leaves the range it is held at the limit, with a break at the exact place.
 */
final class BezierPieces
{
    /** Where a polynomial through four even points is furthest off lies near these shares. */
    private const PROBES = [0.127, 0.873, 0.5, 0.06, 0.94, 0.22, 0.78, 0.33, 0.67, 0.42, 0.58];

    private const DEEPEST = 30;

    /**
     * @param  array{float, float, float, float}  $handles
     * @param  float  $tolerance  of the way from 0 to 1
     * @param  float  $min  the way is held within these two
     * @return non-empty-list<array{float, float, float, float, float}> share at which it begins, c0 to c3 in the share since
     */
    public static function of(array $handles, float $tolerance, float $min = -INF, float $max = INF): array
    {
        $breaks = [0.0, ...self::crossings($handles, $min, $max), 1.0];
        $pieces = [];
        for ($i = 0, $n = count($breaks) - 1; $i < $n; $i++) {
            [$a, $b] = [$breaks[$i], $breaks[$i + 1]];
            if ($b - $a < 1e-12) {
                continue;
            }
            $middle = Keyframe::bezier($handles, ($a + $b) / 2);
            if ($middle <= $min || $middle >= $max) {
                $pieces[] = [$a, $middle <= $min ? $min : $max, 0.0, 0.0, 0.0];
            } else {
                self::fit($handles, $a, $b, self::parameter($handles, $a, 0.0, 1.0), self::parameter($handles, $b, 0.0, 1.0), $tolerance, 0, $pieces);
            }
        }

        return $pieces === [] ? [[0.0, 0.0, 0.0, 0.0, 0.0]] : $pieces;
    }

    /**
     * How far the way of a Bézier goes beyond its ends.
     *
     * @param  array{float, float, float, float}  $handles
     * @return array{float, float} least and most
     */
    public static function reach(array $handles): array
    {
        $ways = [0.0, 1.0];
        foreach (self::turns($handles) as $s) {
            $ways[] = self::wayOf($handles, $s);
        }

        return [min($ways), max($ways)];
    }

    /**
     * Fits the part between two shares, whose parameters are known: between those, the curve is looked at without solving for
     * the share.
     *
     * @param  array{float, float, float, float}  $handles
     * @param  list<array{float, float, float, float, float}>  $pieces
     */
    private static function fit(array $handles, float $a, float $b, float $sa, float $sb, float $tolerance, int $depth, array &$pieces): void
    {
        [$x1, $w1, $x2, $w2] = $handles;
        [$ax, $bx, $cx] = [1 + 3 * $x1 - 3 * $x2, 3 * $x2 - 6 * $x1, 3 * $x1];
        [$ay, $by, $cy] = [1 + 3 * $w1 - 3 * $w2, 3 * $w2 - 6 * $w1, 3 * $w1];
        $h = $b - $a;
        $s1 = self::parameter($handles, $a + $h / 3, $sa, $sb);
        $s2 = self::parameter($handles, $a + 2 * $h / 3, $s1, $sb);
        $y0 = (($ay * $sa + $by) * $sa + $cy) * $sa;
        $y1 = (($ay * $s1 + $by) * $s1 + $cy) * $s1;
        $y2 = (($ay * $s2 + $by) * $s2 + $cy) * $s2;
        $y3 = (($ay * $sb + $by) * $sb + $cy) * $sb;
        $c1 = -5.5 * $y0 + 9 * $y1 - 4.5 * $y2 + $y3;
        $c2 = 9 * $y0 - 22.5 * $y1 + 18 * $y2 - 4.5 * $y3;
        $c3 = -4.5 * $y0 + 13.5 * $y1 - 13.5 * $y2 + 4.5 * $y3;
        if ($depth < self::DEEPEST) {
            $max = 0.9 * $tolerance;
            $width = $sb - $sa;
            foreach (self::PROBES as $probe) {
                $s = $sa + $width * $probe;
                $u = ((($ax * $s + $bx) * $s + $cx) * $s - $a) / $h;
                $off = (($c3 * $u + $c2) * $u + $c1) * $u + $y0 - (($ay * $s + $by) * $s + $cy) * $s;
                if ($off > $max || $off < -$max) {
                    $middle = $a + $h / 2;
                    $sm = self::parameter($handles, $middle, $s1, $s2);
                    self::fit($handles, $a, $middle, $sa, $sm, $tolerance, $depth + 1, $pieces);
                    self::fit($handles, $middle, $b, $sm, $sb, $tolerance, $depth + 1, $pieces);

                    return;
                }
            }
        }
        $pieces[] = [$a, $y0, $c1 / $h, $c2 / ($h * $h), $c3 / ($h * $h * $h)];
    }

    /**
     * The parameter at which a share of the time has gone, between two that hold it: Newton's method within the bracket.
     *
     * @param  array{float, float, float, float}  $handles
     */
    private static function parameter(array $handles, float $share, float $low, float $high): float
    {
        if ($share <= 0.0 || $share >= 1.0) {
            return $share <= 0.0 ? 0.0 : 1.0;
        }
        [$x1, , $x2] = $handles;
        [$a, $b, $c] = [1 + 3 * $x1 - 3 * $x2, 3 * $x2 - 6 * $x1, 3 * $x1];
        $s = ($low + $high) / 2;
        for ($i = 0; $i < 60; $i++) {
            $off = (($a * $s + $b) * $s + $c) * $s - $share;
            if ($off < 1e-13 && $off > -1e-13) {
                break;
            }
            $off < 0 ? $low = $s : $high = $s;
            $slope = (3 * $a * $s + 2 * $b) * $s + $c;
            $next = $slope > 1e-9 ? $s - $off / $slope : -1.0;
            if ($next > $low && $next < $high) {
                $step = $next - $s;
                $s = $next;
                if ($step < 1e-8 && $step > -1e-8) {
                    break;
                }
            } elseif ($high - $low < 1e-14) {
                break;
            } else {
                $s = ($low + $high) / 2;
            }
        }

        return $s;
    }

    /**
     * The shares of the time at which the way crosses a limit, ascending.
     *
     * @param  array{float, float, float, float}  $handles
     * @return list<float>
     */
    private static function crossings(array $handles, float $min, float $max): array
    {
        $stops = [0.0, ...self::turns($handles), 1.0];
        $found = [];
        foreach ([$min, $max] as $limit) {
            for ($i = 0, $n = count($stops) - 1; is_finite($limit) && $i < $n; $i++) {
                [$low, $high] = [$stops[$i], $stops[$i + 1]];
                $rising = self::wayOf($handles, $high) >= self::wayOf($handles, $low);
                if ((self::wayOf($handles, $low) - $limit) * (self::wayOf($handles, $high) - $limit) >= 0) {
                    continue;
                }
                for ($k = 0; $k < 60; $k++) {
                    $middle = ($low + $high) / 2;
                    (self::wayOf($handles, $middle) < $limit) === $rising ? $low = $middle : $high = $middle;
                }
                $found[] = self::timeOf($handles, ($low + $high) / 2);
            }
        }
        sort($found);

        return $found;
    }

    /**
     * The parameters between 0 and 1 at which the way turns round.
     *
     * @param  array{float, float, float, float}  $handles
     * @return list<float> ascending
     */
    private static function turns(array $handles): array
    {
        [, $y1, , $y2] = $handles;
        // The derivative of the way over 3: a s² + b s + c.
        [$a, $b, $c] = [1 + 3 * $y1 - 3 * $y2, 2 * ($y2 - 2 * $y1), $y1];
        $roots = [];
        if (abs($a) < 1e-12) {
            $roots = abs($b) < 1e-12 ? [] : [-$c / $b];
        } elseif (($under = $b * $b - 4 * $a * $c) >= 0) {
            $roots = [(-$b - sqrt($under)) / (2 * $a), (-$b + sqrt($under)) / (2 * $a)];
        }
        $roots = array_values(array_filter($roots, static fn (float $s): bool => $s > 0 && $s < 1));
        sort($roots);

        return $roots;
    }

    /** @param  array{float, float, float, float}  $handles */
    private static function wayOf(array $handles, float $s): float
    {
        return ((1 + 3 * $handles[1] - 3 * $handles[3]) * $s + 3 * $handles[3] - 6 * $handles[1]) * $s * $s + 3 * $handles[1] * $s;
    }

    /** @param  array{float, float, float, float}  $handles */
    private static function timeOf(array $handles, float $s): float
    {
        return ((1 + 3 * $handles[0] - 3 * $handles[2]) * $s + 3 * $handles[2] - 6 * $handles[0]) * $s * $s + 3 * $handles[0] * $s;
    }
}
