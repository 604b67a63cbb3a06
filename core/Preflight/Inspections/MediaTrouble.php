<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\NestedTimelines;
use Core\Show\ResultCache;
use Core\Show\Show;

/** Files that are missing, or can not be shown yet, and timelines that can't be shown as media. */
final readonly class MediaTrouble implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        foreach ($show->library->media as $id => $item) {
            if ($item->timeline !== null) {
                if (! isset($show->programme->timelines[$item->timeline])) {
                    yield Finding::fault('media', 'media', $id, "$item->name shows a timeline that was removed.");
                } elseif (NestedTimelines::isCircular($show, $item->timeline)) {
                    yield Finding::fault(
                        'timeline',
                        'timeline',
                        $item->timeline,
                        "{$show->programme->timelines[$item->timeline]->name} nests itself; the inner copy is black.",
                    );
                }
            }
            if (
                in_array($item->kind, ['file', 'input'], true) &&
                ! ($item->isSound() && $item->sound() !== null) &&
                ($trouble = $item->trouble()) !== null
            ) {
                yield in_array($item->state, ['waiting', 'working'], true)
                    ? Finding::attention('media', 'media', $id, $trouble)
                    : Finding::fault('media', 'media', $id, $trouble);
            }
        }
    }
}
