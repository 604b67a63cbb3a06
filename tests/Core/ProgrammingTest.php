<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Show\ClipEditing;
use Core\Show\Document;
use Core\Show\Programming;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use Core\Values\Address;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What is done on a timeline by hand. Times in these tests are frames of a show at 25 a second. */
final class ProgrammingTest extends TestCase
{
    private const F = Flicks::PER_SECOND / 25;

    private const MOVING = [
        'facts' => ['width' => 64, 'height' => 36],
        'form' => ['frames' => 100, 'frameRate' => '50', 'kind' => 'video'],
    ];

    private static function document(): Document
    {
        $clip = static fn (string $id, string $media, int $start, int $length, int $in = 0, ?int $out = null): array => [
            'id' => $id,
            'layer' => 'a',
            'media' => $media,
            'start' => $start * self::F,
            'length' => $length * self::F,
            'in' => $in * self::F,
            'out' => $out === null ? null : $out * self::F,
        ];
        $layer = static fn (string $id, int $order, string $line = 'main'): array => [
            'id' => $id,
            'timeline' => $line,
            'name' => $id,
            'order' => $order,
        ];

        return Document::of(
            ['id' => 's', 'name' => 'S', 'frameRate' => '25'],
            [
                'timeline' => [
                    ['id' => 'main', 'name' => 'Main', 'duration' => 200 * self::F, 'order' => 0],
                    ['id' => 'bell', 'name' => 'Bell', 'duration' => 10 * self::F, 'order' => 1],
                ],
                'layer' => [
                    $layer('a', 0),
                    $layer('b', 4),
                    $layer('c', 7),
                    $layer('x', 3, 'bell'),
                    $layer('y', 3, 'bell'),
                    $layer('z', 3, 'bell'),
                ],
                'media' => [
                    ['id' => 'sea', 'name' => 'Sea', 'kind' => 'file', 'state' => 'ready'] + self::MOVING,
                    ['id' => 'raw', 'name' => 'Raw', 'kind' => 'file', 'state' => 'working'],
                    ['id' => 'red', 'name' => 'Red', 'kind' => 'solid', 'colour' => '#ff0000'],
                ],
                'clip' => [
                    $clip('plain', 'sea', 50, 40, 10),
                    $clip('still', 'red', 50, 40),
                    $clip('cut', 'sea', 50, 40, 10, 25),
                    $clip('unready', 'raw', 50, 40, 5),
                ],
                'curve' => [
                    [
                        'id' => 'k',
                        'ownerKind' => 'layer',
                        'owner' => 'a',
                        'property' => 'opacity',
                        'keyframes' => [
                            ['t' => 0, 'v' => 0],
                            ['t' => 10 * self::F, 'v' => 1, 'i' => 'bezier', 'h' => [0.1, 0.2, 0.3, 0.4]],
                            ['t' => 20 * self::F, 'v' => 0.5, 'i' => 'step'],
                        ],
                    ],
                ],
            ],
        );
    }

    private static function programming(?Document $document = null): Programming
    {
        $document ??= self::document();

        return new Programming($document->show, $document, static fn (): string => 'new');
    }

    private static function clips(?Document $document = null): ClipEditing
    {
        $document ??= self::document();

        return new ClipEditing($document->show, $document, static fn (): string => 'new');
    }

    /**
     * @return array<string, mixed> what the fields of the only change become; frames where these are times of a clip
     */
    private static function after(array $changes): array
    {
        self::assertCount(1, $changes);

        return array_map(static fn (array $f): mixed => $f['after'], $changes[0]['fields']);
    }

    /**
     * @return array<string, array{string, string, float, array<string, int>}> clip, edge, to, fields after in frames
     */
    public static function trims(): array
    {
        return [
            'the end, out' => ['plain', 'end', 120, ['length' => 70]],
            'the end, in' => ['plain', 'end', 70, ['length' => 20]],
            'the end before the start' => ['plain', 'end', 3, ['length' => 1]],
            'the end onto the start' => ['plain', 'end', 50, ['length' => 1]],
            'the end between frames, nearer to the later' => ['plain', 'end', 60.5, ['length' => 11]],
            'the end between frames, nearer to the earlier' => ['plain', 'end', 60.49, ['length' => 10]],
            'the start, in' => ['plain', 'start', 60, ['start' => 60, 'length' => 30, 'in' => 20]],
            'the start, out' => ['plain', 'start', 45, ['start' => 45, 'length' => 45, 'in' => 5]],
            'the start before the media begins' => ['plain', 'start', 20, ['start' => 40, 'length' => 50, 'in' => 0]],
            'the start past the end' => ['plain', 'start', 500, ['start' => 89, 'length' => 1, 'in' => 49]],
            'the start of a solid, which has no beginning' => ['still', 'start', 20, ['start' => 20, 'length' => 70]],
            'the start of a solid before the first frame' => ['still', 'start', -9, ['start' => 0, 'length' => 90]],
            'the start of a solid, in' => ['still', 'start', 60, ['start' => 60, 'length' => 30]],
            'the start up to the out point' => ['cut', 'start', 80, ['start' => 64, 'length' => 26, 'in' => 24]],
            'the start of a file that is not ready' => [
                'unready',
                'start',
                10,
                ['start' => 45, 'length' => 45, 'in' => 0],
            ],
        ];
    }

