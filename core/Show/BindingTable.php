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

    /** Fields that stand in the table as they are, by their types. */
    private const PLAIN = [
        'control' => 'text',
        'label' => 'text',
        'page' => 'whole',
        'meaning' => 'text',
        'gesture' => 'text',
        'other' => 'text',
        'choices' => 'text',
        'from' => 'number',
        'to' => 'number',
        'low' => 'number',
        'high' => 'number',
        'shape' => 'text',
        'invert' => 'switch',
        'steps' => 'whole',
        'deadBand' => 'number',
        'smoothing' => 'whole',
        'takeover' => 'text',
        'encoder' => 'text',
        'click' => 'number',
        'acceleration' => 'number',
        'lamp' => 'switch',
        'motor' => 'switch',
        'lampOff' => 'number',
        'lampOn' => 'number',
    ];

    private function __construct(private Show $show, private Document $document)
    {
    }

    public static function of(Document $document): self
    {
        return new self($document->show, $document);
    }

    public function write(): string
    {
        $rows = [];
        foreach ($this->document->rows['binding'] ?? [] as $row) {
            $device = $this->document->rows['device'][$row['device']] ?? null;
            if ($device === null) {
                continue;
            }
            $line = [
                (string) $device['name'],
                (string) $device['protocol'],
                (string) $device['port'],
                $this->named($row),
            ];
            foreach (self::PLAIN as $field => $type) {
                $line[] = $type === 'switch' ? ($row[$field] ? 'yes' : '') : $row[$field];
            }
            $rows[] = [...$line, $row['fade'] ?? ''];
        }

        return Csv::write([
            ['device', 'protocol', 'port', 'target', ...array_map(strtolower(...), array_keys(self::PLAIN)), 'fade'],
            ...$rows,
        ]);
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
     * @param  \Closure(): string  $newId
     * @return list<Change>
     *
     * @throws InvalidValue naming csv, with the row and what is wrong there
     */
    public function read(string $csv, \Closure $newId): array
    {
        $devices = [];
        foreach ($this->document->rows['device'] ?? [] as $id => $row) {
            $devices[(string) $row['name']] = (string) $id;
        }
        $there = [];
        foreach ($this->document->rows['binding'] ?? [] as $id => $row) {
            $there["$row[device] $row[control] $row[page] $row[gesture]"] = (string) $id;
        }
        $changes = [];
        foreach (Csv::table($csv, self::MAX, ['device', 'control', 'meaning', 'target']) as $at => $row) {
            try {
                $device = $devices[$row['device']] ?? null;
                if ($device === null) {
                    $device = $devices[$row['device']] = $newId();
                    $fields = array_filter([
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
                Schema::named('binding')->build(
                    $fields + ($this->document->rows['binding'][$id ?? ''] ?? []),
                    [],
                );
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
        foreach (self::PLAIN as $field => $type) {
            $cell = $row[strtolower($field)] ?? null;
            if ($cell === null || ($cell === '' && $type !== 'switch' && $type !== 'text')) {
                continue;
            }
            $fields[$field] = match ($type) {
                'switch' => ! in_array(strtolower($cell), ['', 'no', '0', 'false'], true),
                'text' => $cell,
                default => self::number($field, $cell, $type === 'whole'),
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
