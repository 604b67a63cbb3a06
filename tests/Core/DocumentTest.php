<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Plan\Bundle;
use Core\Plan\Plan;
use Core\Plan\PlanCompiler;
use Core\Preflight\Figures;
use Core\Show\Aiming;
use Core\Show\Document;
use Core\Show\ResultCache;
use Core\Show\Schema;
use Core\Show\Show;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use PHPUnit\Framework\TestCase;

/**
 * A show that is edited row by row is the show that those rows make from scratch, and what no change touches is not
 * made again.
 */
final class DocumentTest extends TestCase
{
    private const HEAD = ['id' => 's', 'name' => 'S', 'frameRate' => '25'];

    /** @return array<string, list<array<string, mixed>>> */
    private static function rows(): array
    {
        $rows = [
            'panel' => [
                [
                    'id' => 'p',
                    'name' => 'P',
                    'widthMm' => 500,
                    'heightMm' => 500,
                    'widthPx' => 30,
                    'heightPx' => 20,
                    'kilograms' => 1,
                    'wattsAverage' => 1,
                    'wattsMaximum' => 2,
                ],
            ],
        ];
        for ($i = 0; $i < 4; $i++) {
            $rows['surface'][] = [
                'id' => "w$i",
                'name' => "Wall $i",
                'position' => [$i, 0, 0],
                'rotation' => [0, 0, 0],
                'cells' => [['p', 'p']],
                'seams' => [0],
                'rig' => $i === 3 ? 'rig' : null,
            ];
            $rows['media'][] = [
                'id' => "m$i",
                'name' => "M $i",
                'kind' => $i < 2 ? 'solid' : 'testcard',
                'width' => $i === 2 ? 0 : 16,
                'height' => $i === 2 ? 0 : 9,
                'colour' => '#ff8800',
            ];
            $rows['output'][] = ['id' => "o$i", 'name' => "O $i", 'width' => 200, 'height' => 100, 'refresh' => 50];
            $rows['region'][] = [
                'id' => "r$i",
                'output' => "o$i",
                'surface' => "w$i",
                'source' => [0, 0, 60, 20],
                'x' => $i,
                'y' => 0,
            ];
            $rows['layer'][] = [
                'id' => "l$i",
                'timeline' => $i === 3 ? 't1' : 't0',
                'name' => "L $i",
                'order' => $i,
                'route' => "u$i",
                'values' => ['opacity' => 0.5],
            ];
            $rows['route'][] = ['id' => "u$i", 'surfaces' => ["w$i", 'w'.($i + 1) % 4], 'layer' => "l$i"];
            $rows['clip'][] = [
                'id' => "c$i",
                'layer' => "l$i",
                'media' => "m$i",
                'start' => $i * 1000,
                'length' => 5000,
                'in' => 0,
                'pastEnd' => 'hold',
            ];
            $rows['curve'][] = [
                'id' => "k$i",
                'ownerKind' => 'layer',
                'owner' => "l$i",
                'property' => 'x',
                'keyframes' => [['t' => 0, 'v' => $i], ['t' => 900, 'v' => 5, 'i' => 'bezier']],
            ];
        }
        $rows['rig'] = [['id' => 'rig', 'name' => 'Rig', 'position' => [0, 1, 0], 'rotation' => [0, 0, 0]]];
        $rows['timeline'] = [
            ['id' => 't0', 'name' => 'Main', 'duration' => 10_000, 'order' => 0],
            ['id' => 't1', 'name' => 'Bell', 'duration' => 9000, 'order' => 1],
        ];
        $rows['cue'] = [
            ['id' => 'q', 'timeline' => 't1', 'time' => 5, 'number' => '1', 'name' => 'Q', 'holds' => true],
        ];

        return $rows;
    }

    private static function update(string $kind, string $id, array $fields): array
    {
        return [
            'kind' => $kind,
            'id' => $id,
            'op' => 'update',
            'fields' => array_map(static fn (mixed $v): array => ['before' => null, 'after' => $v], $fields),
        ];
    }