    /** @param  array<string, int>  $after */
    #[DataProvider('trims')]
    public function test_a_clip_is_trimmed_as_far_as_its_media_goes(
        string $clip,
        string $edge,
        float $to,
        array $after,
    ): void {
        $changes = self::clips()->trim($clip, $edge, (int) round($to * self::F));
        self::assertSame(array_map(static fn (int $frames): int => $frames * self::F, $after), self::after($changes));
    }

    public function test_an_edge_where_it_was_is_no_change(): void
    {
        self::assertSame([], self::clips()->trim('plain', 'start', 50 * self::F));
        self::assertSame([], self::clips()->trim('plain', 'end', 90 * self::F));
        self::assertSame([], self::clips()->trim('plain', 'end', 90 * self::F + 3));
    }

    public function test_every_trim_of_a_clip_leaves_one_that_the_show_takes(): void
    {
        $document = self::document();
        foreach (['plain', 'still', 'cut', 'unready'] as $clip) {
            foreach (['start', 'end'] as $edge) {
                for ($to = -20; $to < 260; $to += 7) {
                    $changes = self::clips($document)->trim($clip, $edge, $to * self::F + $to);
                    $row = $document->with($document->changedRows($changes))->rows['clip'][$clip];
                    self::assertGreaterThanOrEqual(self::F, $row['length'], "$clip $edge $to");
                    self::assertGreaterThanOrEqual(0, $row['start']);
                    self::assertGreaterThanOrEqual(0, $row['in']);
                    self::assertSame(
                        $edge === 'start' ? 90 * self::F : 50 * self::F,
                        $edge === 'start' ? $row['start'] + $row['length'] : $row['start'],
                        'the other edge stays',
                    );
                    if ($clip !== 'still' && $edge === 'start') {
                        self::assertSame(
                            $clip === 'unready' ? 45 : 40,
                            ($row['start'] - $row['in']) / self::F,
                            'what is seen does not slip',
                        );
                    }
                    self::assertTrue(! isset($row['out']) || $row['in'] < $row['out']);
                }
            }
        }
    }

    public function test_a_media_is_put_down_as_long_as_it_is(): void
    {
        [$changes, $id] = self::programming()->place('sea', 'b', (int) (30.4 * self::F));
        // 100 frames at 50 a second are 50 of the show's.
        self::assertSame(
            ['new', ['layer' => 'b', 'media' => 'sea', 'start' => 30 * self::F, 'length' => 50 * self::F]],
            [$id, self::after($changes)],
        );
        // Five seconds where there is no length, and never before the first frame.
        self::assertSame(
            ['layer' => 'b', 'media' => 'red', 'start' => 0, 'length' => 125 * self::F],
            self::after(self::programming()->place('red', 'b', -900)[0]),
        );
    }

    public function test_a_timeline_grows_for_what_is_put_at_its_end(): void
    {
        [$changes] = self::programming()->place('sea', 'x', 5 * self::F);
        self::assertSame(
            ['timeline', 'bell', ['duration' => ['before' => 10 * self::F, 'after' => 55 * self::F]]],
            [$changes[0]['kind'], $changes[0]['id'], $changes[0]['fields']],
        );
        self::assertSame(['clip', 'create'], [$changes[1]['kind'], $changes[1]['op']]);
        self::assertCount(
            1,
            self::programming()->place('sea', 'a', 150 * self::F)[0],
            'what just fits makes nothing longer',
        );
        self::assertCount(2, self::programming()->place('sea', 'a', 151 * self::F)[0]);
    }

