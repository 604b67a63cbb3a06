<?php

declare(strict_types=1);

namespace App\Show;

use App\Models\Show;
use Illuminate\Database\Eloquent\Model;

/** The rows that an Edit is about, fetched by hundreds, and new ones written by hundreds: with the write lock held, every query counts. */
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

    private function __construct(private readonly Show $show)
    {
    }

    /** @param  list<array{kind: string, id: string, op: string, fields: array<string, array{before: mixed, after: mixed}>}>  $changes */
    public static function of(Show $show, array $changes): self
    {
        $ids = [];
        foreach ($changes as ['kind' => $kind, 'id' => $id, 'fields' => $fields]) {
            if ($kind === 'show') {
                continue;
            }
            $ids[$kind][$id] = true;
            foreach (RowSchema::parents($kind) as $parent) {
                is_string($fields[$parent]['after'] ?? null) && $ids[$parent][$fields[$parent]['after']] = true;
            }
        }
        $rows = new self($show);
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
        $columns = RowSchema::model($kind)::query()->make(['id' => $id, 'showId' => $this->show->id] + $values)->getAttributes();
        if ($kind !== $this->kind || array_keys($columns) !== array_keys($this->waiting[0] ?? $columns)) {
            $this->write();
        }
        $this->kind = $kind;
        $this->waiting[] = $columns;
        $this->made[$kind][$id] = true;
    }

    /** Writes what waits: called before any other query about it. */
    public function write(): void
    {
        foreach ($this->waiting === [] ? [] : array_chunk($this->waiting, max(1, intdiv(self::VALUES, count($this->waiting[0])))) as $some) {
            RowSchema::model($this->kind)::query()->toBase()->insert($some);
        }
        $this->waiting = [];
    }

    /** What was removed meanwhile. */
    public function forget(string $kind, string $id): void
    {
        unset($this->made[$kind][$id]);
        $this->rows[$kind][$id] = null;
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
            $kind === 'show' || $ids[$kind][] = $id;
        }
        foreach ($ids as $kind => $some) {
            $this->fetch($kind, $some);
        }
    }
}
