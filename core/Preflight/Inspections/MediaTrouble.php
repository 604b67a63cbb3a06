<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\Memo;
use Core\Show\Show;

/** Files that are missing, or can not be shown yet. */
final readonly class MediaTrouble implements Inspection
{
    public function inspect(Show $show, Memo $memo): iterable
    {
        foreach ($show->library->media as $id => $item) {
            if ($item->kind === 'file' && ($trouble = $item->trouble()) !== null) {
                yield in_array($item->state, ['waiting', 'working'], true) ? Finding::attention('media', 'media', $id, $trouble) : Finding::fault('media', 'media', $id, $trouble);
            }
        }
    }
}
