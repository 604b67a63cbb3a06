<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Show\Changes;
use Core\Show\Document;
use Core\Show\RegionEditing;
use Core\Units\InvalidValue;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Regions beside one another: groups, overlaps by a measure, and fades where they overlap. */
final class RegionEditingTest extends TestCase
{
    /** @return array<string, list<array<string, mixed>>> a face of 400 × 250 px, 4 × 2.5 m, and regions of it on two outputs */
    private static function rows(): array
    {
        $region = static fn (string $id, string $output, array $source, array $more = []): array => $more + [
            'id' => $id,
            'output' => $output,
            'surface' => 'face',
            'source' => $source,
            'x' => 0,
            'y' => 0,
            'width' => 0,
            'height' => 0,
        ];

        return [
            'surface' => [
                [
                    'id' => 'face',
                    'name' => 'Face',
                    'kind' => 'flat',
                    'position' => [1, 2, -10],
                    'rotation' => [20, 0, 0],
                    'shape' => ['width' => 4, 'height' => 2.5, 'pixelsPerMetre' => 100],
                ],
                [
                    'id' => 'other',
                    'name' => 'Other',
                    'kind' => 'flat',
                    'position' => [0, 0, 0],
                    'rotation' => [0, 0, 0],
                    'shape' => ['width' => 1, 'height' => 1, 'pixelsPerMetre' => 100],
                ],
            ],
            'output' => [
                ['id' => 'one', 'name' => 'One', 'width' => 1280, 'height' => 800, 'refresh' => 60],
                ['id' => 'two', 'name' => 'Two', 'width' => 1280, 'height' => 800, 'refresh' => 60],
            ],
            'region' => [
                $region('a', 'one', [0, 0, 200, 250], ['x' => 5, 'y' => 7]),
                $region(
                    'b',
                    'two',
                    [200, 0, 200, 250],
                    [
                        'x' => 300,
                        'y' => 40,
                        'width' => 400,
                        'height' => 500,
                        'pin' => [10, 5, -20, 8, -6, -12, 3, -4],
                    ],
                ),
                $region('c', 'one', [0, 100, 120, 150], ['x' => 600, 'turn' => 90, 'mirror' => true]),
                $region('top', 'two', [10, 0, 120, 110], ['x' => 900]),
                $region(
                    'bent',
                    'two',
                    [180, 0, 100, 100],
                    [
                        'columns' => [0, 1],
                        'rows' => [0, 1],
                        'points' => array_merge(
                            ...array_map(
                                static fn (int $k): array => [($k % 4) / 3, intdiv($k, 4) / 3 + 0.1],
                                range(0, 15),
                            ),
                        ),
                    ],
                ),
                ['surface' => 'other'] + $region('far', 'one', [0, 0, 100, 100]),
            ],
        ];
    }

    /** @param  array<string, list<array<string, mixed>>>|null  $rows */
    private static function document(?array $rows = null): Document
    {
        return Document::of(['id' => 'show', 'name' => 'Test', 'frameRate' => '25'], $rows ?? self::rows());
    }

    private static function editing(Document $document): RegionEditing
    {
        return new RegionEditing($document->show, $document);
    }

    /** @param  list<array<string, mixed>>  $changes */
    private static function after(Document $document, array $changes): Document
    {
        return $document->with($document->changedRows(Changes::merged($changes)));
    }

