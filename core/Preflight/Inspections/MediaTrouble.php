<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\Memo;
use Core\Show\NestedTimelines;
use Core\Show\Show;

/** Files that are missing, or can not be shown yet, and timelines that can't be shown as media. */
final readonly class MediaTrouble implements Inspection
{
    public function inspect(Show $show, Memo $memo): iterable
    {
        foreach ($show->library->media as $id => $item) {
            if ($item->timeline !== null) {
                if (! isset($show->programme->timelines[$item->timeline])) {
                    yield Finding::fault('media', 'media', $id, "$item->name shows a timeline that was removed.");
                } elseif (NestedTimelines::isCircular($show, $item->timeline)) {
                    yield Finding::fault('timeline', 'timeline', $item->timeline, "{$show->programme->timelines[$item->timeline]->name} is shown within itself; that part of it stays dark.");
                }
            }
            if (in_array($item->kind, ['file', 'input'], true) && ! ($item->isSound() && $item->sound() !== null) && ($trouble = $item->trouble()) !== null) {
                yield in_array($item->state, ['waiting', 'working'], true) ? Finding::attention('media', 'media', $id, $trouble) : Finding::fault('media', 'media', $id, $trouble);
            }
        }
    }
}
