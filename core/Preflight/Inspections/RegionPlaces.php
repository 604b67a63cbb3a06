<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Output\RasterCheck;
use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\ResultCache;
use Core\Show\Show;

/** Regions that leave the raster of their output, or lie on one another. */
final readonly class RegionPlaces implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        foreach ($show->delivery->outputs as $outputId => $output) {
            $regions = $show->delivery->regions[$outputId];
            $name = static fn (string $id): string => $show->venue->surfaces[$regions[$id]->surface]->name;
            $check = $cache->get(
                "places $outputId",
                [$output, $regions],
                static fn (): array => RasterCheck::of($output, $regions),
            );
            foreach ($check['outside'] as $id) {
                yield Finding::fault(
                    'outputs',
                    'region',
                    $id,
                    $name($id)." extends beyond $output->name ($output->width × $output->height px).",
                );
            }
            foreach ($check['overlaps'] as [$a, $b, $common]) {
                yield Finding::attention(
                    'outputs',
                    'region',
                    $b,
                    sprintf(
                        '%s and %s overlap on %s: %d × %d px at %d, %d.',
                        $name($a),
                        $name($b),
                        $output->name,
                        $common->width,
                        $common->height,
                        $common->x,
                        $common->y,
                    ),
                );
            }
        }
    }
}
