<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Engine\Control;
use App\Http\Download;
use App\Http\Imports;
use App\Models\Show;
use App\Paper\Import;
use App\Show\Editor;
use App\Show\ShowRepository;
use App\Support\Id;
use App\Support\Input;
use App\Support\Problem;
use Core\Cues\Cue;
use Core\Show\CueEditing;
use Core\Show\CueTable;
use Core\Units\Flicks;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;

/**
 * Records cues of what is on, changes what they hold, tells why a value is what it is, and takes the list and markers
 * as tables.
 */
final readonly class CueController
{
    public function __construct(
        private Editor $editor,
        private ShowRepository $rows,
        private Control $control,
        private Imports $imports,
    ) {
    }

    public function cues(Request $request, Show $show): JsonResponse
    {
        $body = Input::body($request);
        $document = $this->rows->document($show);
        $cues = new CueEditing($document->show, $document, Id::make(...));
        $named = $body->has('cue') ? $body->text('cue') : '';
        $told = 'cue '.($document->show->programme->cues[$named]->number ?? '');
        $made = null;
        $release = [];
        switch ($body->text('action')) {
            case 'record':
                $scope = $body->text('scope', 'chosen');
                $values = $scope === 'everything' ? $this->values($show, ['*']) : $this->chosen($show, $body);
                [$changes, $made] = $cues->record($values, ['scope' => $scope] + $this->fields($body));
                $release = $body->flag('discard') ? array_keys($values) : [];
                $name = 'Record a cue';
                break;
            case 'add':
                [$changes, $made] = $cues->add($body->text('timeline'), $body->whole('time', 0, Flicks::MAX));
                $name = 'Add a cue';
                break;
            case 'update':
                [$name, $changes] = [
                    "Update $told",
                    $cues->update($named, $this->values($show, $cues->addressesOf($named))),
                ];
                break;
            case 'merge':
                $values = $this->chosen($show, $body);
                [$name, $changes] = ["Merge into $told", $cues->merge($named, $values)];
                $release = $body->flag('discard') ? array_keys($values) : [];
                break;
            case 'trim':
                [$name, $changes] = ["Trim $told", $cues->trim($named, $body->texts('addresses', Cue::MAX_VALUES))];
                break;
            case 'renumber':
                [$name, $changes] = [
                    'Renumber the cue list',
                    $cues->renumber($body->number('first', 1), $body->number('step', 1)),
                ];
                break;
            default:
                throw Problem::refused(
                    'action',
                    'Unknown action; there are record, add, update, merge, trim and renumber.',
                );
        }
        [$answer, $status] = $this->editor->order($show, $request->attributes->get('person'), $name, $changes, $made);
        if ($release !== []) {
            $this->control->send(['tell' => 'release', 'revision' => $answer['revision'], 'addresses' => $release]);
        }

        return new JsonResponse($answer, $status);
    }

    /** Who says what of some values, from below. */
    public function why(Request $request, Show $show): JsonResponse
    {
        return new JsonResponse([
            'stacks' => (object) $this->asked($show, explode(',', Input::query($request)->text('addresses')))['stacks'],
        ]);
    }

    public function table(Show $show, string $of): Response
    {
        $table = CueTable::of($this->rows->document($show));

        return Download::csv($of === 'cues' ? $table->cues() : $table->markers(), "$show->name $of.csv");
    }

    public function takeTable(Request $request, Show $show, string $of): JsonResponse
    {
        return $this->imports->take(
            $show,
            (string) $request->attributes->get('person'),
            Import::from($of),
            Input::body($request)->text('csv'),
        );
    }

    /** @return array<string, mixed> fields of a new cue that are given */
    private function fields(Input $body): array
    {
        $fields = [];
        foreach (['number', 'name', 'note', 'timeline', 'page', 'group', 'colour'] as $text) {
            $body->has($text) && ($fields[$text] = $body->text($text));
        }
        foreach (['time' => Flicks::MAX, 'fade' => Cue::MAX_TIME, 'row' => 1000, 'column' => 1000] as $whole => $max) {
            $body->has($whole) && ($fields[$whole] = $body->whole($whole, 0, $max));
        }

        return $fields;
    }

    /** @return array<string, float> what was chosen: these addresses, or all loose values */
    private function chosen(Show $show, Input $body): array
    {
        if ($body->has('addresses')) {
            return $this->values($show, $body->texts('addresses', Cue::MAX_VALUES));
        }
        $state = $this->control->ask(['ask' => 'state']);
        $this->onAir($show, $state);

        return array_map(floatval(...), (array) ($state['live'] ?? []));
    }

    /**
     * @param  list<string>  $addresses
     * @return array<string, float>
     */
    private function values(Show $show, array $addresses): array
    {
        return $addresses === [] ? [] : array_map(floatval(...), $this->asked($show, $addresses)['values']);
    }

    /**
     * @param  list<string>  $addresses
     * @return array{values: array<string, mixed>, stacks: array<string, mixed>}
     */
    private function asked(Show $show, array $addresses): array
    {
        $answer = $this->control->ask(['ask' => 'values', 'show' => $show->id, 'addresses' => $addresses]);
        if (! isset($answer['values'])) {
            $this->onAir($show, $this->control->ask(['ask' => 'state']));
            throw new Problem(422, 'The engine is just starting. Try again in a moment.');
        }

        return ['values' => (array) $answer['values'], 'stacks' => (array) ($answer['stacks'] ?? [])];
    }

    /** @param  array<string, mixed>|null  $state */
    private function onAir(Show $show, ?array $state): void
    {
        if ($state === null) {
            throw new Problem(422, 'The engine is not running, so nothing is on.');
        }
        if (($state['show'] ?? null) !== $show->id) {
            throw new Problem(422, 'Another show is on air. Put this one on air to record what is on.');
        }
    }
}
