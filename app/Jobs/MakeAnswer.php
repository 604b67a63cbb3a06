<?php

declare(strict_types=1);

namespace App\Jobs;

use App\Models\Show;
use App\Models\Task;
use App\Support\Tied;
use Symfony\Component\Process\Process;

/**
 * Makes a file that takes long in a process of its own, which is ended when nobody wants it any more, and keeps it
 * for who asks next.
 */
final readonly class MakeAnswer implements TaskWork
{
    private const EVERY_US = 50_000;

    public function run(Task $task, Show $show, Pace $pace): array
    {
        $process = Process::fromShellCommandline(
            Tied::prefix().'"$PHP" "$ARTISAN" kite:answer "$TASK"',
            base_path(),
            ['PHP' => PHP_BINARY, 'ARTISAN' => base_path('artisan'), 'TASK' => $task->id],
            timeout: null,
        );
        $process->start();
        try {
            while ($process->isRunning()) {
                $pace->at(0.0);
                usleep(self::EVERY_US);
            }
        } finally {
            $process->stop(0);
        }
        if ($process->getExitCode() !== 0) {
            throw new TaskFailed(
                trim($process->getOutput()) ?: 'The file could not be made; see the log of the worker.',
            );
        }

        return [];
    }
}
