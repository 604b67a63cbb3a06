<?php

declare(strict_types=1);

namespace App\Jobs;

use App\Models\Cast;
use App\Models\Show;
use App\Show\Lighting;
use App\Show\ShowRepository;
use Illuminate\Contracts\Queue\ShouldQueue;
use Illuminate\Foundation\Queue\Queueable;

/** Casts the light of a venue with many cells and rays; says how far it is, and stops when told. */
final class CastFiner implements ShouldQueue
{
    use Queueable;

    /** A worker that ends in the middle of it leaves it to the next, so often. */
    public int $tries = 3;

    public int $timeout = 0;

    public function __construct(public readonly string $cast)
    {
    }

    public function handle(ShowRepository $rows, Lighting $lighting): void
    {
        Claims::alone($this->cast, fn () => $this->compute($rows, $lighting));
    }

    private function compute(ShowRepository $rows, Lighting $lighting): void
    {
        $cast = Cast::query()->find($this->cast);
        if ($cast === null || ! in_array($cast->state, ['waiting', 'working'], true)) {
            return;
        }
        $cast->update(['state' => 'working', 'progress' => 0]);
        try {
            $show = Show::query()->findOrFail($cast->showId);
            $all = $rows->withFiles($show->id);
            $key = Lighting::key($all);
            $pace = new Pace(static fn (): bool => Cast::query()->whereKey($cast->id)->value('state') === 'working', static function (float $share) use ($cast): void {
                $cast->update(['progress' => $share]);
            }, config('kite.job_seconds'));
            $lighting->compute($rows->core($show, $all), $all, $key, $cast->cells, null, $pace->at(...));
            $cast->update(['state' => 'ready', 'progress' => 1, 'key' => $key]);
        } catch (Stopped) {
            return;
        } catch (Interrupted) {
            $cast->update(['state' => 'waiting']);
            $this->release();
        } catch (TookTooLong $e) {
            $cast->update(['state' => 'failed', 'sentence' => $e->getMessage().' Cast it with fewer cells.']);
        } catch (\Throwable $e) {
            report($e);
            $cast->update(['state' => 'failed', 'sentence' => 'The light could not be cast; the log of the worker says why.']);
        }
    }

    public function failed(): void
    {
        Cast::query()->whereKey($this->cast)->whereIn('state', ['waiting', 'working'])->update(['state' => 'failed', 'sentence' => 'The worker ended each time it was at it.']);
    }
}
