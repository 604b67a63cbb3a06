<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\ResultCache;
use Core\Show\Show;

/** Lenses that are asked for more than they have. */
final readonly class ProjectorLens implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        foreach ($show->venue->projectors as $id => $projector) {
            foreach ($projector->lens->remarks() as $remark) {
                yield Finding::attention('venue', 'projector', $id, "$projector->name: $remark");
            }
        }
    }
}