    /**
     * @return list<list<array{kind: string, id: string, op: string, fields: array<string, array{before?: mixed, after?: mixed}>}>>
     */
    private static function edits(): array
    {
        $delete = static fn (string $kind, string $id): array => [
            'kind' => $kind,
            'id' => $id,
            'op' => 'delete',
            'fields' => [],
        ];
        $create = static fn (string $kind, string $id, array $fields): array => ['op' => 'create'] +
            self::update($kind, $id, $fields);

        return [
            [self::update('clip', 'c0', ['start' => 4000])],
            [self::update('layer', 'l1', ['values.opacity' => 0.25, 'values.scale' => 2.0])],
            [self::update('layer', 'l1', ['values.opacity' => null])],
            [self::update('panel', 'p', ['widthPx' => 40])],
            [self::update('surface', 'w1', ['name' => 'Renamed'])],
            [$delete('media', 'm3')],
            [
                $create('media', 'm3', [
                    'name' => 'Back',
                    'kind' => 'solid',
                    'colour' => '#0000ff',
                    'width' => 3,
                    'height' => 3,
                ]),
            ],
            [$delete('clip', 'c2'), $delete('curve', 'k2'), $delete('route', 'u2'), $delete('layer', 'l2')],
            [
                $create('layer', 'l9', [
                    'timeline' => 't1',
                    'name' => 'New',
                    'order' => -1,
                    'route' => 'u0',
                    'values' => [],
                ]),
                $create('clip', 'c9', [
                    'layer' => 'l9',
                    'media' => 'm1',
                    'start' => 0,
                    'length' => 50,
                    'in' => 0,
                    'pastEnd' => 'loop',
                ]),
            ],
            [self::update('timeline', 't1', ['order' => -1])],
            [self::update('curve', 'k1', ['keyframes' => [['t' => 5, 'v' => 7]]])],
            [$delete('rig', 'rig')],
            [self::update('surface', 'w2', ['cells' => [['gone']]])],
            [$delete('region', 'r0'), $delete('output', 'o0')],
            [self::update('show', 's', ['name' => 'Other', 'frameRate' => '50'])],
            [self::update('route', 'u1', ['surfaces' => []])],
        ];
    }

    public function test_after_every_edit_it_is_the_show_that_its_rows_make(): void
    {
        $document = Document::of(self::HEAD, self::rows());
        $compiler = new PlanCompiler();
        $cache = new ResultCache();
        $plan = Plan::empty()->with($compiler->compile($document->show, 0));
        $figures = Figures::of($document->show, $cache);
        $head = self::HEAD;
        foreach (self::edits() as $n => $changes) {
            $document = $document->with($document->changedRows($changes));
            $bundle = $compiler->compile($document->show, $n + 1);
            $plan = $plan->with(Bundle::fromBytes($bundle->toBytes()));
            $head = $changes[0]['kind'] === 'show' ? ['id' => 's', 'name' => 'Other', 'frameRate' => '50'] : $head;
            $scratch = Document::of($head, array_map(array_values(...), $document->rows));
            self::assertEquals($scratch->show->venue, $document->show->venue, "edit $n");
            self::assertEquals($scratch->show->delivery, $document->show->delivery, "edit $n");
            self::assertEqualsCanonicalizing(
                array_column($scratch->show->broken, 'message'),
                array_column($document->show->broken, 'message'),
                "edit $n",
            );
            $fresh = new PlanCompiler();
            $fresh->compile($scratch->show, 0);
            [$expected, $found] = [$fresh->plan(), $plan];
            self::assertEqualsWithDelta(self::sorted($expected->parts), self::sorted($found->parts), 1e-12, "edit $n");
            self::assertEqualsWithDelta(self::sorted($expected->tracks), self::sorted($found->tracks), 1e-4, "edit $n");
            $next = Figures::of($document->show, $cache);
            $whole = Figures::of($scratch->show);
            self::assertEquals(self::sorted($whole), self::sorted($next), "edit $n");
            // What is told of the difference brings a window from the one to the other.
            foreach (Figures::difference($figures, $next) as $group => $entries) {
                $figures[$group] = is_array($entries)
                    ? array_filter(array_merge($figures[$group], $entries), static fn (mixed $e): bool => $e !== null)
                    : $entries;
            }
            self::assertEquals(self::sorted($next), self::sorted($figures), "edit $n");
        }
    }