    public function test_two_regions_share_what_they_are_told_and_nothing_that_they_showed_moves(): void
    {
        $before = self::document();
        $after = self::after($before, self::editing($before)->overlap('b', 'a', 41, 'px'));
        [$a, $b] = [$after->show->delivery->region('a')[0] ?? null, $after->show->delivery->region('b')[0] ?? null];
        self::assertNotNull($a);
        self::assertNotNull($b);
        self::assertSame([0, 221], [$a->source->x, $a->source->x + $a->source->width]);
        self::assertSame([180, 400], [$b->source->x, $b->source->x + $b->source->width]);
        self::assertSame([0.0, 0.0, 41.0, 0.0], $a->blend->widths);
        self::assertSame([41.0, 0.0, 0.0, 0.0], $b->blend->widths);
        self::assertTrue($a->isOneToOne());
        foreach (['a' => [[0, 0], [200, 250], [37, 91]], 'b' => [[200, 0], [400, 250], [311, 17]]] as $id => $places) {
            foreach ($places as [$x, $y]) {
                self::assertEqualsWithDelta(
                    $before->show->delivery->region($id)[0]->lands($x, $y),
                    $after->show->delivery->region($id)[0]->lands($x, $y),
                    1e-9,
                    "$id $x, $y",
                );
            }
        }
        // Apart again: they touch, and fade no more.
        $apart = self::after($after, self::editing($after)->overlap('a', 'b', 0, 'px'));
        self::assertSame([0.0, 0.0, 0.0, 0.0], $apart->show->delivery->region('b')[0]->blend->widths);
        self::assertSame(
            $apart->show->delivery->region('a')[0]->source->width,
            $apart->show->delivery->region('b')[0]->source->x,
        );
        // A tenth of 200 px; 300 mm of 10 mm a pixel.
        foreach ([[10, '%', 20], [300, 'mm', 30]] as [$amount, $unit, $px]) {
            $by = self::after($before, self::editing($before)->overlap('a', 'b', $amount, $unit));
            self::assertSame([0.0, 0.0, (float) $px, 0.0], $by->show->delivery->region('a')[0]->blend->widths);
        }
    }

    public function test_a_turned_and_mirrored_region_grows_the_right_way(): void
    {
        $before = self::document();
        // They have 10 of their rows in common, 100 to 110; 30 are 90 to 120.
        $after = self::after($before, self::editing($before)->overlap('c', 'top', 30, 'px'));
        [$top, $c] = [$after->show->delivery->region('top')[0] ?? null, $after->show->delivery->region('c')[0] ?? null];
        self::assertSame([10, 0, 120, 120], array_values(get_object_vars($top->source)));
        self::assertSame([0, 90, 120, 160], array_values(get_object_vars($c->source)));
        self::assertSame([0.0, 30.0, 0.0, 0.0], $c->blend->widths);
        // 200 of 250: the upper one can go on to 205, the lower one begins at 5.
        $far = self::after($before, self::editing($before)->overlap('c', 'top', 200, 'px'));
        self::assertSame([0, 5, 120, 245], array_values(get_object_vars($far->show->delivery->region('c')[0]->source)));
        // As much as there is.
        $all = self::after($before, self::editing($before)->overlap('c', 'top', 250, 'px'));
        self::assertSame(
            [10, 0, 120, 250],
            array_values(get_object_vars($all->show->delivery->region('top')[0]->source)),
        );
        foreach ([[0, 100], [120, 250], [33, 140]] as [$x, $y]) {
            self::assertEqualsWithDelta(
                $before->show->delivery->region('c')[0]->lands($x, $y),
                $c->lands($x, $y),
                1e-9,
            );
        }
    }

    public function test_another_part_is_taken_and_where_it_goes_stays(): void
    {
        $rows = self::rows();
        $rows['region'][1]['polygon'] = [210, 20, 390, 20, 300, 240];
        $before = self::document($rows);
        $after = self::after($before, self::editing($before)->sources(['b' => [100, 50, 100, 125]]));
        [$was, $is] = [$before->show->delivery->region('b')[0] ?? null, $after->show->delivery->region('b')[0] ?? null];
        self::assertNotNull($was);
        self::assertNotNull($is);
        self::assertEquals($was->corners(), $is->corners());
        // The polygon goes along: half as large, from 200, 0 to 100, 50.
        self::assertEquals([[105, 60], [195, 60], [150, 170]], $is->polygon);
        // What is in the middle of the one is in the middle of the other.
        self::assertEqualsWithDelta($was->lands(300, 125), $is->lands(150, 112.5), 1e-9);
        // Pixel for pixel stays pixel for pixel; what is pinned keeps its place.
        $made = self::editing($before)->sources(['a' => [10, 10, 50, 60], 'bent' => [0, 0, 50, 50]]);
        $after = self::after($before, $made);
        self::assertTrue($after->show->delivery->region('a')[0]?->isOneToOne());
        self::assertEquals(
            $before->show->delivery->region('bent')[0]?->place,
            $after->show->delivery->region('bent')[0]?->place,
        );
        // It may reach past the picture: a finding says so.
        self::assertCount(1, self::editing($before)->sources(['a' => [-1, 0, 500, 10]]));
        foreach (['width' => [0, 0, 0, 10], 'x' => [70_000, 0, 9, 9], 'source' => [1, 2, 3]] as $field => $bad) {
            try {
                self::editing($before)->sources(['a' => $bad]);
                self::fail('It is refused.');
            } catch (InvalidValue $refused) {
                self::assertSame($field, $refused->field);
            }
        }
    }

