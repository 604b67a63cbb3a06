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
     * @return non-empty-list<array{float, float, float, float, float}> share at which it begins, c0 to c3 in the
     *     share since
     */
    public static function of(array $handles, float $tolerance, float $min = -INF, float $max = INF): array
    {
        $breaks = [0.0, ...self::crossings($handles, $min, $max), 1.0];
        $pieces = [];
        for ($i = 0, $n = count($breaks) - 1; $i < $n; $i++) {
            [$a, $b] = [$breaks[$i], $breaks[$i + 1]];
            $share = $a <= 0 ? 0.0 : self::timeOf($handles, $a);
            if (($b >= 1 ? 1.0 : self::timeOf($handles, $b)) - $share < 1e-12) {
                continue;
            }
            $middle = self::wayOf($handles, ($a + $b) / 2);
            if ($middle <= $min || $middle >= $max) {
                $pieces[] = [$share, $middle <= $min ? $min : $max, 0.0, 0.0, 0.0];
            } else {
                self::fit($handles, $a, $b, $tolerance, $pieces);
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
     * Fits the part between two parameters: through the curve at both and at the thirds between them, by divided
     * differences, so that no parameter has to be found for a share of the time.
     *
     * @param  array{float, float, float, float}  $handles
     * @param  list<array{float, float, float, float, float}>  $pieces
     */
    private static function fit(array $handles, float $from, float $to, float $tolerance, array &$pieces): void
    {
        [$x1, $w1, $x2, $w2] = $handles;
        [$ax, $bx, $cx] = [1 + 3 * $x1 - 3 * $x2, 3 * $x2 - 6 * $x1, 3 * $x1];
        [$ay, $by, $cy] = [1 + 3 * $w1 - 3 * $w2, 3 * $w2 - 6 * $w1, 3 * $w1];
        $max = 0.9 * $tolerance;
        $least = ($to - $from) / (1 << self::DEEPEST);
        // What is still to be fitted, the next on top: where each part ends.
        $ends = [$to];
        $sa = $from;
        while ($ends !== []) {
            $sb = $ends[count($ends) - 1];
            $width = $sb - $sa;
            $s1 = $sa + $width / 3;
            $s2 = $sb - $width / 3;
            $a = (($ax * $sa + $bx) * $sa + $cx) * $sa;
            $u1 = (($ax * $s1 + $bx) * $s1 + $cx) * $s1 - $a;
            $u2 = (($ax * $s2 + $bx) * $s2 + $cx) * $s2 - $a;
            $u3 = (($ax * $sb + $bx) * $sb + $cx) * $sb - $a;
            $y0 = (($ay * $sa + $by) * $sa + $cy) * $sa;
            $y3 = (($ay * $sb + $by) * $sb + $cy) * $sb;
            if ($u1 < 1e-15 || $u2 - $u1 < 1e-15 || $u3 - $u2 < 1e-15) {
                // Nearly no time goes by: straight from where it begins to where it ends.
                $pieces[] = [$a, $y0, $u3 > 1e-15 ? ($y3 - $y0) / $u3 : 0.0, 0.0, 0.0];
                $sa = array_pop($ends);

                continue;
            }
            $y1 = (($ay * $s1 + $by) * $s1 + $cy) * $s1;
            $y2 = (($ay * $s2 + $by) * $s2 + $cy) * $s2;
            $d01 = ($y1 - $y0) / $u1;
            $d12 = ($y2 - $y1) / ($u2 - $u1);
            $d012 = ($d12 - $d01) / $u2;
            $c3 = ((($y3 - $y2) / ($u3 - $u2) - $d12) / ($u3 - $u1) - $d012) / $u3;
            $c2 = $d012 - $c3 * ($u1 + $u2);
            $c1 = $d01 - $u1 * ($d012 - $u2 * $c3);
            if ($width > $least) {
                foreach (self::PROBES as $probe) {
                    $s = $sa + $width * $probe;
                    $u = (($ax * $s + $bx) * $s + $cx) * $s - $a;
                    $off = (($c3 * $u + $c2) * $u + $c1) * $u + $y0 - (($ay * $s + $by) * $s + $cy) * $s;
                    if ($off > $max || $off < -$max) {
                        $ends[] = $sa + $width / 2;

                        continue 2;
                    }
                }
            }
            $pieces[] = [$a, $y0, $c1, $c2, $c3];
            $sa = array_pop($ends);
        }
    }

    /**
     * The parameters at which the way crosses a limit, ascending.
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
                    self::wayOf($handles, $middle) < $limit === $rising ? ($low = $middle) : ($high = $middle);
                }
                $found[] = ($low + $high) / 2;
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
        return ((1 + 3 * $handles[1] - 3 * $handles[3]) * $s + 3 * $handles[3] - 6 * $handles[1]) * $s * $s +
            3 * $handles[1] * $s;
    }

    /** @param  array{float, float, float, float}  $handles */
    private static function timeOf(array $handles, float $s): float
    {
        return ((1 + 3 * $handles[0] - 3 * $handles[2]) * $s + 3 * $handles[2] - 6 * $handles[0]) * $s * $s +
            3 * $handles[0] * $s;
    }
}
