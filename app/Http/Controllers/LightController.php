<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Jobs\RunTask;
use App\Models\Show;
use App\Models\Task;
use App\Show\Lighting;
use App\Show\ShowRepository;
use App\Support\Input;
use Core\Light\LightPack;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;

/** Where the light of projectors goes, what the audience sees, and placements side by side. */
final readonly class LightController
{
    public const FINEST = 60_000;

    public function __construct(private ShowRepository $rows, private Lighting $lighting)
    {
    }

    private function bytes(Show $show): string
    {
        $rows = $this->rows->withFiles($show->id);
        $key = Lighting::key($rows);
        $finest = max(
            0,
            0,
            ...array_map(
                static fn (Task $task): int => (int) $task->input['cells'],
                Task::query()
                    ->where('showId', $show->id)
                    ->where('key', $key)
                    ->where('kind', 'light')
                    ->where('state', 'ready')
                    ->get()
                    ->all(),
            ),
        );
        $kept =
            ($finest === 0 ? null : $this->lighting->kept($key, $finest)) ??
            $this->lighting->kept($key, Lighting::QUICK);

        return $kept ?? $this->now($show, $rows, $key);
    }

    /** The finest look that is kept for the venue as it stands, or a quick one, packed. */
    public function packed(Show $show): Response
    {
        return new Response($this->bytes($show), 200, [
            'Content-Type' => 'application/octet-stream',
            'Cache-Control' => 'no-store',
        ]);
    }

    /** The same as JSON. */
    public function light(Show $show): JsonResponse
    {
        return new JsonResponse(LightPack::whole($this->bytes($show)));
    }

    /** @param  array<string, list<array<string, mixed>>>  $rows */
    private function now(Show $show, array $rows, string $key): string
    {
        $core = $this->rows->core($show, $rows);
        Lighting::notTooLarge($core, 'light is cast; the worker casts it finer');

        return $this->lighting->compute($core, $rows, $key, Lighting::QUICK);
    }

    public function finer(Request $request, Show $show): JsonResponse
    {
        $cells = Input::body($request)->whole('cells', 100, self::FINEST, 12_000);
        foreach (
            Task::query()->where('showId', $show->id)->where('kind', 'light')->whereIn('state', Task::OPEN)->get() as $earlier
        ) {
            $earlier->cancel();
        }

        return new JsonResponse(
            RunTask::begin('light', $show, (string) $request->attributes->get('person'), [
                'cells' => $cells,
            ])->payload(),
            202,
        );
    }

    /** The present projectors and each placement that is kept, by what they come to. */
    public function variants(Show $show): JsonResponse
    {
        $rows = $this->rows->withFiles($show->id);
        $key = Lighting::key($rows);
        $core = $this->rows->core($show, $rows);
        Lighting::notTooLarge($core, 'layouts are compared');
        $present =
            $this->lighting->kept($key, Lighting::QUICK) ??
            $this->lighting->compute($core, $rows, $key, Lighting::QUICK);
        $list = [['id' => null, 'name' => 'Current', 'sum' => LightPack::header($present)['sum']]];
        foreach ($core->venue->variants as $id => $variant) {
            $own =
                $key.
                '-'.
                substr(
                    hash(
                        'xxh64',
                        (string) json_encode(
                            array_values(array_filter($rows['variant'], static fn (array $r): bool => $r['id'] === $id)),
                        ),
                    ),
                    0,
                    12,
                );
            $kept =
                $this->lighting->kept($own, Lighting::QUICK) ??
                $this->lighting->compute($core, $rows, $own, Lighting::QUICK, Lighting::beams($core, $id));
            $list[] = ['id' => $id, 'name' => $variant->name, 'sum' => LightPack::header($kept)['sum']];
        }

        return new JsonResponse(['variants' => $list]);
    }

    public function sights(Show $show): JsonResponse
    {
        $core = $this->rows->core($show);
        Lighting::notTooLarge($core, 'sights are worked out');

        return new JsonResponse(['sights' => (object) Lighting::sights($core)]);
    }
}
