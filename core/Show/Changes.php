<?php

declare(strict_types=1);

namespace Core\Show;

/**
 * Makes the changes that an Edit consists of: each states a row and, of every field that changes, its value before
 * and after.
 *
 * @phpstan-type Change array{kind: string, id: string, op: string, fields: array<string, array{before: mixed, after: mixed}>}
 */
final class Changes
{
    /**
     * @param  array<string, mixed>  $fields
     * @return Change
     */
    public static function create(string $kind, string $id, array $fields): array
    {
        return [
            'kind' => $kind,
            'id' => $id,
            'op' => 'create',
            'fields' => array_map(static fn (mixed $after): array => ['before' => null, 'after' => $after], $fields),
        ];
    }

    /**
     * Only those fields change that are not so already.
     *
     * @param  array<string, mixed>  $before  the row; a field that it lacks counts as null
     * @param  array<string, mixed>  $after  some of its fields
     * @return list<Change> one, or none when all is so already
     */
    public static function update(string $kind, string $id, array $before, array $after): array
    {
        $fields = [];
        foreach ($after as $field => $value) {
            if (($before[$field] ?? null) !== $value) {
                $fields[$field] = ['before' => $before[$field] ?? null, 'after' => $value];
            }
        }

        return $fields === [] ? [] : [['kind' => $kind, 'id' => $id, 'op' => 'update', 'fields' => $fields]];
    }

    /**
     * One change for each row.
     *
     * @param  list<array<string, mixed>>  $changes
     * @return list<array<string, mixed>>
     */
    public static function merged(array $changes): array
    {
        $by = [];
        foreach ($changes as $change) {
            $key = "$change[kind] $change[id]";
            $first = $by[$key]['op'] ?? null;
            if ($first === 'update' && $change['op'] === 'update') {
                $by[$key]['fields'] = $change['fields'] + $by[$key]['fields'];
            } elseif ($first === 'create' && $change['op'] === 'update') {
                $after = static fn (array $fields): array => array_map(
                    static fn (array $pair): mixed => $pair['after'] ?? null,
                    $fields,
                );
                $by[$key]['fields'] = array_map(
                    static fn (mixed $value): array => ['before' => null, 'after' => $value],
                    self::into($after($by[$key]['fields']), $after($change['fields'])),
                );
            } else {
                $by[$key] = $change;
            }
        }

        return array_values($by);
    }

    /** @return Change */
    public static function delete(string $kind, string $id): array
    {
        return ['kind' => $kind, 'id' => $id, 'op' => 'delete', 'fields' => []];
    }

    /**
     * A row with fields of an Edit brought in: `values.x` is the value x of its column of values, and null takes it
     * out of there.
     *
     * @param  array<string, mixed>  $row
     * @param  array<string, mixed>  $fields
     * @return array<string, mixed>
     */
    public static function into(array $row, array $fields): array
    {
        foreach ($fields as $field => $after) {
            if (! str_starts_with($field, 'values.')) {
                $row[$field] = $after;

                continue;
            }
            $row['values'] = (array) ($row['values'] ?? []);
            if ($after === null) {
                unset($row['values'][substr($field, 7)]);
            } else {
                $row['values'][substr($field, 7)] = $after;
            }
        }

        return $row;
    }
}
