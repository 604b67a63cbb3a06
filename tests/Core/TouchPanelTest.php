<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Bindings\Meaning;
use Core\Bindings\TouchItem;
use Core\Bindings\TouchItemType;
use Core\Show\Document;
use Core\Show\PanelEditing;
use Core\Units\InvalidValue;
use PHPUnit\Framework\TestCase;

/** Touch panels: what stands where on a grid, and what it does. */
final class TouchPanelTest extends TestCase
{
    private Document $document;

    private int $ids = 0;

    protected function setUp(): void
    {
        $this->document = Document::of(
            ['id' => 'show', 'name' => 'Test', 'frameRate' => '25'],
            [
                'device' => [
                    [
                        'id' => 'panel',
                        'name' => 'Stage left',
                        'protocol' => 'touch',
                        'columns' => 4,
                        'rows' => 3,
                    ],
                    ['id' => 'box', 'name' => 'Box'],
                ],
                'cue' => [['id' => 'warm', 'number' => '1', 'name' => 'Warm', 'scope' => 'chosen', 'held' => []]],
            ],
        );
        $this->ids = 0;
    }

    private function editing(): PanelEditing
    {
        return new PanelEditing($this->document->show, $this->document, fn (): string => 'id'.++$this->ids);
    }

    /** @param  list<array<string, mixed>>  $changes */
    private function apply(array $changes): void
    {
        $this->document = $this->document->with($this->document->changedRows($changes));
    }

    private function add(TouchItemType $type, string $target = ''): string
    {
        [$changes, $id] = $this->editing()->add('panel', $type, $target);
        $this->apply($changes);

        return $id;
    }

    /** @return array{int, int, int, int} column, row, columns, rows */
    private function placeOf(string $id): array
    {
        $item = $this->document->show->delivery->touchItems[$id];

        return [$item->column, $item->row, $item->columns, $item->rows];
    }

    private function refused(\Closure $does): string
    {
        try {
            $does();
        } catch (InvalidValue $refused) {
            return $refused->getMessage();
        }
        self::fail('It was taken.');
    }

    public function test_items_take_the_first_free_place_and_never_one_that_is_taken(): void
    {
        // On four columns and three rows: a fader takes a column, a pad two by two, buttons what is left.
        self::assertSame([0, 0, 1, 3], $this->placeOf($this->add(TouchItemType::Fader)));
        self::assertSame([1, 0, 2, 2], $this->placeOf($this->add(TouchItemType::Pad)));
        self::assertSame([3, 0, 1, 1], $this->placeOf($this->add(TouchItemType::Button)));
        self::assertSame([1, 2, 2, 1], $this->placeOf($this->add(TouchItemType::Timecode)));
        self::assertSame([3, 1, 1, 1], $this->placeOf($this->add(TouchItemType::Button)));
        self::assertStringContainsString(
            'No room for 2 × 2',
            $this->refused(fn () => $this->add(TouchItemType::Colour)),
        );
        self::assertSame([3, 2, 1, 1], $this->placeOf($this->add(TouchItemType::Knob)));
        self::assertStringContainsString(
            'No room for 1 × 1',
            $this->refused(fn () => $this->add(TouchItemType::Button)),
        );
        self::assertSame(
            ['fader1', 'pad1', 'button1', 'timecode1', 'button2', 'knob1'],
            array_values(
                array_map(
                    static fn (TouchItem $item): string => $item->name,
                    $this->document->show->delivery->touchItems,
                ),
            ),
        );
        // A grid that is smaller than an item has it smaller.
        $this->document = Document::of(
            ['id' => 'show', 'name' => 'Test', 'frameRate' => '25'],
            [
                'device' => [['id' => 'panel', 'name' => 'P', 'protocol' => 'touch', 'columns' => 1, 'rows' => 2]],
            ],
        );
        self::assertSame([0, 0, 1, 2], $this->placeOf($this->add(TouchItemType::Board)));
    }

    public function test_items_are_moved_within_the_grid_and_not_onto_one_another(): void
    {
        $one = $this->add(TouchItemType::Button);
        $two = $this->add(TouchItemType::Button);
        $place = fn (string $id, int ...$at): array => $this->editing()->place($id, ...array_values($at));
        self::assertSame('Something else stands there.', $this->refused(fn () => $place($one, 1, 0, 1, 1)));
        self::assertSame('Something else stands there.', $this->refused(fn () => $place($one, 0, 0, 2, 1)));
        $this->apply($place($one, 9, 9, 2, 2));
        self::assertSame([2, 1, 2, 2], $this->placeOf($one), 'brought back into the grid');
        $this->apply($place($one, -5, 1, 1, 99));
        self::assertSame([0, 0, 1, 3], $this->placeOf($one), 'as high as the grid at most');
        self::assertSame([], $place($two, 1, 0, 1, 1), 'where it stands already');
        self::assertStringContainsString('not in the show', $this->refused(fn () => $place('gone', 0, 0, 1, 1)));
    }

