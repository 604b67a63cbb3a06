<?php

declare(strict_types=1);

namespace Core\Routing;

/** Panes that suit several rasters at once. */
final class BestPane
{
    /**
     * @param  list<array{int, int}>  $rasters  pixels
     * @return array{int, int}|null as wide as the widest and as high as the highest, so that no surface lacks pixels;
     *     null for none
     */
    public static function largest(array $rasters): ?array
    {
        return $rasters === [] ? null : [max(array_column($rasters, 0)), max(array_column($rasters, 1))];
    }

    /**
     * @param  list<array{int, int}>  $rasters
     * @return array{int, int}|null the largest raster of the shape that most of them have, within 1 %; of several as
     *     common, the largest; null for none
     */
    public static function shapeOfMost(array $rasters): ?array
    {
        $best = null;
        foreach ($rasters as [$width, $height]) {
            $alike = count(
                array_filter(
                    $rasters,
                    static fn (array $other): bool => abs(($other[0] * $height) / ($other[1] * $width) - 1) <= 0.01,
                ),
            );
            if ($best === null || [$alike, $width * $height] > [$best[0], $best[1] * $best[2]]) {
                $best = [$alike, $width, $height];
            }
        }

        return $best === null ? null : [$best[1], $best[2]];
    }
}
