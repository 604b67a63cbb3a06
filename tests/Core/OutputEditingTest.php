<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Exchange\Csv;
use Core\Output\Connector;
use Core\Output\Output;
use Core\Output\Rect;
use Core\Output\Server;
use Core\Paperwork\RegionSheet;
use Core\Preflight\Figures;
use Core\Preflight\Preflight;
use Core\Show\Changes;
use Core\Show\Document;
use Core\Show\OutputEditing;
use Core\Show\Projections;
use Core\Units\InvalidValue;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What is done to outputs by hand, as edits of rows; and what is told of them. */
final class OutputEditingTest extends TestCase
{
    private const HEAD = ['id' => 'show', 'name' => 'Test', 'frameRate' => '25'];

    private const LENS = ['widthPx' => 800, 'heightPx' => 500, 'throw' => 1.5];

    /** @return array<string, list<array<string, mixed>>> two walls, a face, a projector, two outputs */
    private static function rows(): array
    {
        $standing = ['position' => [0, 0, 0], 'rotation' => [0, 0, 0]];
        $region = static fn (
            string $id,
            string $output,
            string $surface,
            array $source,
            int $x,
            int $y,
            array $more = [],
        ): array => $more + [
            'id' => $id,
            'output' => $output,
            'surface' => $surface,
            'source' => $source,
            'x' => $x,
            'y' => $y,
            'width' => 0,
            'height' => 0,
            'turn' => 0,
            'pin' => [],
            'columns' => [],
            'rows' => [],
            'points' => [],
            'blend' => [],
            'model' => '',
            'modelOf' => '',
        ];

        return [
            'panel' => [
                [
                    'id' => 'panel',
                    'name' => 'P',
                    'widthMm' => 500,
                    'heightMm' => 500,
                    'widthPx' => 64,
                    'heightPx' => 32,
                    'kilograms' => 1,
                    'wattsAverage' => 1,
                    'wattsMaximum' => 2,
                ],
            ],
            'surface' => [
                $standing + [
                    'id' => 'wall',
                    'name' => 'Wall',
                    'cells' => [['panel', 'panel', 'panel']],
                    'seams' => [0, 0],
                ],
                $standing + ['id' => 'wing', 'name' => 'Wing', 'cells' => [['panel'], ['panel']], 'seams' => []],
                [
                    'id' => 'face',
                    'name' => 'Face',
                    'kind' => 'flat',
                    'position' => [0, 0, -10],
                    'rotation' => [0, 0, 0],
                    'shape' => ['width' => 4, 'height' => 2.5, 'pixelsPerMetre' => 100],
                ],
            ],
            'projector' => [
                [
                    'id' => 'p',
                    'name' => 'P',
                    'position' => [0, 1.25, -4],
                    'rotation' => [0, 0, 0],
                    'lens' => self::LENS,
                    'lumens' => 10000,
                    'aims' => ['face'],
                ],
            ],
            'server' => [['id' => 'srv', 'name' => 'Quay', 'role' => 'main']],
            'output' => [
                [
                    'id' => 'led',
                    'name' => 'LED',
                    'width' => 640,
                    'height' => 480,
                    'refresh' => 60,
                    'server' => 'srv',
                    'connector' => 'hdmi-2.0',
                ],
                ['id' => 'two', 'name' => 'Two', 'width' => 640, 'height' => 480, 'refresh' => 60],
                ['id' => 'pro', 'name' => 'Projector', 'width' => 1600, 'height' => 500, 'refresh' => 60],
            ],
            'feed' => [
                [
                    'id' => 'f',
                    'output' => 'pro',
                    'name' => 'Right half',
                    'role' => 'projector',
                    'projector' => 'p',
                    'part' => [800, 0, 800, 500],
                ],
            ],
            'region' => [
                $region('r1', 'led', 'wall', [0, 0, 192, 32], 5, 7),
                $region('r2', 'two', 'wing', [0, 0, 64, 64], 11, 13),
            ],
        ];
    }

    private static int $ids = 0;

    private static function editing(Document $document): OutputEditing
    {
        return new OutputEditing($document->show, $document, static fn (): string => 'new'.++self::$ids);
    }

    /** @param  list<array<string, mixed>>  $changes */
    private static function after(Document $document, array $changes): Document
    {
        return $document->with($document->changedRows(Changes::merged($changes)));
    }