    private static function sorted(array $map): array
    {
        ksort($map);

        return array_map(
            static fn (mixed $v): mixed => is_array($v) && ! array_is_list($v) ? self::sorted($v) : $v,
            $map,
        );
    }

    public function test_an_edit_remakes_only_what_depends_on_it(): void
    {
        $document = Document::of(self::HEAD, self::rows());
        $compiler = new PlanCompiler();
        $compiler->compile($document->show, 0);
        $after = static function (array $changes) use (&$document, $compiler): array {
            $document = $document->with($document->changedRows($changes));
            $bundle = $compiler->compile($document->show, 1);

            return [...array_keys($bundle->parts), ...array_keys($bundle->tracks)];
        };
        $before = $document->show;
        self::assertSame(['layer:l0/media'], $after([self::update('clip', 'c0', ['start' => 10])]));
        self::assertSame($before->venue, $document->show->venue);
        self::assertSame($before->programme->layer('l1'), $document->show->programme->layer('l1'));
        self::assertSame([], $after([self::update('layer', 'l1', ['name' => 'Renamed'])]));
        self::assertSame(['layer:l1/opacity'], $after([self::update('layer', 'l1', ['values.opacity' => 0.75])]));
        self::assertSame(
            ['layer:l1/x'],
            $after([self::update('curve', 'k1', ['keyframes' => [['t' => 1, 'v' => 2]]])]),
        );
        self::assertSame([], $after([self::update('rig', 'rig', ['position' => [4, 4, 4]])]));
        self::assertSame(
            ['layer:l2', 'contribution:l3@w0'],
            $after([self::update('layer', 'l2', ['order' => 9]), self::update('route', 'u3', ['surfaces' => ['w3']])]),
        );
        self::assertSame([], $after([self::update('surface', 'w1', ['position' => [9, 9, 9]])]));
        // A test card that is as large as its wall carries its name.
        self::assertSame(
            ['surface:w3', 'media:m2@w3'],
            $after([self::update('surface', 'w3', ['name' => 'Sea wall'])]),
        );
    }

    public function test_a_bundle_that_is_cut_is_refused(): void
    {
        $bytes = (new PlanCompiler())->compile(Document::of(self::HEAD, self::rows())->show, 1)->toBytes();
        self::assertSame(0, (4 + unpack('V', $bytes)[1]) % 8);
        foreach ([0, 3, 10, 200] as $length) {
            try {
                Bundle::fromBytes(substr($bytes, 0, $length));
                self::fail("A bundle of $length bytes was read.");
            } catch (\UnexpectedValueException $cut) {
                self::assertStringContainsString('cut short', $cut->getMessage());
            }
        }
    }

    public function test_figures_are_made_again_only_for_what_changed(): void
    {
        $document = Document::of(self::HEAD, self::rows());
        $cache = new ResultCache();
        Figures::of($document->show, $cache);
        $made = $cache->made;
        Figures::of($document->show, $cache);
        self::assertSame($made, $cache->made);
        $document = $document->with(
            $document->changedRows([self::update('surface', 'w1', ['feeding' => ['volts' => 110]])]),
        );
        Figures::of($document->show, $cache);
        self::assertGreaterThan($made, $cache->made);
        // What was laid out of the other walls, and what lands on them, is what it was.
        $surfaces = $document->show->venue->surfaces;
        $cache->get('wall w0', [$surfaces['w0']], self::notAgain(...));
        $cache->get('figures w2', [$surfaces['w2']], self::notAgain(...));
        $layer = $document->show->programme->layer('l0');
        self::assertNotNull($layer);
        $way = $document->show->programme->route($layer)?->toward('w0', null) ?? [];
        $cache->get(
            'placement l0 0 m0 w0 cover 0.5 0.5',
            [...$way, $document->show->library->media['m0'], $surfaces['w0']],
            self::notAgain(...),
        );
    }