    public function test_a_piece_that_is_drawn_goes_to_the_middle_of_its_output(): void
    {
        $document = self::document();
        $after = self::after($document, self::editing($document)->piece('face', 'two', [40.4, 20, 100, 300], 'new'));
        $region = $after->show->delivery->region('new')[0] ?? null;
        self::assertNotNull($region);
        // What leaves the picture is cut off.
        self::assertEquals([40, 20, 100, 230], array_values(get_object_vars($region->source)));
        self::assertSame([590, 285], [$region->place->x, $region->place->y]);
        $this->expectException(InvalidValue::class);
        self::editing($document)->piece('face', 'two', [500, 0, 10, 10], 'new');
    }

    public function test_two_regions_are_compared_in_halves_where_they_meet(): void
    {
        // They meet at 200 in a face 250 high; a quarter of 200 px either way, and as high, in the middle.
        $halves = self::editing(self::document())->halves('a', 'b');
        self::assertSame(['a' => [150.0, 100.0, 50.0, 50.0], 'b' => [200.0, 100.0, 50.0, 50.0]], $halves);
        self::assertEquals($halves, self::editing(self::document())->halves('b', 'a'));
        // Where they overlap by 40, in the middle of that.
        $rows = self::rows();
        $rows['region'][0]['source'] = [0, 0, 220, 250];
        $rows['region'][1]['source'] = [180, 0, 220, 250];
        self::assertSame(
            ['a' => [145.0, 97.5, 55.0, 55.0], 'b' => [200.0, 97.5, 55.0, 55.0]],
            self::editing(self::document($rows))->halves('a', 'b'),
        );
        // Apart, each at its own edge.
        $rows['region'][0]['source'] = [0, 0, 100, 250];
        $rows['region'][1]['source'] = [300, 0, 100, 250];
        self::assertSame(
            ['a' => [75.0, 112.5, 25.0, 25.0], 'b' => [300.0, 112.5, 25.0, 25.0]],
            self::editing(self::document($rows))->halves('a', 'b'),
        );
        // Above one another.
        $rows['region'][0]['source'] = [0, 0, 100, 120];
        $rows['region'][1]['source'] = [20, 120, 100, 100];
        self::assertSame(
            ['a' => [47.5, 95.0, 25.0, 25.0], 'b' => [47.5, 120.0, 25.0, 25.0]],
            self::editing(self::document($rows))->halves('a', 'b'),
        );
    }

    public function test_an_output_is_brought_to_another_one_in_steps(): void
    {
        $rows = self::rows();
        $rows['output'][0] += ['peak' => 0.5, 'gain' => [1, 0.8, 0.6]];
        $changes = self::editing(self::document($rows))->eye('a', 'b', 2, 0, 0);
        self::assertCount(1, $changes, 'the other one has nothing to give way');
        self::assertSame('one', $changes[0]['id']);
        self::assertEqualsWithDelta(0.5 * exp(0.02), $changes[0]['fields']['peak']['after'], 1e-12);
        // At its most, the other one gives way.
        $changes = self::editing(self::document())->eye('b', 'a', 5, 0, 0);
        $peaks = array_column(array_column(array_column($changes, 'fields', 'id'), 'peak'), 'after');
        self::assertSame(['two', 'one'], array_column($changes, 'id'));
        self::assertEqualsWithDelta([1.0, exp(-0.05)], $peaks, 1e-12);
        $this->expectExceptionMessage('Both leave by one output');
        self::editing(self::document())->eye('a', 'c', 1, 0, 0);
    }

