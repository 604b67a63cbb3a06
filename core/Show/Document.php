<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Media\MediaItem;
use Core\Units\Check;
use Core\Units\FrameRate;
use Core\Units\InvalidValue;

/**
 * A show with the rows that it was made of, so that changed rows make the next one: what no change touches stays the
 * same object, and whoever depends on it can see that it did.
 */
final readonly class Document
{
    /**
     * @param  array<string, mixed>  $head  id, name, frameRate
     * @param  array<string, array<string, array<string, mixed>>>  $rows  by kind and id
     * @param  array<string, array<string, object>>  $built  by kind and id
     * @param  array<string, array<string, InvalidRow>>  $refused  by kind and id
     * @param  array<string, array<string, true>>  $needed  what needs a row, as "kind id", by that row's "kind id"
     */
    private function __construct(
        private array $head,
        public array $rows,
        private array $built,
        private array $refused,
        private array $needed,
        public Show $show,
    ) {
    }

    /**
     * @param  array<string, mixed>  $head
     * @param  array<string, list<array<string, mixed>>>  $rows  by kind
     */
    public static function of(array $head, array $rows): self
    {
        $byId = array_map(static fn (array $list): array => array_column($list, null, 'id'), $rows);
        [$built, $refused, $needed] = [[], [], []];
        foreach (Schema::all() as $name => $kind) {
            foreach ($byId[$name] ?? [] as $id => $row) {
                self::build($kind, (string) $id, $row, $built, $refused, $needed);
            }
        }

        return new self(
            $head,
            $byId,
            $built,
            $refused,
            $needed,
            self::assemble($head, $byId, $built, $refused, null, null),
        );
    }

    /**
     * The rows that an Edit leaves behind: null where it removed one.
     *
     * @param  list<array{kind: string, id: string, op: string, fields: array<string, array{before?: mixed, after?: mixed}>}>  $changes
     * @return array<string, array<string, array<string, mixed>|null>> by kind and id
     */
    public function changedRows(array $changes): array
    {
        $rows = [];
        foreach ($changes as ['kind' => $kind, 'id' => $id, 'op' => $op, 'fields' => $fields]) {
            if ($op === 'delete') {
                $rows[$kind][$id] = null;

                continue;
            }
            $row =
                $op === 'create'
                    ? ['id' => $id]
                    : ($kind === 'show'
                        ? $this->head
                        : $rows[$kind][$id] ?? ($this->rows[$kind][$id] ?? ['id' => $id]));
            $rows[$kind][$id] = Changes::into(
                $row,
                array_map(static fn (array $pair): mixed => $pair['after'] ?? null, $fields),
            );
        }

        return $rows;
    }

    /** @param  array<string, array<string, array<string, mixed>|null>>  $changed  by kind and id; null removes a row */
    public function with(array $changed): self
    {
        [$head, $rows, $built, $refused, $needed] = [
            $this->head,
            $this->rows,
            $this->built,
            $this->refused,
            $this->needed,
        ];
        if (isset($changed['show'])) {
            $head = array_merge(
                $head,
                ...array_map(static fn (?array $row): array => $row ?? [], array_values($changed['show'])),
            );
            unset($changed['show']);
        }
        $again = [];
        foreach ($changed as $kind => $some) {
            foreach ($some as $id => $row) {
                if ($row === null) {
                    unset($rows[$kind][$id]);
                } else {
                    $rows[$kind][$id] = $row;
                }
                $again[$kind][$id] = true;
                foreach (array_keys($needed["$kind $id"] ?? []) as $other) {
                    [$otherKind, $otherId] = explode(' ', $other, 2);
                    $again[$otherKind][$otherId] = true;
                }
            }
            // New rows stand where their ids belong, as they do when all are read anew.
            if (isset($rows[$kind]) && array_diff_key($some, $this->rows[$kind] ?? []) !== []) {
                ksort($rows[$kind], SORT_STRING);
            }
        }
        foreach (Schema::all() as $name => $kind) {
            foreach (array_keys($again[$name] ?? []) as $id) {
                unset($built[$name][$id], $refused[$name][$id]);
                if (isset($rows[$name][$id])) {
                    self::build($kind, (string) $id, $rows[$name][$id], $built, $refused, $needed);
                }
            }
            if (isset($again[$name], $built[$name])) {
                ksort($built[$name], SORT_STRING);
            }
        }

        return new self(
            $head,
            $rows,
            $built,
            $refused,
            $needed,
            self::assemble($head, $rows, $built, $refused, $this->show, array_fill_keys(array_keys($again), true)),
        );
    }

    /**
     * @param  array<string, mixed>  $row
     * @param  array<string, array<string, object>>  $built
     * @param  array<string, array<string, InvalidRow>>  $refused
     * @param  array<string, array<string, true>>  $needed
     */
    private static function build(
        Kind $kind,
        string $id,
        array $row,
        array &$built,
        array &$refused,
        array &$needed,
    ): void {
        $others = [];
        $name = $kind->name();
        foreach ($kind->needs($row) as $otherKind => $ids) {
            foreach ($ids as $other) {
                $needed["$otherKind $other"]["$name $id"] = true;
                if (isset($built[$otherKind][$other])) {
                    $others[$other] = $built[$otherKind][$other];
                }
            }
        }
        try {
            $built[$name][$id] = $kind->build($row, $others);
        } catch (InvalidValue $broken) {
            $refused[$name][$id] = new InvalidRow($name, $id, $broken->getMessage());
        }
    }

    /**
     * @param  array<string, mixed>  $head
     * @param  array<string, array<string, array<string, mixed>>>  $rows
     * @param  array<string, array<string, object>>  $built
     * @param  array<string, array<string, InvalidRow>>  $refused
     * @param  array<string, true>|null  $touched  kinds; null for all
     */
    private static function assemble(
        array $head,
        array $rows,
        array $built,
        array $refused,
        ?Show $before,
        ?array $touched,
    ): Show {
        $same = static fn (array $kinds): bool => $before !== null &&
            $touched !== null &&
            array_intersect_key($touched, array_flip($kinds)) === [];
        /** @var array<string, MediaItem> $media */
        $media = $built['media'] ?? [];
        $of = static fn (string $kind, string $field): array => array_map(
            static fn (array $row): string => (string) ($row[$field] ?? ''),
            $rows[$kind] ?? [],
        );
        $venue = $before !== null && $same(Venue::KINDS) ? $before->venue : Venue::of($built);
        $library = $before !== null && $same(Library::KINDS) ? $before->library : new Library($media);
        $programme =
            $before !== null && $same([...Programme::KINDS, 'media', 'surface'])
                ? $before->programme
                : Programme::of($built, ['marker' => $of('marker', 'timeline')], $library, $venue, $before?->programme);
        $delivery =
            $before !== null && $same([...Delivery::KINDS, ...Venue::KINDS])
                ? $before->delivery
                : Delivery::of($built, $of, $venue);
        $broken = [
            ...array_merge([], ...array_map(array_values(...), array_values($refused))),
            ...$venue->broken,
            ...$programme->broken,
            ...$delivery->broken,
        ];

        return new Show(
            (string) $head['id'],
            Check::name('name', (string) $head['name']),
            FrameRate::of((string) $head['frameRate']),
            $venue,
            $library,
            $programme,
            $delivery,
            $broken,
        );
    }
}
