<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Light\Scene;
use Core\Light\SurfaceChart;
use Core\Units\InvalidValue;

/**
 * The warp of a region from the venue: each crossing of lines of the surface's raster goes to the pixel of the
 * projector that lights it.
 */
final class ModelWarp
{
    /** Lines each way at most. */
    public const MOST = 129;

    /** Lines each way to begin with. */
    private const FIRST = 9;

    /** Pixels by which places between the lines may be missed before a line more is drawn. */
    private const TOLERANCE = 0.02;

    /** Degrees from straight on beyond which nothing is asked of the lines. */
    private const FLATTEST = 85.0;

    /**
     * @param  array{int, int}  $raster  of the surface
     * @param  Scene|null  $scene  what may stand between; null where it is not asked
     * @param  int  $most  lines each way
     * @param  (\Closure(float): void)|null  $progress  told the share that is done; may throw to stop
     *
     * @throws InvalidValue where the projector reaches nothing of it
     */
    public static function of(
        SurfaceChart $chart,
        array $raster,
        ProjectedRegion $of,
        ?Scene $scene = null,
        int $most = self::MOST,
        ?\Closure $progress = null,
    ): WarpLattice {
        $source = $of->region->source;
        [$width, $height] = $raster;
        [$left, $right, $top, $bottom] = [
            $source->x / $width,
            ($source->x + $source->width) / $width,
            $source->y / $height,
            ($source->y + $source->height) / $height,
        ];
        $us = self::lines($left, $right, $chart->xBreaks, min($most, self::FIRST));
        $vs = self::lines($top, $bottom, $chart->yBreaks, min($most, self::FIRST));
        $known = [];
        $at = static function (float $u, float $v) use ($chart, $of, &$known): ?array {
            $key = "$u $v";
            if (! array_key_exists($key, $known)) {
                $place = $chart->place($u, $v);
                $known[$key] = $place === null ? null : $of->pixel(...$place);
            }

            return $known[$key];
        };
        // What comes in from the front or, through a translucent face, from behind, and not too flat.
        $faces = static function (float $u, float $v) use ($chart, $of): bool {
            [$place, $normal, $m] = [$chart->place($u, $v), $chart->normal($u, $v), $of->beam->world->m];
            if ($place === null || $normal === null) {
                return false;
            }
            $to = [$m[12] - $place[0], $m[13] - $place[1], $m[14] - $place[2]];

            return abs($normal[0] * $to[0] + $normal[1] * $to[1] + $normal[2] * $to[2]) >=
                cos(deg2rad(self::FLATTEST)) * sqrt($to[0] ** 2 + $to[1] ** 2 + $to[2] ** 2);
        };
        $error = 0.0;
        for ($pass = 0; $pass < 5; $pass++) {
            $progress !== null && $progress((0.6 * $pass) / 5);
            [$across, $down, $error] = self::misses($us, $vs, $at, $faces, $of->part);
            $more = self::halved($us, $across, $most);
            $deeper = self::halved($vs, $down, $most);
            if ($more === $us && $deeper === $vs) {
                break;
            }
            [$us, $vs] = [$more, $deeper];
            [, , $error] = self::misses($us, $vs, $at, $faces, $of->part);
        }
        $points = [];
        foreach ($vs as $v) {
            foreach ($us as $u) {
                $points[] = $at($u, $v);
            }
        }
        $points = self::seen($points, $us, $vs, $chart, $of, $scene, $progress);
        if (array_filter($points) === []) {
            throw InvalidValue::because(
                'region',
                'The projector of this region lights nothing of its surface as it stands.',
            );
        }

        return new WarpLattice(
            array_map(static fn (float $u): float => $u * $width, $us),
            array_map(static fn (float $v): float => $v * $height, $vs),
            $points,
            $error,
        );
    }

    /**
     * @param  list<float>  $breaks
     * @return non-empty-list<float>
     */
    private static function lines(float $from, float $to, array $breaks, int $count): array
    {
        $inner = array_values(array_filter($breaks, static fn (float $b): bool => $b > $from + 1e-6 && $b < $to - 1e-6));
        $lines = [$from];
        foreach ([...$inner, $to] as $i => $end) {
            $start = $lines[count($lines) - 1];
            $pieces = max(1, (int) round((($count - 1) * ($end - $start)) / ($to - $from)));
            for ($k = 1; $k < $pieces; $k++) {
                $lines[] = $start + (($end - $start) * $k) / $pieces;
            }
            // Where the surface jumps, the last of the one side and the first of the other.
            if ($i < count($inner)) {
                array_push($lines, $end - 1e-7, $end + 1e-7);
            } else {
                $lines[] = $end;
            }
        }

        return $lines;
    }

