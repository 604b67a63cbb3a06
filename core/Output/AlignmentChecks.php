<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Geometry\Linear;
use Core\Geometry\Mat4;
use Core\Geometry\Vec3;
use Core\Units\InvalidValue;

/** Whether points tell where a projector stands, and what is missing where they do not. */
final class AlignmentChecks
{
    /** Share of the extent of all points within which two are at one place. */
    private const SAME = 1e-3;

    /** Pixels by which two points at one place may differ: more is another place. */
    private const APART = 20.0;

    /** Share of the distance by which one pixel of error may move the projector. */
    private const LOOSE = 0.05;

    /** Rows and columns of the picture in words. */
    private const ROWS = ['top', 'middle', 'bottom'];

    private const COLUMNS = ['left', 'middle', 'right'];

    /**
     * Points twice.
     *
     * @param  list<array{place: array{float, float, float}, pixel: array{float, float}}>  $points
     * @param  int  $least  points that it takes
     *
     * @throws InvalidValue
     */
    public static function points(array $points, int $least): void
    {
        [$min, $max] = [[INF, INF, INF], [-INF, -INF, -INF]];
        foreach ($points as ['place' => $p]) {
            foreach ($p as $k => $v) {
                [$min[$k], $max[$k]] = [min($min[$k], $v), max($max[$k], $v)];
            }
        }
        $extent = Vec3::of(...$max)->minus(Vec3::of(...$min))->length();
        $twice = [];
        foreach ($points as $i => ['place' => $p, 'pixel' => $q]) {
            for ($j = 0; $j < $i; $j++) {
                if (Vec3::of(...$p)->minus(Vec3::of(...$points[$j]['place']))->length() > self::SAME * $extent) {
                    continue;
                }
                $other = $points[$j]['pixel'];
                if (hypot($q[0] - $other[0], $q[1] - $other[1]) > self::APART) {
                    throw InvalidValue::because(
                        'points',
                        sprintf(
                            'Points %d and %d are at the same place but lit by pixels that are far apart: correct one, or remove it.',
                            $j + 1,
                            $i + 1,
                        ),
                    );
                }
                $twice[$i] = [$j + 1, $i + 1];
            }
        }
        $distinct = count($points) - count($twice);
        if ($twice !== [] && $distinct < $least) {
            [$a, $b] = reset($twice);
            throw InvalidValue::because(
                'points',
                "Points $a and $b are at the same place and count as one: $distinct are left of the $least that it takes. Add one elsewhere.",
            );
        }
    }

    /**
     * A projector on the other side of the wall than it is planned.
     *
     * @param  list<array{place: array{float, float, float}, pixel: array{float, float}}>  $points  all in a plane
     *
     * @throws InvalidValue
     */
    public static function side(array $points, Mat4 $found, Mat4 $plan): void
    {
        // Of the plane through the points: the normal of the largest triangle.
        [$normal, $at] = [null, Vec3::of(...$points[0]['place'])];
        foreach ($points as $i => ['place' => $b]) {
            for ($j = 0; $j < $i; $j++) {
                $n = Vec3::of(...$b)
                    ->minus($at)
                    ->cross(Vec3::of(...$points[$j]['place'])->minus($at));
                $normal = $normal === null || $n->length() > $normal->length() ? $n : $normal;
            }
        }
        if ($normal === null || $normal->length() === 0.0) {
            return;
        }
        $normal = $normal->unit();
        $stands = $found->origin()->minus($at)->dot($normal);
        $planned = $plan->origin()->minus($at)->dot($normal);
        if ($stands * $planned < 0) {
            throw InvalidValue::because(
                'points',
                sprintf(
                    'The points fit a projector %.1f m behind the surface, planned %.1f m before it: left and right were exchanged, or the picture is mirrored.',
                    abs($stands),
                    abs($planned),
                ),
            );
        }
    }

    /**
     * How much a pixel of error moves the projector.
     *
     * @param  \Closure(list<array{float, float, float}>): list<list<float>>  $information  what the points tell, with
     *     places more: the matrix of the normal equations, the place of the projector first
     * @param  list<array{list<array{float, float, float}>, int, int}>  $candidates  places that may be added, with
     *     column and row of the picture
     * @param  float  $distance  metres to the points
     *
     * @throws InvalidValue
     */
    public static function looseness(\Closure $information, array $candidates, float $distance): void
    {
        $now = self::metres($information([]));
        if ($now <= self::LOOSE * $distance) {
            return;
        }
        [$best, $named] = [$now, null];
        foreach ($candidates as [$places, $column, $row]) {
            $with = self::metres($information($places));
            if ($with < $best) {
                [$best, $named] = [$with, [self::ROWS[$row], self::COLUMNS[$column]]];
            }
        }
        $where =
            $named === null ? 'elsewhere' : ($named[0] === $named[1] ? 'in the middle' : "at the $named[0] $named[1]");
        throw InvalidValue::because(
            'points',
            sprintf(
                'The points leave its place open: one pixel of error moves the projector by %s. Add one %s of its picture, if possible nearer or farther than the others.',
                is_finite($now) && $now < 100 ? sprintf('%.1f m', $now) : 'many metres',
                $where,
            ),
        );
    }

    /** @param  list<list<float>>  $information */
    private static function metres(array $information): float
    {
        // Of unlike units: each is scaled to 1 on the diagonal, so that only what is really open makes it singular.
        $scale = array_map(
            static fn (int $k): float => sqrt(max(1e-300, $information[$k][$k])),
            array_keys($information),
        );
        $matrix = [];
        foreach ($information as $r => $row) {
            $matrix[] = array_map(static fn (float $v, float $s): float => $v / $s / $scale[$r], $row, $scale);
        }
        [$values] = Linear::eigen($matrix);
        if (($values[0] ?? 0.0) < 1e-13) {
            return INF;
        }
        $sum = 0.0;
        foreach ([0, 1, 2] as $k) {
            $column = Linear::solve(
                $matrix,
                array_map(static fn (int $at): float => $at === $k ? 1.0 : 0.0, array_keys($matrix)),
            );
            $sum += $column === null ? INF : max(0.0, $column[$k]) / $scale[$k] ** 2;
        }

        return sqrt($sum);
    }
}
