<?php

declare(strict_types=1);

namespace Core\Bindings;

use Core\Units\Check;
use Core\Units\InvalidValue;

/** Something on a touch panel: where it stands on its grid, and which control it is. */
final readonly class TouchItem
{
    /** Columns and rows of a panel, at most. */
    public const MAX_SIDE = 24;

    private const MAX_TEXT = 200;

    /**
     * @param  string  $panel  id of the device that its panel is
     * @param  string  $name  of its control on the panel, without the slash
     * @param  string  $label  what it shows; empty for its name
     * @param  string  $shows  of a board the page, of a picture the surface, the output, or the media of an input
     * @param  string  $colour  as #rrggbb; empty for none
     * @param  int  $column  of its left edge, from 0, as $row is of its top
     * @param  int  $columns  how many it takes, as $rows
     */
    private function __construct(
        public string $panel,
        public TouchItemType $type,
        public string $name,
        public string $label,
        public string $shows,
        public string $colour,
        public int $column,
        public int $row,
        public int $columns,
        public int $rows,
    ) {
    }

    /**
     * @param  array<string, mixed>  $row
     *
     * @throws InvalidValue
     */
    public static function fromRow(array $row): self
    {
        $name = (string) ($row['name'] ?? '');
        if (preg_match('/^[A-Za-z0-9_-]{1,40}$/D', $name) !== 1) {
            throw InvalidValue::because('name', 'An item is called by up to 40 letters, digits, - and _.');
        }
        $colour = strtolower((string) ($row['colour'] ?? ''));
        if ($colour !== '' && preg_match('/^#[0-9a-f]{6}$/D', $colour) !== 1) {
            throw InvalidValue::because('colour', 'A colour is written as #rrggbb.');
        }
        $label = (string) ($row['label'] ?? '');
        if (mb_strlen($label) > self::MAX_TEXT) {
            throw InvalidValue::because('label', 'A label has up to '.self::MAX_TEXT.' characters.');
        }

        return new self(
            (string) ($row['device'] ?? ''),
            Check::choice(TouchItemType::class, 'type', (string) ($row['type'] ?? 'button')),
            $name,
            $label,
            (string) ($row['shows'] ?? ''),
            $colour,
            Check::whole('column', (int) ($row['column'] ?? 0), 0, self::MAX_SIDE - 1),
            Check::whole('row', (int) ($row['row'] ?? 0), 0, self::MAX_SIDE - 1),
            Check::whole('columns', (int) ($row['columns'] ?? 1), 1, self::MAX_SIDE),
            Check::whole('rows', (int) ($row['rows'] ?? 1), 1, self::MAX_SIDE),
        );
    }

    /**
     * The name of one of its controls.
     *
     * @param  int  $slot  which of the numbers that it sends, from 0
     */
    public function control(int $slot = 0): string
    {
        return "/$this->name".($slot > 0 ? "#$slot" : '');
    }

    /**
     * Those rows of bindings that are of its controls.
     *
     * @param  array<array-key, array<string, mixed>>  $rows  by id
     * @return array<string, array<string, mixed>> by id
     */
    public function bindingsAmong(array $rows): array
    {
        $own = [];
        foreach ($rows as $id => $row) {
            if ($row['device'] === $this->panel && explode('#', (string) $row['control'])[0] === $this->control()) {
                $own[(string) $id] = $row;
            }
        }

        return $own;
    }

    /** Whether it and another would lie on one another. */
    public function overlaps(self $other): bool
    {
        return $this->column < $other->column + $other->columns &&
            $other->column < $this->column + $this->columns &&
            $this->row < $other->row + $other->rows &&
            $other->row < $this->row + $this->rows;
    }

    public function at(int $column, int $row, int $columns, int $rows): self
    {
        return new self(...array_merge(get_object_vars($this), compact('column', 'row', 'columns', 'rows')));
    }
}
