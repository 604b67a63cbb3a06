<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Http\Download;
use App\Http\Imports;
use App\Models\Show;
use App\Paper\Archive;
use App\Paper\Import;
use App\Paper\Pdf;
use App\Paper\Png;
use App\Show\Lighting;
use App\Show\ShowRepository;
use App\Show\WarpStore;
use App\Support\Input;
use App\Support\Problem;
use Core\Exchange\Gdtf;
use Core\Exchange\ObjWriter;
use Core\Exchange\PanelTable;
use Core\Exchange\PixelMapTemplate;
use Core\Geometry\Mat4;
use Core\Light\Sight;
use Core\Paperwork\StagePlot;
use Core\Paperwork\VenueSpecification;
use Core\PixelMap\Wiring;
use Core\Show\Projections;
use Core\Show\Show as CoreShow;
use Core\Units\Check;
use Core\Units\InvalidValue;
use Core\Venue\Camera;
use Core\Venue\Curvature;
use Core\Venue\FixtureLibrary;
use Core\Venue\FixtureType;
use Core\Venue\PanelLibrary;
use Core\Venue\Surface;
use Core\Venue\Wall;
use Core\Venue\WallBySize;
use Core\Venue\WallSheet;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;

/** What people plan and build the venue by, and what they take away as files. */
final readonly class VenueController
{
    /** Seats times surfaces up to which sightlines are on paper. */
    private const MAX_SIGHTS = 400;

    private const MAX_TRIANGLES_OUT = 400_000;

    private const MAX_GDTF = 8 << 20;

    public function __construct(private ShowRepository $rows)
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
        $spares = Input::query($request)->text('spares', '5');
        $spares = Check::number(
            'spares',
            is_numeric($spares) ? (float) $spares : throw InvalidValue::notANumber('spares'),
            0,
            100,
            '%',
        );
        $name = $surface === null ? $show->name : ShowRepository::surfaceOf($core, $surface)->name;
        $sheets = VenueSpecification::tables(
            $core,
            $spares / 100,
            $surface,
            $format === 'pdf' ? Pdf::MAX_CABLE_TABLES : PHP_INT_MAX,
            $surface === null ? self::sightsForPaper($core) : [],
        );

        return $format === 'pdf'
            ? Download::of(Pdf::of($name, $sheets), 'application/pdf', "$name.pdf")
            : Download::csv(VenueSpecification::csv($sheets), "$name.csv");
    }

    /** @return array<string, list<Sight>>|null null where they would keep one waiting */
    private static function sightsForPaper(CoreShow $show): ?array
    {
        return count($show->venue->seats) * count($show->venue->surfaces) > self::MAX_SIGHTS ||
            Lighting::tooLarge($show)
            ? null
            : Lighting::sights($show);
    }

    public function venueSpecification(Request $request, Show $show, string $format): Response
    {
        return $this->specification($request, $show, $format);
    }

    public function surfaceSpecification(Request $request, Show $show, string $surface, string $format): Response
    {
        return $this->specification($request, $show, $format, $surface);
    }

    /** The pixel map to draw on; with `zones`, where squares stay stretched and seams of projectors fall. */
    public function template(Request $request, Show $show, string $surface, string $format): Response
    {
        $core = $this->rows->core($show);
        $row = ShowRepository::surfaceOf($core, $surface);
        $raster = [$row->width(), $row->height()];
        $zones = [];
        if ($request->query('zones') !== null) {
            Lighting::notTooLarge($core, 'zones are worked out');
            $projections = Projections::of($core, $surface, WarpStore::read(...));
            $zones = $projections->zones(WarpStore::computedOf($core, $surface));
        }

        return $format === 'png'
            ? Download::of(
                Png::of(PixelMapTemplate::picture($row->name, $row->carrier, $raster, $zones)),
                'image/png',
                "$row->name.png",
            )
            : Download::of(
                PixelMapTemplate::svg($row->name, $row->carrier, $raster, $zones),
                'image/svg+xml',
                "$row->name.svg",
            );
    }

    public function plot(Show $show): Response
    {
        return Download::of(StagePlot::svg($this->rows->core($show)), 'image/svg+xml', "$show->name plot.svg");
    }

    public function obj(Show $show): Response
    {
        $core = $this->rows->core($show);
        self::notTooFine(Lighting::triangles($core));

        return Download::of(
            ObjWriter::write(
                array_map(
                    static fn (Surface $s): array => [
                        'name' => $s->name,
                        'mesh' => $s->carrier->mesh(),
                        'matrix' => $core->venue->world($s->id),
                    ],
                    array_values($core->venue->surfaces),
                ),
                $show->name,
            ),
            'model/obj',
            "$show->name.obj",
        );
    }

    /** One surface in its own place, as content is drawn for it. */
    public function surfaceObj(Show $show, string $surface): Response
    {
        $row = $this->surface($show, $surface);
        self::notTooFine($row->carrier->triangles());

        return Download::of(
            ObjWriter::write(
                [['name' => $row->name, 'mesh' => $row->carrier->mesh(), 'matrix' => Mat4::identity()]],
                $row->name,
            ),
            'model/obj',
            "$row->name.obj",
        );
    }

    public function panelsCsv(Show $show): Response
    {
        return Download::csv(
            PanelTable::write(array_values($this->rows->core($show)->venue->panels)),
            "$show->name panels.csv",
        );
    }

    /** Panels of a table become panels of the show; one of the same name takes the table's figures. */
    public function importPanels(Request $request, Show $show, Imports $imports): JsonResponse
    {
        return $imports->take(
            $show,
            (string) $request->attributes->get('person'),
            Import::Panels,
            Input::body($request)->text('csv'),
        );
    }

    public function panels(): JsonResponse
    {
        return new JsonResponse(['panels' => PanelLibrary::panels()]);
    }

    public function fixtures(): JsonResponse
    {
        return new JsonResponse([
            'fixtures' => array_map(static fn (FixtureType $type): array => $type->toArray(), FixtureLibrary::types()),
        ]);
    }

    /**
     * What a GDTF file says of pixel lights: a type for each of its modes, and the way along which its pixels are
     * wired.
     */
    public function gdtf(Request $request): JsonResponse
    {
        $bytes = Input::body($request)->bytes('file', self::MAX_GDTF, 'The file');
        $files = Archive::files($bytes, 'file', Gdtf::DESCRIPTION);
        $read = Gdtf::read(
            $files[Gdtf::DESCRIPTION] ??
                throw Problem::refused('file', 'The archive has no '.Gdtf::DESCRIPTION.': it is no GDTF.'),
        );
        $modes = array_map(static function (array $mode): array {
            $type = FixtureType::fromRow($mode);
            $wiring = $mode['order'] === [] ? Wiring::of() : Wiring::matching($type, $mode['order']);

            return ['type' => $type->toArray(), 'wiring' => $wiring->toArray(), 'path' => $wiring->path];
        }, $read['modes']);

        return new JsonResponse(['name' => $read['name'], 'modes' => $modes]);
    }

    /** The focal length that takes in an angle. */
    public function focal(Request $request): JsonResponse
    {
        $body = Input::body($request);

        return new JsonResponse(['focal' => Camera::focalFor($body->number('sensorWidth'), $body->number('angle'))]);
    }

    /** The angle that a focal length takes in. */
    public function angle(Request $request): JsonResponse
    {
        $body = Input::body($request);

        return new JsonResponse(['angle' => Camera::angleFor($body->number('sensorWidth'), $body->number('focal'))]);
    }

    /** Seams for one of: a radius, a turn in all, an angle for each. */
    public function seams(Request $request): JsonResponse
    {
        $body = Input::body($request);
        $columns = $body->whole('columns', 1, 1000);
        $seams = match (true) {
            $body->has('radius') => array_fill(
                0,
                $columns - 1,
                Curvature::seamForRadius($body->number('widthMm') / 1000, $body->number('radius')),
            ),
            $body->has('turn') => Curvature::seamsForTurn($columns, $body->number('turn')),
            $body->has('angle') => array_fill(0, $columns - 1, $body->number('angle')),
            default => throw Problem::refused('radius', 'Say a radius, a turn or an angle.'),
        };

        return new JsonResponse(['seams' => $seams]);
    }

    public function bySize(Request $request): JsonResponse
    {
        $body = Input::body($request);

        return new JsonResponse(
            WallBySize::of($body->number('width'), $body->number('height'), $body->number('pitch')),
        );
    }

    private static function notTooFine(int $triangles): void
    {
        if ($triangles > self::MAX_TRIANGLES_OUT) {
            throw new Problem(
                422,
                sprintf(
                    'An OBJ of %s triangles is not written at once; %s are. Take the surfaces one by one, or the file that the model came in.',
                    number_format($triangles),
                    number_format(self::MAX_TRIANGLES_OUT),
                ),
            );
        }
    }

    private function surface(Show $show, string $id): Surface
    {
        return ShowRepository::surfaceOf($this->rows->core($show), $id);
    }

    /** @return array{Surface, Wall} */
    private function wall(Show $show, string $id): array
    {
        $surface = $this->surface($show, $id);

        return [$surface, $surface->wall() ?? throw new Problem(422, "$surface->name is no wall of panels.")];
    }
}
