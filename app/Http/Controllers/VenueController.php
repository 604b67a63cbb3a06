<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Http\Problem;
use App\Models\Show;
use App\Show\Rows;
use Core\Exchange\ObjWriter;
use Core\Exchange\PixelMapTemplate;
use Core\Exchange\Specification;
use Core\Show\Surface;
use Core\Units\Refused;
use Core\Venue\Curvature;
use Core\Venue\PanelLibrary;
use Core\Venue\Wall;
use Core\Venue\WallBySize;
use Core\Venue\WallSheet;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;

/** What people plan and build the venue by, and what they take away as files. */
final readonly class VenueController
{
    public function __construct(private Rows $rows)
    {
    }

    public function sheet(Show $show, string $surface): JsonResponse
    {
        [$row, $wall] = $this->wall($show, $surface);

        return new JsonResponse(WallSheet::of($wall, $row->feeding));
    }

    public function specification(Show $show, string $surface): Response
    {
        [$row, $wall] = $this->wall($show, $surface);

        return self::file(Specification::csv($row->name, $wall, WallSheet::of($wall, $row->feeding)), 'text/csv; charset=utf-8', "$row->name.csv");
    }

    public function template(Show $show, string $surface): Response
    {
        [$row, $wall] = $this->wall($show, $surface);

        return self::file(PixelMapTemplate::svg($row->name, $wall), 'image/svg+xml', "$row->name.svg");
    }

    public function obj(Show $show): Response
    {
        $parts = array_map(static fn (Surface $s): array => ['name' => $s->name, 'mesh' => $s->carrier->mesh(), 'matrix' => $s->pose->matrix()], array_values($this->rows->core($show)->surfaces));

        return self::file(ObjWriter::write($parts, $show->name), 'model/obj', "$show->name.obj");
    }

    public function panels(): JsonResponse
    {
        return new JsonResponse(['panels' => PanelLibrary::panels()]);
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

    /** @return array{Surface, Wall} */
    private function wall(Show $show, string $id): array
    {
        $surface = $this->rows->core($show)->surfaces[$id] ?? throw new Problem(404, 'There is no surface of this id in the show.');

        return [$surface, $surface->wall() ?? throw new Problem(422, "$surface->name is no wall of panels.")];
    }

    private static function file(string $bytes, string $type, string $name): Response
    {
        $plain = trim((string) preg_replace('/[^\w.\-]+/', ' ', (string) iconv('UTF-8', 'ASCII//TRANSLIT//IGNORE', $name))) ?: 'file';

        return new Response($bytes, 200, ['Content-Type' => $type, 'Content-Disposition' => "attachment; filename=\"$plain\"; filename*=UTF-8''".rawurlencode($name)]);
    }
}