    public function test_a_media_knows_how_many_clips_use_it_and_an_edit_tells_only_those_that_differ(): void
    {
        $document = Document::of(self::HEAD, self::rows());
        $before = Figures::of($document->show);
        $clips = array_count_values(array_column(self::rows()['clip'], 'media'));
        foreach (self::rows()['media'] as ['id' => $id]) {
            self::assertSame($clips[$id] ?? 0, $before['media'][$id]['clips'], $id);
        }
        $gone = self::rows()['clip'][0];
        $after = Figures::of($document->with(['clip' => [$gone['id'] => null]])->show);
        self::assertSame(
            [$gone['media'] => $clips[$gone['media']] - 1],
            array_map(static fn (array $told): int => $told['clips'], Figures::difference($before, $after)['media']),
        );
        self::assertSame([], Figures::of(Document::of(self::HEAD, [])->show)['media']);
        $alone = Document::of(self::HEAD, ['media' => self::rows()['media']]);
        self::assertSame([0], array_values(array_unique(array_column(Figures::of($alone->show)['media'], 'clips'))));
        self::assertSame(
            array_fill_keys(array_keys($before['media']), null),
            Figures::difference($before, Figures::of(Document::of(self::HEAD, [])->show))['media'],
        );
    }

    private static function notAgain(): mixed
    {
        throw new \LogicException('Something was made again that did not change.');
    }

    public function test_aiming_changes_a_layers_own_route_or_gives_it_one(): void
    {
        $show = Document::of(
            self::HEAD,
            [
                'route' => [['id' => 'named', 'name' => 'Shared', 'surfaces' => ['w0']], ...self::rows()['route']],
                'layer' => [
                    ...self::rows()['layer'],
                    ['id' => 'l8', 'timeline' => 't0', 'name' => 'L 8', 'order' => 1, 'route' => 'named'],
                ],
            ] + self::rows(),
        )->show;
        $id = static fn (): string => 'new';
        self::assertSame(
            [
                [
                    'kind' => 'route',
                    'id' => 'u0',
                    'op' => 'update',
                    'fields' => ['surfaces' => ['before' => ['w0', 'w1'], 'after' => ['w3']]],
                ],
            ],
            Aiming::changes($show, ['l0'], ['w3', 'w3'], $id),
        );
        self::assertSame([], Aiming::changes($show, ['l0'], ['w0', 'w1'], $id));
        $given = Aiming::changes($show, ['l8'], ['w2'], $id);
        self::assertSame(
            [['route', 'create'], ['layer', 'update']],
            array_map(static fn (array $c): array => [$c['kind'], $c['op']], $given),
        );
        self::assertSame(['before' => 'named', 'after' => 'new'], $given[1]['fields']['route']);
        $this->expectException(InvalidValue::class);
        Aiming::changes($show, ['l0'], ['nowhere'], $id);
    }

    public function test_kinds_are_listed_once_with_parents_views_and_values(): void
    {
        self::assertCount(37, Schema::names());
        self::assertEqualsCanonicalizing(['point', 'check'], Schema::children('projector'));
        self::assertSame(
            ['clip', 'control', 'effect', 'route'],
            (static function (array $k): array {
                sort($k);

                return $k;
            })(Schema::children('layer')),
        );
        self::assertSame(
            ['master', 'media', 'timeline', 'layer', 'route', 'share', 'lens', 'effect', 'patch'],
            array_keys(Schema::propertySets()),
        );
        foreach (Schema::all() as $name => $kind) {
            self::assertContains(
                $kind->view(),
                ['venue', 'media', 'routes', 'timeline', 'cues', 'outputs', 'bindings'],
                $name,
            );
            foreach (Schema::parents($name) as $parent) {
                self::assertTrue(isset(Schema::all()[$parent], $kind->fields()[$parent]), $name);
            }
            self::assertTrue(
                $kind->parent() === null || isset(Schema::all()[$kind->parent()], $kind->fields()[$kind->parent()]),
                $name,
            );
        }
        self::assertSame(Flicks::PER_SECOND, Show::fromRows(self::HEAD, [])->rate->flicksPerFrame * 25);
    }
}
