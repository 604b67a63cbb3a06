<?php

declare(strict_types=1);

namespace App\Jobs;

use App\Models\Cast;
use App\Models\Show;
use App\Show\Lighting;
use App\Show\Rows;
use Illuminate\Contracts\Queue\ShouldQueue;
use Illuminate\Foundation\Queue\Queueable;

/** Casts the light of a venue with many cells and rays; says how far it is, and stops when told. */
final class CastFiner implements ShouldQueue
{
    use Queueable;

    public int $tries = 1;

    public int $timeout = 0;

    public function __construct(public readonly string $cast)
    {
    }

    public function handle(Rows $rows, Lighting $lighting): void
    {
        $cast = Cast::query()->find($this->cast);
        if ($cast === null || $cast->state !== 'waiting') {
            return;
        }
        $cast->update(['state' => 'working', 'progress' => 0]);
        try {
            $show = Show::query()->findOrFail($cast->showId);
            $all = $rows->withFiles($show->id);
            $key = Lighting::key($all);
            $pace = new Pace(static fn (): bool => Cast::query()->whereKey($cast->id)->value('state') === 'working', static function (float $share) use ($cast): void {
                $cast->update(['progress' => $share]);
            });
            $lighting->compute($rows->core($show, $all), $all, $key, $cast->cells, null, $pace->orStop(...));
            $cast->update(['state' => 'ready', 'progress' => 1, 'key' => $key]);
        } catch (Stopped) {
            return;
        } catch (\Throwable $e) {
            report($e);
            $cast->update(['state' => 'failed', 'sentence' => 'The light could not be cast; the log of the worker says why.']);
        }
    }
}
