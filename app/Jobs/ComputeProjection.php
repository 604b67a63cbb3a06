<?php

declare(strict_types=1);

namespace App\Jobs;

use App\Models\Cast;
use App\Models\Show;
use App\Show\Editor;
use App\Show\ShowRepository;
use App\Show\WarpStore;
use Core\Output\ComputedWarp;
use Core\Show\Changes;
use Core\Show\Projections;
use Core\Units\InvalidValue;
use Illuminate\Contracts\Queue\ShouldQueue;
use Illuminate\Foundation\Queue\Queueable;

/** Computes warps and blends of a surface's regions from the venue, and gives them to the regions in one edit; says how far it is, and stops when told. */
final class ComputeProjection implements ShouldQueue
{
    use Queueable;

    public int $tries = 3;

    public int $timeout = 0;

    public function __construct(public readonly string $cast, private readonly string $surface, private readonly bool $level, private readonly float $limit, private readonly string $person)
    {
    }

    public function handle(ShowRepository $rows, Editor $editor): void
    {
        Claims::alone($this->cast, fn () => $this->compute($rows, $editor));
    }

    private function compute(ShowRepository $rows, Editor $editor): void
    {
        $job = Cast::query()->find($this->cast);
        if ($job === null || ! in_array($job->state, ['waiting', 'working'], true)) {
            return;
        }
        $job->update(['state' => 'working', 'progress' => 0]);
        try {
            $show = Show::query()->findOrFail($job->showId);
            $core = $rows->core($show);
            $projections = Projections::of($core, $this->surface, WarpStore::read(...));
            $pace = new Pace(static fn (): bool => Cast::query()->whereKey($job->id)->value('state') === 'working', static function (float $share) use ($job): void {
                $job->update(['progress' => $share]);
            }, config('kite.job_seconds'));
            $key = $projections->key($this->level, $this->limit);
            $found = $projections->compute($this->level, $this->limit, progress: $pace->at(...));
            $keys = array_map(static fn (ComputedWarp $warp): string => WarpStore::keep($warp->toBytes()), $found['warps']);
            // Rows as they are by now: what else was changed meanwhile stays.
            $document = $rows->document($show->refresh());
            $changes = [];
            foreach ($keys as $region => $model) {
                $row = $document->rows['region'][$region] ?? null;
                $row !== null && array_push($changes, ...Changes::update('region', (string) $region, $row, ['model' => $model, 'modelOf' => $key.' '.($this->level ? '1' : '0').' '.$this->limit]));
            }
            $editor->order($show, $this->person, 'Compute the projection on '.$projections->surface->name, $changes, null);
            $error = max(array_map(static fn (ComputedWarp $warp): float => $warp->lattice->error, $found['warps']));
            $job->update(['state' => 'ready', 'progress' => 1, 'key' => $key, 'sentence' => sprintf('Warps are right to %.2f px.', $error).($this->level ? sprintf(' All places get %.0f lx, which costs %.0f %% of the light.', $found['target'], 100 * $found['cost']) : '')]);
        } catch (Stopped) {
            return;
        } catch (Interrupted) {
            $job->update(['state' => 'waiting']);
            $this->release();
        } catch (TookTooLong $e) {
            $job->update(['state' => 'failed', 'sentence' => $e->getMessage()]);
        } catch (InvalidValue $refused) {
            $job->update(['state' => 'failed', 'sentence' => $refused->getMessage()]);
        } catch (\Throwable $e) {
            report($e);
            $job->update(['state' => 'failed', 'sentence' => 'The projection could not be computed; the log of the worker says why.']);
        }
    }

    public function failed(): void
    {
        Cast::query()->whereKey($this->cast)->whereIn('state', ['waiting', 'working'])->update(['state' => 'failed', 'sentence' => 'The worker ended each time it was at it.']);
    }
}
