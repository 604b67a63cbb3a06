<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\ResultCache;
use Core\Show\Show;

/** Inputs that have no signal. */
final readonly class LostInput implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        foreach ($show->library->media as $id => $item) {
            if ($item->kind === 'input' && $item->state === 'lost') {
                $instead = $item->standIn === null ? null : $show->library->media[$item->standIn] ?? null;
                yield Finding::fault(
                    'media',
                    'media',
                    $id,
                    "$item->name has no signal; ".
                        ($instead === null
                            ? 'nothing is shown in its place.'
                            : "$instead->name is shown in its place."),
                );
            }
        }
    }
}
