<?php

declare(strict_types=1);

namespace App\Show;

use App\Engine\Control;
use App\Models\Edit;
use App\Models\Show;
use App\Support\Problem;
use Core\Media\MediaNumber;
use Core\Show\Changes;
use Core\Show\Kinds\SurfaceKind;
use Core\Show\Schema;
use Core\Show\Show as CoreShow;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Support\Facades\DB;

/**
 * The one way in which rows of a show change: an Edit with a name and the fields it changes, their values before and
 * after. All of it happens or nothing.
 *
 * @phpstan-type Change array{kind: string, id: string, op: string, fields: array<string, array{before: mixed, after: mixed}>}
 */
final readonly class Editor
{
    public const MAX_CHANGES = 5000;

    /** Kinds of rows that are judged by other rows, and media, which get a number as they are written. */
    private const BY_OTHERS = ['surface' => true, 'control' => true, 'media' => true];

    public function __construct(private Control $control, private ShowRepository $rows)
    {
    }

    /**
     * @param  list<mixed>  $changes as they came
     * @param  (\Closure(float): void)|null  $progress  hears how much of the checking is done; at 1 for the last time
     *     before anything is written, and what it throws stops it
     */
    public function apply(Show $show, string $person, string $name, array $changes, ?\Closure $progress = null): Edit
    {
        $changes = $this->understood($changes);
        $checked = $this->checked($changes, $progress);
        $progress === null || $progress(1.0);

        return $this->write($show, $person, 'edit', function () use ($show, $person, $name, $changes, $checked): array {
            Edit::query()
                ->where('showId', $show->id)
                ->where('person', $person)
                ->where('act', 'edit')
                ->where('state', 'undone')
                ->update(['state' => 'dropped']);

            return [$name, $changes, $checked];
        });
    }

    /**
     * Checks new rows by themselves before the write lock is taken. Rows that are judged by others are left for later.
     *
     * @param  list<Change>  $changes
     * @param  (\Closure(float): void)|null  $progress
     * @return array<string, true> by kind and id
     */
    private function checked(array $changes, ?\Closure $progress = null): array
    {
        $checked = [];
        foreach ($changes as $i => ['kind' => $kind, 'id' => $id, 'op' => $op, 'fields' => $fields]) {
            $progress === null || $progress($i / count($changes));
            // What an edit changes again is judged as it is in the end.
            if ($op !== 'create' || isset(self::BY_OTHERS[$kind])) {
                unset($checked["$kind $id"]);

                continue;
            }
            $row = RowSchema::model($kind)::query()
                ->make(
                    ['id' => $id] +
                        Changes::into([], array_map(static fn (array $pair): mixed => $pair['after'], $fields)),
                );
            CoreShow::checkRow($kind, $row->attributesToArray(), []);
            $checked["$kind $id"] = true;
        }

        return $checked;
    }

    /** What is told of an edit after which everything is as it was: no revision, nothing to undo. */
    public static function nothing(Show $show, string $name, string $act = 'edit'): Edit
    {
        return new Edit(['revision' => $show->revision, 'name' => $name, 'act' => $act, 'changes' => []]);
    }

    /** Takes this person's last edit back. */
    public function undo(Show $show, string $person): Edit
    {
        return $this->turn($show, $person, 'undo');
    }

    /** Does again what this person took back last. */
    public function redo(Show $show, string $person): Edit
    {
        return $this->turn($show, $person, 'redo');
    }

    /** @return array{undo: string|null, redo: string|null} names of what undo and redo would do */
    public function within(Show $show, string $person): array
    {
        return [
            'undo' => $this->next($show, $person, 'undo')?->name,
            'redo' => $this->next($show, $person, 'redo')?->name,
        ];
    }

    /**
     * Does what the core made of an order, as one edit, or nothing where all is so already.
     *
     * @param  list<array<string, mixed>>  $changes
     * @param  string|null  $made  the id of what is new
     * @param  (\Closure(float): void)|null  $progress  as in apply()
     * @return array{array<string, mixed>, int} what the window hears, and the status of the answer
     */
    public function order(
        Show $show,
        string $person,
        string $name,
        array $changes,
        ?string $made,
        ?\Closure $progress = null,
    ): array {
        $edit =
            $changes === []
                ? self::nothing($show, $name)
                : $this->apply($show, $person, $name, Changes::merged($changes), $progress);

        return [['createdId' => $made] + $this->payload($edit, $show, $person), $changes === [] ? 200 : 201];
    }

    /** @return array<string, mixed> what a window hears of an edit that it asked for */
    public function payload(Edit $edit, Show $show, string $person): array
    {
        return [
            'revision' => $edit->revision,
            'name' => $edit->name,
            'act' => $edit->act,
            'changes' => $edit->changes,
            'history' => $this->within($show, $person),
        ];
    }

    private function next(Show $show, string $person, string $act): ?Edit
    {
        return Edit::query()
            ->where('showId', $show->id)
            ->where('person', $person)
            ->where('act', 'edit')
            ->where('state', $act === 'undo' ? 'done' : 'undone')
            ->orderBy('revision', $act === 'undo' ? 'desc' : 'asc')
            ->first();
    }

    private function turn(Show $show, string $person, string $act): Edit
    {
        $next = $this->next($show, $person, $act);
        $checked =
            $next === null ? [] : $this->checked($act === 'redo' ? $next->changes : self::inverse($next->changes));

        return $this->write($show, $person, $act, function () use ($show, $person, $act, $next, $checked): array {
            // Chosen with the write lock held, so that two presses of the key take back two edits.
            $target =
                $this->next($show, $person, $act) ??
                throw new Problem(
                    422,
                    $act === 'undo' ? 'There is nothing of yours to undo.' : 'There is nothing to redo.',
                );
            $target->update(['state' => $act === 'undo' ? 'undone' : 'done']);

            return [
                $target->name,
                $act === 'redo' ? $target->changes : self::inverse($target->changes),
                $target->is($next) ? $checked : [],
            ];
        });
    }

    /**
     * @param  \Closure(): array{string, list<Change>, array<string, true>}  $decide  the edit's name, its changes,
     *     and the new rows that are known to be good, with the write lock held
     */
    private function write(Show $show, string $person, string $act, \Closure $decide): Edit
    {
        $edit = DB::transaction(function () use ($show, $person, $act, $decide): Edit {
            $show->refresh();
            [$name, $changes, $checked] = $decide();
            $done = $this->perform($show, $this->numbered($show, $changes, $act), $person, $checked);
            if ($done === []) {
                // Everything was so already: nothing to undo, and no revision.
                return self::nothing($show, $name, $act);
            }
            $show->update(['revision' => $show->revision + 1]);

            return Edit::query()->create([
                'showId' => $show->id,
                'revision' => $show->revision,
                'person' => $person,
                'name' => $name,
                'act' => $act,
                'state' => 'done',
                'changes' => $done,
                'at' => now(),
            ]);
        });
        $edit->exists &&
            $this->control->send([
                'tell' => 'revision',
                'show' => $show->id,
                'revision' => $edit->revision,
                'person' => $person,
                'name' => $edit->name,
                'act' => $act,
                'changes' => $edit->changes,
            ]);

        return $edit;
    }

    /**
     * @param  list<mixed>  $changes
     * @return list<Change>
     */
    private function understood(array $changes): array
    {
        if ($changes === [] || count($changes) > self::MAX_CHANGES) {
            throw Problem::refused('changes', 'An edit has between 1 and '.self::MAX_CHANGES.' changes.');
        }
        $good = [];
        foreach (array_values($changes) as $i => $change) {
            if (
                ! is_array($change) ||
                ! is_string($change['kind'] ?? null) ||
                ! is_string($change['id'] ?? null) ||
                ! in_array($change['op'] ?? null, ['create', 'update', 'delete'], true)
            ) {
                throw Problem::refused(
                    "changes.$i",
                    'A change has a kind, an id and an op of create, update or delete.',
                );
            }
            if (
                ! in_array($change['kind'], [...RowSchema::names(), 'show'], true) ||
                ($change['kind'] === 'show' && $change['op'] !== 'update')
            ) {
                throw Problem::refused(
                    "changes.$i.kind",
                    "There is no kind of row named \"{$change['kind']}\" that can be treated so.",
                );
            }
            $id = strtolower($change['id']);
            if (preg_match('/^[0-9a-hjkmnp-tv-z]{26}$/', $id) !== 1) {
                throw Problem::refused("changes.$i.id", 'The id of a row is a ULID.');
            }
            $fields = [];
            foreach ((array) ($change['fields'] ?? []) as $field => $pair) {
                if (
                    ! is_array($pair) ||
                    ($change['op'] !== 'delete' && ! array_key_exists('after', $pair)) ||
                    ($change['op'] === 'update' && ! array_key_exists('before', $pair))
                ) {
                    throw Problem::refused(
                        "changes.$i.fields.$field",
                        'A changed field states its value before and after.',
                    );
                }
                $fields[(string) $field] = [
                    'before' => $pair['before'] ?? null,
                    'after' => $change['op'] === 'delete'
                            ? null
                            : RowSchema::check($change['kind'], (string) $field, $pair['after']),
                ];
            }
            if ($change['op'] === 'create') {
                foreach ($fields as $field => $pair) {
                    if (str_starts_with((string) $field, 'values.')) {
                        unset($fields[$field]);
                        $fields['values'] ??= ['before' => null, 'after' => []];
                        if ($pair['after'] !== null) {
                            $fields['values']['after'][substr((string) $field, 7)] = $pair['after'];
                        }
                    }
                }
                foreach (RowSchema::fields($change['kind']) as $field => $type) {
                    if (! isset($fields[$field])) {
                        array_key_exists(1, $type) ||
                            throw Problem::refused(
                                "changes.$i.fields.$field",
                                "A new {$change['kind']} needs its $field.",
                            );
                        $fields[$field] = ['before' => null, 'after' => $type[1]];
                    }
                }
            }
            $good[] = ['kind' => $change['kind'], 'id' => $id, 'op' => $change['op'], 'fields' => $fields];
        }

        return $good;
    }

    /**
     * @param  list<Change>  $changes
     * @param  array<string, true>  $checked
     * @return list<Change> what was really done, deletions with all that went along
     */
    private function perform(Show $show, array $changes, string $person, array $checked): array
    {
        [$done, $clashes, $touched, $leaving] = [[], [], [], []];
        $types = null;
        $rows = EditRows::of($show, $changes);
        $going = [];
        foreach ($changes as $i => $change) {
            ['kind' => $kind, 'id' => $id, 'op' => $op] = $change;
            if ($op === 'create') {
                if ($rows->isTaken($kind, $id)) {
                    $clashes[] = ['kind' => $kind, 'id' => $id, 'field' => null, 'present' => 'there'];

                    continue;
                }
                $values = Changes::into(
                    [],
                    array_map(static fn (array $pair): mixed => $pair['after'], $change['fields']),
                );
                $this->belongs($rows, $kind, $id, $values);
                $rows->make($kind, $id, $values);
                $done[] = $change;
                $touched["$kind $id"] = [$kind, $id];

                continue;
            }
            $row = $kind === 'show' ? ($id === $show->id ? $show : null) : $rows->get($kind, $id);
            if ($row === null) {
                $clashes[] = ['kind' => $kind, 'id' => $id, 'field' => null, 'present' => null];

                continue;
            }
            $present = $this->present($kind, $row);
            if ($op === 'delete') {
                in_array($kind, ['panel', 'fixture'], true) && ($leaving[$id] = (string) $present['name']);
                $going[] = $id;
                $rows->forget($kind, $id);
                // Those of one kind that follow each other go together.
                if (($changes[$i + 1]['op'] ?? '') === 'delete' && $changes[$i + 1]['kind'] === $kind) {
                    continue;
                }
                $rows->write();
                // With a clash nothing is done in the end.
                foreach ($clashes === [] ? $this->removed($show, $kind, $going) : [] as $gone) {
                    $done[] = $gone;
                    $rows->forget($gone['kind'], $gone['id']);
                    unset($touched["{$gone['kind']} {$gone['id']}"]);
                }
                $going = [];

                continue;
            }
            $fields = [];
            foreach ($change['fields'] as $field => $pair) {
                $is = $present[$field] ?? self::rest($kind, $field);
                if (self::same($is, $pair['after'] ?? self::rest($kind, $field))) {
                    continue;
                }
                if (! self::same($is, $pair['before'] ?? self::rest($kind, $field))) {
                    $clashes[] = ['kind' => $kind, 'id' => $id, 'field' => $field, 'present' => $is];

                    continue;
                }
                $fields[$field] = ['before' => $present[$field] ?? null, 'after' => $pair['after']];
            }
            if ($fields !== []) {
                $values = Changes::into(
                    array_intersect_key($row->attributesToArray(), ['values' => 0]),
                    array_map(static fn (array $pair): mixed => $pair['after'], $fields),
                );
                $this->belongs($rows, $kind, $id, $values, $row);
                $row instanceof Show ? $row->update($values) : $rows->change($kind, $row, $values);
                $done[] = ['kind' => $kind, 'id' => $id, 'op' => 'update', 'fields' => $fields];
                $touched["$kind $id"] = [$kind, $id];
            }
        }
        if ($clashes !== []) {
            throw new Problem(409, $this->whoStandsInTheWay($show, $clashes, $person), [
                'clashes' => $clashes,
                'revision' => $show->revision,
            ]);
        }
        $kinds = array_column($touched, 0, 0);
        $touched = array_diff_key($touched, $checked);
        $rows->refresh(array_values($touched));
        $this->stillBuiltOf($show, $leaving);
        foreach ($touched as [$kind, $id]) {
            $row = $kind === 'show' ? $show->fresh() : $rows->get($kind, $id);
            if (in_array($kind, ['surface', 'control'], true)) {
                $types ??= $this->rows->types($show->id);
            }
            $row === null || CoreShow::checkRow($kind, $row->attributesToArray(), $types ?? []);
        }
        if (isset($kinds['rig'])) {
            $this->rows->checkRigs($show->id);
        }
        if (isset($kinds['media'])) {
            $this->rows->checkMediaNumbers($show->id);
        }

        return $done;
    }

    /**
     * Gives each new media a number by which a console calls it, where it is given none. One that comes back, and
     * whose number another has by now, gets a new one too.
     *
     * @param  list<Change>  $changes
     * @return list<Change>
     */
    private function numbered(Show $show, array $changes, string $act): array
    {
        $taken = null;
        foreach ($changes as $i => ['kind' => $kind, 'op' => $op, 'fields' => $fields]) {
            if ($kind !== 'media' || $op !== 'create') {
                continue;
            }
            $taken ??= $this->rows->mediaNumbers($show->id);
            [$folder, $index] = [$fields['folder']['after'] ?? null, $fields['index']['after'] ?? null];
            $given = is_int($folder) && is_int($index) ? MediaNumber::of($folder, $index) : null;
            if (
                ($folder === null && $index === null) ||
                ($act !== 'edit' && $given !== null && isset($taken[$given->place()]))
            ) {
                $given = MediaNumber::next($taken);
                $changes[$i]['fields']['folder'] = ['before' => null, 'after' => $given->folder];
                $changes[$i]['fields']['index'] = ['before' => null, 'after' => $given->index];
            }
            if ($given !== null) {
                $taken[$given->place()] = $given;
            }
        }

        return $changes;
    }

    /**
     * Refuses to take away panels and fixture types that surfaces are built of.
     *
     * @param  array<string, string>  $types  names by id
     */
    private function stillBuiltOf(Show $show, array $types): void
    {
        foreach (
            $types === [] ? [] : RowSchema::model('surface')::query()->where('showId', $show->id)->get() as $surface
        ) {
            foreach ((new SurfaceKind())->needs($surface->attributesToArray()) as $kind => $ids) {
                foreach (array_intersect_key($types, array_flip($ids)) as $name) {
                    throw Problem::refused(
                        $kind,
                        "{$surface->getAttribute('name')} is built of $name. ".
                            ($kind === 'panel' ? 'Give its cells another panel first.' : 'Give it another type first.'),
                    );
                }
            }
        }
    }

    /**
     * Refuses a row whose parent is not in this show.
     *
     * @param  array<string, mixed>  $values
     */
    private function belongs(EditRows $rows, string $kind, string $id, array $values, ?Model $row = null): void
    {
        if (
            $kind === 'curve' &&
            array_intersect_key($values, ['ownerKind' => 0, 'owner' => 0, 'property' => 0, 'slot' => 0]) !== []
        ) {
            $values += $row?->attributesToArray() ?? [];
            $owner = (string) ($values['ownerKind'] ?? 'layer');
            if (Schema::properties($owner)->properties === [] || ! $rows->has($owner, (string) $values['owner'])) {
                throw Problem::refused('owner', "What this curve belongs to is no $owner of this show.");
            }
            if (
                ! $rows->placeCurve(
                    $id,
                    (string) $values['owner'],
                    (string) $values['property'],
                    (int) ($values['slot'] ?? 0),
                )
            ) {
                throw Problem::refused(
                    'property',
                    "The {$values['property']} of this $owner has a curve already; change that one.",
                );
            }
        }
        foreach (RowSchema::parents($kind) as $parent) {
            if (isset($values[$parent]) && ! $rows->has($parent, (string) $values[$parent])) {
                throw Problem::refused($parent, "The $parent of this $kind is not in this show.");
            }
        }
    }

    /**
     * Takes rows away, with all that belongs to them before them.
     *
     * @param  list<string>  $ids
     * @return list<Change>
     */
    private function removed(Show $show, string $kind, array $ids): array
    {
        $gone = [];
        $families = array_map(static fn (string $child): array => [$child, $kind], Schema::children($kind));
        Schema::properties($kind)->properties === [] || array_unshift($families, ['curve', 'owner']);
        foreach (array_chunk($ids, 500) as $some) {
            foreach ($families as [$child, $column]) {
                $theirs = RowSchema::model($child)::query()
                    ->where('showId', $show->id)
                    ->whereIn($column, $some)
                    ->orderBy('id')
                    ->pluck('id')
                    ->map(strval(...))
                    ->all();
                $theirs === [] || array_push($gone, ...$this->removed($show, $child, array_values($theirs)));
            }
            $rows = RowSchema::model($kind)::query()->whereKey($some)->get()->keyBy('id');
            foreach ($some as $id) {
                // One that stood within another of them is gone with it.
                isset($rows[$id]) && ($gone[] = self::gone($kind, $rows[$id]));
            }
            RowSchema::model($kind)::query()->whereKey($some)->delete();
        }

        return $gone;
    }

    /** @return Change */
    private static function gone(string $kind, Model $row): array
    {
        $fields = [];
        foreach (array_intersect_key($row->attributesToArray(), RowSchema::fields($kind)) as $field => $value) {
            $fields[$field] = ['before' => $value, 'after' => null];
        }

        return ['kind' => $kind, 'id' => (string) $row->getKey(), 'op' => 'delete', 'fields' => $fields];
    }

    /** @param  list<array{kind: string, id: string, field: string|null, present: mixed}>  $clashes */
    private function whoStandsInTheWay(Show $show, array $clashes, string $person): string
    {
        $first = $clashes[0];
        $edits = Edit::query()->where('showId', $show->id)->orderByDesc('revision')->limit(200)->get();
        foreach ($edits as $edit) {
            foreach ($edit->changes as $change) {
                if (
                    $change['kind'] === $first['kind'] &&
                    $change['id'] === $first['id'] &&
                    ($first['field'] === null || isset($change['fields'][$first['field']]))
                ) {
                    return ($edit->person === $person ? 'Your own' : 'Somebody else\'s').
                        ' later change "'.
                        $edit->name.
                        '" (revision '.
                        $edit->revision.
                        ') stands in the way.';
                }
            }
        }

        return 'Changed by someone else meanwhile.';
    }

    /**
     * @param  list<Change>  $changes
     * @return list<Change>
     */
    private static function inverse(array $changes): array
    {
        return array_map(
            static fn (array $change): array => [
                'kind' => $change['kind'],
                'id' => $change['id'],
                'op' => ['create' => 'delete', 'delete' => 'create', 'update' => 'update'][$change['op']],
                'fields' => array_map(
                    static fn (array $pair): array => ['before' => $pair['after'], 'after' => $pair['before']],
                    $change['fields'],
                ),
            ],
            array_reverse($changes),
        );
    }

    /**
     * A row as fields of an Edit: each stored value also by itself, so that two people can change two values of one
     * row.
     *
     * @return array<string, mixed>
     */
    private function present(string $kind, Model $row): array
    {
        $present = $row->attributesToArray();
        foreach ($kind === 'show' ? [] : (array) ($present['values'] ?? []) as $name => $value) {
            $present["values.$name"] = $value;
        }

        return $present;
    }

    /** What a value is that is not stored. */
    private static function rest(string $kind, string $field): mixed
    {
        if (
            $kind === 'show' ||
            ! str_starts_with($field, 'values.') ||
            ! ($set = Schema::properties($kind))->has(substr($field, 7))
        ) {
            return null;
        }
        $property = $set->named(substr($field, 7));

        return $property->formatAll($property->rest());
    }

    private static function same(mixed $a, mixed $b): bool
    {
        if (is_array($a) && is_array($b)) {
            if (count($a) !== count($b)) {
                return false;
            }
            foreach ($a as $key => $value) {
                if (! array_key_exists($key, $b) || ! self::same($value, $b[$key])) {
                    return false;
                }
            }

            return true;
        }
        if ((is_int($a) || is_float($a)) && (is_int($b) || is_float($b))) {
            return abs($a - $b) <= 1e-9 * max(1.0, abs($a), abs($b));
        }

        return $a === $b;
    }
}
