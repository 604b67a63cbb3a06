<?php

declare(strict_types=1);

namespace Core\Output;

/** Finds regions that leave their output's raster or lie on one another. */
final class RasterCheck
{
    /**
     * @param  array<string, Region>  $regions  by id, in drawing order
     * @return array{outside: list<string>, overlaps: list<array{string, string, Rect}>}
     */
    public static function of(Output $output, array $regions): array
    {
        $found = ['outside' => [], 'overlaps' => []];
        $raster = $output->raster();
        foreach ($regions as $id => $region) {
            if (! $raster->contains($region->place)) {
                $found['outside'][] = (string) $id;
            }
        }
        // Sorted by left edge, only neighbours that reach each other are compared.
        uasort($regions, static fn (Region $a, Region $b): int => $a->place->x <=> $b->place->x);
        $open = [];
        foreach ($regions as $id => $region) {
            foreach ($open as $otherId => $other) {
                if ($other->place->x + $other->place->width <= $region->place->x) {
                    unset($open[$otherId]);
                } elseif (($common = $other->place->overlap($region->place)) !== null) {
                    $found['overlaps'][] = [(string) $otherId, (string) $id, $common];
                }
            }
            $open[$id] = $region;
        }

        return $found;
    }
}
