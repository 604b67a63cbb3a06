<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Http\Download;
use App\Http\Imports;
use App\Models\Show;
use App\Paper\Import;
use App\Show\Editor;
use App\Show\ShowRepository;
use App\Support\Id;
use App\Support\Input;
use App\Support\Problem;
use Core\Bindings\LearnedControl;
use Core\Bindings\Meaning;
use Core\Show\BindingEditing;
use Core\Show\BindingTable;
use Core\Show\Changes;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;

/** Binds controls that were learned, and takes bindings from one device to another. */
final readonly class BindingController
{
    public function __construct(private Editor $editor, private ShowRepository $rows, private Imports $imports)
    {
    }

    public function order(Request $request, Show $show): JsonResponse
    {
        $body = Input::body($request);
        $document = $this->rows->document($show);
        $editing = new BindingEditing($document->show, $document, Id::make(...));
        $made = null;
        switch ($body->text('action')) {
            case 'bind':
                $targets = $body->texts('targets', BindingEditing::MAX);
                [$changes, $ids] = $editing->bind(
                    self::learned($body),
                    Meaning::tryFrom($body->text('meaning')) ??
                        throw Problem::refused(
                            'meaning',
                            'A control is bound to one of '.
                                implode(', ', array_column(Meaning::cases(), 'value')).
                                '.',
                        ),
                    $targets,
                    $body->text('protocol'),
                    $body->text('port', ''),
                    $body->whole('page', 0, 99, 0),
                );
                [$made, $name] = [
                    implode(' ', $ids),
                    count($ids) === 1 ? 'Bind a control' : 'Bind '.count($ids).' controls',
                ];
                break;
            case 'learn':
                $binding = $body->text('binding');
                [$changes, $name] = [
                    $editing->relearn($binding, self::learned($body)[0] ?? throw self::nothing()),
                    'Learn a control',
                ];
                break;
            case 'move':
                [$changes, $name] = [
                    $editing->move($body->text('from'), $body->text('to')),
                    'Move bindings to another device',
                ];
                break;
            default:
                throw Problem::refused('action', 'Unknown action; there are bind, learn and move.');
        }
        [$answer, $status] = $this->editor->order($show, $request->attributes->get('person'), $name, $changes, $made);

        return new JsonResponse($answer, $status);
    }

    /** A new token for the requests of a device: told this once, kept only as its hash. */
    public function token(Request $request, Show $show, string $device): JsonResponse
    {
        $row =
            $this->rows->document($show)->rows['device'][$device] ??
            throw Problem::refused('device', 'This device is not in the show.');
        if ($row['protocol'] !== 'http') {
            throw Problem::refused('device', 'Only a device of HTTP has a token.');
        }
        $token = rtrim(strtr(base64_encode(random_bytes(24)), '+/', '-_'), '=');
        [$answer, $status] = $this->editor->order(
            $show,
            $request->attributes->get('person'),
            "Make a token for $row[name]",
            Changes::update('device', $device, $row, ['token' => hash('sha256', $token)]),
            null,
        );

        return new JsonResponse(['token' => $token] + $answer, $status);
    }

    public function table(Show $show): Response
    {
        return Download::csv(BindingTable::of($this->rows->document($show))->write(), "$show->name bindings.csv");
    }

    public function json(Show $show): Response
    {
        return Download::of(
            BindingTable::of($this->rows->document($show))->writeJson(),
            'application/json',
            "$show->name bindings.json",
        );
    }

    public function takeTable(Request $request, Show $show): JsonResponse
    {
        return $this->imports->take(
            $show,
            (string) $request->attributes->get('person'),
            Import::Bindings,
            Input::body($request)->text('csv'),
        );
    }

    /** @return list<LearnedControl> of each list of events */
    private static function learned(Input $body): array
    {
        $lists = $body->object('events');
        if (! array_is_list($lists) || count($lists) > BindingEditing::MAX) {
            throw self::nothing();
        }

        return array_map(
            static fn (mixed $events): LearnedControl => LearnedControl::of(self::events($events), $body->flag('ends')),
            $lists,
        );
    }

    private static function nothing(): \Throwable
    {
        return Problem::refused('events', 'events is a list of what each control sent: [[name, numbers], …] each.');
    }

    /** @return list<array{string, list<int|float|string|bool|null>}> */
    private static function events(mixed $given): array
    {
        if (! is_array($given) || ! array_is_list($given) || count($given) > LearnedControl::MAX_EVENTS) {
            throw self::nothing();
        }

        return array_map(static function (mixed $event): array {
            if (
                ! is_array($event) ||
                ! is_string($event[0] ?? null) ||
                ! is_array($event[1] ?? null) ||
                ! array_is_list($event[1]) ||
                array_filter($event[1], static fn (mixed $v): bool => ! is_scalar($v) && $v !== null) !== []
            ) {
                throw self::nothing();
            }

            return [$event[0], $event[1]];
        }, $given);
    }
}
