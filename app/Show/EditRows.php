<?php

declare(strict_types=1);

namespace App\Show;

use App\Models\Show;
use Illuminate\Database\Eloquent\Model;

/**
 * The rows that an Edit is about, fetched by hundreds, and new ones written by hundreds: with the write lock held,
 * every query counts.
 */
final class EditRows
{
    /** Rows that are fetched at once, and bound values that are written at once: SQLite takes 32,766. */
    private const ROWS = 500;

    private const VALUES = 30_000;

    /** @var array<string, array<string, Model|null>> by kind and id, as they are stored; null where there is none */
    private array $rows = [];

    /** @var array<string, array<string, true>> what was made and is not fetched yet */
    private array $made = [];

    /** @var list<array<string, mixed>> columns of new rows of one kind that are not written yet */
    private array $waiting = [];

    private string $kind = '';

    /** @var array<string, array<string, Model>> rows by kind and id whose changes are not written yet */
    private array $changed = [];

    /** @var array<string, array<string, true>> columns of theirs that changed, by kind */
    private array $columns = [];

    /**
     * @var array<string, array<string, string>> id of the curve, by owner as far as they were asked for, and by property and slot
     */
    private array $curves = [];

    /** @var array<string, array{string, string}> where each of these curves is */
    private array $places = [];

    /** @var list<string> owners of curves that the edit names */
    private array $owners = [];

    private function __construct(private readonly Show $show)
    {
    }

    /**
     * @param  list<array{kind: string, id: string, op: string, fields: array<string, array{before: mixed, after: mixed}>}>  $changes
     */
    public static function of(Show $show, array $changes): self
    {
        [$ids, $owners] = [[], []];
        foreach ($changes as ['kind' => $kind, 'id' => $id, 'fields' => $fields]) {
            if ($kind === 'show') {
                continue;
            }
            if ($kind === 'curve' && is_string($fields['owner']['after'] ?? null)) {
                $owners[] = $fields['owner']['after'];
                is_string($fields['ownerKind']['after'] ?? null) &&
                    ($ids[$fields['ownerKind']['after']][$fields['owner']['after']] = true);
            }
            $ids[$kind][$id] = true;
            foreach (RowSchema::parents($kind) as $parent) {
                is_string($fields[$parent]['after'] ?? null) && ($ids[$parent][$fields[$parent]['after']] = true);
            }
        }
        $rows = new self($show);
        $rows->owners = array_values(array_unique($owners));
        foreach ($ids as $kind => $some) {
            $rows->fetch($kind, array_map(strval(...), array_keys($some)));
        }

        return $rows;
    }

    /** @param  list<string>  $ids */
    private function fetch(string $kind, array $ids): void
    {
        foreach (array_chunk($ids, self::ROWS) as $some) {
            $found = RowSchema::model($kind)::query()->whereKey($some)->get()->keyBy('id');
            foreach ($some as $id) {
                $this->rows[$kind][$id] = $found->get($id);
            }
        }
    }

    /** A row by its id, of whatever show. */
    private function stored(string $kind, string $id): ?Model
    {
        if (isset($this->made[$kind][$id])) {
            $this->write();
            unset($this->made[$kind][$id], $this->rows[$kind][$id]);
        }
        array_key_exists($id, $this->rows[$kind] ?? []) || $this->fetch($kind, [$id]);

        return $this->rows[$kind][$id];
    }

    /** Whether an id is taken, in whatever show. */
    public function isTaken(string $kind, string $id): bool
    {
        return isset($this->made[$kind][$id]) || $this->stored($kind, $id) !== null;
    }

    public function get(string $kind, string $id): ?Model
    {
        $row = $this->stored($kind, $id);

        return $row?->getAttribute('showId') === $this->show->id ? $row : null;
    }

    public function has(string $kind, string $id): bool
    {
        return isset($this->made[$kind][$id]) || $this->get($kind, $id) !== null;
    }