    public function test_edges_fade_where_the_others_overlap(): void
    {
        $document = self::document();
        $document = self::after($document, self::editing($document)->overlap('a', 'b', 40, 'px'));
        $row = $document->rows['region']['a'];
        $document = self::after(
            $document,
            Changes::update('region', 'a', $row, ['blend' => ['top' => 9, 'curve' => 3, 'right' => 1]]),
        );
        $faded = self::after($document, self::editing($document)->fade(['a', 'b', 'c', 'top', 'far']));
        $widths = static fn (string $id): array => $faded->show->delivery->region($id)[0]->blend->widths;
        // Those in the left half lie within a, and are not beside it; they have ten rows in common.
        self::assertSame([0.0, 0.0, 40.0, 0.0], $widths('a'));
        self::assertSame([40.0, 0.0, 0.0, 0.0], $widths('b'));
        self::assertSame([[0.0, 10.0, 0.0, 0.0], [0.0, 0.0, 0.0, 10.0]], [$widths('c'), $widths('top')]);
        self::assertSame([0.0, 0.0, 0.0, 0.0], $widths('far'));
        self::assertSame(3.0, $faded->show->delivery->region('a')[0]->blend->curve);
    }

    public function test_groups_hold_regions_and_one_another_but_not_themselves(): void
    {
        $document = self::document();
        $document = self::after($document, self::editing($document)->group(['a', 'b'], 'House', 'house'));
        self::assertSame('house', $document->rows['region']['a']['group']);
        // Both of one group: the new one lies in it. Of several: in none.
        $document = self::after($document, self::editing($document)->group(['a', 'b'], 'Windows', 'windows'));
        self::assertSame(
            ['house', 1],
            [$document->rows['regionGroup']['windows']['parent'], $document->rows['regionGroup']['windows']['order']],
        );
        $mixed = self::after($document, self::editing($document)->group(['a', 'c'], 'Mixed', 'mixed'));
        self::assertNull($mixed->rows['regionGroup']['mixed']['parent']);
        $document = self::after($document, self::editing($document)->gather(['a', 'c'], null));
        self::assertSame(
            [null, 'windows'],
            [$document->rows['region']['a']['group'], $document->rows['region']['b']['group']],
        );
        $out = self::after($document, self::editing($document)->nest('windows', null));
        self::assertNull($out->rows['regionGroup']['windows']['parent']);
        foreach (['windows', 'house'] as $into) {
            try {
                self::editing($document)->nest('house', $into);
                self::fail("went into $into");
            } catch (InvalidValue $refused) {
                self::assertSame("House can't lie in itself.", $refused->getMessage());
            }
        }
    }

    /** @return iterable<string, array{\Closure(RegionEditing): mixed}> */
    public static function refused(): iterable
    {
        yield 'of two surfaces' => [static fn (RegionEditing $e) => $e->overlap('a', 'far', 4, 'px')];
        yield 'less than nothing' => [static fn (RegionEditing $e) => $e->overlap('a', 'b', -1, 'px')];
        yield 'without end' => [static fn (RegionEditing $e) => $e->overlap('a', 'b', INF, 'px')];
        yield 'a unit of none' => [static fn (RegionEditing $e) => $e->overlap('a', 'b', 1, 'furlong')];
        yield 'more than there is' => [static fn (RegionEditing $e) => $e->overlap('a', 'b', 401, 'px')];
        yield 'a bent one' => [static fn (RegionEditing $e) => $e->overlap('a', 'bent', 10, 'px')];
        yield 'one that is not there' => [static fn (RegionEditing $e) => $e->overlap('a', 'nowhere', 10, 'px')];
        yield 'no overlap' => [static fn (RegionEditing $e) => $e->fade(['a', 'b'])];
        yield 'none at all' => [static fn (RegionEditing $e) => $e->fade([])];
        yield 'the same twice' => [static fn (RegionEditing $e) => $e->fade(['a', 'a'])];
        yield 'no such group' => [static fn (RegionEditing $e) => $e->gather(['a'], 'nowhere')];
        yield 'into no group' => [static fn (RegionEditing $e) => $e->nest('nowhere', null)];
    }

    /** @param  \Closure(RegionEditing): mixed  $do */
    #[DataProvider('refused')]
    public function test_what_can_not_be_done_is_refused(\Closure $do): void
    {
        $this->expectException(InvalidValue::class);
        $do(self::editing(self::document()));
    }
}