    public function test_surfaces_are_put_where_there_is_room(): void
    {
        $document = Document::of(self::HEAD, self::rows());
        [$changes, $first] = self::editing($document)->put('led', ['wing', 'face']);
        self::assertCount(2, $changes);
        $after = self::after($document, $changes);
        $regions = $after->show->delivery->regions['led'];
        self::assertArrayHasKey((string) $first, $regions);
        $places = array_map(static fn ($r): Rect => $r->place, array_values($regions));
        foreach ($places as $i => $a) {
            foreach (array_slice($places, $i + 1) as $b) {
                self::assertNull($a->overlap($b));
            }
        }
        // Full: it lands at the top left all the same, and a finding says that it lies on others.
        $full = self::after($after, self::editing($after)->put('led', ['face', 'face'])[0]);
        self::assertNotEmpty(
            array_filter(Preflight::of($full->show), static fn ($f): bool => str_contains($f->message, ' overlap on ')),
        );
        self::assertSame([[], null], self::editing($document)->put('led', []));
    }

    public function test_packing_uses_as_few_outputs_as_it_can_and_keeps_what_is_pinned(): void
    {
        $rows = self::rows();
        $document = Document::of(self::HEAD, $rows);
        [$changes, $packed] = self::editing($document)->pack(['led', 'two'], false, 0, null);
        $after = self::after($document, $changes);
        self::assertCount(2, $after->show->delivery->regions['led'], 'both fit on the first');
        self::assertSame([], $after->show->delivery->regions['two']);
        self::assertEqualsWithDelta((192 * 32 + 64 * 64) / (640 * 480), $packed['used']['led'], 1e-12);
        foreach ($after->show->delivery->regions['led'] as $region) {
            self::assertSame([0, 0], [$region->place->x % 64, $region->place->y % 32], 'on the panel grid');
        }
        $rows['region'][1]['pinned'] = true;
        $pinned = Document::of(self::HEAD, $rows);
        $kept = self::after($pinned, self::editing($pinned)->pack(['led', 'two'], true, 4, [1, 1])[0]);
        self::assertSame(
            [11, 13],
            [
                $kept->show->delivery->regions['two']['r2']->place->x,
                $kept->show->delivery->regions['two']['r2']->place->y,
            ],
        );
        // Packed again, nothing changes.
        self::assertSame([], self::editing($after)->pack(['led', 'two'], false, 0, null)[0]);
    }

    public function test_an_output_is_split_without_losing_what_it_fed(): void
    {
        $document = Document::of(self::HEAD, self::rows());
        $after = self::after($document, self::editing($document)->split('pro', 3, 1));
        $feeds = $after->show->delivery->feeds['pro'];
        self::assertCount(3, $feeds);
        self::assertSame('p', $feeds['f']->projector, 'the one that was there keeps its projector');
        $parts = array_map(
            static fn ($f): array => array_values(get_object_vars($f->part($after->show->delivery->outputs['pro']))),
            array_values($feeds),
        );
        self::assertSame(1600, array_sum(array_column($parts, 2)), 'every column of pixels is fed once');
        $whole = self::after($after, self::editing($after)->split('pro', 1, 1));
        self::assertNull($whole->show->delivery->feeds['pro']['f']->part);
    }

    public function test_a_region_is_fitted_to_what_its_device_is_fed(): void
    {
        $document = Document::of(self::HEAD, self::rows());
        $document = self::after($document, self::editing($document)->project('face'));
        $id = (string) array_key_first($document->show->delivery->regions['pro']);
        $region = $document->show->delivery->regions['pro'][$id];
        self::assertSame([800, 0, 800, 500], array_values(get_object_vars($region->place)));
        self::assertSame([], self::editing($document)->project('face'), 'once');
        $native = self::after($document, self::editing($document)->fit($id, 'one-to-one'));
        self::assertTrue($native->show->delivery->regions['pro'][$id]->isOneToOne());
        // 400 × 250 into 800 × 500: twice as large, and of the same shape.
        $contained = self::after($native, self::editing($native)->fit($id, 'contain'));
        self::assertSame(
            [800, 500],
            [
                $contained->show->delivery->regions['pro'][$id]->place->width,
                $contained->show->delivery->regions['pro'][$id]->place->height,
            ],
        );
    }

