<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Models\Show;
use App\Show\Arranger;
use App\Show\Editor;
use App\Show\ShowRepository;
use App\Support\Input;
use App\Support\Problem;
use Core\Show\Changes;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;

/** Moves and copies of several things at once. */
final readonly class ArrangeController
{
    private const TRIES = 8;

    public function __construct(private ShowRepository $rows, private Editor $editor)
    {
    }

    public function arrange(Request $request, Show $show): JsonResponse
    {
        $person = $request->attributes->get('person');
        for ($try = 1; ; $try++) {
            $rows = $this->rows->withFiles($show->id);
            $core = $this->rows->core($show, $rows);
            ['name' => $name, 'changes' => $changes, 'notes' => $notes] = Arranger::changes(
                $core,
                $rows,
                Input::body($request),
            );
            try {
                $edit = $this->editor->apply($show, $person, $name, Changes::merged($changes));
                break;
            } catch (Problem $problem) {
                // Something moved between reading and writing: what was asked for goes on from where things are now.
                if ($problem->status !== 409 || $try >= self::TRIES) {
                    throw $problem;
                }
            }
        }

        return new JsonResponse($this->editor->payload($edit, $show, $person) + ['notes' => $notes], 201);
    }
}