    public function test_a_keyframe_is_put_where_there_is_none(): void
    {
        [$changes, $id] = self::programming()->key(Address::parse('layer:a/opacity'), (int) (4.6 * self::F), 0.25);
        self::assertSame('k', $id);
        self::assertSame(
            [0, 5, 10, 20],
            array_map(static fn (array $k): int => intdiv($k['t'], self::F), self::after($changes)['keyframes']),
        );
        self::assertSame(0.25, self::after($changes)['keyframes'][1]['v']);
    }

    public function test_a_keyframe_over_another_keeps_how_it_leaves(): void
    {
        $keyframe = self::after(self::programming()->key(Address::parse('layer:a/opacity'), 10 * self::F, -7)[0])[
            'keyframes'
        ][1];
        self::assertSame(
            [10 * self::F, 0.0, 'bezier', [0.1, 0.2, 0.3, 0.4]],
            [$keyframe['t'], (float) $keyframe['v'], $keyframe['i'], $keyframe['h']],
            'clamped to the range of opacity',
        );
        $other = self::after(self::programming()->key(Address::parse('layer:a/opacity'), 20 * self::F, 0.75)[0])[
            'keyframes'
        ][2];
        self::assertSame([0.75, 'step'], [$other['v'], $other['i']]);
        self::assertSame(
            [],
            self::programming()->key(Address::parse('layer:a/opacity'), 10 * self::F, 7)[0],
            'it stands at the most already',
        );
        self::assertSame(
            [],
            self::programming()->key(Address::parse('layer:a/opacity'), 20 * self::F, 0.5)[0],
            'the same value again is no change',
        );
    }

    public function test_the_first_keyframe_of_a_property_makes_its_curve(): void
    {
        [$changes, $id] = self::programming()->key(Address::parse('layer:b/scale'), -50, 2);
        $after = self::after($changes);
        self::assertSame(
            ['new', 'create', 'layer', 'b', 'scale'],
            [$id, $changes[0]['op'], $after['ownerKind'], $after['owner'], $after['property']],
        );
        self::assertSame(
            [['t' => 0, 'v' => 2.0]],
            array_map(static fn (array $k): array => ['t' => $k['t'], 'v' => (float) $k['v']], $after['keyframes']),
        );
    }

    public function test_a_keyframe_is_moved_in_time_and_value(): void
    {
        $times = static fn (array $changes): array => array_map(
            static fn (array $k): array => [intdiv($k['t'], self::F), (float) $k['v'], $k['i'] ?? 'linear'],
            self::after($changes)['keyframes'],
        );
        self::assertSame(
            [[0, 0.0, 'linear'], [15, 0.9, 'bezier'], [20, 0.5, 'step']],
            $times(self::programming()->moveKey('k', 10 * self::F, 15 * self::F, 0.9)),
        );
        self::assertSame(
            [[0, 0.0, 'linear'], [20, 0.5, 'step'], [30, 1.0, 'bezier']],
            $times(self::programming()->moveKey('k', 10 * self::F, 30 * self::F, 4)),
            'past its neighbour, and clamped',
        );
        self::assertSame(
            [[0, 0.0, 'linear'], [20, 0.4, 'bezier']],
            $times(self::programming()->moveKey('k', 10 * self::F, 20 * self::F, 0.4)),
            'onto its neighbour, which gives way',
        );
        self::assertSame(
            [[0, 0.2, 'bezier'], [20, 0.5, 'step']],
            $times(self::programming()->moveKey('k', 10 * self::F, -10 * self::F, 0.2)),
            'never before the first frame',
        );
        self::assertSame([], self::programming()->moveKey('k', 10 * self::F, 10 * self::F, 1));
    }

    public function test_a_curve_goes_with_its_last_keyframe(): void
    {
        $document = self::document();
        foreach ([10, 0] as $left => $time) {
            $changes = self::programming($document)->dropKey('k', $time * self::F);
            self::assertSame('update', $changes[0]['op']);
            $document = $document->with($document->changedRows($changes));
        }
        self::assertSame(
            [['kind' => 'curve', 'id' => 'k', 'op' => 'delete', 'fields' => []]],
            self::programming($document)->dropKey('k', 20 * self::F),
        );
    }

    /** @return array<string, int> */
    private static function orders(array $changes): array
    {
        return array_column(
            array_map(static fn (array $c): array => [$c['id'], $c['fields']['order']['after']], $changes),
            1,
            0,
        );
    }

