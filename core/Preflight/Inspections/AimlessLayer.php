<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\Memo;
use Core\Show\Show;

/** Layers with clips that reach nothing. */
final readonly class AimlessLayer implements Inspection
{
    public function inspect(Show $show, Memo $memo): iterable
    {
        foreach ($show->programme->layers() as $layer) {
            if ($layer->clips !== [] && ($show->programme->route($layer)->surfaces ?? []) === []) {
                yield Finding::attention('routes', 'layer', $layer->id, "$layer->name has clips, but is aimed at nothing.");
            }
        }
    }
}
