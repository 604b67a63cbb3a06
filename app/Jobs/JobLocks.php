<?php

declare(strict_types=1);

namespace App\Jobs;

use App\Models\StoredFile;
use App\Models\Task;
use App\Support\FileLock;
use Illuminate\Queue\Events\JobProcessing;
use Illuminate\Support\Facades\DB;

/**
 * Which worker is at which job: each holds a lock on a file named by the job for as long as it is at it, and the
 * system lets go of it however the worker ends. A job that is taken but held by nobody is given back.
 */
final class JobLocks
{
    /** Grace period between taking a job and holding its lock, in seconds. */
    private const GRACE = 3;

    private static ?FileLock $held = null;

    private static function folder(): string
    {
        $folder = config('kite.run').'/jobs';
        is_dir($folder) || @mkdir($folder, 0700, true);

        return $folder;
    }

    public static function take(JobProcessing $event): void
    {
        self::letGo();
        if ((string) $event->job->getJobId() === '') {
            return;
        }
        self::$held = FileLock::try(self::folder().'/'.$event->job->getJobId());
    }

    public static function letGo(): void
    {
        self::$held?->release();
        self::$held = null;
    }

    /** Does something that only one may be at; where another is, nothing. */
    public static function alone(string $what, \Closure $do): void
    {
        $lock = FileLock::try(self::folder()."/alone-$what");
        if ($lock === null) {
            return;
        }
        try {
            $do();
        } finally {
            $lock->release();
        }
    }

    /** Makes jobs for files and tasks that wait for one and have none: who began them was killed before it could. */
    public static function adopt(): int
    {
        $made = 0;
        foreach (
            [
                [StoredFile::class, static fn (string $hash) => MakeReady::dispatch($hash)],
                [Task::class, static fn (string $id) => RunTask::dispatch($id)],
            ] as [$model, $dispatch]
        ) {
            $jobs = null;
            foreach (
                $model::query()
                    ->whereIn('state', Task::OPEN)
                    ->where('updated_at', '<', now()->subSeconds(self::GRACE))
                    ->get() as $row
            ) {
                $jobs ??= DB::table('jobs')->pluck('payload')->implode("\n");
                if (! str_contains($jobs, (string) $row->getKey())) {
                    $dispatch((string) $row->getKey());
                    $made++;
                }
            }
        }

        return $made;
    }

    /** Gives back the jobs whose worker is gone. */
    public static function recover(): int
    {
        $back = 0;
        foreach (
            DB::table('jobs')
                ->whereNotNull('reserved_at')
                ->get(['id', 'reserved_at']) as $job
        ) {
            if (abs(time() - (int) $job->reserved_at) < self::GRACE) {
                continue;
            }
            $lock = FileLock::try(self::folder()."/$job->id");
            if ($lock === null) {
                continue;
            }
            $back += DB::table('jobs')
                ->where('id', $job->id)
                ->where('reserved_at', $job->reserved_at)
                ->update(['reserved_at' => null]);
            $lock->release();
        }

        return $back;
    }
}
