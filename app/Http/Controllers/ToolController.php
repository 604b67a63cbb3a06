<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Engine\PanelRights;
use App\Http\Middleware\PanelDoor;
use App\Models\PairedPanel;
use App\Show\RowSchema;
use App\Support\Input;
use App\Support\Problem;
use App\Support\TicketOffice;
use Core\Show\Kinds\PanelKind;
use Core\Units\Arithmetic;
use Core\Units\Flicks;
use Core\Units\FrameRate;
use Core\Units\Timecode;
use Core\Venue\Wall;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;

/** Answers that need no show: what typed text means, what a wall would be, a ticket for the live stream. */
final readonly class ToolController
{
    /** Values from which typed arithmetic is worked out at once, at most. */
    private const MAX_PRESENTS = 2000;

    public function ticket(Request $request): JsonResponse
    {
        $panel = $request->attributes->get(PanelDoor::PANEL);
        $person =
            $panel instanceof PairedPanel
                ? PanelRights::person($panel->id, $panel->panel)
                : (string) $request->attributes->get('person');

        return new JsonResponse(
            ['ticket' => (new TicketOffice(config('app.key')))->issue($person, time()), 'person' => $person],
            201,
        );
    }

    /** What typed arithmetic comes to: from one present value, or from each of several. */
    public function arithmetic(Request $request): JsonResponse
    {
        $body = Input::body($request);
        [$text, $unit] = [$body->text('text'), $body->text('unit', '')];
        if ($body->has('presents')) {
            return new JsonResponse([
                'values' => array_map(
                    static fn (float $present): float => Arithmetic::evaluate($text, $unit, $present),
                    $body->numbers('presents', self::MAX_PRESENTS),
                ),
            ]);
        }

        return new JsonResponse([
            'value' => Arithmetic::evaluate($text, $unit, $body->has('present') ? $body->number('present') : null),
        ]);
    }

    public function timecode(Request $request): JsonResponse
    {
        $body = Input::body($request);
        $rate = FrameRate::of($body->text('frameRate', '25'));
        $flicks = Timecode::evaluate(
            $body->text('text'),
            $rate,
            $body->has('present') ? $body->whole('present', -Flicks::MAX, Flicks::MAX) : null,
        );

        return new JsonResponse(['flicks' => $flicks, 'text' => Timecode::format($flicks, $rate)]);
    }

    /** Figures of a wall that is not stored yet. */
    public function wall(Request $request): JsonResponse
    {
        $body = Input::body($request);
        $row = [];
        foreach ($body->object('panel') as $field => $value) {
            if (isset(RowSchema::fields('panel')[$field])) {
                $row[$field] = RowSchema::check('panel', (string) $field, $value);
            }
        }
        foreach (['widthMm', 'heightMm', 'widthPx', 'heightPx'] as $field) {
            isset($row[$field]) || throw Problem::refused("panel.$field", "A panel needs its $field.");
        }
        $wall = Wall::grid(
            PanelKind::panel($row + ['name' => 'Panel', 'kilograms' => 0, 'wattsAverage' => 0, 'wattsMaximum' => 0]),
            $body->whole('columns', 1, 1000),
            $body->whole('rows', 1, 1000),
        );

        return new JsonResponse(get_object_vars($wall->figures()));
    }

    public function openApi(): JsonResponse
    {
        return new JsonResponse(json_decode((string) file_get_contents(base_path('docs/openapi.json')), true));
    }
}
