<?php

declare(strict_types=1);

namespace App\Jobs;

use App\Models\Show;
use App\Models\Task;
use Core\Units\InvalidValue;

/** What one kind of task does. */
interface TaskWork
{
    /**
     * @return array{message?: string, key?: string, revision?: int} what came of it
     *
     * @throws Stopped|Interrupted|TookTooLong by the pace, which it asks often
     * @throws TaskFailed|InvalidValue with what is wrong, for the one who asked
     */
    public function run(Task $task, Show $show, Pace $pace): array;
}
