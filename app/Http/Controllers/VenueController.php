<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Models\Show;
use App\Paper\Pdf;
use App\Show\Editor;
use App\Show\Lighting;
use App\Show\Rows;
use App\Support\Problem;
use Core\Exchange\ObjWriter;
use Core\Exchange\PanelTable;
use Core\Exchange\PixelMapTemplate;
use Core\Geometry\Mat4;
use Core\Paperwork\StagePlot;
use Core\Paperwork\VenueSpecification;
use Core\Units\Refused;
use Core\Venue\Camera;
use Core\Venue\Curvature;
use Core\Venue\PanelLibrary;
use Core\Venue\Surface;
use Core\Venue\Wall;
use Core\Venue\WallBySize;
use Core\Venue\WallSheet;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Illuminate\Support\Str;

/** What people plan and build the venue by, and what they take away as files. */
final readonly class VenueController
{
    private const MOST_TRIANGLES_OUT = 400_000;

    public function __construct(private Rows $rows)
    {
    }

    public function sheet(Show $show, string $surface): JsonResponse
    {
        [$row, $wall] = $this->wall($show, $surface);

        return new JsonResponse(WallSheet::of($wall, $row->feeding));
    }

    /** The specification of the whole venue, or of one surface, as CSV or PDF. */
    public function specification(Request $request, Show $show, string $format, ?string $surface = null): Response
    {
        $core = $this->rows->core($show);
        $spares = $request->query('spares', '5');
        if (! is_numeric($spares)) {
            throw Refused::notANumber('spares');
        }
        $name = $surface === null ? $show->name : ($core->venue->surfaces[$surface] ?? throw new Problem(404, 'There is no surface of this id in the show.'))->name;
        $sheets = VenueSpecification::sheets($core, (float) $spares / 100, $surface, $format === 'pdf' ? Pdf::MOST_CABLE_TABLES : PHP_INT_MAX);

        return $format === 'pdf' ? self::file(Pdf::of($name, $sheets), 'application/pdf', "$name.pdf") : self::file("\xEF\xBB\xBF".VenueSpecification::csv($sheets), 'text/csv; charset=utf-8', "$name.csv");
    }

    public function venueSpecification(Request $request, Show $show, string $format): Response
    {
        return $this->specification($request, $show, $format);
    }

    public function surfaceSpecification(Request $request, Show $show, string $surface, string $format): Response
    {
        return $this->specification($request, $show, $format, $surface);
    }

    public function template(Show $show, string $surface, string $format): Response
    {
        $row = $this->surface($show, $surface);
        $raster = [$row->width(), $row->height()];

        return $format === 'png'
            ? self::file(Png::of(PixelMapTemplate::picture($row->name, $row->carrier, $raster)), 'image/png', "$row->name.png")
            : self::file(PixelMapTemplate::svg($row->name, $row->carrier, $raster), 'image/svg+xml', "$row->name.svg");
    }

    public function plot(Show $show): Response
    {
        return self::file(StagePlot::svg($this->rows->core($show)), 'image/svg+xml', "$show->name plot.svg");
    }

    public function obj(Show $show): Response
    {
        $core = $this->rows->core($show);
        self::notTooFine(Lighting::triangles($core));

        return self::file(ObjWriter::write(array_map(static fn (Surface $s): array => ['name' => $s->name, 'mesh' => $s->carrier->mesh(), 'matrix' => $core->venue->world($s->id)], array_values($core->venue->surfaces)), $show->name), 'model/obj', "$show->name.obj");
    }

    /** One surface in its own place, as content is drawn for it. */
    public function surfaceObj(Show $show, string $surface): Response
    {
        $row = $this->surface($show, $surface);
        self::notTooFine($row->carrier->triangles());

        return self::file(ObjWriter::write([['name' => $row->name, 'mesh' => $row->carrier->mesh(), 'matrix' => Mat4::identity()]], $row->name), 'model/obj', "$row->name.obj");
    }

    public function panelsCsv(Show $show): Response
    {
        return self::file("\xEF\xBB\xBF".PanelTable::write(array_values($this->rows->core($show)->venue->panels)), 'text/csv; charset=utf-8', "$show->name panels.csv");
    }

    /** Panels of a table become panels of the show; one of the same name takes the table's figures. */
    public function importPanels(Request $request, Show $show, Editor $editor): JsonResponse
    {
        $csv = $request->input('csv');
        if (! is_string($csv) || strlen($csv) > 1_000_000) {
            throw Problem::refused('csv', 'The table has to be text of at most 1 MB.');
        }
        $present = array_column($this->rows->of($show->id)['panel'], null, 'name');
        $changes = [];
        foreach (PanelTable::read($csv) as $panel) {
            $fields = get_object_vars($panel);
            $old = $present[$panel->name] ?? null;
            $changes[$panel->name] = ['kind' => 'panel', 'id' => $old['id'] ?? strtolower((string) Str::ulid()), 'op' => $old === null ? 'create' : 'update', 'fields' => array_map(static fn (string $f): array => ['before' => $old[$f] ?? null, 'after' => $fields[$f]], array_combine(array_keys($fields), array_keys($fields)))];
        }
        $person = $request->attributes->get('person');
        $edit = $editor->apply($show, $person, 'Import '.count($changes).' panels', array_values($changes));

        return new JsonResponse($editor->told($edit, $show, $person), 201);
    }

    public function panels(): JsonResponse
    {
        return new JsonResponse(['panels' => PanelLibrary::panels()]);
    }

    /** The focal length that takes in an angle. */
    public function focal(Request $request): JsonResponse
    {
        foreach (['sensorWidth', 'angle'] as $name) {
            is_int($request->input($name)) || is_float($request->input($name)) || throw Refused::notANumber($name);
        }

        return new JsonResponse(['focal' => Camera::focalFor((float) $request->input('sensorWidth'), (float) $request->input('angle'))]);
    }

    /** Seams for one of: a radius, a turn in all, an angle for each. */
    public function seams(Request $request): JsonResponse
    {
        $number = static fn (string $name): ?float => is_int($request->input($name)) || is_float($request->input($name)) ? (float) $request->input($name) : null;
        $columns = $request->input('columns');
        if (! is_int($columns) || $columns < 1 || $columns > 1000) {
            throw Refused::because('columns', 'A wall has between 1 and 1000 columns.');
        }
        $seams = match (true) {
            $number('radius') !== null => array_fill(0, $columns - 1, Curvature::seamForRadius(($number('widthMm') ?? throw Problem::refused('widthMm', 'A radius needs the width of a panel.')) / 1000, (float) $number('radius'))),
            $number('turn') !== null => Curvature::seamsForTurn($columns, (float) $number('turn')),
            $number('angle') !== null => array_fill(0, $columns - 1, (float) $number('angle')),
            default => throw Problem::refused('radius', 'Say a radius, a turn or an angle.'),
        };

        return new JsonResponse(['seams' => $seams]);
    }

    public function bySize(Request $request): JsonResponse
    {
        foreach (['width', 'height', 'pitch'] as $name) {
            if (! is_int($request->input($name)) && ! is_float($request->input($name))) {
                throw Refused::notANumber($name);
            }
        }

        return new JsonResponse(WallBySize::of((float) $request->input('width'), (float) $request->input('height'), (float) $request->input('pitch')));
    }

    private static function notTooFine(int $triangles): void
    {
        if ($triangles > self::MOST_TRIANGLES_OUT) {
            throw new Problem(422, sprintf('An OBJ of %s triangles is not written at once; %s are. Take the surfaces one by one, or the file that the model came in.', number_format($triangles), number_format(self::MOST_TRIANGLES_OUT)));
        }
    }

    private function surface(Show $show, string $id): Surface
    {
        return $this->rows->core($show)->venue->surfaces[$id] ?? throw new Problem(404, 'There is no surface of this id in the show.');
    }

    /** @return array{Surface, Wall} */
    private function wall(Show $show, string $id): array
    {
        $surface = $this->surface($show, $id);

        return [$surface, $surface->wall() ?? throw new Problem(422, "$surface->name is no wall of panels.")];
    }

    private static function file(string $bytes, string $type, string $name): Response
    {
        $plain = trim((string) preg_replace('/[^\w.\-]+/', ' ', (string) iconv('UTF-8', 'ASCII//TRANSLIT//IGNORE', $name))) ?: 'file';

        return new Response($bytes, 200, ['Content-Type' => $type, 'Content-Disposition' => "attachment; filename=\"$plain\"; filename*=UTF-8''".rawurlencode($name)]);
    }
}
