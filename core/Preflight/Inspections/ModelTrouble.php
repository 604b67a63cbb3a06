<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\ResultCache;
use Core\Show\Show;

/** Models of which there is nothing to see. */
final readonly class ModelTrouble implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        foreach ($show->venue->surfaces as $id => $surface) {
            if (($trouble = $surface->carrier->trouble()) !== null) {
                yield Finding::attention('venue', 'surface', $id, "$surface->name: $trouble");
            }
        }
    }
}
