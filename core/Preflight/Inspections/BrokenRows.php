<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\ResultCache;
use Core\Show\Schema;
use Core\Show\Show;

/** Rows that name what is gone, or can not be what they say. */
final readonly class BrokenRows implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        foreach ($show->broken as $broken) {
            yield Finding::fault(
                $broken->kind === 'layer' ? 'routes' : Schema::view($broken->kind),
                $broken->kind,
                $broken->id,
                $broken->message,
            );
        }
    }
}
