<?php

declare(strict_types=1);

namespace Core\Routing;

use Core\Units\Pixels;

/** Shares of a canvas laid out anew: rectangles of whole pixels, whose common corner is the canvas's. */
final class CanvasLayout
{
    /**
     * As the surfaces stand, seen from the front, all at one pixel density: that of the densest, as far as the pane
     * may be that large.
     *
     * @param  array<string, array{float, float, float, float, int, int}>  $seen  by surface: left, top, right, bottom
     *     in metres (up is more), raster width and height
     * @return array<string, array{int, int, int, int}> x, y, width, height by surface
     */
    public static function front(array $seen): array
    {
        if ($seen === []) {
            return [];
        }
        $density = 0.0;
        foreach ($seen as [$left, $top, $right, $bottom, $width, $height]) {
            // What stands edge-on has no width from here; its height says how dense it is.
            $density = max(
                $density,
                $right - $left > 0.05 ? $width / ($right - $left) : 0.0,
                $top - $bottom > 0.05 ? $height / ($top - $bottom) : 0.0,
            );
        }
        [$x0, $y0] = [min(array_column($seen, 0)), max(array_column($seen, 1))];
        [$across, $down] = [max(array_column($seen, 2)) - $x0, $y0 - min(array_column($seen, 3))];
        $density = min(
            $density > 0 ? $density : 100.0,
            Route::MAX_PANE / max($across, 0.001),
            Route::MAX_PANE / max($down, 0.001),
        );
        $places = [];
        foreach ($seen as $id => [$left, $top, $right, $bottom]) {
            [$x, $y] = [Pixels::nearest(($left - $x0) * $density), Pixels::nearest(($y0 - $top) * $density)];
            $places[$id] = [
                $x,
                $y,
                max(1, Pixels::nearest(($right - $x0) * $density) - $x),
                max(1, Pixels::nearest(($y0 - $bottom) * $density) - $y),
            ];
        }

        return $places;
    }

    /**
     * One beside another, each with its own raster, their upper edges in line; a row that a pane can't hold goes on
     * below.
     *
     * @param  array<string, array{int, int}>  $rasters  width and height by surface
     * @return array<string, array{int, int, int, int}> x, y, width, height by surface
     */
    public static function row(array $rasters): array
    {
        return self::shelves($rasters, Route::MAX_PANE);
    }

    /**
     * Close together, each with its own raster: on shelves, the highest first, of about the shape of a screen.
     *
     * @param  array<string, array{int, int}>  $rasters  width and height by surface
     * @return array<string, array{int, int, int, int}> x, y, width, height by surface
     */
    public static function packed(array $rasters): array
    {
        $area = array_sum(array_map(static fn (array $r): int => $r[0] * $r[1], $rasters));
        $widest = $rasters === [] ? 1 : max(array_column($rasters, 0));
        uasort($rasters, static fn (array $a, array $b): int => [$b[1], $b[0]] <=> [$a[1], $a[0]]);

        return self::shelves($rasters, min(Route::MAX_PANE, max($widest, Pixels::ceil(sqrt(($area * 16) / 9)))));
    }

    /**
     * What a canvas needs to hold all of them.
     *
     * @param  array<string, array{int, int, int, int}>  $places
     * @return array{int, int} width and height in pixels, at least 1
     */
    public static function pane(array $places): array
    {
        $far = static fn (int $at): int => $places === []
            ? 1
            : max(array_map(static fn (array $p): int => $p[$at] + $p[$at + 2], $places));

        return [max(1, min(Route::MAX_PANE, $far(0))), max(1, min(Route::MAX_PANE, $far(1)))];
    }

    /**
     * @param  array<string, array{int, int}>  $rasters
     * @return array<string, array{int, int, int, int}>
     */
    private static function shelves(array $rasters, int $width): array
    {
        [$places, $x, $y, $shelf] = [[], 0, 0, 0];
        foreach ($rasters as $id => [$w, $h]) {
            if ($x > 0 && $x + $w > $width) {
                [$x, $y, $shelf] = [0, $y + $shelf, 0];
            }
            $places[$id] = [$x, $y, $w, $h];
            [$x, $shelf] = [$x + $w, max($shelf, $h)];
        }

        return $places;
    }
}