    public function test_regions_move_turn_and_grow_together(): void
    {
        $document = Document::of(self::HEAD, self::rows());
        $moved = self::after($document, self::editing($document)->together(['r1', 'r2'], [10, -3], 0, 1));
        self::assertSame(
            [15, 4, []],
            [
                $moved->show->delivery->regions['led']['r1']->place->x,
                $moved->show->delivery->regions['led']['r1']->place->y,
                $moved->show->delivery->regions['led']['r1']->pin,
            ],
            'whole pixels stay whole',
        );
        // A quarter turn of one about its own middle: its top left goes to its top right.
        $turned = self::after($document, self::editing($document)->together(['r2'], [0, 0], 90, 1));
        $corners = $turned->show->delivery->regions['two']['r2']->corners();
        self::assertEqualsWithDelta([11 + 64, 13], $corners[0], 1e-9);
        self::assertEqualsWithDelta([11 + 64, 13 + 64], $corners[1], 1e-9);
        // Twice as large about the middle, and half again: as before.
        $large = self::after($document, self::editing($document)->together(['r2'], [0, 0], 0, 2));
        self::assertEqualsWithDelta(
            [11 - 32, 13 - 32],
            $large->show->delivery->regions['two']['r2']->corners()[0],
            1e-9,
        );
        $back = self::after($large, self::editing($large)->together(['r2'], [0, 0], 0, 0.5));
        self::assertEqualsWithDelta([11, 13], $back->show->delivery->regions['two']['r2']->corners()[0], 1e-9);
        self::assertSame([], self::editing($document)->together([], [1, 1], 0, 1));
    }

    public function test_a_line_without_a_place_halves_the_widest_part(): void
    {
        $document = Document::of(self::HEAD, self::rows());
        $columns = [];
        for ($i = 0; $i < 4; $i++) {
            $document = self::after($document, self::editing($document)->addLine('r1', 'column', null));
            $columns[] = $document->rows['region']['r1']['columns'];
        }
        self::assertEquals(
            [[0, 0.5, 1], [0, 0.25, 0.5, 1], [0, 0.25, 0.5, 0.75, 1], [0, 0.125, 0.25, 0.5, 0.75, 1]],
            $columns,
        );
        $document = self::after($document, self::editing($document)->addLine('r1', 'row', 0.2));
        $document = self::after($document, self::editing($document)->addLine('r1', 'row', null));
        self::assertEqualsWithDelta([0, 0.2, 0.6, 1], $document->rows['region']['r1']['rows'], 1e-12);
    }

    public function test_a_point_is_moved_on_the_output_also_where_it_is_pinned(): void
    {
        $document = Document::of(self::HEAD, self::rows());
        $document = self::after($document, self::editing($document)->pin('r1', [0 => [20.0, 6.0], 1 => [-10.0, 2.0]]));
        $document = self::after($document, self::editing($document)->addLine('r1', 'column', 0.5));
        $before = Figures::of($document->show)['regions']['r1']['lattice'];
        $after = self::after($document, self::editing($document)->bend('r1', [3 => [2.5, -4.0]], false, 0));
        $lattice = Figures::of($after->show)['regions']['r1']['lattice'];
        self::assertEqualsWithDelta([$before[3][0] + 2.5, $before[3][1] - 4.0], $lattice[3], 1e-9);
        self::assertEqualsWithDelta($before[0], $lattice[0], 1e-9);
        // Without a line in between it is one patch again.
        $one = self::after($after, self::editing($after)->removeLine('r1', 'column', 1));
        self::assertCount(16, Figures::of($one->show)['regions']['r1']['lattice']);
        $copied = self::after($after, self::editing($after)->copy('r1', ['r2']));
        // Its pin is that of the other, in the shape of its own place.
        self::assertEqualsWithDelta(
            [(20.0 * 64) / 192, (6.0 * 64) / 32],
            $copied->show->delivery->regions['two']['r2']->pin[0],
            1e-9,
        );
        $plain = self::after($copied, self::editing($copied)->reset(['r1', 'r2'], 'all'));
        self::assertTrue(
            $plain->show->delivery->regions['led']['r1']->isPlain() &&
                $plain->show->delivery->regions['two']['r2']->isPlain(),
        );
    }

