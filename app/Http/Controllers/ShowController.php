<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Engine\Control;
use App\Jobs\Sweep;
use App\Media\ModelStore;
use App\Models\Edit;
use App\Models\Show;
use App\Show\Editor;
use App\Show\EngineState;
use App\Show\LooseValueWriter;
use App\Show\ShowRepository;
use App\Show\WarpStore;
use App\Support\Id;
use App\Support\Input;
use App\Support\Problem;
use Core\Geometry\Edges;
use Core\Plan\PlanCompiler;
use Core\Playback\Moment;
use Core\Playback\PanePlace;
use Core\Preflight\Figures;
use Core\Preflight\PixelTrace;
use Core\Preflight\Trace;
use Core\Show\Aiming;
use Core\Show\Show as CoreShow;
use Core\Units\Check;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Illuminate\Support\Facades\DB;

final readonly class ShowController
{
    public function __construct(private ShowRepository $rows, private Editor $editor, private Control $control)
    {
    }

    public function index(): JsonResponse
    {
        return new JsonResponse(['shows' => Show::query()->orderBy('created_at')->get()->map(self::head(...))]);
    }

    public function store(Request $request): JsonResponse
    {
        $body = Input::body($request);
        $row = ['name' => $body->text('name'), 'frameRate' => $body->text('frameRate', '25')];
        CoreShow::checkRow('show', $row);
        $show = DB::transaction(
            static fn (): Show => Show::query()->create(
                $row + ['revision' => 0, 'engaged' => Show::query()->where('engaged', true)->doesntExist()],
            ),
        );
        if ($show->engaged) {
            $this->control->send(['tell' => 'engaged', 'show' => $show->id]);
        }

        return new JsonResponse(self::head($show), 201);
    }

    public function show(Request $request, Show $show): JsonResponse
    {
        $rows = $this->rows->withFiles($show->id);
        $core = $this->rows->core($show, $rows);

        return new JsonResponse(
            self::head($show) + [
                'rows' => $rows,
                'computed' => Figures::objects(Figures::of($core)),
                'history' => $this->editor->within($show, $request->attributes->get('person')),
            ],
        );
    }

    /** Makes this the show that the engine plays. */
    public function engage(Show $show): JsonResponse
    {
        DB::transaction(static function () use ($show): void {
            $show->refresh();
            Show::query()
                ->where('engaged', true)
                ->whereKeyNot($show->id)
                ->update(['engaged' => false]);
            $show->update(['engaged' => true]);
        });
        $this->control->send(['tell' => 'engaged', 'show' => $show->id]);

        return new JsonResponse(self::head($show));
    }

    public function duplicate(Request $request, Show $show): JsonResponse
    {
        $row = ['name' => Input::body($request)->text('name'), 'frameRate' => $show->frameRate];
        CoreShow::checkRow('show', $row);

        return new JsonResponse(self::head(ShowRepository::duplicate($show, $row['name'])), 201);
    }

    public function destroy(Show $show): JsonResponse
    {
        DB::transaction(static function () use ($show): void {
            if ($show->refresh()->engaged) {
                throw new Problem(422, 'This show is on air. Put another one on air first.');
            }
            $show->delete();
        });

        Sweep::wanted();

        return new JsonResponse(['deleted' => $show->id]);
    }

    public function edit(Request $request, Show $show): JsonResponse
    {
        $body = Input::body($request);

        return $this->done(
            $this->editor->apply(
                $show,
                $request->attributes->get('person'),
                Check::name('name', $body->text('name')),
                array_values($body->object('changes')),
            ),
            $request,
            $show,
            201,
        );
    }

    public function undo(Request $request, Show $show): JsonResponse
    {
        return $this->done($this->editor->undo($show, $request->attributes->get('person')), $request, $show);
    }

    public function redo(Request $request, Show $show): JsonResponse
    {
        return $this->done($this->editor->redo($show, $request->attributes->get('person')), $request, $show);
    }

    public function history(Show $show): JsonResponse
    {
        $edits = Edit::query()
            ->where('showId', $show->id)
            ->orderByDesc('revision')
            ->limit(200)
            ->get(['id', 'revision', 'person', 'name', 'act', 'state', 'at']);

        return new JsonResponse(['edits' => $edits->map(static fn (Edit $e): array => $e->attributesToArray())]);
    }

    public function keep(Request $request, Show $show, LooseValueWriter $writer): JsonResponse
    {
        return $this->done(
            $writer->keep(
                $show,
                $request->attributes->get('person'),
                Input::body($request)->texts('addresses', LooseValueWriter::MAX),
                Input::body($request)->flag('keyframe'),
            ),
            $request,
            $show,
            201,
        );
    }

    public function computedNow(Show $show): JsonResponse
    {
        $held = $this->control->ask(['ask' => 'figures', 'show' => $show->id]);
        $fresh =
            is_array($held['figures'] ?? null) && $held['revision'] === $show->revision
                ? $held['figures']
                : Figures::of($this->rows->core($show));

        return new JsonResponse(Figures::objects($fresh));
    }

    /** Aims layers straight at surfaces. */
    public function aim(Request $request, Show $show): JsonResponse
    {
        $body = Input::body($request);
        [$layers, $surfaces] = [$body->texts('layers', 10_000), $body->texts('surfaces', 10_000)];
        $core = $this->rows->core($show);
        $changes = Aiming::changes($core, $layers, $surfaces, Id::make(...));
        if ($changes === []) {
            return new JsonResponse($this->unchanged($request, $show, 'Aim'));
        }
        $name =
            count($layers) === 1
                ? 'Aim '.($core->programme->layer($layers[0])->name ?? 'a layer')
                : 'Aim '.count($layers).' layers';

        return $this->done(
            $this->editor->apply($show, $request->attributes->get('person'), $name, $changes),
            $request,
            $show,
            201,
        );
    }

    /** Triangles of a model up to which they are sent as JSON; finer ones are fetched packed. */
    private const MAX_AS_JSON = 30_000;

    /**
     * The triangles of one surface, packed: numbers of vertices and triangles, places, UVs (32-bit floats), indices
     * (32-bit), little-endian.
     */
    public function packedMesh(Show $show, string $surface): Response
    {
        $row = ShowRepository::surfaceOf($this->rows->core($show), $surface);

        return new Response(ModelStore::pack($row->carrier->mesh()), 200, [
            'Content-Type' => 'application/octet-stream',
            'Cache-Control' => 'private, max-age=31536000, immutable',
        ]);
    }

    /** Where everything stands, and the triangles of what the window does not have yet. */
    public function meshes(Request $request, Show $show): JsonResponse
    {
        $known = array_flip(explode(',', Input::query($request)->text('known', '')));
        $rows = $this->rows->withFiles($show->id);
        $core = $this->rows->core($show, $rows);
        $panels = array_column($rows['panel'], null, 'id');
        $keyed = static function (array $row) use ($panels): string {
            $used = array_intersect_key($panels, array_flip(array_filter(array_merge([], ...$row['cells'] ?? []))));

            return substr(
                hash(
                    'xxh128',
                    (string) json_encode([
                        $row['kind'],
                        $row['cells'] ?? null,
                        $row['seams'] ?? null,
                        $row['shape'],
                        $row['reliefs'] ?? null,
                        $row['model'],
                        $row['modelFile']['state'] ?? null,
                        $used,
                    ]),
                ),
                0,
                12,
            );
        };
        $meshes = $props = $places = [];
        foreach ($rows['surface'] as $row) {
            $surface = $core->venue->surfaces[$row['id']] ?? null;
            if ($surface !== null) {
                $key = $keyed($row);
                $fine = $surface->carrier->triangles() > self::MAX_AS_JSON;
                $mesh = isset($known[$key]) || $fine ? null : $surface->carrier->mesh();
                $meshes[] =
                    ['surface' => $surface->id, 'key' => $key, 'matrix' => $core->venue->world($surface->id)->m] +
                    ($fine ? ['packed' => "/api/shows/$show->id/surfaces/$surface->id/mesh.bin?key=$key"] : []) +
                    ($mesh === null
                        ? []
                        : ['positions' => $mesh->positions, 'uvs' => $mesh->uvs, 'indices' => $mesh->indices] +
                            ($surface->wall() === null ? ['edges' => array_merge([], ...Edges::of($mesh))] : []));
            }
        }
        foreach ($rows['prop'] as $row) {
            $prop = $core->venue->props[$row['id']] ?? null;
            if ($prop !== null) {
                $key = $keyed($row);
                $props[] =
                    ['prop' => $row['id'], 'key' => $key, 'matrix' => $core->venue->world($row['id'])->m] +
                    (isset($known[$key])
                        ? []
                        : ['positions' => $prop->mesh()->positions, 'indices' => $prop->mesh()->indices]);
            }
        }
        foreach (['rigs', 'projectors', 'cameras', 'seats'] as $kind) {
            foreach (array_keys($core->venue->{$kind}) as $id) {
                $places[$id] = $core->venue->world($id)->m;
            }
        }

        return new JsonResponse([
            'meshes' => $meshes,
            'props' => $props,
            'places' => (object) $places,
            'frusta' => (object) $core->venue->frusta(),
        ]);
    }

    public function trace(Request $request, Show $show): JsonResponse
    {
        $query = Input::query($request);
        $surface = $query->text('surface', '');
        $time = $query->has('time') ? $query->digits('time') : null;
        $held =
            $time !== null ? null : $this->control->ask(['ask' => 'trace', 'show' => $show->id, 'surface' => $surface]);
        if (is_array($held['links'] ?? null) && $held['links'] !== [] && $held['revision'] === $show->revision) {
            return new JsonResponse(['engine' => true, 'time' => $held['time'], 'links' => $held['links']]);
        }
        [$core, $moment, $here, $engine] = $this->now($show, $time);
        ShowRepository::surfaceOf($core, $surface);

        return new JsonResponse([
            'engine' => $engine,
            'time' => ($moment->heads[0] ?? null)?->map->at($moment->engine) ?? 0,
            'links' => Trace::of($core, $surface, $moment, EngineState::players($here)),
        ]);
    }

    /** What reaches one pixel of a surface, from the top down. */
    public function pixel(Request $request, Show $show): JsonResponse
    {
        $query = Input::query($request);
        [$surface, $x, $y] = [
            $query->text('surface', ''),
            $query->digits('x', Check::MAX_PIXELS),
            $query->digits('y', Check::MAX_PIXELS),
        ];
        [$core, $moment] = $this->now($show, $query->has('time') ? $query->digits('time') : null);
        ShowRepository::surfaceOf($core, $surface);

        $layer = $query->text('layer', '');

        return new JsonResponse([
            'time' => ($moment->heads[0] ?? null)?->map->at($moment->engine) ?? 0,
            'layers' => PixelTrace::of($core, $surface, $x, $y, $moment),
            'pane' => $layer === '' ? null : PanePlace::of($moment, $layer, $surface, $x + 0.5, $y + 0.5),
        ]);
    }

    /**
     * The show where the engine has it, or at a show time.
     *
     * @return array{CoreShow, Moment, array<string, mixed>, bool} with what the engine says of the show, and whether
     *     it runs
     */
    private function now(Show $show, ?int $time): array
    {
        $state = $this->control->ask(['ask' => 'state']);
        $here = $state !== null && ($state['show'] ?? null) === $show->id ? $state : [];
        $core = $this->rows->core($show);
        $compiler = new PlanCompiler(WarpStore::read(...));
        $compiler->compile($core, $show->revision);
        $moment = EngineState::moment(
            $compiler->plan(),
            $here,
            $time === null ? ($here === [] ? 0 : null) : $time,
            array_map(strval(...), array_keys($core->programme->timelines)),
        );

        return [$core, $moment, $here, $state !== null];
    }

    /** @return array<string, mixed> what an Edit would be told as that changes nothing, and so is none */
    private function unchanged(Request $request, Show $show, string $name): array
    {
        return $this->editor->payload(Editor::nothing($show, $name), $show, $request->attributes->get('person'));
    }

    private function done(Edit $edit, Request $request, Show $show, int $status = 200): JsonResponse
    {
        return new JsonResponse($this->editor->payload($edit, $show, $request->attributes->get('person')), $status);
    }

    /** @return array<string, mixed> */
    private static function head(Show $show): array
    {
        return [
            'id' => $show->id,
            'name' => $show->name,
            'frameRate' => $show->frameRate,
            'revision' => $show->revision,
            'engaged' => $show->engaged,
        ];
    }
}
