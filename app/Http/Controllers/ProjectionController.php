<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Http\Download;
use App\Http\Imports;
use App\Jobs\RunImport;
use App\Jobs\RunTask;
use App\Models\Show;
use App\Models\StoredFile;
use App\Paper\Import;
use App\Paper\Png;
use App\Paper\ProjectionPackage;
use App\Show\Editor;
use App\Show\Lighting;
use App\Show\ShowRepository;
use App\Show\WarpStore;
use App\Support\Id;
use App\Support\Input;
use App\Support\Problem;
use Core\Exchange\Csv;
use Core\Geometry\Pose;
use Core\Light\Guide;
use Core\Light\SurfaceChart;
use Core\Media\TestCard;
use Core\Output\Alignment;
use Core\Output\AlignmentPoint;
use Core\Output\Region;
use Core\Show\Changes;
use Core\Show\Projections;
use Core\Show\ProjectorCheck;
use Core\Show\Show as CoreShow;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;

/**
 * What is computed of projections: warps and blends by the worker, evenness, the seam and the place of projectors at
 * once.
 */
final readonly class ProjectionController
{
    /** Lines each way in which a warp is told. */
    private const LINES = 33;

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
            throw Problem::refused(
                'surface',
                "No region of {$projections->surface->name} feeds a venue projector: set the projector on the output's device.",
            );
        }
        if ($limit < 10 || $limit > 89) {
            throw Problem::refused('limit', 'The limit lies between 10 and 89 degrees.');
        }
        $task = RunTask::begin('projection', $show, (string) $request->attributes->get('person'), [
            'surface' => $surface,
            'level' => $body->flag('level'),
            'limit' => $limit,
        ]);

        return new JsonResponse($task->payload(), 202);
    }

    public function evenness(Show $show, string $region): JsonResponse
    {
        $core = $this->rows->core($show);
        Lighting::notTooLarge($core, 'evenness is worked out');
        [$of] = self::region($core, $region);
        $shape = max(0.2, min(5.0, $of->source->width / $of->source->height));
        [$columns, $rows] = [max(4, (int) round(16 * sqrt($shape))), max(4, (int) round(16 / sqrt($shape)))];
        $found = Projections::of($core, $of->surface)->evenness(
            $region,
            WarpStore::computed($of->model),
            $columns,
            $rows,
        );
        $evenness = $found['evenness'];

        return new JsonResponse([
            'columns' => $columns,
            'rows' => $rows,
            'cells' => $evenness->cells,
            'score' => $evenness->score,
            'worst' => $evenness->worst,
            'pixel' => $evenness->pixel,
            'metres' => $found['metres'],
            'spill' => $found['spill'],
            'places' => $found['places'],
        ]);
    }

    /** Where a pixel of a surface leaves. */
    public function lands(Request $request, Show $show, string $surface): JsonResponse
    {
        $query = Input::query($request);
        $number = static fn (string $name): float => is_numeric($query->text($name)) &&
        abs((float) $query->text($name)) <= 1e6
            ? (float) $query->text($name)
            : throw Problem::refused($name, "$name is a number of pixels.");

        return new JsonResponse([
            'lands' => Projections::of($this->rows->core($show), $surface)->lands($number('x'), $number('y')),
        ]);
    }

    /** The squares of a surface's guide. */
    public function guide(Show $show, string $surface): JsonResponse
    {
        $guide = $this->guideOf($show, $surface);

        return new JsonResponse(['width' => $guide->width, 'height' => $guide->height, 'rows' => $guide->rows]);
    }

    public function guidePicture(Show $show, string $surface): Response
    {
        return new Response(Png::of($this->guideOf($show, $surface)->picture()), 200, [
            'Content-Type' => 'image/png',
            'Cache-Control' => 'private, max-age=31536000, immutable',
        ]);
    }

    private function guideOf(Show $show, string $surface): Guide
    {
        $venue = $this->rows->core($show)->venue;
        $of = $venue->surfaces[$surface] ?? throw new Problem(404, 'This surface is not in the show.');
        if ($of->guide <= 0) {
            throw new Problem(404, "$of->name has no guide: say how large its squares are.");
        }
        if ($of->width() * $of->height() > TestCard::MAX_PIXELS) {
            throw new Problem(422, "$of->name has too many pixels for a guide.");
        }

        return Guide::of(SurfaceChart::of($of, $venue->world($surface)), $of->width(), $of->height(), $of->guide);
    }

    public function seam(Request $request, Show $show, string $surface): JsonResponse
    {
        $query = Input::query($request);
        $core = $this->rows->core($show);
        Lighting::notTooLarge($core, 'light is worked out');
        $point = static function (string $name) use ($query): array {
            $numbers = array_map(floatval(...), explode(',', $query->text($name)));

            return count($numbers) === 2 && min($numbers) >= 0 && max($numbers) <= 1
                ? [$numbers[0], $numbers[1]]
                : throw Problem::refused($name, "$name is two numbers from 0 to 1, with a comma between.");
        };
        $projections = Projections::of($core, $surface);
        $seam = $projections->seam(WarpStore::computedOf($core, $surface), $point('from'), $point('to'));

        return new JsonResponse([
            'along' => $seam->along,
            'lux' => (object) $seam->lux,
            'sum' => $seam->sum,
            'off' => $seam->off,
            'outputs' => (object) $projections->outputs,
        ]);
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
        $found = Alignment::of(
            $points,
            $of->lens,
            Pose::fromMatrix($core->venue->world($projector)),
            $known,
            $body->flag('radial'),
        );
        $answer = [
            'pose' => [
                'position' => $found->pose->position->toArray(),
                'rotation' => [$found->pose->yaw, $found->pose->pitch, $found->pose->roll],
            ],
            'throw' => $found->throw,
            'shiftX' => $found->shiftX,
            'shiftY' => $found->shiftY,
            'radial' => $found->radial,
            'rms' => $found->rms,
            'spread' => $found->spread,
            'residuals' => array_map(
                static fn (array $name, float $px): array => $name + ['px' => $px],
                $names,
                $found->residuals,
            ),
            'bad' => $found->bad === null ? null : $names[$found->bad]['id'],
        ];
        if (! $body->flag('apply')) {
            return new JsonResponse($answer);
        }
        $row = $document->rows['projector'][$projector];
        $local = $core->venue->transforms->local($found->pose->matrix(), $core->venue->transforms->parent($projector));
        $fields = ['position' => $local->position->toArray(), 'rotation' => [$local->yaw, $local->pitch, $local->roll]];
        $lens =
            ($known ? [] : ['throw' => $found->throw, 'shiftX' => $found->shiftX, 'shiftY' => $found->shiftY]) +
            ($body->flag('radial') ? ['distortion' => $found->radial] : []);
        if ($lens !== []) {
            $fields['lens'] = $lens + (array) $row['lens'];
        }
        [$edit, $status] = $this->editor->order(
            $show,
            $request->attributes->get('person'),
            "Align $of->name",
            Changes::update('projector', $projector, $row, $fields),
            null,
        );

        return new JsonResponse($answer + $edit, $status);
    }

    /** Takes where the points of a projector are found now: all that it shows goes along, and a record is kept. */
    public function check(Request $request, Show $show, string $projector): JsonResponse
    {
        $body = Input::body($request);
        $document = $this->rows->document($show);
        $name =
            $document->show->venue->projectors[$projector]->name ??
            throw new Problem(404, 'This projector is not in the show.');
        $now = [];
        foreach ($body->has('points') ? $body->object('points') : [] as $point => $at) {
            $numbers = is_array($at)
                ? array_values(array_filter($at, static fn (mixed $v): bool => is_int($v) || is_float($v)))
                : [];
            $now[(string) $point] =
                count($numbers) === 2
                    ? [(float) $numbers[0], (float) $numbers[1]]
                    : throw Problem::refused(
                        'points',
                        'Each point is two numbers: pixels of the output, across and down.',
                    );
        }
        $id = Id::make();
        $check = ProjectorCheck::of($document->show, $document, $projector, $now, gmdate('Y-m-d H:i'), $id);
        [$edit, $status] = $this->editor->order(
            $show,
            $request->attributes->get('person'),
            "Check $name",
            $check->changes,
            $id,
        );

        return new JsonResponse(
            $edit + [
                'moved' => $check->moved,
                'before' => $check->drift->before,
                'after' => $check->drift->after,
            ],
            $status,
        );
    }

    /** Warps and blends of a surface as a package of the open interchange format. */
    public function package(Show $show, string $surface): Response
    {
        $core = $this->rows->core($show);
        $name = $core->venue->surfaces[$surface]->name ?? throw new Problem(404, 'This surface is not in the show.');

        return Download::of(
            ProjectionPackage::of($core, $surface, gmdate('Y-m-d H:i:s')),
            'application/zip',
            "$name.mpcdi",
        );
    }

    public function takePackage(Request $request, Show $show, string $surface, Imports $imports): JsonResponse
    {
        $body = Input::body($request);
        $person = (string) $request->attributes->get('person');
        if ($body->has('file')) {
            $file = StoredFile::query()->find($body->text('file'));
            if ($file === null || ($file->facts['kind'] ?? null) !== 'package') {
                throw Problem::refused('file', 'This package is not here: upload it first.');
            }

            return new JsonResponse(
                RunImport::stored($show, $person, Import::Calibration, $file->hash, $surface)->payload(),
                202,
            );
        }
        $bytes = $body->bytes('package', Import::Calibration->largest(), 'The package');

        return $imports->take($show, $person, Import::Calibration, $bytes, $surface);
    }

    /** The share of the signal that a region has over its output, as a picture. */
    public function alpha(Show $show, string $region): Response
    {
        $core = $this->rows->core($show);
        [$of, $output] = self::region($core, $region);

        return Download::of(
            ProjectionPackage::alpha($core, $output, $of),
            'image/png',
            $core->delivery->outputs[$output]->name.' alpha.png',
        );
    }

    /** Where lines of a region's source land on its output, as a table. */
    public function warp(Show $show, string $region): Response
    {
        $core = $this->rows->core($show);
        [$of, $output] = self::region($core, $region);
        $places = Projections::of($core, $of->surface)->places(
            $region,
            WarpStore::computed($of->model),
            self::LINES - 1,
            self::LINES - 1,
        );
        $rows = [['Source X', 'Source Y', 'Output X', 'Output Y']];
        foreach ($places as $k => $place) {
            $place !== null &&
                ($rows[] = [
                    $of->source->x + ($of->source->width * ($k % self::LINES)) / (self::LINES - 1),
                    $of->source->y + ($of->source->height * intdiv($k, self::LINES)) / (self::LINES - 1),
                    $place[0],
                    $place[1],
                ]);
        }

        return Download::csv(Csv::write($rows), $core->delivery->outputs[$output]->name.' warp.csv');
    }

    /** @return array{Region, string} and its output */
    private static function region(CoreShow $core, string $id): array
    {
        return $core->delivery->region($id) ?? throw new Problem(404, 'This region is not in the show.');
    }
}