    public function test_a_cue_tile_comes_with_its_binding_and_both_go_together(): void
    {
        $tile = $this->add(TouchItemType::Cue, 'warm');
        $bindings = $this->document->show->delivery->bindings;
        self::assertCount(1, $bindings);
        $binding = reset($bindings);
        self::assertSame(
            ['panel', '/cue1', Meaning::Cue, 'warm', true],
            [$binding->device, $binding->control->name, $binding->meaning, $binding->target, $binding->hasLamp],
        );
        self::assertSame('Warm', $this->document->show->delivery->touchItems[$tile]->label);
        self::assertStringContainsString('names a cue', $this->refused(fn () => $this->add(TouchItemType::Cue, 'gone')));
        $this->apply($this->editing()->remove($tile));
        self::assertSame(
            [[], []],
            [$this->document->show->delivery->touchItems, $this->document->show->delivery->bindings],
        );
    }

    public function test_each_number_that_an_item_sends_is_bound_by_itself_and_anew_in_its_place(): void
    {
        $pad = $this->add(TouchItemType::Pad);
        $this->apply($this->editing()->bind($pad, 0, Meaning::Value, 'layer:a/x'));
        $this->apply($this->editing()->bind($pad, 1, Meaning::Value, 'layer:a/opacity'));
        $this->apply($this->editing()->bind($pad, 1, Meaning::Value, 'master:show/level'));
        self::assertSame(
            [['/pad1', 'layer:a/x', 'move', true], ['/pad1#1', 'master:show/level', 'move', true]],
            array_values(
                array_map(
                    static fn ($b): array => [$b->control->name, $b->target, $b->gesture->value, $b->hasMotor],
                    $this->document->show->delivery->bindings,
                ),
            ),
        );
        self::assertSame([], $this->editing()->bind($pad, 1, Meaning::Value, 'master:show/level'), 'as it is already');
        self::assertStringContainsString(
            'sends 2 numbers',
            $this->refused(fn () => $this->editing()->bind($pad, 2, Meaning::Value, 'master:show/level')),
        );
        $text = $this->add(TouchItemType::Text);
        self::assertStringContainsString(
            'sends 0 numbers',
            $this->refused(fn () => $this->editing()->bind($text, 0, Meaning::Action, 'go')),
        );
        // What only shows a value is bound as what sets one.
        [$changes] = $this->editing()->add('panel', TouchItemType::Value, 'master:show/level');
        self::assertSame(['touchItem', 'binding'], array_column($changes, 'kind'));
        // A toggle gives a command in turn, a button holds a value while it is pressed.
        $toggle = $this->add(TouchItemType::Toggle);
        $this->apply($this->editing()->bind($toggle, 0, Meaning::Action, 'panic 1'));
        $gestures = array_map(static fn ($b): string => $b->gesture->value, $this->document->show->delivery->bindings);
        self::assertSame('toggle', end($gestures));
    }

    public function test_only_a_touch_device_is_a_panel(): void
    {
        self::assertStringContainsString(
            'no touch panel',
            $this->refused(fn () => $this->editing()->add('box', TouchItemType::Button)),
        );
        foreach (
            [
                ['name' => 'a b'],
                ['name' => ''],
                ['name' => 'a', 'type' => 'slider'],
                ['name' => 'a', 'colour' => 'red'],
                ['name' => 'a', 'columns' => 0],
                ['name' => 'a', 'column' => 24],
            ] as $row
        ) {
            self::assertNotSame('', $this->refused(static fn () => TouchItem::fromRow($row)));
        }
    }

    public function test_items_that_touch_do_not_overlap(): void
    {
        $item = TouchItem::fromRow(['name' => 'a']);
        [$wide, $beside, $below, $within] = [
            $item->at(0, 0, 2, 2),
            $item->at(2, 0, 1, 2),
            $item->at(0, 2, 2, 1),
            $item->at(1, 1, 1, 1),
        ];
        self::assertSame(
            [false, false, true, true, true],
            [
                $wide->overlaps($beside),
                $below->overlaps($wide),
                $wide->overlaps($within),
                $within->overlaps($wide),
                $wide->overlaps($wide),
            ],
        );
    }
}
