<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Bindings\Meaning;
use Core\Exchange\Csv;
use Core\Units\InvalidValue;
use Core\Values\Address;

/**
 * Bindings as a table, a row each, with the names of what they name: it goes into another show, and another device of
 * the same kind takes it. What comes in is found again by its device, control, page and gesture.
 *
 * @phpstan-import-type Change from Changes
 */
final readonly class BindingTable
{
    public const MAX = 2000;

    /** Fields that stand in the table by the names of what they name, or may be nothing. */
    private const NAMED = ['device', 'target', 'fade'];

    private function __construct(private Show $show, private Document $document)
    {
    }

    public static function of(Document $document): self
    {
        return new self($document->show, $document);
    }

    /** @return array<string, string> fields that stand in the table as they are, by their types: string, integer, number, boolean */
    private static function plainFields(): array
    {
        return array_map(
            static fn (array $field): string => $field[0],
            array_diff_key(Schema::named('binding')->fields(), array_flip(self::NAMED)),
        );
    }

    /** @return array<string, mixed> fields of devices that go out and come in: a token stays here */
    private static function deviceFields(): array
    {
        return array_diff_key(Schema::named('device')->fields(), ['token' => 0]);
    }

    /** As CSV. */
    public function write(): string
    {
        $heads = ['device', 'protocol', 'port', 'target', ...array_keys(self::plainFields()), 'fade'];

        return Csv::write([
            array_map(strtolower(...), $heads),
            ...array_map(
                static fn (array $row): array => array_map(
                    static fn (string $head): mixed => is_bool($row[$head])
                        ? ($row[$head]
                            ? 'yes'
                            : '')
                        : $row[$head] ?? '',
                    $heads,
                ),
                $this->rows(),
            ),
        ]);
    }

    /** As JSON: devices with what they have, and bindings as the table has them. A token stays here. */
    public function writeJson(): string
    {
        $devices = array_map(
            static fn (array $row): array => array_intersect_key($row, self::deviceFields()),
            array_values($this->document->rows['device'] ?? []),
        );

        return json_encode(
            [
                'devices' => $devices,
                'bindings' => array_map(
                    static fn (array $row): array => array_diff_key($row, ['protocol' => 0, 'port' => 0]),
                    $this->rows(),
                ),
            ],
            JSON_PRETTY_PRINT |
                JSON_UNESCAPED_SLASHES |
                JSON_UNESCAPED_UNICODE |
                JSON_THROW_ON_ERROR |
                JSON_PRESERVE_ZERO_FRACTION,
        )."\n";
    }

    /** @return list<array<string, mixed>> a row for each binding, by names */
    private function rows(): array
    {
        $rows = [];
        foreach ($this->document->rows['binding'] ?? [] as $row) {
            $device = $this->document->rows['device'][$row['device']] ?? null;
            if ($device === null) {
                continue;
            }
            $rows[] = [
                'device' => (string) $device['name'],
                'protocol' => (string) $device['protocol'],
                'port' => (string) $device['port'],
                'target' => $this->named($row),
            ] +
                array_intersect_key($row, self::plainFields()) + ['fade' => $row['fade'] ?? null];
        }

        return $rows;
    }

    /**
     * A target by names: a cue by its number, a value by the name of what has it.
     *
     * @param  array<string, mixed>  $row
     */
    private function named(array $row): string
    {
        $target = (string) $row['target'];
        if ($row['meaning'] === Meaning::Cue->value) {
            return $this->show->programme->cues[$target]->number ?? $target;
        }
        if ($row['meaning'] !== Meaning::Value->value) {
            return $target;
        }
        $address = Address::parse($target);
        $name = $this->document->rows[$address->kind][$address->id]['name'] ?? null;

        return $name === null ? $target : "$address->kind \"$name\" ".$address->value();
    }

    /**
     * Rows of JSON as a table has them, and the devices that it brings, by name.
     *
     * @return array{array<int, array<string, string>>, array<string, array<string, mixed>>}
     */
    private static function json(string $text): array
    {
        $given = json_decode($text, true, 16);
        $bindings = is_array($given) ? $given['bindings'] ?? null : null;
        $devices = is_array($given) ? $given['devices'] ?? [] : null;
        $areRows = static fn (mixed $rows): bool => is_array($rows) &&
            array_is_list($rows) &&
            count($rows) <= self::MAX &&
            array_filter($rows, static fn (mixed $row): bool => ! is_array($row)) === [];
        if (! $areRows($bindings) || ! $areRows($devices)) {
            throw InvalidValue::because(
                'csv',
                'This JSON has no list "bindings" of up to '.self::MAX.' objects, or "devices" is no such list.',
            );
        }
        $rows = [];
        foreach ((array) $bindings as $i => $binding) {
            foreach (['device', 'control', 'meaning', 'target'] as $needed) {
                if (! is_string($binding[$needed] ?? null)) {
                    throw InvalidValue::because('csv', 'Row '.($i + 1).": $needed is missing.");
                }
            }
            $rows[$i + 1] = array_change_key_case(
                array_map(
                    static fn (mixed $v): string => is_bool($v) ? ($v ? 'yes' : '') : (is_scalar($v) ? (string) $v : ''),
                    $binding,
                ),
            );
        }

        return [$rows, array_column((array) $devices, null, 'name')];
    }

    /**
     * @param  string  $text  CSV, or JSON as `writeJson` writes it
     * @param  \Closure(): string  $newId
     * @return list<Change>
     *
     * @throws InvalidValue naming csv, with the row and what is wrong there
     */
    public function read(string $text, \Closure $newId): array
    {
        [$rows, $brought] = str_starts_with(ltrim($text), '{')
            ? self::json($text)
            : [Csv::table($text, self::MAX, ['device', 'control', 'meaning', 'target']), []];
        $devices = [];
        foreach ($this->document->rows['device'] ?? [] as $id => $row) {
            $devices[(string) $row['name']] = (string) $id;
        }
        $there = [];
        foreach ($this->document->rows['binding'] ?? [] as $id => $row) {
            $there["$row[device] $row[control] $row[page] $row[gesture]"] = (string) $id;
        }
        $changes = [];
        foreach ($rows as $at => $row) {
            try {
                $device = $devices[$row['device']] ?? null;
                if ($device === null) {
                    $device = $devices[$row['device']] = $newId();
                    $fields =
                        array_intersect_key($brought[$row['device']] ?? [], self::deviceFields()) +
                        array_filter([
                            'name' => $row['device'],
                            'protocol' => $row['protocol'] ?? '',
                            'port' => $row['port'] ?? '',
                        ]);
                    Schema::named('device')->build($fields, []);
                    $changes[] = Changes::create('device', $device, $fields);
                }
                $fields =
                    ['device' => $device, 'target' => $this->target($row['meaning'], $row['target'])] +
                    self::plain($row);
                if (isset($row['fade'])) {
                    $fields['fade'] = $row['fade'] === '' ? null : self::number('fade', $row['fade'], true);
                }
                $key = "$device $fields[control] ".($fields['page'] ?? 0).' '.($fields['gesture'] ?? 'press');
                $id = $there[$key] ?? null;
                Schema::named('binding')->build($fields + ($this->document->rows['binding'][$id ?? ''] ?? []), []);
            } catch (InvalidValue $refused) {
                throw InvalidValue::because('csv', "Row $at: ".$refused->getMessage());
            }
            if ($id === null) {
                $there[$key] = $new = $newId();
                $changes[] = Changes::create('binding', $new, $fields);
            } elseif (isset($this->document->rows['binding'][$id])) {
                array_push(
                    $changes,
                    ...Changes::update('binding', $id, $this->document->rows['binding'][$id], $fields),
                );
            } else {
                throw InvalidValue::because('csv', "Row $at binds the same control again.");
            }
        }

        return $changes;
    }

    /**
     * @param  array<string, string>  $row
     * @return array<string, mixed>
     */
    private static function plain(array $row): array
    {
        $fields = [];
        foreach (self::plainFields() as $field => $type) {
            $cell = $row[strtolower($field)] ?? null;
            if ($cell === null || ($cell === '' && $type !== 'boolean' && $type !== 'string')) {
                continue;
            }
            $fields[$field] = match ($type) {
                'boolean' => ! in_array(strtolower($cell), ['', 'no', '0', 'false'], true),
                'string' => $cell,
                default => self::number($field, $cell, $type === 'integer'),
            };
        }

        return array_filter(
            $fields,
            static fn (mixed $value, string $field): bool => $value !== '' ||
                in_array($field, ['label', 'other', 'choices'], true),
            ARRAY_FILTER_USE_BOTH,
        );
    }

    private static function number(string $field, string $cell, bool $isWhole): int|float
    {
        if (! is_numeric($cell) || ($isWhole && (float) $cell !== floor((float) $cell))) {
            throw InvalidValue::because(
                $field,
                "$field is \"$cell\", which is no ".($isWhole ? 'whole number' : 'number').'.',
            );
        }

        return $isWhole ? (int) $cell : (float) $cell;
    }

    private function target(string $meaning, string $target): string
    {
        if ($meaning === Meaning::Cue->value) {
            foreach ($this->show->programme->cues as $id => $cue) {
                if ($cue->number === $target || (string) $id === $target) {
                    return (string) $id;
                }
            }
            throw InvalidValue::because('target', "There is no cue $target.");
        }
        if ($meaning !== Meaning::Value->value || preg_match('/^(\w+) "([^"]*)" (\S+)$/uD', $target, $m) !== 1) {
            return $target;
        }
        foreach ($this->document->rows[$m[1]] ?? [] as $id => $row) {
            if (($row['name'] ?? null) === $m[2]) {
                return "$m[1]:$id/$m[3]";
            }
        }
        throw InvalidValue::because('target', "There is no $m[1] \"$m[2]\".");
    }
}