    public function test_alignment_points_are_made_of_a_surface_and_found_on_its_output(): void
    {
        $document = Document::of(self::HEAD, self::rows());
        $document = self::after($document, self::editing($document)->points('p', 'face'));
        $points = $document->show->delivery->points;
        self::assertCount(9, $points);
        $middle = (string) array_search('Face, middle', array_map(static fn ($p): string => $p->name, $points), true);
        self::assertEqualsWithDelta([0.0, 1.25, -10.0], $points[$middle]->place, 1e-9);
        // It is planned for the middle of the right half of the output.
        self::assertEqualsWithDelta([1200.0, 250.0], Figures::of($document->show)['points'][$middle]['expected'], 1e-9);
        self::assertNull(Figures::of($document->show)['points'][$middle]['found']);
        $found = self::after($document, self::editing($document)->found($middle, [1210.0, 240.0]));
        self::assertEqualsWithDelta(
            [410.0, 240.0],
            $found->show->delivery->points[$middle]->pixel,
            1e-9,
            'in pixels of the projector',
        );
        self::assertEqualsWithDelta([1210.0, 240.0], Figures::of($found->show)['points'][$middle]['found'], 1e-9);
        $again = self::after($found, self::editing($found)->found($middle, null));
        self::assertNull($again->show->delivery->points[$middle]->pixel);
        $gone = $document->with(['projector' => ['p' => null]]);
        self::assertSame([], $gone->show->delivery->points);
        self::assertNotEmpty(
            array_filter(
                $gone->show->delivery->broken,
                static fn ($b): bool => str_contains($b->message, 'projector that Right half names was removed'),
            ),
        );
    }

    /** @return iterable<string, array{\Closure(OutputEditing): mixed}> */
    public static function refused(): iterable
    {
        yield 'an output that is not there' => [static fn (OutputEditing $e) => $e->put('nowhere', ['wall'])];
        yield 'a region that is not there' => [static fn (OutputEditing $e) => $e->fit('nowhere', 'contain')];
        yield 'a way to fit that there is not' => [static fn (OutputEditing $e) => $e->fit('r1', 'cover')];
        yield 'a copy onto nothing' => [static fn (OutputEditing $e) => $e->copy('r1', ['nowhere'])];
        yield 'points of no projector' => [static fn (OutputEditing $e) => $e->points('nowhere', 'face')];
        yield 'points of no surface' => [static fn (OutputEditing $e) => $e->points('p', 'nowhere')];
        yield 'a point that is not there' => [static fn (OutputEditing $e) => $e->found('nowhere', [1, 1])];
        yield 'projecting onto a wall' => [static fn (OutputEditing $e) => $e->project('wall')];
        yield 'projecting onto nothing' => [static fn (OutputEditing $e) => $e->project('nowhere')];
        yield 'growing by nothing' => [static fn (OutputEditing $e) => $e->together(['r1'], [0, 0], 0, 0)];
        yield 'a guard of a thousand and one' => [static fn (OutputEditing $e) => $e->pack(['led'], false, 1001, null)];
        yield 'taking out the edge' => [static fn (OutputEditing $e) => $e->removeLine('r1', 'row', 0)];
        yield 'no columns' => [static fn (OutputEditing $e) => $e->split('led', 0, 1)];
    }

    /** @param  \Closure(OutputEditing): mixed  $do */
    #[DataProvider('refused')]
    public function test_what_can_not_be_done_is_refused(\Closure $do): void
    {
        $this->expectException(InvalidValue::class);
        $do(self::editing(Document::of(self::HEAD, self::rows())));
    }

    public function test_a_sheet_goes_out_and_a_technicians_comes_back(): void
    {
        $document = Document::of(self::HEAD, self::rows());
        $table = RegionSheet::of($document->show);
        self::assertSame(RegionSheet::COLUMNS, $table->columns);
        self::assertSame(
            ['r1', 'Wall', 'Quay', 'LED', '', '5', '7', '192', '32', '0', 'no'],
            array_slice($table->rows[0], 0, 11),
        );
        // By id, by the name of the surface in any case, onto another output.
        self::assertSame(
            ['r1' => ['output' => 'two', 'x' => -4, 'y' => 0, 'turn' => 270]],
            RegionSheet::read($document->show, "region,output,x,y,turn\r\nr1,TWO,-4,0,270\r\n\r\n"),
        );
        self::assertSame(
            ['r2' => ['output' => 'two', 'x' => 11, 'y' => 99, 'turn' => 0]],
            RegionSheet::read($document->show, "SURFACE\tX\tY\nwing\t\t99\n"),
        );
        $same = RegionSheet::read($document->show, Csv::write([$table->columns, ...$table->rows]));
        self::assertSame([], self::editing($document)->place($same), 'our own sheet changes nothing');
    }