    /**
     * By how much the middles of cells are missed, in pixels of the output.
     *
     * @param  non-empty-list<float>  $us
     * @param  non-empty-list<float>  $vs
     * @param  \Closure(float, float): (array{float, float, float}|null)  $at
     * @param  \Closure(float, float): bool  $faces
     * @return array{list<float>, list<float>, float} the worst between two lines across, between two down, and of all
     *     in the middles
     */
    private static function misses(array $us, array $vs, \Closure $at, \Closure $faces, Rect $part): array
    {
        [$across, $down, $error] = [array_fill(0, count($us) - 1, 0.0), array_fill(0, count($vs) - 1, 0.0), 0.0];
        $within = static fn (array $p): bool => $p[0] >= $part->x * $p[2] &&
            $p[0] <= ($part->x + $part->width) * $p[2] &&
            $p[1] >= $part->y * $p[2] &&
            $p[1] <= ($part->y + $part->height) * $p[2];
        $miss = static function (array $true, ?array $a, ?array $b): float {
            if ($a === null || $b === null) {
                return 0.0;
            }
            $w = $a[2] + $b[2];

            return hypot(($a[0] + $b[0]) / $w - $true[0] / $true[2], ($a[1] + $b[1]) / $w - $true[1] / $true[2]);
        };
        for ($j = 0, $m = count($vs) - 1; $j < $m; $j++) {
            for ($i = 0, $n = count($us) - 1; $i < $n; $i++) {
                if ($us[$i + 1] - $us[$i] < 1e-6 || $vs[$j + 1] - $vs[$j] < 1e-6) {
                    continue;
                }
                [$u, $v] = [($us[$i] + $us[$i + 1]) / 2, ($vs[$j] + $vs[$j + 1]) / 2];
                $true = $at($u, $v);
                if ($true === null || ! $within($true) || ! $faces($u, $v)) {
                    continue;
                }
                $ew = $miss($true, $at($us[$i], $v), $at($us[$i + 1], $v));
                $ns = $miss($true, $at($u, $vs[$j]), $at($u, $vs[$j + 1]));
                $across[$i] = max($across[$i], $ew);
                $down[$j] = max($down[$j], $ns);
                // The cell is drawn as two triangles: its middle lies on the diagonal that they share.
                $error = max($error, $miss($true, $at($us[$i], $vs[$j]), $at($us[$i + 1], $vs[$j + 1])));
            }
        }

        return [array_values($across), array_values($down), $error];
    }

    /**
     * @param  non-empty-list<float>  $lines
     * @param  list<float>  $misses
     * @return non-empty-list<float>
     */
    private static function halved(array $lines, array $misses, int $most): array
    {
        $wanted = array_filter($misses, static fn (float $m): bool => $m > self::TOLERANCE);
        arsort($wanted);
        $wanted = array_slice($wanted, 0, max(0, $most - count($lines)), true);
        $all = [$lines[0]];
        for ($i = 1, $n = count($lines); $i < $n; $i++) {
            if (isset($wanted[$i - 1])) {
                $all[] = ($lines[$i - 1] + $lines[$i]) / 2;
            }
            $all[] = $lines[$i];
        }

        return $all;
    }

    /**
     * Without points that are hidden, and have only hidden ones around them.
     *
     * @param  list<array{float, float, float}|null>  $points
     * @param  non-empty-list<float>  $us
     * @param  non-empty-list<float>  $vs
     * @return list<array{float, float, float}|null>
     */
    private static function seen(
        array $points,
        array $us,
        array $vs,
        SurfaceChart $chart,
        ProjectedRegion $of,
        ?Scene $scene,
        ?\Closure $progress,
    ): array {
        if ($scene === null) {
            return $points;
        }
        [$n, $m] = [count($us), count($vs)];
        $lit = [];
        foreach ($points as $k => $point) {
            $k % 256 === 0 && $progress !== null && $progress(0.6 + (0.4 * $k) / count($points));
            [$u, $v] = [$us[$k % $n], $vs[intdiv($k, $n)]];
            $place = $point === null ? null : $chart->place($u, $v);
            $normal = $place === null ? null : $chart->normal($u, $v);
            $lit[] = $place !== null && $normal !== null && $of->lux($scene, $place, $normal, 90, true) > 0;
        }
        foreach ($points as $k => $point) {
            [$i, $j] = [$k % $n, intdiv($k, $n)];
            $near = false;
            for ($y = max(0, $j - 1); $y <= min($m - 1, $j + 1) && ! $near; $y++) {
                for ($x = max(0, $i - 1); $x <= min($n - 1, $i + 1) && ! $near; $x++) {
                    $near = $lit[$y * $n + $x];
                }
            }
            if (! $near) {
                $points[$k] = null;
            }
        }

        return $points;
    }
}
