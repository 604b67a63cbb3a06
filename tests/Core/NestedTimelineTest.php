<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Plan\Bundle;
use Core\Plan\Plan;
use Core\Plan\PlanCompiler;
use Core\Playback\DrawStep;
use Core\Playback\Head;
use Core\Playback\Moment;
use Core\Preflight\Preflight;
use Core\Show\Document;
use Core\Show\NestedTimelines;
use Core\Show\Programming;
use Core\Show\Show;
use Core\Timeline\TransportMap;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use PHPUnit\Framework\TestCase;

final class NestedTimelineTest extends TestCase
{
    private const S = Flicks::PER_SECOND;

    /** @param  list<array<string, mixed>>  $clips  of the outer layer */
    private static function rows(array $clips, array $more = []): array
    {
        return $more + [
            'panel' => [
                [
                    'id' => 'panel',
                    'name' => 'P',
                    'widthMm' => 500,
                    'heightMm' => 500,
                    'widthPx' => 20,
                    'heightPx' => 20,
                    'kilograms' => 1,
                    'wattsAverage' => 1,
                    'wattsMaximum' => 2,
                ],
            ],
            'surface' => [
                [
                    'id' => 'wall',
                    'name' => 'Wall',
                    'position' => [0, 0, 0],
                    'rotation' => [0, 0, 0],
                    'cells' => [['panel']],
                    'seams' => [],
                ],
            ],
            'media' => [
                ['id' => 'red', 'name' => 'Red', 'kind' => 'solid', 'colour' => '#ff0000'],
                ['id' => 'in', 'name' => 'Inner', 'kind' => 'timeline', 'timeline' => 'inner'],
                ['id' => 'out', 'name' => 'Outer', 'kind' => 'timeline', 'timeline' => 'outer'],
            ],
            'timeline' => [
                ['id' => 'outer', 'name' => 'Outer', 'duration' => 60 * self::S, 'order' => 0],
                ['id' => 'inner', 'name' => 'Inner', 'duration' => 10 * self::S, 'order' => 1],
            ],
            'layer' => [
                ['id' => 'o', 'timeline' => 'outer', 'name' => 'O', 'order' => 0],
                [
                    'id' => 'i',
                    'timeline' => 'inner',
                    'name' => 'I',
                    'order' => 0,
                    'route' => 'r',
                    'fitting' => 'stretch',
                ],
            ],
            'route' => [['id' => 'r', 'layer' => 'i', 'surfaces' => ['wall']]],
            'clip' => [
                ['id' => 'ci', 'layer' => 'i', 'media' => 'red', 'start' => 0, 'length' => 10 * self::S],
                ...$clips,
            ],
            // From 0 to 100 px in its ten seconds.
            'curve' => [
                [
                    'id' => 'k',
                    'ownerKind' => 'layer',
                    'owner' => 'i',
                    'property' => 'x',
                    'slot' => 0,
                    'keyframes' => [['t' => 0, 'v' => 0], ['t' => 10 * self::S, 'v' => 100]],
                ],
            ],
        ];
    }

    /** @param  array<string, mixed>  $more */
    private static function clip(array $more = []): array
    {
        return $more + [
            'id' => 'co',
            'layer' => 'o',
            'media' => 'in',
            'start' => 20 * self::S,
            'length' => 20 * self::S,
            'pastEnd' => 'hold',
        ];
    }

    /** @return list<array{float, float}> where the picture is, and how strong, at a second of the outer timeline */
    private static function seen(array $rows, float $second, string $timeline = 'outer'): array
    {
        $compiler = new PlanCompiler();
        $plan = Plan::empty()->with(
            Bundle::fromBytes(
                $compiler
                    ->compile(Show::fromRows(['id' => 'show', 'name' => 'Test', 'frameRate' => '25'], $rows), 1)
                    ->toBytes(),
            ),
        );
        $moment = new Moment(
            $plan,
            [Head::of($timeline, TransportMap::standing(0, (int) round($second * self::S)))],
            [],
            5,
        );

        return array_map(
            static fn (DrawStep $step): array => [round($step->matrix->point(0, 0)[0], 6), round($step->opacity, 6)],
            DrawStep::of($moment, 'wall'),
        );
    }

    public function test_a_timeline_is_seen_where_a_clip_of_another_shows_it(): void
    {
        $rows = self::rows([self::clip()]);
        self::assertSame(
            [[], [[0.0, 1.0]], [[50.0, 1.0]], [[99.6, 1.0]], []],
            array_map(static fn (float $s): array => self::seen($rows, $s), [19.9, 20.0, 25.0, 35.0, 40.0]),
        );
        // Faster, backwards, again and again, dark when it has run out.
        self::assertSame([[48.0, 1.0]], self::seen(self::rows([self::clip(['speed' => 2])]), 22.4));
        self::assertSame([[99.6 - 20.0, 1.0]], self::seen(self::rows([self::clip(['speed' => -1])]), 22.0));
        self::assertSame([[30.0, 1.0]], self::seen(self::rows([self::clip(['pastEnd' => 'loop'])]), 33.0));
        self::assertSame([], self::seen(self::rows([self::clip(['pastEnd' => 'dark'])]), 31.0));
        self::assertSame([[40.0, 1.0]], self::seen(self::rows([self::clip(['in' => 3 * self::S])]), 21.0));
    }

