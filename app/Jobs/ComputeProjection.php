<?php

declare(strict_types=1);

namespace App\Jobs;

use App\Models\Show;
use App\Models\Task;
use App\Show\Editor;
use App\Show\ShowRepository;
use App\Show\WarpStore;
use Core\Output\ComputedWarp;
use Core\Show\Changes;
use Core\Show\Projections;

/** Computes warps and blends of a surface's regions from the venue, and gives them to the regions in one edit. */
final readonly class ComputeProjection implements TaskWork
{
    public function __construct(private ShowRepository $rows, private Editor $editor)
    {
    }

    public function run(Task $task, Show $show, Pace $pace): array
    {
        ['surface' => $surface, 'level' => $level, 'limit' => $limit] = $task->input;
        $limit = (float) $limit;
        $projections = Projections::of($this->rows->core($show), $surface, WarpStore::read(...));
        $key = $projections->key($level, $limit);
        $found = $projections->compute($level, $limit, progress: $pace->at(...));
        $keys = array_map(static fn (ComputedWarp $warp): string => WarpStore::keep($warp->toBytes()), $found['warps']);
        // Rows as they are by now: what else was changed meanwhile stays.
        $document = $this->rows->document($show->refresh());
        $changes = [];
        foreach ($keys as $region => $model) {
            $row = $document->rows['region'][$region] ?? null;
            $row !== null &&
                array_push(
                    $changes,
                    ...Changes::update('region', (string) $region, $row, [
                        'model' => $model,
                        'modelOf' => $key.' '.($level ? '1' : '0').' '.$limit,
                    ]),
                );
        }
        [$answer] = $this->editor->order(
            $show,
            $task->person,
            'Compute the projection on '.$projections->surface->name,
            $changes,
            null,
        );
        $error = max(
            0.0,
            0.0,
            ...array_values(array_map(static fn (ComputedWarp $warp): float => $warp->warp->error, $found['warps'])),
        );

        return [
            'key' => $key,
            'revision' => $answer['revision'],
            'message' => sprintf('Warps are right to %.2f px.', $error).
                ($level
                    ? sprintf(
                        ' All places get %.0f lx, which costs %.0f %% of the light.',
                        $found['target'],
                        100 * $found['cost'],
                    )
                    : ''),
        ];
    }
}
