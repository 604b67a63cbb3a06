<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Engine\Control;
use App\Media\ModelStore;
use App\Models\Edit;
use App\Models\Show;
use App\Show\Editor;
use App\Show\Glance;
use App\Show\Keeper;
use App\Show\Rows;
use App\Support\Problem;
use Core\Geometry\Edges;
use Core\Plan\PlanCompiler;
use Core\Preflight\Figures;
use Core\Preflight\Trace;
use Core\Show\Aiming;
use Core\Show\Kinds as CoreKinds;
use Core\Show\Programming;
use Core\Show\Show as CoreShow;
use Core\Units\Flicks;
use Core\Values\Address;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Illuminate\Support\Str;

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
            'computed' => Figures::objects(Figures::of($core)),
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
        return $this->done($keeper->keep($show, $request->attributes->get('person'), $request->input('addresses'), (bool) $request->input('keyframe', false)), $request, $show, 201);
    }

    public function computedNow(Show $show): JsonResponse
    {
        $held = $this->control->ask(['ask' => 'figures', 'show' => $show->id]);
        $fresh = is_array($held['figures'] ?? null) && $held['revision'] === $show->revision ? $held['figures'] : Figures::of($this->rows->core($show));

        return new JsonResponse(Figures::objects($fresh));
    }

    /** Aims layers straight at surfaces. */
    public function aim(Request $request, Show $show): JsonResponse
    {
        $ids = static fn (string $name): array => is_array($list = $request->input($name)) && array_is_list($list) && count($list) <= 10_000 && array_filter($list, is_string(...)) === $list ? $list : throw Problem::refused($name, "$name is a list of ids.");
        [$layers, $surfaces] = [$ids('layers'), $ids('surfaces')];
        $core = $this->rows->core($show);
        $changes = Aiming::changes($core, $layers, $surfaces, static fn (): string => strtolower((string) Str::ulid()));
        if ($changes === []) {
            return new JsonResponse($this->unchanged($request, $show, 'Aim'));
        }
        $name = count($layers) === 1 ? 'Aim '.($core->programme->layer($layers[0])->name ?? 'a layer') : 'Aim '.count($layers).' layers';

        return $this->done($this->editor->apply($show, $request->attributes->get('person'), $name, $changes), $request, $show, 201);
    }

    /** Places and trims clips, puts, moves and removes keyframes, brings layers up and down: the core computes what changes. */
    public function program(Request $request, Show $show): JsonResponse
    {
        $text = static fn (string $name): string => is_string($value = $request->input($name)) ? $value : throw Problem::refused($name, "$name has to be text.");
        $number = static fn (string $name): float => is_int($value = $request->input($name)) || is_float($value) ? (float) $value : throw Problem::refused($name, "$name has to be a number.");
        $time = static fn (string $name): int => abs($number($name)) <= Flicks::MOST ? (int) round($number($name)) : throw Problem::refused($name, "$name has to be a time in flicks.");
        $document = $this->rows->document($show);
        $core = $document->show;
        $programming = new Programming($core, $document, static fn (): string => strtolower((string) Str::ulid()));
        $named = static fn (array $list, string $name): string => isset($list[$text($name)]) ? $list[$text($name)]->name : 'a '.$name;
        $made = null;
        switch ($text('do')) {
            case 'trim':
                [$name, $changes] = ['Trim a clip', $programming->trim($text('clip'), $text('edge'), $time('to'))];
                break;
            case 'place':
                [$changes, $made] = $programming->place($text('media'), $text('layer'), $time('time'));
                $name = 'Put '.$named($core->library->media, 'media').' on a layer';
                break;
            case 'key':
                $address = Address::parse($text('address'));
                [$changes, $made] = $programming->key($address, $time('time'), $number('value'));
                $name = 'Add a keyframe of '.strtolower(CoreKinds::properties($address->kind)->named($address->property)->label);
                break;
            case 'moveKey':
                [$name, $changes] = ['Move a keyframe', $programming->moveKey($text('curve'), $time('from'), $time('time'), $number('value'))];
                break;
            case 'dropKey':
                [$name, $changes] = ['Remove a keyframe', $programming->dropKey($text('curve'), $time('time'))];
                break;
            case 'raise':
                [$name, $changes] = ['Move a layer', $programming->raise($text('layer'), (bool) $request->input('up', true))];
                break;
            default:
                throw Problem::refused('do', 'There is no order of this name; there are trim, place, key, moveKey, dropKey and raise.');
        }
        $person = $request->attributes->get('person');
        if ($changes === []) {
            return new JsonResponse(['made' => $made] + $this->unchanged($request, $show, $name));
        }

        return new JsonResponse(['made' => $made] + $this->editor->told($this->editor->apply($show, $person, $name, $changes), $show, $person), 201);
    }

    /** Triangles of a model up to which they are sent as JSON; finer ones are fetched packed. */
    private const MOST_AS_JSON = 30_000;

    /** The triangles of one surface, packed: numbers of vertices and triangles, places, UVs (32-bit floats), indices (32-bit), little-endian. */
    public function packedMesh(Show $show, string $surface): Response
    {
        $row = $this->rows->core($show)->venue->surfaces[$surface] ?? throw new Problem(404, 'There is no surface of this id in the show.');

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
            $surface = $core->venue->surfaces[$row['id']] ?? null;
            if ($surface !== null) {
                $key = $keyed($row);
                $fine = $surface->carrier->triangles() > self::MOST_AS_JSON;
                $mesh = isset($known[$key]) || $fine ? null : $surface->carrier->mesh();
                $meshes[] = ['surface' => $surface->id, 'key' => $key, 'matrix' => $core->venue->world($surface->id)->m]
                    + ($fine ? ['packed' => "/api/shows/$show->id/surfaces/$surface->id/mesh.bin?key=$key"] : [])
                    + ($mesh === null ? [] : ['positions' => $mesh->positions, 'uvs' => $mesh->uvs, 'indices' => $mesh->indices] + ($surface->wall() === null ? ['edges' => array_merge([], ...Edges::of($mesh))] : []));
            }
        }
        foreach ($rows['prop'] as $row) {
            $prop = $core->venue->props[$row['id']] ?? null;
            if ($prop !== null) {
                $key = $keyed($row);
                $props[] = ['prop' => $row['id'], 'key' => $key, 'matrix' => $core->venue->world($row['id'])->m] + (isset($known[$key]) ? [] : ['positions' => $prop->mesh()->positions, 'indices' => $prop->mesh()->indices]);
            }
        }
        foreach (['rigs', 'projectors', 'cameras', 'seats'] as $kind) {
            foreach (array_keys($core->venue->{$kind}) as $id) {
                $places[$id] = $core->venue->world($id)->m;
            }
        }

        return new JsonResponse(['meshes' => $meshes, 'props' => $props, 'places' => (object) $places, 'frusta' => (object) $core->venue->frusta()]);
    }

    public function trace(Request $request, Show $show): JsonResponse
    {
        $surface = $request->query('surface', '');
        $time = $request->query('time');
        if ($time !== null && (! is_string($time) || ! ctype_digit($time) || strlen($time) > 18)) {
            throw Problem::refused('time', 'The time is a whole number of flicks.');
        }
        if (! is_string($surface)) {
            throw Problem::refused('surface', 'Of which surface? One id.');
        }
        $held = $time !== null ? null : $this->control->ask(['ask' => 'trace', 'show' => $show->id, 'surface' => $surface]);
        if (is_array($held['links'] ?? null) && $held['links'] !== [] && $held['revision'] === $show->revision) {
            return new JsonResponse(['engine' => true, 'time' => $held['time'], 'links' => $held['links']]);
        }
        $state = $this->control->ask(['ask' => 'state']);
        $here = $state !== null && ($state['show'] ?? null) === $show->id ? $state : [];
        $core = $this->rows->core($show);
        if (! isset($core->venue->surfaces[$surface])) {
            throw new Problem(404, 'There is no surface of this id in the show.');
        }
        $compiler = new PlanCompiler;
        $compiler->compile($core, $show->revision);
        $moment = Glance::moment($compiler->plan(), $here, $time === null ? ($here === [] ? 0 : null) : (int) $time, array_map(strval(...), array_keys($core->programme->timelines)));

        return new JsonResponse(['engine' => $state !== null, 'time' => ($moment->heads[0] ?? null)?->map->at($moment->engine) ?? 0, 'links' => Trace::of($core, $surface, $moment, Glance::players($here))]);
    }

    /** @return array<string, mixed> what an Edit would be told as that changes nothing, and so is none */
    private function unchanged(Request $request, Show $show, string $name): array
    {
        return ['revision' => $show->revision, 'name' => $name, 'act' => 'edit', 'changes' => [], 'history' => $this->editor->within($show, $request->attributes->get('person'))];
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
}
