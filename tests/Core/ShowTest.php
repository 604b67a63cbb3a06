<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Media\MediaItem;
use Core\Show\Changes;
use Core\Show\Show;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class ShowTest extends TestCase
{
    private const HEAD = ['id' => 's', 'name' => 'S', 'frameRate' => '25'];

    public function test_an_empty_show_is_a_show(): void
    {
        $show = Show::fromRows(self::HEAD, []);
        self::assertSame(
            [[], [], [], []],
            [$show->venue->surfaces, $show->delivery->outputs, $show->programme->timelines, $show->broken],
        );
    }

    public function test_layers_markers_and_cues_come_in_their_order_whatever_the_rows_are_in(): void
    {
        $show = Show::fromRows(self::HEAD, [
            'timeline' => [['id' => 't', 'name' => 'T', 'duration' => 100]],
            'layer' => [
                ['id' => 'b', 'timeline' => 't', 'name' => 'B', 'order' => 2],
                ['id' => 'a', 'timeline' => 't', 'name' => 'A', 'order' => 1],
                ['id' => 'c', 'timeline' => 't', 'name' => 'C', 'order' => 2],
            ],
            'marker' => [
                ['id' => 'm2', 'timeline' => 't', 'time' => 50, 'name' => 'late'],
                ['id' => 'm1', 'timeline' => 't', 'time' => 5, 'name' => 'early'],
            ],
            'cue' => [
                ['id' => 'q2', 'timeline' => 't', 'time' => 9, 'number' => '1', 'name' => 'x', 'holds' => false],
                ['id' => 'q1', 'timeline' => 't', 'time' => 3, 'number' => '2', 'name' => 'y', 'holds' => true],
            ],
        ]);
        $timeline = $show->programme->timelines['t'];
        self::assertSame(['a', 'b', 'c'], array_column($timeline->layers, 'id'));
        self::assertSame(['m1', 'm2'], array_keys($timeline->markers));
        self::assertSame(['q1', 'q2'], array_keys($timeline->cues));
    }

    public function test_a_row_that_can_not_be_is_told_and_its_neighbours_stay(): void
    {
        $show = Show::fromRows(self::HEAD, [
            'output' => [
                ['id' => 'a', 'name' => 'A', 'width' => 0, 'height' => 10, 'refresh' => 60],
                ['id' => 'b', 'name' => 'B', 'width' => 10, 'height' => 10, 'refresh' => 60],
            ],
            'region' => [
                ['id' => 'r', 'output' => 'a', 'surface' => 'w', 'source' => [0, 0, 1, 1], 'x' => 0, 'y' => 0],
            ],
        ]);
        self::assertSame(['b'], array_keys($show->delivery->outputs));
        self::assertSame(
            ['width must be between 1 and 16384 px; it was 0.', 'The output of this region was removed.'],
            array_column($show->broken, 'message'),
        );
    }

    /** @return list<array{string, array<string, mixed>, string}> kind, row, field that is refused */
    public static function refused(): array
    {
        $clip = ['start' => 0, 'length' => 10, 'in' => 0, 'out' => null, 'pastEnd' => 'hold'];

        return [
            ['show', ['name' => '', 'frameRate' => '25'], 'name'],
            ['show', ['name' => 'x', 'frameRate' => '25.5'], 'frameRate'],
            ['timeline', ['name' => 'T', 'duration' => 0], 'duration'],
            ['timeline', ['name' => 'T', 'duration' => Flicks::MAX + 1], 'duration'],
            ['layer', ['id' => 'l', 'name' => 'L', 'order' => 0, 'fitting' => 'squeeze'], 'fitting'],
            ['layer', ['id' => 'l', 'name' => 'L', 'order' => 0, 'anchorX' => 1.5], 'anchorX'],
            ['layer', ['id' => 'l', 'name' => 'L', 'order' => 0, 'values' => ['x' => INF]], 'values.x'],
            ['layer', ['id' => 'l', 'name' => 'L', 'order' => 0, 'values' => ['opacity' => -0.1]], 'values.opacity'],
            ['layer', ['id' => 'l', 'name' => 'L', 'order' => 0, 'values' => ['glow' => 1]], 'values.glow'],
            ['route', ['id' => 'r', 'name' => '', 'surfaces' => []], 'name'],
            ['route', ['id' => 'r', 'name' => 'R', 'reach' => 'beam', 'surfaces' => []], 'reach'],
            ['timeline', ['name' => 'T', 'duration' => 5, 'values' => ['level' => 2]], 'values.level'],
            [
                'curve',
                ['ownerKind' => 'seat', 'property' => 'opacity', 'keyframes' => [['t' => 0, 'v' => 0]]],
                'property',
            ],
            ['clip', ['start' => -1] + $clip, 'start'],
            ['clip', ['length' => 0] + $clip, 'length'],
            ['clip', ['in' => 5, 'out' => 5] + $clip, 'out'],
            ['clip', ['pastEnd' => 'explode'] + $clip, 'pastEnd'],
            ['curve', ['property' => 'glow', 'keyframes' => [['t' => 0, 'v' => 0]]], 'property'],
            ['curve', ['property' => 'opacity', 'keyframes' => []], 'keyframes'],
            ['curve', ['property' => 'opacity', 'keyframes' => [['t' => 0, 'v' => 3]]], 'opacity'],
            ['curve', ['property' => 'opacity', 'keyframes' => [['t' => 0.5, 'v' => 0]]], 'keyframes'],
            [
                'curve',
                ['property' => 'opacity', 'keyframes' => [['t' => 0, 'v' => 0, 'i' => 'jumpy']]],
                'interpolation',
            ],
            ['curve', ['property' => 'opacity', 'keyframes' => [['t' => 0, 'v' => 0, 'h' => [0.5, 0]]]], 'handles'],
            [
                'curve',
                [
                    'property' => 'opacity',
                    'keyframes' => [['t' => 0, 'v' => 0, 'i' => 'bezier', 'h' => [-0.1, 0, 1, 1]]],
                ],
                'handles',
            ],
            ['curve', ['property' => 'opacity', 'keyframes' => ['x']], 'keyframes'],
            ['marker', ['time' => -5, 'name' => 'M'], 'time'],
            ['marker', ['time' => 5, 'name' => ''], 'name'],
            ['cue', ['time' => 5, 'number' => '', 'name' => 'Q', 'holds' => true], 'number'],
            ['output', ['name' => 'O', 'width' => 10, 'height' => 20_000, 'refresh' => 60], 'height'],
            ['output', ['name' => 'O', 'width' => 10, 'height' => 10, 'refresh' => 0], 'refresh'],
            ['region', ['surface' => 's', 'source' => [0, 0, 0, 5], 'x' => 0, 'y' => 0], 'width'],
            ['region', ['surface' => 's', 'source' => [0, 0, 5], 'x' => 0, 'y' => 0], 'source'],
            ['media', ['id' => 'm', 'name' => 'M', 'kind' => 'hologram'], 'kind'],
            ['media', ['id' => 'm', 'name' => 'M', 'kind' => 'solid', 'colour' => 'red'], 'colour'],
            ['media', ['id' => 'm', 'name' => 'M', 'kind' => 'solid', 'width' => 5], 'height'],
            [
                'media',
                ['id' => 'm', 'name' => 'M', 'kind' => 'testcard', 'width' => 16_000, 'height' => 16_000],
                'width × height',
            ],
            [
                'surface',
                ['id' => 'w', 'name' => 'W', 'kind' => 'flat', 'position' => [0, 0], 'rotation' => [0, 0, 0]],
                'position',
            ],
            [
                'surface',
                ['id' => 'w', 'name' => 'W', 'kind' => 'flat', 'position' => [0, 0, 1e9], 'rotation' => [0, 0, 0]],
                'z',
            ],
            [
                'surface',
                ['id' => 'w', 'name' => 'W', 'kind' => 'cloud', 'position' => [0, 0, 0], 'rotation' => [0, 0, 0]],
                'kind',
            ],
            ['teapot', [], 'kind'],
        ];
    }

    /** @param  array<string, mixed>  $row */
    #[DataProvider('refused')]
    public function test_a_row_that_the_show_could_not_hold_is_refused_with_its_field(
        string $kind,
        array $row,
        string $field,
    ): void {
        try {
            Show::checkRow($kind, $row);
            self::fail('It was taken.');
        } catch (InvalidValue $refused) {
            self::assertSame($field, $refused->field, $refused->getMessage());
            self::assertNotSame('', $refused->getMessage());
        }
    }

    public function test_a_media_says_why_nothing_can_be_seen_of_it(): void
    {
        $of = static fn (string $state, int $width = 10): ?string => MediaItem::fromRow([
            'id' => 'm',
            'name' => 'Tide',
            'kind' => 'file',
            'state' => $state,
            'facts' => ['width' => $width, 'height' => 10],
        ])->trouble();
        self::assertNull($of('ready'));
        self::assertSame(
            [
                'Tide is still being made ready.',
                'Tide could not be made ready.',
                'Making Tide ready was cancelled.',
                'The file of Tide is missing.',
                'Tide has no picture.',
            ],
            [$of('working'), $of('failed'), $of('cancelled'), $of('missing'), $of('ready', 0)],
        );
        self::assertSame([255, 171, 82], MediaItem::colour('#ffab52'));
    }

    public function test_changes_state_only_what_differs_and_values_stand_in_their_column(): void
    {
        self::assertSame(
            [],
            Changes::update('layer', 'a', ['name' => 'Rain', 'order' => 2], ['name' => 'Rain', 'order' => 2]),
        );
        self::assertSame([], Changes::update('layer', 'a', [], ['route' => null]));
        self::assertSame(
            [
                [
                    'kind' => 'layer',
                    'id' => 'a',
                    'op' => 'update',
                    'fields' => ['order' => ['before' => null, 'after' => 3]],
                ],
            ],
            Changes::update('layer', 'a', ['name' => 'Rain'], ['name' => 'Rain', 'order' => 3]),
        );
        self::assertSame(
            [
                'kind' => 'seat',
                'id' => 'b',
                'op' => 'create',
                'fields' => ['name' => ['before' => null, 'after' => 'Row 1']],
            ],
            Changes::create('seat', 'b', ['name' => 'Row 1']),
        );
        self::assertSame(
            ['kind' => 'seat', 'id' => 'b', 'op' => 'delete', 'fields' => []],
            Changes::delete('seat', 'b'),
        );
        self::assertSame(
            ['name' => 'Fog', 'values' => ['x' => 4.0, 'y' => 1.0]],
            Changes::into(
                ['name' => 'Rain', 'values' => ['x' => 3.0, 'opacity' => 0.5]],
                ['name' => 'Fog', 'values.x' => 4.0, 'values.y' => 1.0, 'values.opacity' => null],
            ),
        );
        self::assertSame(['values' => []], Changes::into(['values' => null], ['values.x' => null]));
    }
}
