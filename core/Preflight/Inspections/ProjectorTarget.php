<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\ResultCache;
use Core\Show\Show;

/** Projectors that are there for a face which is gone. */
final readonly class ProjectorTarget implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        foreach ($show->venue->projectors as $id => $projector) {
            foreach ($projector->aims as $aim) {
                if (! isset($show->venue->surfaces[$aim])) {
                    yield Finding::attention(
                        'venue',
                        'projector',
                        $id,
                        "$projector->name has a target face that was removed.",
                    );
                }
            }
        }
    }
}
