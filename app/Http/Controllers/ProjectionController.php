<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Jobs\ComputeProjection;
use App\Models\Cast;
use App\Models\Show;
use App\Show\Editor;
use App\Show\Lighting;
use App\Show\ShowRepository;
use App\Show\WarpStore;
use App\Support\Input;
use App\Support\Problem;
use Core\Geometry\Pose;
use Core\Output\Alignment;
use Core\Output\AlignmentPoint;
use Core\Output\ComputedWarp;
use Core\Show\Changes;
use Core\Show\Projections;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;

/** What is computed of projections: warps and blends by the worker, evenness, the seam and the place of projectors at once. */
final readonly class ProjectionController
{
    public function __construct(private ShowRepository $rows, private Editor $editor)
    {
    }

    /** Has the worker compute warps and blends of all regions of a surface that go to projectors. */
    public function compute(Request $request, Show $show): JsonResponse
    {
        $body = Input::body($request);
        $surface = $body->text('surface');
        $limit = $body->number('limit', 75);
        $projections = Projections::of($this->rows->core($show), $surface);
        if ($projections->regions === []) {
            throw Problem::refused('surface', "No region of {$projections->surface->name} goes to a projector of the venue: name one in what the output feeds.");
        }
        if ($limit < 10 || $limit > 89) {
            throw Problem::refused('limit', 'The limit lies between 10 and 89 degrees.');
        }
        $job = Cast::query()->create(['showId' => $show->id, 'key' => '', 'cells' => 0, 'state' => 'waiting', 'progress' => 0]);
        ComputeProjection::dispatch($job->id, $surface, $body->flag('level'), $limit, (string) $request->attributes->get('person'));

        return new JsonResponse(['id' => $job->id, 'state' => $job->state, 'progress' => 0, 'cells' => 0, 'sentence' => null], 202);
    }

    public function evenness(Show $show, string $region): JsonResponse
    {
        $core = $this->rows->core($show);
        Lighting::notTooLarge($core, 'evenness is worked out');
        foreach ($core->delivery->regions as $regions) {
            if (isset($regions[$region])) {
                $of = $regions[$region];
                $shape = max(0.2, min(5.0, $of->source->width / $of->source->height));
                [$columns, $rows] = [max(4, (int) round(16 * sqrt($shape))), max(4, (int) round(16 / sqrt($shape)))];
                $found = Projections::of($core, $of->surface)->evenness($region, self::computed([$region => $of->model])[$region] ?? null, $columns, $rows);
                $evenness = $found['evenness'];

                return new JsonResponse(['columns' => $columns, 'rows' => $rows, 'cells' => $evenness->cells, 'score' => $evenness->score, 'worst' => $evenness->worst, 'pixel' => $evenness->pixel, 'metres' => $found['metres'], 'spill' => $found['spill'], 'places' => $found['places']]);
            }
        }
        throw new Problem(404, 'This region is not in the show.');
    }

    public function seam(Request $request, Show $show, string $surface): JsonResponse
    {
        $query = Input::query($request);
        $core = $this->rows->core($show);
        Lighting::notTooLarge($core, 'light is worked out');
        $point = static function (string $name) use ($query): array {
            $numbers = array_map(floatval(...), explode(',', $query->text($name)));

            return count($numbers) === 2 && min($numbers) >= 0 && max($numbers) <= 1 ? [$numbers[0], $numbers[1]] : throw Problem::refused($name, "$name is two numbers from 0 to 1, with a comma between.");
        };
        $projections = Projections::of($core, $surface);
        $models = [];
        foreach ($projections->regions as $region) {
            $models[$region->id] = $region->region->model;
        }
        $seam = $projections->seam(self::computed($models), $point('from'), $point('to'));

        return new JsonResponse(['along' => $seam->along, 'lux' => (object) $seam->lux, 'sum' => $seam->sum, 'off' => $seam->off, 'outputs' => (object) $projections->outputs]);
    }

    /** Finds where a projector stands from its points and, with `apply`, puts it there. */
    public function align(Request $request, Show $show, string $projector): JsonResponse
    {
        $body = Input::body($request);
        $document = $this->rows->document($show);
        $core = $document->show;
        $of = $core->venue->projectors[$projector] ?? throw new Problem(404, 'This projector is not in the show.');
        $points = $names = [];
        foreach ($document->rows['point'] ?? [] as $id => $row) {
            $point = $row['projector'] === $projector ? AlignmentPoint::fromRow($row) : null;
            if ($point?->pixel !== null) {
                $points[] = ['place' => $point->place, 'pixel' => $point->pixel];
                $names[] = ['id' => (string) $id, 'name' => $point->name];
            }
        }
        $known = $body->flag('knownLens');
        $found = Alignment::of($points, $of->lens, Pose::fromMatrix($core->venue->world($projector)), $known, $body->flag('radial'));
        $answer = [
            'pose' => ['position' => $found->pose->position->toArray(), 'rotation' => [$found->pose->yaw, $found->pose->pitch, $found->pose->roll]],
            'throw' => $found->throw, 'shiftX' => $found->shiftX, 'shiftY' => $found->shiftY, 'radial' => $found->radial, 'rms' => $found->rms, 'spread' => $found->spread,
            'residuals' => array_map(static fn (array $name, float $px): array => $name + ['px' => $px], $names, $found->residuals), 'bad' => $found->bad === null ? null : $names[$found->bad]['id'],
        ];
        if (! $body->flag('apply')) {
            return new JsonResponse($answer);
        }
        $row = $document->rows['projector'][$projector];
        $local = $core->venue->transforms->local($found->pose->matrix(), $core->venue->transforms->parent($projector));
        $fields = ['position' => $local->position->toArray(), 'rotation' => [$local->yaw, $local->pitch, $local->roll]];
        if (! $known) {
            $fields['lens'] = ['throw' => $found->throw, 'shiftX' => $found->shiftX, 'shiftY' => $found->shiftY] + (array) $row['lens'];
        }
        [$edit, $status] = $this->editor->order($show, $request->attributes->get('person'), "Align $of->name", Changes::update('projector', $projector, $row, $fields), null);

        return new JsonResponse($answer + $edit, $status);
    }

    /**
     * @param  array<string, string>  $models  keys by region
     * @return array<string, ComputedWarp>
     */
    private static function computed(array $models): array
    {
        $found = [];
        foreach ($models as $region => $key) {
            $bytes = $key === '' ? null : WarpStore::read($key);
            if ($bytes !== null) {
                $found[$region] = ComputedWarp::fromBytes($bytes);
            }
        }

        return $found;
    }
}
