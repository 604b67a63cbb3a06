<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\ResultCache;
use Core\Show\Show;

/** Surfaces whose pixels leave nowhere. */
final readonly class SurfaceWithoutRegion implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        $shown = [];
        foreach ($show->delivery->regions as $regions) {
            foreach ($regions as $region) {
                $shown[$region->surface] = true;
            }
        }
        foreach (array_diff_key($show->venue->surfaces, $shown) as $id => $surface) {
            // Lights leave by their patches.
            if ($surface->carrier->fixture() !== null) {
                continue;
            }
            yield Finding::attention('outputs', 'surface', (string) $id, "$surface->name has no region on any output.");
        }
    }
}
