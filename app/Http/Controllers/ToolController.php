<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Support\Problem;
use App\Support\TicketOffice;
use Core\Show\Kinds\PanelKind;
use Core\Units\Arithmetic;
use Core\Units\FrameRate;
use Core\Units\Refused;
use Core\Units\Timecode;
use Core\Venue\Wall;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;

/** Answers that need no show: what typed text means, what a wall would be, a ticket for the live stream. */
final readonly class ToolController
{
    public function ticket(Request $request): JsonResponse
    {
        return new JsonResponse(['ticket' => (new TicketOffice(config('app.key')))->issue($request->attributes->get('person'), time()), 'person' => $request->attributes->get('person')], 201);
    }

    public function arithmetic(Request $request): JsonResponse
    {
        $text = $request->input('text');
        $unit = $request->input('unit', '');
        $present = $request->input('present');
        if (! is_string($text) || ! is_string($unit) || ($present !== null && ! is_int($present) && ! is_float($present))) {
            throw Problem::refused('text', 'Arithmetic needs a text, a unit and, if there is one, the present value.');
        }

        return new JsonResponse(['value' => Arithmetic::evaluate($text, $unit, $present === null ? null : (float) $present)]);
    }

    public function timecode(Request $request): JsonResponse
    {
        $text = $request->input('text');
        if (! is_string($text)) {
            throw Problem::refused('text', 'Which timecode?');
        }
        $rate = FrameRate::of((string) $request->input('frameRate', '25'));
        $flicks = Timecode::parse($text, $rate);

        return new JsonResponse(['flicks' => $flicks, 'text' => Timecode::format($flicks, $rate)]);
    }

    /** Figures of a wall that is not stored yet. */
    public function wall(Request $request): JsonResponse
    {
        $row = (array) $request->input('panel', []);
        foreach (['widthMm', 'heightMm', 'widthPx', 'heightPx'] as $field) {
            if (! is_numeric($row[$field] ?? null)) {
                throw Problem::refused($field, "A panel needs its $field.");
            }
        }
        $columns = $request->input('columns');
        $rows = $request->input('rows');
        if (! is_int($columns) || ! is_int($rows)) {
            throw Refused::because(is_int($columns) ? 'rows' : 'columns', 'A wall has whole numbers of columns and rows.');
        }
        $wall = Wall::grid(PanelKind::panel($row + ['name' => 'Panel', 'kilograms' => 0, 'wattsAverage' => 0, 'wattsMaximum' => 0]), $columns, $rows);

        return new JsonResponse(get_object_vars($wall->figures()));
    }

    public function openApi(): JsonResponse
    {
        return new JsonResponse(json_decode((string) file_get_contents(base_path('docs/openapi.json')), true));
    }
}