    public function test_a_layer_changes_places_with_its_neighbour(): void
    {
        self::assertEquals(['a' => 4, 'b' => 0], self::orders(self::programming()->raise('a', true)));
        self::assertEquals(['b' => 7, 'c' => 4], self::orders(self::programming()->raise('c', false)));
        self::assertSame([], self::programming()->raise('c', true), 'nothing above the top');
        self::assertSame([], self::programming()->raise('a', false));
    }

    public function test_layers_that_share_an_order_move_one_place_too(): void
    {
        // x, y and z stand in the order of their ids; x up is y, x, z.
        $document = self::document();
        $document = $document->with($document->changedRows(self::programming($document)->raise('x', true)));
        self::assertSame(['y', 'x', 'z'], array_column($document->show->programme->timelines['bell']->layers, 'id'));
        $document = $document->with($document->changedRows(self::programming($document)->raise('z', false)));
        self::assertSame(['y', 'z', 'x'], array_column($document->show->programme->timelines['bell']->layers, 'id'));
        self::assertSame(['a', 'b', 'c'], array_column($document->show->programme->timelines['main']->layers, 'id'));
    }

    /** @return array<string, array{\Closure(Programming): mixed, string}> */
    public static function refusals(): array
    {
        return [
            'a media that is gone' => [static fn (Programming $p) => $p->place('gone', 'a', 0), 'media'],
            'a layer that is gone' => [static fn (Programming $p) => $p->place('sea', 'gone', 0), 'layer'],
            'a property that layers lack' => [
                static fn (Programming $p) => $p->key(Address::parse('layer:a/glow'), 0, 1),
                'property',
            ],
            'a value of a layer that is gone' => [
                static fn (Programming $p) => $p->key(Address::parse('layer:gone/x'), 0, 1),
                'layer',
            ],
            'a curve that is gone' => [static fn (Programming $p) => $p->moveKey('gone', 0, 1, 1), 'curve'],
            'a keyframe that is not there' => [static fn (Programming $p) => $p->moveKey('k', 5, 1, 1), 'from'],
            'a keyframe to remove that is not there' => [static fn (Programming $p) => $p->dropKey('k', 5), 'time'],
            'a layer to raise that is gone' => [static fn (Programming $p) => $p->raise('gone', true), 'layer'],
        ];
    }

    /** @param  \Closure(Programming): mixed  $order */
    #[DataProvider('refusals')]
    public function test_what_can_not_be_done_is_refused_by_its_field(\Closure $order, string $field): void
    {
        try {
            $order(self::programming());
        } catch (InvalidValue $refused) {
            self::assertSame($field, $refused->field);

            return;
        }
        self::fail('not refused');
    }

    public function test_layers_are_put_right_above_another(): void
    {
        $order = static function (array $changes): array {
            $document = self::document();
            $after = $document->with($document->changedRows($changes))->show->programme->timelines['main']->layers;

            return array_map(static fn ($l): string => $l->id, $after);
        };
        self::assertSame(
            [['b', 'c', 'a'], ['c', 'a', 'b'], ['a', 'b', 'c'], ['b', 'a', 'c']],
            [
                $order(self::programming()->reorder('a', 'c')),
                $order(self::programming()->reorder('c', null)),
                $order(self::programming()->reorder('b', 'a')),
                $order(self::programming()->reorder('a', 'b')),
            ],
        );
        $this->expectException(InvalidValue::class);
        self::programming()->reorder('a', 'x');
    }

    public function test_keyframes_take_what_is_typed_each_from_what_it_is(): void
    {
        $keys = array_map(static fn (int $n): array => ['curve' => 'k', 't' => $n * self::F], [0, 10, 20]);
        $is = static fn (string $text): array => array_column(
            self::after(self::programming()->valueKeys($keys, $text))['keyframes'] ?? [],
            'v',
        );
        // They are 0, 1 and 0.5, shown as 0, 100 and 50 %.
        self::assertEquals([0, 0.5, 0.25], $is('*0.5'));
        self::assertEquals([0.1, 1, 0.6], $is('+10'));
        self::assertEquals([0, 0.75, 0.25], $is('−=25'));
        self::assertEquals([0, 0.9, 0.45], $is('-10%'));
        self::assertEquals([0.25, 0.25, 0.25], $is('=100/4'));
        self::assertEquals([0.3, 0.3, 0.3], $is('30'));
        self::assertSame([], self::programming()->valueKeys([$keys[0]], '*3'));
        foreach (['', '+', '/0', '*5 kg', '=-'] as $bad) {
            try {
                self::programming()->valueKeys($keys, $bad);
                self::fail("$bad was taken");
            } catch (InvalidValue $refused) {
                self::assertSame('text', $refused->field, $bad);
            }
        }
    }