    public function test_signals_are_told_and_judged(): void
    {
        $figures = Figures::of(Document::of(self::HEAD, self::rows())->show)['outputs'];
        self::assertSame(
            ['CTA-861, VIC 1', 800, 525],
            [
                $figures['led']['timing']['rule'],
                $figures['led']['timing']['width'],
                $figures['led']['timing']['height'],
            ],
        );
        self::assertSame(25_200_000 * 24.0, $figures['led']['timing']['rate']);
        self::assertEqualsWithDelta((192 * 32) / (640 * 480), $figures['led']['used'], 1e-12);
        foreach (
            [
                ['connector' => 'scart'],
                ['timing' => 'ntsc'],
                ['bitDepth' => 9],
                ['gain' => [1, 1]],
                ['gain' => [1, 1, 2]],
                ['delay' => -1],
                ['gamma' => 0.5],
                ['black' => 0.6],
                ['peak' => 0],
            ] as $wrong
        ) {
            try {
                Output::fromRow($wrong + ['name' => 'O', 'width' => 100, 'height' => 100, 'refresh' => 60]);
                self::fail('was taken: '.json_encode($wrong));
            } catch (InvalidValue $refused) {
                self::assertContains($refused->field, array_keys($wrong));
            }
        }
        self::assertSame(Connector::None, Output::of('O', 10, 10, 60)->connector);
        $this->expectException(InvalidValue::class);
        Server::of('S', 'spare');
    }

    public function test_zones_where_squares_are_stretched_and_seams_fall(): void
    {
        $rows = self::rows();
        // Two projectors, each with the whole face's width for its picture, half a metre to either side: both light
        // −1.5 to 1.5 m.
        $rows['projector'] = array_map(
            static fn (int $i): array => ['id' => "p$i", 'position' => [$i - 0.5, 1.25, -4]] + $rows['projector'][0],
            [0, 1],
        );
        $rows['output'] = array_map(
            static fn (int $i): array => [
                'id' => "o$i",
                'name' => "O $i",
                'width' => 800,
                'height' => 500,
                'refresh' => 60,
            ],
            [0, 1],
        );
        $rows['feed'] = array_map(
            static fn (int $i): array => [
                'id' => "f$i",
                'output' => "o$i",
                'name' => "F $i",
                'role' => 'projector',
                'projector' => "p$i",
            ],
            [0, 1],
        );
        $plain = $rows['region'][0];
        $rows['region'] = [];
        $document = Document::of(self::HEAD, $rows);
        $document = self::after($document, self::editing($document)->project('face'));
        $of = Projections::of($document->show, 'face');
        $zones = $of->zones($of->compute(false, 75, 81)['warps'], 40);
        self::assertSame(
            ['seam'],
            array_values(array_unique(array_column($zones, 0))),
            'on a flat face squares stay square',
        );
        // 25 rows of 10 px, each one run within 50 to 350 px, the same to the left and to the right of the middle.
        self::assertCount(25, $zones);
        foreach ($zones as $j => [, $x, $y, $w, $h]) {
            self::assertSame([10.0 * $j, 10.0, 400.0], [$y, $h, 2 * $x + $w]);
            self::assertGreaterThanOrEqual(50.0, $x);
            self::assertLessThanOrEqual(110.0, $x);
        }
        // Halves of a patch meet in the middle of what both light, to half a cell of 12.5 px.
        [$left, $right] = array_column($of->regions, 'id');
        $halves = $of->halves($left, $right);
        self::assertNotNull($halves);
        [[$x, $y, $w, $h], [$on]] = [$halves[$left], $halves[$right]];
        [$first, $second] = $x < $on ? [$halves[$left], $halves[$right]] : [$halves[$right], $halves[$left]];
        self::assertSame($first[0] + $first[2], $second[0]);
        self::assertEqualsWithDelta(200.0, $second[0], 6.26);
        self::assertEqualsWithDelta(125.0, $y + $h / 2, 6.26);
        self::assertGreaterThan(50.0, $first[0]);
        self::assertLessThan(350.0, $second[0] + $second[2]);
        self::assertGreaterThan(50.0, $w);
        self::assertNull($of->halves($left, $left));
        self::assertNull($of->halves($left, 'another'));
        // On one another on purpose, they have no seam.
        $stacked = $document->with([
            'feed' => array_map(static fn (array $feed): array => ['stack' => 'Front'] + $feed, $document->rows['feed']),
        ]);
        $of = Projections::of($stacked->show, 'face');
        self::assertSame([], $of->zones($of->compute(false, 75, 81)['warps'], 40));
        // A wall that is shown twice as wide as high has every square stretched; one to one, none.
        $wall = static fn (array $more): array => Projections::of(
            Document::of(
                self::HEAD,
                [
                    'output' => [['id' => 'led', 'name' => 'LED', 'width' => 640, 'height' => 480, 'refresh' => 60]],
                    'region' => [$more + $plain],
                    'feed' => [],
                ] + $rows,
            )->show,
            'wall',
        )->zones([], 12);
        self::assertSame([], $wall([]));
        self::assertSame(
            [['stretch', 0.0, 0.0, 192.0, 16.0], ['stretch', 0.0, 16.0, 192.0, 16.0]],
            $wall(['width' => 384]),
        );
        // Only what the region shows: the right half, in a picture of its own.
        self::assertSame(
            [['stretch', 96.0, 0.0, 96.0, 16.0], ['stretch', 96.0, 16.0, 96.0, 16.0]],
            $wall(['source' => [96, 0, 96, 32], 'width' => 192]),
        );
    }

