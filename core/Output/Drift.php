<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Geometry\Homography;
use Core\Geometry\Linear;
use Core\Geometry\Mat3;
use Core\Units\InvalidValue;

/**
 * How far a picture has drifted, from pixels where points were and where they are found now: by four of them or more in
 * perspective (least squares), by three evenly stretched, by two turned and scaled, by one moved. What points leave open,
 * such as those on one line, is taken in the next simpler way.
 */
final readonly class Drift
{
    /**
     * @param  Mat3  $map  pixels of the output onto where they have to be now
     * @param  float  $before  px: root of the mean square by which points are off
     * @param  float  $after  the same, once all is moved by the map
     */
    private function __construct(public Mat3 $map, public float $before, public float $after)
    {
    }

    /**
     * @param  list<array{float, float}>  $from
     * @param  list<array{float, float}>  $to  as many
     *
     * @throws InvalidValue where there is none, or the picture would turn over
     */
    public static function of(array $from, array $to): self
    {
        $n = count($from);
        if ($n === 0 || $n !== count($to)) {
            throw InvalidValue::because('points', 'No point was found yet: find some first.');
        }
        foreach ([...$from, ...$to] as [$x, $y]) {
            if (! is_finite($x) || ! is_finite($y) || max(abs($x), abs($y)) > 1e6) {
                throw InvalidValue::because('points', 'A place of a point is two numbers of pixels.');
            }
        }
        $map = self::perspective($from, $to) ?? (self::stretch($from, $to) ?? self::turn($from, $to));
        [$a, $b, , $d, $e, , $g, $h, $i] = $map->m;
        foreach ($from as [$x, $y]) {
            $w = $g * $x + $h * $y + $i;
            [$u, $v] = $map->point($x, $y);
            if ($w <= 1e-9 || ($a - $u * $g) * ($e - $v * $h) - ($b - $u * $h) * ($d - $v * $g) <= 0) {
                throw InvalidValue::because('points', 'The picture would turn over: two of the points were exchanged.');
            }
        }

        return new self($map, self::off($from, $to, Mat3::identity()), self::off($from, $to, $map));
    }

    /**
     * @param  list<array{float, float}>  $from
     * @param  list<array{float, float}>  $to
     */
    private static function perspective(array $from, array $to): ?Mat3
    {
        return count($from) < 4 ? null : Homography::of($from, $to);
    }

    /**
     * @param  list<array{float, float}>  $from
     * @param  list<array{float, float}>  $to
     */
    private static function stretch(array $from, array $to): ?Mat3
    {
        [[$mx, $my], [$nx, $ny]] = [self::middle($from), self::middle($to)];
        [$xx, $xy, $yy] = [0.0, 0.0, 0.0];
        [$u, $v] = [[0.0, 0.0], [0.0, 0.0]];
        foreach ($from as $i => [$x, $y]) {
            [$x, $y] = [$x - $mx, $y - $my];
            [$tx, $ty] = [$to[$i][0] - $nx, $to[$i][1] - $ny];
            [$xx, $xy, $yy] = [$xx + $x * $x, $xy + $x * $y, $yy + $y * $y];
            [$u, $v] = [[$u[0] + $x * $tx, $u[1] + $y * $tx], [$v[0] + $x * $ty, $v[1] + $y * $ty]];
        }
        // Points on a line say nothing of what lies beside it.
        if ($xx * $yy - $xy * $xy <= 1e-6 * ($xx + $yy) ** 2) {
            return null;
        }
        [$a, $b] = [Linear::solve([[$xx, $xy], [$xy, $yy]], $u), Linear::solve([[$xx, $xy], [$xy, $yy]], $v)];

        return $a === null || $b === null
            ? null
            : Mat3::of([
                $a[0],
                $a[1],
                $nx - $a[0] * $mx - $a[1] * $my,
                $b[0],
                $b[1],
                $ny - $b[0] * $mx - $b[1] * $my,
                0.0,
                0.0,
                1.0,
            ]);
    }

    /**
     * Turned, scaled and moved; where all points are one, moved alone.
     *
     * @param  list<array{float, float}>  $from
     * @param  list<array{float, float}>  $to
     */
    private static function turn(array $from, array $to): Mat3
    {
        [[$mx, $my], [$nx, $ny]] = [self::middle($from), self::middle($to)];
        [$size, $along, $aside] = [0.0, 0.0, 0.0];
        foreach ($from as $i => [$x, $y]) {
            [$x, $y] = [$x - $mx, $y - $my];
            [$tx, $ty] = [$to[$i][0] - $nx, $to[$i][1] - $ny];
            $size += $x * $x + $y * $y;
            $along += $x * $tx + $y * $ty;
            $aside += $x * $ty - $y * $tx;
        }
        [$c, $s] = $size > 1e-9 && hypot($along, $aside) > 1e-9 * $size ? [$along / $size, $aside / $size] : [1.0, 0.0];

        return Mat3::of([$c, -$s, $nx - $c * $mx + $s * $my, $s, $c, $ny - $s * $mx - $c * $my, 0.0, 0.0, 1.0]);
    }

    /**
     * @param  list<array{float, float}>  $points
     * @return array{float, float}
     */
    private static function middle(array $points): array
    {
        $n = count($points);

        return [array_sum(array_column($points, 0)) / $n, array_sum(array_column($points, 1)) / $n];
    }

    /**
     * @param  list<array{float, float}>  $from
     * @param  list<array{float, float}>  $to
     */
    private static function off(array $from, array $to, Mat3 $map): float
    {
        $sum = 0.0;
        foreach ($from as $i => [$x, $y]) {
            $at = $map->point($x, $y);
            $sum += ($at[0] - $to[$i][0]) ** 2 + ($at[1] - $to[$i][1]) ** 2;
        }

        return sqrt($sum / count($from));
    }
}