    public function test_keyframes_are_given_a_way_and_handles_within_what_they_may(): void
    {
        $keys = [['curve' => 'k', 't' => 0], ['curve' => 'k', 't' => 10 * self::F]];
        $shaped = self::after(self::programming()->shapeKeys($keys, 'bezier', [-0.5, 12, 0.75, 0.5]))['keyframes'];
        self::assertEquals(
            [['bezier', [0, 10, 0.75, 0.5]], ['bezier', [0, 10, 0.75, 0.5]], ['step', null]],
            array_map(static fn (array $k): array => [$k['i'], $k['h'] ?? null], $shaped),
        );
        self::assertSame(
            ['smooth', 'smooth', 'step'],
            array_column(self::after(self::programming()->shapeKeys($keys, 'smooth'))['keyframes'], 'i'),
        );
        foreach (
            [[$keys, 'wavy', 'way'], [[], 'step', 'keys'], [[['curve' => 'k', 't' => 1]], 'step', 'keys']] as [$some, $way, $field]
        ) {
            try {
                self::programming()->shapeKeys($some, $way);
                self::fail("$way was taken");
            } catch (InvalidValue $refused) {
                self::assertSame($field, $refused->field);
            }
        }
    }

    public function test_keyframes_are_moved_spread_copied_and_removed_together(): void
    {
        $keys = static fn (int ...$frames): array => array_map(
            static fn (int $n): array => ['curve' => 'k', 't' => $n * self::F],
            $frames,
        );
        $is = static fn (array $changes): array => array_map(
            static fn (array $k): array => [$k['t'] / self::F, $k['v']],
            self::after($changes)['keyframes'],
        );
        self::assertEquals(
            [[0, 0], [15, 1], [25, 0.5]],
            $is(self::programming()->moveKeys($keys(10, 20), 5 * self::F)),
        );
        // About frame 10, twice as far; one that comes onto another takes its place; values stay in their range.
        self::assertEquals(
            [[0, 0.75], [10, 1], [30, 1]],
            $is(self::programming()->moveKeys($keys(0, 10, 20), 0, 2, 10 * self::F, 0.75)),
        );
        self::assertEquals([[0, 0], [20, 1]], $is(self::programming()->moveKeys($keys(10), 10 * self::F)));
        self::assertEquals(
            [[0, 0], [10, 1], [20, 0.5], [30, 1], [40, 0.5]],
            $is(self::programming()->pasteKeys($keys(10, 20), 30 * self::F)),
        );
        self::assertEquals([[10, 1]], $is(self::programming()->dropKeys($keys(0, 20))));
        self::assertSame(
            [['kind' => 'curve', 'id' => 'k', 'op' => 'delete', 'fields' => []]],
            self::programming()->dropKeys($keys(0, 10, 20)),
        );
        $other = self::programming()->pasteKeys($keys(0, 10), 50 * self::F, 'b');
        self::assertEquals(
            ['create', 'b', [[50 * self::F, 0], [60 * self::F, 1]]],
            [
                $other[0]['op'],
                $other[0]['fields']['owner']['after'],
                array_map(static fn (array $k): array => [$k['t'], $k['v']], $other[0]['fields']['keyframes']['after']),
            ],
        );
        foreach (
            [
                static fn (Programming $p) => $p->moveKeys([], 0),
                static fn (Programming $p) => $p->moveKeys($keys(3), 0),
                static fn (Programming $p) => $p->moveKeys($keys(0), 0, 0.0),
                static fn (Programming $p) => $p->pasteKeys($keys(0), 0, 'gone'),
                static fn (Programming $p) => $p->tempo('main', [5]),
            ] as $i => $bad
        ) {
            try {
                $bad(self::programming());
                self::fail("order $i");
            } catch (InvalidValue $refused) {
                self::assertNotSame('', $refused->field);
            }
        }
        self::assertEquals(
            ['bpm' => 120, 'firstBeat' => Flicks::PER_SECOND],
            self::after(
                self::programming()->tempo('main', [
                    Flicks::PER_SECOND,
                    intdiv(3 * Flicks::PER_SECOND, 2),
                    2 * Flicks::PER_SECOND,
                ]),
            ),
        );
    }
}