    public function test_what_is_computed_depends_on_what_it_says(): void
    {
        $rows = self::rows();
        $document = Document::of(self::HEAD, $rows);
        $document = self::after($document, self::editing($document)->project('face'));
        $key = static fn (Document $d): string => Projections::of($d->show, 'face')->key(false, 75);
        $first = $key($document);
        self::assertSame(
            $first,
            $key(
                $document->with([
                    'surface' => ['wing' => ['name' => 'Other name'] + $document->rows['surface']['wing']],
                ]),
            ),
            'a name does not matter',
        );
        foreach (
            [
                'the projector moved' => [
                    'projector' => ['p' => ['position' => [0.1, 1.25, -4]] + $document->rows['projector']['p']],
                ],
                'its zoom' => [
                    'projector' => [
                        'p' => ['lens' => ['throw' => 1.6] + self::LENS] + $document->rows['projector']['p'],
                    ],
                ],
                'something in the way' => [
                    'surface' => ['wing' => ['position' => [0, 1, -7]] + $document->rows['surface']['wing']],
                ],
                'the part that is fed' => [
                    'feed' => ['f' => ['part' => [0, 0, 800, 500]] + $document->rows['feed']['f']],
                ],
            ] as $what => $changed
        ) {
            $next = $document->with($changed);
            // With its feed elsewhere, the region lies within none.
            self::assertNotSame($first, $what === 'the part that is fed' ? '' : $key($next), $what);
        }
        self::assertNotSame($first, Projections::of($document->show, 'face')->key(true, 75));
        $found = Projections::of($document->show, 'face')->compute(false, 75, 41);
        $id = (string) array_key_first($found['warps']);
        // One projector alone has all of the light, and its middle is the face's.
        $warp = $found['warps'][$id];
        self::assertEqualsWithDelta(1.0, $warp->blend?->at(1200, 250), 1e-9);
        $even = Projections::of($document->show, 'face')->evenness($id, $warp, 8, 5);
        self::assertTrue($even['metres']);
        self::assertEqualsWithDelta([1.0, 0.01], [$even['evenness']->score, $even['evenness']->pixel], 1e-6);
        self::assertSame(0.0, $even['spill']);
        self::assertCount(9 * 6, $even['places']);
        $flat = Projections::of($document->show, 'wall')->evenness('r1', null, 4, 2);
        self::assertFalse($flat['metres'], 'on the output, where no projector shows it');
        $seam = Projections::of($document->show, 'face')->seam([$id => $warp], [0.1, 0.5], [0.9, 0.5]);
        self::assertEqualsWithDelta(3.2, $seam->along[count($seam->along) - 1], 1e-6);
        self::assertLessThan(1e-6, $seam->off);
        $this->expectException(InvalidValue::class);
        Projections::of($document->show, 'wall')->compute(false, 75);
    }

    public function test_totals_are_those_of_all_walls_and_projectors(): void
    {
        // Five panels of 64 × 32 px, half a metre square, a kilogram, one and two watts; and one projector.
        self::assertEquals(
            [
                'litPixels' => 5 * 64 * 32,
                'areaSquareMetres' => 1.25,
                'kilograms' => 5.0,
                'wattsAverage' => 5.0,
                'wattsMaximum' => 10.0,
                'lumens' => 10000.0,
            ],
            Figures::of(Document::of(self::HEAD, self::rows())->show)['totals'],
        );
        self::assertSame(
            [0, 0.0, 0.0, 0.0, 0.0, 0.0],
            array_values(Figures::of(Document::of(self::HEAD, [])->show)['totals']),
        );
    }
}
