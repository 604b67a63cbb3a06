<?php

declare(strict_types=1);

namespace App\Jobs;

use App\Models\Show;
use App\Models\Task;
use App\Support\Problem;
use Core\Units\InvalidValue;
use Illuminate\Contracts\Queue\ShouldQueue;
use Illuminate\Foundation\Queue\Queueable;

/** Does a task in the worker: says how far it is, stops when told, goes on with the next worker when this one ends. */
final class RunTask implements ShouldQueue
{
    use Queueable;

    private const WORKS = [
        'light' => CastLight::class,
        'projection' => ComputeProjection::class,
        'import' => RunImport::class,
        'answer' => MakeAnswer::class,
    ];

    /** A worker that ends in the middle of it leaves it to the next, so often. */
    public int $tries = 3;

    public int $timeout = 0;

    public function __construct(public readonly string $task)
    {
    }

    /**
     * @param  array<string, mixed>  $input  what its kind needs
     * @param  string  $key  by which it is found again
     */
    public static function begin(string $kind, Show $show, string $person, array $input, string $key = ''): Task
    {
        $task = Task::query()->create([
            'showId' => $show->id,
            'person' => $person,
            'kind' => $kind,
            'input' => $input,
            'key' => $key,
            'state' => 'waiting',
            'progress' => 0,
        ]);
        self::dispatch($task->id);

        return $task;
    }

    public function handle(): void
    {
        JobLocks::alone($this->task, $this->work(...));
    }

    private function work(): void
    {
        $task = Task::query()->find($this->task);
        if ($task === null || ! in_array($task->state, Task::OPEN, true)) {
            return;
        }
        $task->update(['state' => 'working', 'progress' => 0]);
        $pace = new Pace(
            static fn (): bool => Task::query()->whereKey($task->id)->value('state') === 'working',
            static function (float $share) use ($task): void {
                $task->update(['progress' => $share]);
            },
            config('kite.job_seconds'),
        );
        try {
            $show = Show::query()->findOrFail($task->showId);
            $work = app(self::WORKS[$task->kind]);
            $task->update($work->run($task, $show, $pace) + ['state' => 'ready', 'progress' => 1]);
        } catch (Stopped) {
            return;
        } catch (Interrupted) {
            $task->update(['state' => 'waiting']);
            $this->release();
        } catch (TookTooLong|InvalidValue|Problem|TaskFailed $e) {
            $task->update(['state' => 'failed', 'message' => $e->getMessage()]);
        } catch (\Throwable $e) {
            report($e);
            $problem = Problem::response($e);
            $task->update([
                'state' => 'failed',
                'message' => $problem->getStatusCode() < 500 || $problem->getStatusCode() === 507
                        ? $problem->getData(true)['detail']
                        : "The task failed ($task->kind); see the worker's log.",
            ]);
        }
    }

    public function failed(): void
    {
        Task::query()
            ->whereKey($this->task)
            ->whereIn('state', Task::OPEN)
            ->update(['state' => 'failed', 'message' => 'The worker ended each time it was at it.']);
    }
}