    /** @param  array<string, mixed>  $values */
    public function make(string $kind, string $id, array $values): void
    {
        $columns = RowSchema::model($kind)::query()
            ->make(['id' => $id, 'showId' => $this->show->id] + $values)
            ->getAttributes();
        if ($kind !== $this->kind || array_keys($columns) !== array_keys($this->waiting[0] ?? $columns)) {
            $this->write();
        }
        $this->kind = $kind;
        $this->waiting[] = $columns;
        $this->made[$kind][$id] = true;
    }

    /**
     * Changes a row, which is written later.
     *
     * @param  array<string, mixed>  $values
     */
    public function change(string $kind, Model $row, array $values): void
    {
        $row->fill($values);
        $this->changed[$kind][(string) $row->getKey()] = $row;
        $this->columns[$kind] = ($this->columns[$kind] ?? []) + array_fill_keys(array_keys($row->getDirty()), true);
    }

    /** Takes the place of a curve for a value; false where another curve has it. */
    public function placeCurve(string $id, string $owner, string $property, int $slot): bool
    {
        if (! isset($this->curves[$owner])) {
            $this->write();
            $fresh = array_values(array_diff(array_unique([$owner, ...$this->owners]), array_keys($this->curves)));
            $this->curves += array_fill_keys($fresh, []);
            foreach (array_chunk($fresh, self::ROWS) as $some) {
                foreach (
                    RowSchema::model('curve')::query()
                        ->whereIn('owner', $some)
                        ->toBase()
                        ->get(['id', 'owner', 'property', 'slot']) as $curve
                ) {
                    $this->curves[$curve->owner]["$curve->property#$curve->slot"] = $curve->id;
                    $this->places[$curve->id] = [$curve->owner, "$curve->property#$curve->slot"];
                }
            }
        }
        $there = $this->curves[$owner]["$property#$slot"] ?? null;
        if ($there !== null && $there !== $id) {
            return false;
        }
        if (isset($this->places[$id])) {
            [$from, $key] = $this->places[$id];
            unset($this->curves[$from][$key]);
        }
        $this->curves[$owner]["$property#$slot"] = $id;
        $this->places[$id] = [$owner, "$property#$slot"];

        return true;
    }

    /** Writes what waits: called before any other query about it. */
    public function write(): void
    {
        $this->writeNew();
        foreach ($this->changed as $kind => $rows) {
            $this->writeChanged($kind, $rows);
        }
        [$this->changed, $this->columns] = [[], []];
    }

    /** @param  array<string, Model>  $rows */
    private function writeChanged(string $kind, array $rows): void
    {
        if (count($rows) === 1) {
            foreach ($rows as $row) {
                $row->save();
            }

            return;
        }
        $all = array_map(static fn (Model $row): array => $row->getAttributes(), array_values($rows));
        foreach (array_chunk($all, max(1, intdiv(self::VALUES, count($all[0])))) as $some) {
            RowSchema::model($kind)::query()
                ->toBase()
                ->upsert($some, ['id'], array_keys($this->columns[$kind]));
        }
        foreach ($rows as $row) {
            $row->syncOriginal();
        }
    }

    private function writeNew(): void
    {
        foreach (
            $this->waiting === []
                ? []
                : array_chunk($this->waiting, max(1, intdiv(self::VALUES, count($this->waiting[0])))) as $some
        ) {
            RowSchema::model($this->kind)::query()->toBase()->insert($some);
        }
        $this->waiting = [];
    }

    /** What was removed meanwhile. */
    public function forget(string $kind, string $id): void
    {
        unset($this->made[$kind][$id], $this->changed[$kind][$id]);
        $this->rows[$kind][$id] = null;
        // Curves may have gone with it.
        [$this->curves, $this->places] = [[], []];
    }

    /**
     * Rows as they are stored now.
     *
     * @param  list<array{string, string}>  $touched  kinds and ids
     */
    public function refresh(array $touched): void
    {
        $this->write();
        $this->made = [];
        $ids = [];
        foreach ($touched as [$kind, $id]) {
            $kind === 'show' || ($ids[$kind][] = $id);
        }
        foreach ($ids as $kind => $some) {
            $this->fetch($kind, $some);
        }
    }
}
