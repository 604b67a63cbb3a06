<?php

declare(strict_types=1);

namespace App\Jobs;

use App\Models\Show;
use App\Models\Task;
use App\Show\Lighting;
use App\Show\ShowRepository;

/** Casts the light of a venue with many cells and rays. */
final readonly class CastLight implements TaskWork
{
    public function __construct(private ShowRepository $rows, private Lighting $lighting)
    {
    }

    public function run(Task $task, Show $show, Pace $pace): array
    {
        $all = $this->rows->withFiles($show->id);
        $key = Lighting::key($all);
        try {
            $this->lighting->compute(
                $this->rows->core($show, $all),
                $all,
                $key,
                (int) $task->input['cells'],
                null,
                $pace->at(...),
            );
        } catch (TookTooLong $e) {
            throw new TaskFailed($e->getMessage().' Cast it with fewer cells.');
        }

        return ['key' => $key];
    }
}
