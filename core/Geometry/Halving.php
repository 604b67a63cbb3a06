<?php

declare(strict_types=1);

namespace Core\Geometry;

/**
 * Divides triangles where flat ones are not near enough: each edge is judged by its ends alone, so that neighbours
 * divide the edge that they share in the same place, and no gap opens between them.
 */
final class Halving
{
    /**
     * @template C
     *
     * @param  array{C, C, C}  $triangle
     * @param  \Closure(C, C): (C|null)  $middle  of an edge where it is halved; null where it is near enough
     * @param  int  $deepest  how often an edge is halved at most
     * @return list<array{C, C, C}> wound as it is
     */
    public static function of(array $triangle, \Closure $middle, int $deepest): array
    {
        [$found, $waiting] = [[], [[$triangle, $deepest]]];
        while ($waiting !== []) {
            [$one, $left] = array_pop($waiting);
            [$a, $b, $c] = $one;
            [$ab, $bc, $ca] = $left > 0 ? [$middle($a, $b), $middle($b, $c), $middle($c, $a)] : [null, null, null];
            if ($ab === null && $bc === null && $ca === null) {
                $found[] = $one;

                continue;
            }
            if ($ab !== null && $bc !== null && $ca !== null) {
                $pieces = [[$a, $ab, $ca], [$ab, $b, $bc], [$bc, $c, $ca], [$ab, $bc, $ca]];
            } else {
                // Round the triangle with the middles, from the first of these on.
                [$ring, $from] = [[], null];
                foreach ([[$a, $ab], [$b, $bc], [$c, $ca]] as [$corner, $half]) {
                    $ring[] = $corner;
                    if ($half !== null) {
                        $from ??= count($ring);
                        $ring[] = $half;
                    }
                }
                $pieces = self::fans([...array_slice($ring, (int) $from), ...array_slice($ring, 0, (int) $from)]);
            }
            foreach ($pieces as $piece) {
                $waiting[] = [$piece, $left - 1];
            }
        }

        return $found;
    }

    /**
     * A convex polygon as triangles.
     *
     * @template C
     *
     * @param  list<C>  $polygon
     * @return list<array{C, C, C}>
     */
    public static function fans(array $polygon): array
    {
        $triangles = [];
        for ($k = 2, $n = count($polygon); $k < $n; $k++) {
            $triangles[] = [$polygon[0], $polygon[$k - 1], $polygon[$k]];
        }

        return $triangles;
    }

    /**
     * The part of a convex polygon on the side of a plane where the distance is not negative.
     *
     * @param  list<list<float>>  $corners  numbers that are all linear over the polygon
     * @param  \Closure(list<float>): float  $distance  linear in them
     * @return list<list<float>>
     */
    public static function clipped(array $corners, \Closure $distance): array
    {
        $at = array_map($distance, $corners);
        if (array_filter($at, static fn (float $d): bool => $d < 0) === []) {
            return $corners;
        }
        $kept = [];
        foreach ($corners as $i => $a) {
            $next = ($i + 1) % count($corners);
            [$b, $d, $e] = [$corners[$next], $at[$i], $at[$next]];
            $d >= 0 && ($kept[] = $a);
            if ($d >= 0 !== $e >= 0) {
                $s = $d / ($d - $e);
                $kept[] = array_values(
                    array_map(static fn (float $from, float $to): float => $from + $s * ($to - $from), $a, $b),
                );
            }
        }

        return count($kept) < 3 ? [] : $kept;
    }
}