    public function test_it_is_as_strong_as_its_clip_and_layer_are(): void
    {
        $layers = static fn (array $values): array => [
            'layer' => [
                ['id' => 'o', 'timeline' => 'outer', 'name' => 'O', 'order' => 0, 'values' => $values],
                [
                    'id' => 'i',
                    'timeline' => 'inner',
                    'name' => 'I',
                    'order' => 0,
                    'route' => 'r',
                    'fitting' => 'stretch',
                    'values' => ['opacity' => 0.5],
                ],
            ],
        ];
        self::assertSame(
            [[10.0, 0.125]],
            self::seen(self::rows([self::clip(['fadeIn' => 2 * self::S])], $layers(['opacity' => 0.5])), 21.0),
        );
        self::assertSame([], self::seen(self::rows([self::clip()], $layers(['mute' => true])), 21.0));
        // Two that cross: at the middle, each by half, where each is.
        self::assertSame(
            [[(100.0 * 9) / 10, 0.5], [10.0, 0.5]],
            array_reverse(
                self::seen(
                    self::rows([
                        self::clip(['length' => 10 * self::S]),
                        self::clip(['id' => 'cp', 'start' => 28 * self::S]),
                    ]),
                    29.0,
                ),
            ),
        );
        // Beside its own transport, both are seen.
        $compiler = new PlanCompiler();
        $compiler->compile(
            Show::fromRows(['id' => 'show', 'name' => 'Test', 'frameRate' => '25'], self::rows([self::clip()])),
            1,
        );
        $moment = new Moment(
            $compiler->plan(),
            [
                Head::of('outer', TransportMap::standing(0, 25 * self::S)),
                Head::of('inner', TransportMap::standing(0, self::S)),
            ],
            [],
            5,
        );
        self::assertSame(
            [10.0, 50.0],
            array_map(
                static fn (DrawStep $step): float => round($step->matrix->point(0, 0)[0], 6),
                DrawStep::of($moment, 'wall'),
            ),
        );
    }

    public function test_one_within_itself_ends_and_is_said(): void
    {
        $rows = self::rows([
            self::clip(),
            ['id' => 'back', 'layer' => 'i', 'media' => 'out', 'start' => 0, 'length' => 10 * self::S],
        ]);
        self::assertSame([[50.0, 1.0]], self::seen(self::rows([self::clip()]), 25.0));
        $show = Show::fromRows(['id' => 'show', 'name' => 'Test', 'frameRate' => '25'], $rows);
        self::assertTrue(NestedTimelines::isCircular($show, 'outer'));
        self::assertSame(['inner', 'outer'], NestedTimelines::within($show, 'inner'));
        self::assertFalse(
            NestedTimelines::isCircular(
                Show::fromRows(['id' => 'show', 'name' => 'Test', 'frameRate' => '25'], self::rows([self::clip()])),
                'outer',
            ),
        );
        self::seen($rows, 25.0);
        $said = array_map(static fn ($finding): string => $finding->message, Preflight::of($show));
        self::assertContains('Inner nests itself; the inner copy is black.', $said);
        $gone = Show::fromRows(
            ['id' => 'show', 'name' => 'Test', 'frameRate' => '25'],
            self::rows(
                [self::clip()],
                [
                    'media' => [
                        ['id' => 'red', 'name' => 'Red', 'kind' => 'solid', 'colour' => '#ff0000'],
                        ['id' => 'in', 'name' => 'Inner', 'kind' => 'timeline', 'timeline' => 'gone'],
                    ],
                ],
            ),
        );
        self::assertContains(
            'Inner shows a timeline that was removed.',
            array_map(static fn ($finding): string => $finding->message, Preflight::of($gone)),
        );
    }

    public function test_a_timeline_is_put_on_a_layer_as_long_as_it_is_but_not_within_itself(): void
    {
        $document = Document::of(
            ['id' => 'show', 'name' => 'Test', 'frameRate' => '25'],
            self::rows([], ['media' => [['id' => 'red', 'name' => 'Red', 'kind' => 'solid', 'colour' => '#ff0000']]]),
        );
        $ids = 0;
        $programming = new Programming($document->show, $document, static function () use (&$ids): string {
            return 'new'.++$ids;
        });
        [$changes] = $programming->place('timeline:inner', 'o', 55 * self::S);
        self::assertSame(
            [['timeline', 'update'], ['media', 'create'], ['clip', 'create']],
            array_map(static fn (array $c): array => [$c['kind'], $c['op']], $changes),
        );
        self::assertSame(
            ['inner', $changes[1]['id'], 10 * self::S],
            [
                $changes[1]['fields']['timeline']['after'],
                $changes[2]['fields']['media']['after'],
                $changes[2]['fields']['length']['after'],
            ],
        );
        $again = $document->with($document->changedRows($changes));
        $next = new Programming($again->show, $again, static fn (): string => 'other');
        self::assertSame(
            ['clip'],
            array_column($next->place('timeline:inner', 'o', 0)[0], 'kind'),
            'The media that shows it is there.',
        );
        foreach (
            [['timeline:outer', 'o'], ['timeline:inner', 'i'], ['timeline:outer', 'i'], ['timeline:gone', 'o']] as [$media, $layer]
        ) {
            try {
                $next->place($media, $layer, 0);
                self::fail("$media on $layer");
            } catch (InvalidValue $refused) {
                self::assertSame('media', $refused->field);
            }
        }
    }
}
