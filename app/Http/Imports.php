<?php

declare(strict_types=1);

namespace App\Http;

use App\Jobs\RunImport;
use App\Models\Show;
use App\Paper\Import;
use App\Show\Editor;
use App\Show\ShowRepository;
use App\Support\Id;
use App\Support\Problem;
use Illuminate\Http\JsonResponse;

/**
 * Takes a file from outside as one edit: a small one while somebody waits (200, 201), a large one in the worker
 * (202).
 */
final readonly class Imports
{
    public function __construct(private ShowRepository $rows, private Editor $editor)
    {
    }

    public function take(Show $show, string $person, Import $import, string $bytes, string $target = ''): JsonResponse
    {
        if (strlen($bytes) > $import->largest()) {
            throw Problem::refused('csv', 'The table has to be text of at most '.($import->largest() >> 20).' MB.');
        }
        if ($import->isLarge($bytes)) {
            return new JsonResponse(RunImport::begin($show, $person, $import, $bytes, $target)->payload(), 202);
        }
        $changes = $import->changes($this->rows->document($show), $bytes, $target, Id::make(...));

        return new JsonResponse(...$this->editor->order($show, $person, $import->title(), $changes, null));
    }
}
