<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Engine\Control;
use App\Http\Problem;
use App\Media\ModelStore;
use App\Models\Edit;
use App\Models\Show;
use App\Show\Editor;
use App\Show\Keeper;
use App\Show\Lighting;
use App\Show\Rows;
use Core\Geometry\Edges;
use Core\Playback\Plan;
use Core\Preflight\Preflight;
use Core\Preflight\Trace;
use Core\Show\Show as CoreShow;
use Core\Venue\Camera;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;

final readonly class ShowController
{
    public function __construct(private Rows $rows, private Editor $editor, private Control $control)
    {
    }

    public function index(): JsonResponse
    {
        return new JsonResponse(['shows' => Show::query()->orderBy('created_at')->get()->map(self::head(...))]);
    }

    public function store(Request $request): JsonResponse
    {
        $row = ['name' => $request->input('name'), 'frameRate' => $request->input('frameRate', '25')];
        if (! is_string($row['name']) || ! is_string($row['frameRate'])) {
            throw Problem::refused('name', 'A show needs a name.');
        }
        CoreShow::checkRow('show', $row);
        $show = Show::query()->create($row + ['revision' => 0, 'engaged' => Show::query()->where('engaged', true)->doesntExist()]);
        if ($show->engaged) {
            $this->control->tell(['tell' => 'engaged', 'show' => $show->id]);
        }

        return new JsonResponse(self::head($show), 201);
    }

    public function show(Request $request, Show $show): JsonResponse
    {
        $rows = $this->rows->withFiles($show->id);
        $core = $this->rows->core($show, $rows);

        return new JsonResponse(self::head($show) + [
            'rows' => $rows,
            'computed' => self::computed($core),
            'history' => $this->editor->within($show, $request->attributes->get('person')),
        ]);
    }

    /** Makes this the show that the engine plays. */
    public function engage(Show $show): JsonResponse
    {
        Show::query()->where('engaged', true)->whereKeyNot($show->id)->update(['engaged' => false]);
        $show->update(['engaged' => true]);
        $this->control->tell(['tell' => 'engaged', 'show' => $show->id]);

        return new JsonResponse(self::head($show));
    }

    public function destroy(Show $show): JsonResponse
    {
        if ($show->engaged) {
            throw new Problem(422, 'This show is on the engine. Engage another one first.');
        }
        $show->delete();

        return new JsonResponse(['deleted' => $show->id]);
    }

    public function edit(Request $request, Show $show): JsonResponse
    {
        $name = $request->input('name');
        $changes = $request->input('changes');
        if (! is_string($name) || trim($name) === '' || mb_strlen($name) > 200) {
            throw Problem::refused('name', 'An edit has a name of at most 200 characters.');
        }
        if (! is_array($changes)) {
            throw Problem::refused('changes', 'An edit has a list of changes.');
        }

        return $this->done($this->editor->apply($show, $request->attributes->get('person'), $name, $changes), $request, $show, 201);
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
        $edits = Edit::query()->where('showId', $show->id)->orderByDesc('revision')->limit(200)->get(['id', 'revision', 'person', 'name', 'act', 'state', 'at']);

        return new JsonResponse(['edits' => $edits->map(static fn (Edit $e): array => $e->attributesToArray())]);
    }

    public function keep(Request $request, Show $show, Keeper $keeper): JsonResponse
    {
        return $this->done($keeper->keep($show, $request->attributes->get('person'), $request->input('lanes'), (bool) $request->input('keyframe', false)), $request, $show, 201);
    }

    public function computedNow(Show $show): JsonResponse
    {
        return new JsonResponse(self::computed($this->rows->core($show)));
    }

    /** Triangles of a model up to which they are sent as JSON; finer ones are fetched packed. */
    private const MOST_AS_JSON = 30_000;

    /** The triangles of one surface, packed: numbers of vertices and triangles, places, UVs (32-bit floats), indices (32-bit), little-endian. */
    public function packedMesh(Show $show, string $surface): Response
    {
        $row = $this->rows->core($show)->surfaces[$surface] ?? throw new Problem(404, 'There is no surface of this id in the show.');

        return new Response(ModelStore::pack($row->carrier->mesh()), 200, ['Content-Type' => 'application/octet-stream', 'Cache-Control' => 'private, max-age=31536000, immutable']);
    }

    /** Where everything stands, and the triangles of what the window does not have yet. */
    public function meshes(Request $request, Show $show): JsonResponse
    {
        $known = array_flip(explode(',', is_string($request->query('known')) ? $request->query('known') : ''));
        $rows = $this->rows->withFiles($show->id);
        $core = $this->rows->core($show, $rows);
        $panels = array_column($rows['panel'], null, 'id');
        $keyed = static function (array $row) use ($panels): string {
            $used = array_intersect_key($panels, array_flip(array_filter(array_merge([], ...($row['cells'] ?? [])))));

            return substr(hash('xxh128', (string) json_encode([$row['kind'], $row['cells'] ?? null, $row['seams'] ?? null, $row['shape'], $row['boards'] ?? null, $row['model'], $row['modelFile']['state'] ?? null, $used])), 0, 12);
        };
        $meshes = $props = $places = [];
        foreach ($rows['surface'] as $row) {
            $surface = $core->surfaces[$row['id']] ?? null;
            if ($surface !== null) {
                $key = $keyed($row);
                $fine = $surface->carrier->triangles() > self::MOST_AS_JSON;
                $mesh = isset($known[$key]) || $fine ? null : $surface->carrier->mesh();
                $meshes[] = ['surface' => $surface->id, 'key' => $key, 'matrix' => $core->world($surface->id)->m]
                    + ($fine ? ['packed' => "/api/shows/$show->id/surfaces/$surface->id/mesh.bin?key=$key"] : [])
                    + ($mesh === null ? [] : ['positions' => $mesh->positions, 'uvs' => $mesh->uvs, 'indices' => $mesh->indices] + ($surface->wall() === null ? ['edges' => array_merge([], ...Edges::of($mesh))] : []));
            }
        }
        foreach ($rows['prop'] as $row) {
            $prop = $core->props[$row['id']] ?? null;
            if ($prop !== null) {
                $key = $keyed($row);
                $props[] = ['prop' => $row['id'], 'key' => $key, 'matrix' => $core->world($row['id'])->m] + (isset($known[$key]) ? [] : ['positions' => $prop->mesh->positions, 'indices' => $prop->mesh->indices]);
            }
        }
        foreach (['rigs', 'projectors', 'cameras', 'seats'] as $kind) {
            foreach (array_keys($core->{$kind}) as $id) {
                $places[$id] = $core->world($id)->m;
            }
        }

        return new JsonResponse(['meshes' => $meshes, 'props' => $props, 'places' => (object) $places, 'frusta' => (object) Lighting::frusta($core)]);
    }

    public function trace(Request $request, Show $show): JsonResponse
    {
        $state = $this->control->ask(['ask' => 'state']);
        $time = $request->query('time', (string) ($state['position'] ?? 0));
        if (! is_string($time) || ! ctype_digit($time)) {
            throw Problem::refused('time', 'The time is a whole number of flicks.');
        }
        $players = [];
        foreach ($state['players'] ?? [] as $player) {
            $players[(string) ($player['output'] ?? '')][] = $player;
        }
        $core = $this->rows->core($show);
        $surface = (string) $request->query('surface', '');
        if (! isset($core->surfaces[$surface])) {
            throw new Problem(404, 'There is no surface of this id in the show.');
        }

        return new JsonResponse(['engine' => $state !== null, 'time' => (int) $time, 'links' => Trace::of($core, $surface, (int) $time, (array) ($state['live'] ?? []), $players)]);
    }

    private function done(Edit $edit, Request $request, Show $show, int $status = 200): JsonResponse
    {
        return new JsonResponse($this->editor->told($edit, $show, $request->attributes->get('person')), $status);
    }

    /** @return array<string, mixed> */
    private static function head(Show $show): array
    {
        return ['id' => $show->id, 'name' => $show->name, 'frameRate' => $show->frameRate, 'revision' => $show->revision, 'engaged' => $show->engaged];
    }

    /** @return array<string, mixed> figures, placements and findings: what the core makes of the rows */
    private static function computed(CoreShow $core): array
    {
        $surfaces = [];
        foreach ($core->surfaces as $id => $surface) {
            $wall = $surface->wall();
            $surfaces[$id] = ['rasterWidth' => $surface->width(), 'rasterHeight' => $surface->height(), 'physicalWidth' => $surface->carrier->rasterWidth(), 'physicalHeight' => $surface->carrier->rasterHeight(), 'areaSquareMetres' => $surface->carrier->area(), 'words' => $surface->carrier->inWords()]
                + ($wall === null ? [] : get_object_vars($wall->figures()));
        }
        $placements = [];
        foreach ($core->mainTimeline()->layers ?? [] as $layer) {
            foreach ($core->uses($layer) as [$item, $surface]) {
                $placement = Plan::placement($layer, $item, $surface);
                $placements[] = [
                    'layer' => $layer->id, 'surface' => $surface->id, 'media' => $item->id, 'content' => Plan::contentSize($item, $surface),
                    'placement' => $placement === null ? null : get_object_vars($placement) + ['remarks' => $placement->remarks()],
                ];
            }
        }

        return [
            'flicksPerFrame' => $core->rate->flicksPerFrame,
            'surfaces' => (object) $surfaces,
            'cameras' => (object) array_map(static fn (Camera $c): array => ['across' => $c->angleAcross(), 'down' => $c->angleDown()], $core->cameras),
            'placements' => $placements,
            'findings' => array_map(get_object_vars(...), Preflight::of($core)),
        ];
    }
}
