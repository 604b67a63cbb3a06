<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Models\Show;
use App\Show\Arranger;
use App\Show\Editor;
use App\Show\ShowRepository;
use App\Support\Input;
use App\Support\Problem;
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
            ['name' => $name, 'changes' => $changes, 'says' => $says] = Arranger::changes($core, $rows, Input::body($request));
            try {
                $edit = $this->editor->apply($show, $person, $name, self::merged($changes));
                break;
            } catch (Problem $problem) {
                // Something moved between reading and writing: what was asked for goes on from where things are now.
                if ($problem->status !== 409 || $try >= self::TRIES) {
                    throw $problem;
                }
            }
        }

        return new JsonResponse($this->editor->told($edit, $show, $person) + ['says' => $says], 201);
    }

    /**
     * One change for each row.
     *
     * @param  list<array<string, mixed>>  $changes
     * @return list<array<string, mixed>>
     */
    private static function merged(array $changes): array
    {
        $by = [];
        foreach ($changes as $change) {
            $key = "$change[kind] $change[id]";
            if (isset($by[$key]) && $by[$key]['op'] === 'update' && $change['op'] === 'update') {
                $by[$key]['fields'] = $change['fields'] + $by[$key]['fields'];
            } else {
                $by[$key] = $change;
            }
        }

        return array_values($by);
    }
}
