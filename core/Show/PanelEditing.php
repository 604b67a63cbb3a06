<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Bindings\Device;
use Core\Bindings\Gesture;
use Core\Bindings\Meaning;
use Core\Bindings\Takeover;
use Core\Bindings\TouchItem;
use Core\Bindings\TouchItemType;
use Core\Units\InvalidValue;
use Core\Values\Address;

/**
 * What is done to touch panels, as the changes of an Edit: items stand on a grid and never on one another, and what they
 * do are bindings like those of any device.
 *
 * @phpstan-import-type Change from Changes
 */
final readonly class PanelEditing
{
    /** The most that the range of a value goes to either side, where it has no narrower one. */
    private const WIDE = 10_000.0;

    /** @param  \Closure(): string  $newId */
    public function __construct(private Show $show, private Document $document, private \Closure $newId)
    {
    }

    /**
     * Puts an item at the first free place, row by row.
     *
     * @param  string  $target  of a cue tile its cue, of a board its page, of a picture its media or its output, of what has values the
     *     address of the first of them; '' for none
     * @return array{list<Change>, string} and its id
     *
     * @throws InvalidValue where there is no room
     */
    public function add(string $panel, TouchItemType $type, string $target = ''): array
    {
        $device = $this->panel($panel);
        [$columns, $rows] = $type->size();
        [$columns, $rows] = [min($columns, $device->columns), min($rows, $device->rows)];
        $there = $this->itemsOf($panel);
        $item = TouchItem::fromRow(['device' => $panel, 'type' => $type->value, 'name' => $this->name($panel, $type)]);
        foreach (range(0, $device->rows - $rows) as $row) {
            foreach (range(0, $device->columns - $columns) as $column) {
                $placed = $item->at($column, $row, $columns, $rows);
                if (self::isFree($placed, $there)) {
                    return $this->added($placed, $target);
                }
            }
        }
        throw InvalidValue::because(
            'panel',
            "No room for {$columns} × $rows on $device->name: move or remove something, or give it more columns or rows.",
        );
    }

    /** @return array{list<Change>, string} */
    private function added(TouchItem $item, string $target): array
    {
        $id = ($this->newId)();
        $isCue = $item->type === TouchItemType::Cue;
        if ($isCue && ! isset($this->show->programme->cues[$target])) {
            throw InvalidValue::because('target', 'A cue tile names a cue of the show.');
        }
        $fields = [
            'device' => $item->panel,
            'type' => $item->type->value,
            'name' => $item->name,
            'label' => $isCue ? mb_substr($this->show->programme->cues[$target]->name, 0, 200) : '',
            'shows' => $item->type->controls() > 0 ? '' : $target,
            'column' => $item->column,
            'row' => $item->row,
            'columns' => $item->columns,
            'rows' => $item->rows,
        ];
        Schema::named('touchItem')->build(['id' => $id] + $fields, []);

        return [
            [
                Changes::create('touchItem', $id, $fields),
                ...$item->type->controls() > 0 && $target !== ''
                    ? $this->bound($item, 0, $isCue ? Meaning::Cue : Meaning::Value, $target, null)
                    : [],
            ],
            $id,
        ];
    }

    /**
     * Moves an item, or gives it another size; what lies beyond the grid is brought back into it.
     *
     * @return list<Change>
     *
     * @throws InvalidValue where something stands there
     */
    public function place(string $item, int $column, int $row, int $columns, int $rows): array
    {
        $of = $this->item($item);
        $device = $this->panel($of->panel);
        $columns = max(1, min($columns, $device->columns));
        $rows = max(1, min($rows, $device->rows));
        $placed = $of->at(
            max(0, min($column, $device->columns - $columns)),
            max(0, min($row, $device->rows - $rows)),
            $columns,
            $rows,
        );
        $there = $this->itemsOf($of->panel);
        unset($there[$item]);
        if (! self::isFree($placed, $there)) {
            throw InvalidValue::because('column', 'Something else stands there.');
        }

        return Changes::update('touchItem', $item, $this->document->rows['touchItem'][$item], [
            'column' => $placed->column,
            'row' => $placed->row,
            'columns' => $placed->columns,
            'rows' => $placed->rows,
        ]);
    }

    /**
     * Removes an item with what its controls are bound to.
     *
     * @return list<Change>
     */
    public function remove(string $item): array
    {
        $of = $this->item($item);
        $changes = [Changes::delete('touchItem', $item)];
        foreach ($this->bindingsOf($of) as $id => $row) {
            $changes[] = Changes::delete('binding', $id);
        }

        return $changes;
    }

    /**
     * Binds one of an item's controls, in place of what it was bound to.
     *
     * @param  int  $slot  which of the numbers that it sends, from 0
     * @return list<Change>
     *
     * @throws InvalidValue
     */
    public function bind(string $item, int $slot, Meaning $meaning, string $target): array
    {
        $of = $this->item($item);
        if ($slot < 0 || $slot >= $of->type->controls()) {
            throw InvalidValue::because('slot', "A {$of->type->label()} sends {$of->type->controls()} numbers.");
        }
        foreach ($this->bindingsOf($of) as $id => $row) {
            if ($row['control'] === $of->control($slot)) {
                return $this->bound($of, $slot, $meaning, $target, $id);
            }
        }

        return $this->bound($of, $slot, $meaning, $target, null);
    }

    /** @return list<Change> */
    private function bound(TouchItem $item, int $slot, Meaning $meaning, string $target, ?string $before): array
    {
        [$low, $high] = [0.0, 1.0];
        if ($meaning === Meaning::Value) {
            $address = Address::parse($target);
            $property = Schema::properties($address->kind)->named($address->property);
            [$low, $high] = [max(-self::WIDE, $property->min), min(self::WIDE, $property->max)];
        }
        $gesture = $item->type->gesture($meaning);
        $fields = [
            'device' => $item->panel,
            'control' => $item->control($slot),
            'label' => mb_substr($item->label !== '' ? $item->label : $item->name, 0, 60),
            'meaning' => $meaning->value,
            'gesture' => $gesture->value,
            'target' => $target,
            'from' => 0.0,
            'to' => 1.0,
            'low' => $low,
            'high' => $high,
            // It shows where the value is, and a finger goes on from there.
            'takeover' => Takeover::Jump->value,
            'lamp' => true,
            'motor' => $gesture === Gesture::Move,
            'lampOff' => 0.0,
            'lampOn' => 1.0,
        ];
        $id = $before ?? ($this->newId)();
        Schema::named('binding')->build(['id' => $id] + $fields, []);

        return $before === null
            ? [Changes::create('binding', $id, $fields)]
            : Changes::update('binding', $before, $this->document->rows['binding'][$before], $fields);
    }

    /** @return array<string, array<string, mixed>> rows of bindings of an item's controls, by id */
    private function bindingsOf(TouchItem $item): array
    {
        return $item->bindingsAmong($this->document->rows['binding'] ?? []);
    }

    /** @param  array<string, TouchItem>  $there */
    private static function isFree(TouchItem $item, array $there): bool
    {
        return array_filter($there, static fn (TouchItem $other): bool => $item->overlaps($other)) === [];
    }

    /** A name that no item of the panel has: its type and a number. */
    private function name(string $panel, TouchItemType $type): string
    {
        $names = array_map(static fn (TouchItem $item): string => $item->name, $this->itemsOf($panel));
        for ($n = 1; in_array("$type->value$n", $names, true); $n++) {
        }

        return "$type->value$n";
    }

    /** @return array<string, TouchItem> by id */
    private function itemsOf(string $panel): array
    {
        return array_filter(
            $this->show->delivery->touchItems,
            static fn (TouchItem $item): bool => $item->panel === $panel,
        );
    }

    private function item(string $id): TouchItem
    {
        return $this->show->delivery->touchItems[$id] ??
            throw InvalidValue::because('item', 'This item is not in the show.');
    }

    private function panel(string $id): Device
    {
        $device = $this->show->delivery->devices[$id] ?? null;
        if ($device === null || $device->protocol !== 'touch') {
            throw InvalidValue::because('panel', 'This is no touch panel of the show.');
        }

        return $device;
    }
}
