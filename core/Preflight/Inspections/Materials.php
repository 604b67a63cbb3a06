<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\ResultCache;
use Core\Show\Show;

/** Faces that give back more light than falls on them. */
final readonly class Materials implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        foreach ($show->venue->surfaces as $id => $surface) {
            foreach ($surface->shines() ? [] : $surface->material->remarks() as $remark) {
                yield Finding::attention('venue', 'surface', (string) $id, "$surface->name: $remark");
            }
        }
    }
}
