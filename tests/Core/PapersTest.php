<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Exchange\Csv;
use Core\Exchange\PanelTable;
use Core\Exchange\PixelMapTemplate;
use Core\Geometry\Edges;
use Core\Geometry\Mesh;
use Core\Light\Scene;
use Core\Light\Sight;
use Core\Paperwork\StagePlot;
use Core\Paperwork\Table;
use Core\Paperwork\VenueSpecification;
use Core\Preflight\Finding;
use Core\Preflight\Preflight;
use Core\Show\Show;
use Core\Units\InvalidValue;
use Core\Venue\Camera;
use Core\Venue\Face;
use Core\Venue\Panel;
use Core\Venue\PanelLibrary;
use Core\Venue\Prop;
use Core\Venue\Wall;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class PapersTest extends TestCase
{
    /**
     * @param  array<string, list<array<string, mixed>>>  $rows
     */
    private static function show(array $rows): Show
    {
        foreach ($rows as $kind => $list) {
            foreach ($list as $i => $row) {
                $rows[$kind][$i] += ['position' => [0, 0, 0], 'rotation' => [0, 0, 0], 'name' => "$kind $i"];
            }
        }

        return Show::fromRows(['id' => 's', 'name' => 'Quay & <sea>', 'frameRate' => '25'], $rows);
    }

    /** @return array<string, mixed> */
    private static function panel(string $id = 'p'): array
    {
        return [
            'id' => $id,
            'name' => 'Indoor 2.6',
            'widthMm' => 500,
            'heightMm' => 500,
            'widthPx' => 192,
            'heightPx' => 192,
            'kilograms' => 8,
            'wattsAverage' => 50,
            'wattsMaximum' => 150,
            'inrushAmperes' => 4,
        ];
    }

    /** @return array<string, mixed> */
    private static function wall(string $id, int $columns, int $rows): array
    {
        return [
            'id' => $id,
            'name' => "Wall $id",
            'kind' => 'wall',
            'cells' => array_fill(0, $rows, array_fill(0, $columns, 'p')),
            'seams' => array_fill(0, $columns - 1, 0),
        ];
    }

    /** @param  list<Table>  $sheets */
    private static function sheet(array $sheets, string $title): Table
    {
        foreach ($sheets as $sheet) {
            if (str_starts_with($sheet->title, $title)) {
                return $sheet;
            }
        }
        self::fail("There is no sheet $title.");
    }

    public function test_the_specification_sums_up_walls_panels_spares_circuits_and_ports(): void
    {
        $show = self::show(['panel' => [self::panel()], 'surface' => [self::wall('a', 4, 3), self::wall('b', 2, 3)]]);
        $sheets = VenueSpecification::tables($show, 0.1);
        $walls = self::sheet($sheets, 'LED walls');
        self::assertSame(
            ['Total', '', '', '', 18, '663,552 px lit', '', '', '', '', '', '', 4.5, 144.0, 900.0, 2700.0],
            $walls->rows[2],
        );
        self::assertSame(
            ['Indoor 2.6', 18, 2, 20, 160.0, '500 × 500', '192 × 192'],
            self::sheet($sheets, 'Panels, with 10 % spare')->rows[0],
        );
        $feeding = self::sheet($sheets, 'Power and data');
        // 230 · 16 · 0.8 · 0.95 = 2797 W: all of a wall on one circuit; 17 panels of 36,864 px on a port.
        $cell = static fn (int $row, string $column): mixed => $feeding->rows[$row][
            (int) array_search($column, $feeding->columns, true)
        ];
        self::assertSame([1, 1], [$cell(0, 'Circuits'), $cell(0, 'Ports')]);
        // 2,700 W in all at 0.95; each wall is one circuit on one line.
        self::assertSame(
            [2, 2.84, 9213.0, 2],
            [$cell(2, 'Circuits'), $cell(2, 'kVA'), $cell(2, 'Heat BTU/h'), $cell(2, 'Ports')],
        );
        self::assertSame(
            ['8.2 · 0.0 · 0.0', 8.2, 48.0, '1.80 · 0.00 · 0.00'],
            [
                $cell(0, 'Line current A'),
                $cell(0, 'Neutral A'),
                $cell(0, 'Inrush per circuit A'),
                $cell(0, 'Load per line kW'),
            ],
        );
        self::assertSame(
            [11, 5.5, 11, 5.5],
            array_map(static fn (string $c): mixed => $cell(0, $c), [
                'Power links',
                'Power cable m',
                'Data links',
                'Data cable m',
            ]),
        );
        self::assertCount(2, self::sheet($sheets, 'Cables of Wall a')->rows);
        self::assertSame(
            ['LED walls', 'Panels, with 10 % spare', 'Power and data', 'Cables of Wall a', 'Cables of Wall b'],
            array_column($sheets, 'title'),
        );
        self::assertSame(
            ['LED walls', 'Panels, with 10 % spare', 'Power and data', 'Cables'],
            array_column(VenueSpecification::tables($show, 0.1, null, 1), 'title'),
        );
        // Of one surface alone, only that.
        self::assertSame(6, VenueSpecification::tables($show, 0.05, 'b')[0]->rows[1][4]);
        $this->expectException(InvalidValue::class);
        VenueSpecification::tables($show, 2);
    }

    public function test_hanging_points_colours_and_cameras_are_on_paper(): void
    {
        $show = self::show([
            'panel' => [self::panel()],
            'surface' => [
                ['feeding' => ['hangingPoints' => '2', 'riggingKilograms' => 8], 'colour' => '#ff8800'] +
                self::wall('a', 4, 1),
                self::wall('b', 2, 3),
            ],
            'camera' => [
                ['id' => 'c', 'name' => 'Crane', 'position' => [0, 0.25, 10], 'focal' => 50],
                ['id' => 'd', 'name' => 'Away', 'position' => [0, 0, 10], 'rotation' => [180, 0, 0], 'focus' => 500],
            ],
        ]);
        $tables = VenueSpecification::tables($show);
        $walls = self::sheet($tables, 'LED walls');
        self::assertSame(
            [['Wall a', '#ff8800'], ['Wall b', '']],
            [array_slice($walls->rows[0], 0, 2), array_slice($walls->rows[1], 0, 2)],
        );
        // Four panels of 8 kg and 8 kg with them: 20 kg on each of two points, half a metre in.
        self::assertSame(
            [['Wall a', 1, 0.5, 20.0, 0.0], ['Wall a', 2, 1.5, 20.0, 0.0]],
            self::sheet($tables, 'Hanging points')->rows,
        );
        $cameras = self::sheet($tables, 'Cameras')->rows;
        self::assertSame(['Crane', 50.0, 39.6], array_slice($cameras[0], 0, 3));
        self::assertSame(['', '', '', '', ''], array_slice($cameras[1], 0, 5));
        // One that sees nothing is there all the same, sharp without an end.
        self::assertSame(['Away', '∞', ''], [$cameras[2][0], $cameras[2][4], $cameras[2][5]]);
    }

    public function test_sightlines_are_on_paper_with_what_reads_at_each_seat(): void
    {
        $show = self::show([
            'surface' => [
                [
                    'id' => 'f',
                    'name' => 'Front',
                    'kind' => 'flat',
                    'position' => [0, -0.1, 0],
                    'rotation' => [0, 0, 0],
                    'shape' => ['width' => 0.2, 'height' => 0.2],
                ],
            ],
            'seat' => [
                ['id' => 'm', 'name' => 'Middle', 'position' => [0, 0, 100]],
                ['id' => 'b', 'name' => 'Behind', 'position' => [0, 0, -50]],
                ['id' => 'u', 'name' => 'Upstairs', 'position' => [0, 50, 0]],
            ],
        ]);
        $scene = Scene::of($show->venue->bodies());
        $sights = [
            'm' => array_values(array_filter([Sight::of($scene, 0, 0, 0, 100)])),
            'b' => array_values(array_filter([Sight::of($scene, 0, 0, 0, -50)])),
            'u' => [],
        ];
        $rows = self::sheet(VenueSpecification::tables($show, sights: $sights), 'Sightlines')->rows;
        // tan 1' = 0.00029089 and tan 16' = 0.00465424, at 100 m and at 50 m; a face gives no luminance of its own.
        self::assertSame(
            ['Middle', 'Front', 100.0, 100.0, 0.0, 29.1, 465.0, '', ''],
            [...array_slice($rows[0], 0, 4), floor($rows[0][4]), ...array_slice($rows[0], 5)],
        );
        self::assertSame(['Behind', 'Front', 50.0, 0.0, 0.0, 14.5, 233.0, '', ''], $rows[1]);
        self::assertSame(['Upstairs', 'nothing in view'], array_slice($rows[2], 0, 2));
        self::assertSame(
            [[3, 'Too many for this document: they are in the details of each seat.']],
            self::sheet(VenueSpecification::tables($show, sights: null), 'Sightlines')->rows,
        );
        self::assertNotContains('Sightlines', array_column(VenueSpecification::tables($show), 'title'));
    }

    public function test_the_csv_of_sheets_has_a_title_a_head_and_a_gap_each(): void
    {
        self::assertSame(
            "One\r\na,b\r\n1,\"x,y\"\r\nTake care\r\n\r\nTwo\r\nc\r\n\r\n",
            VenueSpecification::csv([
                new Table('One', ['a', 'b'], [[1, 'x,y']], ['Take care']),
                new Table('Two', ['c'], []),
            ]),
        );
    }

    public function test_projectors_are_told_where_they_stand_in_the_venue_whatever_they_ride_on(): void
    {
        $show = self::show([
            'rig' => [['id' => 'r', 'position' => [10, 0, 0], 'rotation' => [90, 0, 0]]],
            'surface' => [
                [
                    'id' => 'f',
                    'name' => 'Front',
                    'kind' => 'flat',
                    'position' => [0, 1, 0],
                    'rotation' => [90, 0, 0],
                    'shape' => ['width' => 4, 'height' => 4],
                ],
            ],
            'projector' => [
                [
                    'id' => 'j',
                    'name' => 'Beam',
                    'rig' => 'r',
                    'position' => [0, 3, 2],
                    'lens' => ['throw' => 9],
                    'lumens' => 5000,
                    'aims' => ['f'],
                    'mirrored' => true,
                ],
            ],
        ]);
        $sheet = self::sheet(VenueSpecification::tables($show), 'Projectors');
        // 2 m before the rig, turned by 90°, are 2 m to the right.
        self::assertSame(
            [12.0, 3.0, 0.0, 90.0],
            [$sheet->rows[0][10], $sheet->rows[0][11], abs((float) $sheet->rows[0][12]), $sheet->rows[0][13]],
        );
        self::assertSame('rear', $sheet->rows[0][16]);
        // Along its axis to the face, not to the middle of anything.
        self::assertEqualsWithDelta(12.0, $sheet->rows[0][8], 0.01);
        self::assertSame(['Beam: The throw ratio is 9.000; the lens has 1.20 to 1.80.'], $sheet->remarks);
        $found = array_map(static fn (Finding $f): string => "$f->view $f->kind $f->message", Preflight::of($show));
        self::assertContains('venue projector Beam: The throw ratio is 9.000; the lens has 1.20 to 1.80.', $found);
    }

    public function test_a_stage_plot_has_both_views_to_scale_with_dimensions(): void
    {
        $show = self::show([
            'panel' => [self::panel()],
            'surface' => [
                self::wall('a', 4, 3),
                [
                    'id' => 'd',
                    'name' => 'Drum <1>',
                    'kind' => 'drum',
                    'position' => [8, 0, 0],
                    'shape' => ['radius' => 2, 'arc' => 180, 'height' => 5],
                ],
            ],
            'prop' => [
                ['id' => 't', 'name' => 'Tree', 'kind' => 'cylinder', 'shape' => ['radius' => 0.4, 'height' => 6]],
            ],
            'seat' => [['id' => 'z', 'position' => [0, 1, 12]]],
            'camera' => [['id' => 'c', 'position' => [1, 1, 9]]],
        ]);
        $svg = simplexml_load_string(StagePlot::svg($show));
        self::assertNotFalse($svg);
        self::assertSame('Quay & <sea>', (string) $svg->title);
        $svg->registerXPathNamespace('s', 'http://www.w3.org/2000/svg');
        $texts = static fn (string $view): array => array_map(
            strval(...),
            $svg->xpath("//s:g[@id=\"$view\"]//s:text") ?: [],
        );
        self::assertContains('2.00 × 1.50 m', $texts('front'));
        self::assertContains('2.00 × 0.00 m', $texts('plan'));
        self::assertContains('4.00 × 5.00 m', $texts('front'));
        self::assertContains('4.00 × 2.00 m', $texts('plan'));
        self::assertContains('Drum <1>', $texts('plan'));
        foreach (['surface' => 2, 'prop' => 1, 'seat' => 1, 'camera' => 1] as $kind => $count) {
            self::assertCount($count, $svg->xpath("//s:g[@id=\"plan\"]/s:g[@class=\"$kind\"]") ?: []);
        }
        self::assertStringContainsString('nothing stands in this venue yet', StagePlot::svg(self::show([])));
    }

    public function test_edges_are_where_a_shape_ends_or_breaks(): void
    {
        self::assertCount(4, Edges::of(Face::fromRow('flat', [])->mesh()));
        // Three sides of a box: six edges above and below, two ends, two corners, each corner once.
        self::assertCount(10, Edges::of(Face::fromRow('box', [])->mesh()));
        // A half drum of strips of three degrees breaks nowhere: its rim and its two ends.
        $drum = Face::fromRow('drum', ['arc' => 180])->mesh();
        self::assertCount(2 * 60 + 2, Edges::of($drum));
        // Of a board before a face: its rim, the rim in the face, four reveals between, and the outer rim; the cuts
        // between are none.
        $framed = Face::fromRow(
            'relief',
            ['width' => 4, 'height' => 3],
            [['depth' => 0.5, 'points' => [-1, 1, 1, 1, 1, 2, -1, 2]]],
        )->mesh();
        $length = 0.0;
        foreach (Edges::of($framed) as [$a, $b]) {
            $length += $framed->position($b)->minus($framed->position($a))->length();
        }
        self::assertEqualsWithDelta(2 * (4 + 3) + 2 * 2 * (2 + 1) + 4 * 0.5, $length, 1e-9);
        self::assertSame([], Edges::of(Mesh::of([], [], [])));
    }

    public function test_a_template_of_pixels_has_panels_gaps_and_its_name(): void
    {
        $p = Panel::of('P', 500, 500, 64, 64, 1, 1, 1);
        $picture = PixelMapTemplate::picture('Wing', Wall::of([[$p, null], [$p, $p]], [0.0]));
        self::assertSame([128, 128], [$picture->width, $picture->height]);
        self::assertSame([0x7B, 0x86, 0xB8, 255], $picture->pixel(0, 0));
        self::assertSame([0x23, 0x27, 0x3A, 255], $picture->pixel(30, 30));
        self::assertSame([0, 0, 0, 255], $picture->pixel(121, 7));
        self::assertSame([0x1C, 0x20, 0x30, 255], $picture->pixel(3, 90));
        $words = 0;
        foreach (range(0, 127) as $x) {
            foreach (range(40, 90) as $y) {
                $words += $picture->pixel($x, $y) === [0xFF, 0xD6, 0xA0, 255] ? 1 : 0;
            }
        }
        self::assertGreaterThan(40, $words);
        // Made for another raster than its own: the panels are where they come to lie.
        $wide = PixelMapTemplate::picture('Wing', Wall::of([[$p, $p]], [0.0]), [256, 32]);
        self::assertSame([[256, 32], [0x7B, 0x86, 0xB8, 255]], [[$wide->width, $wide->height], $wide->pixel(128, 16)]);
        $this->expectExceptionMessage('take the SVG');
        PixelMapTemplate::picture('Sea', Face::fromRow('flat', ['rasterWidth' => 16_000, 'rasterHeight' => 16_000]));
    }

    public function test_a_template_of_a_face_has_the_lines_of_its_shape(): void
    {
        $face = Face::fromRow(
            'relief',
            ['width' => 4, 'height' => 2, 'pixelsPerMetre' => 100],
            [['depth' => 0.3, 'points' => [-1, 0.5, 1, 0.5, 1, 1.5, -1, 1.5]]],
        );
        $svg = simplexml_load_string(PixelMapTemplate::svg('Front', $face));
        self::assertNotFalse($svg);
        $svg->registerXPathNamespace('s', 'http://www.w3.org/2000/svg');
        $lines = array_map(
            static fn (\SimpleXMLElement $l): string => "$l[x1] $l[y1] $l[x2] $l[y2]",
            $svg->xpath('//s:g[@id="shape"]/s:line') ?: [],
        );
        self::assertNotEmpty(
            array_filter(
                $lines,
                static fn (string $l): bool => str_contains($l, '100.00 50.00') || str_contains($l, '300.00 150.00'),
            ),
        );
        self::assertCount(1, $svg->xpath('//s:g[@id="avoid"]') ?: []);
        self::assertSame([0x9F, 0xB0, 0xE8, 255], PixelMapTemplate::picture('Front', $face)->pixel(100, 100));
    }

    public function test_a_template_shows_zones_where_no_face_should_be_drawn(): void
    {
        $face = Face::fromRow('flat', ['width' => 4, 'height' => 2, 'pixelsPerMetre' => 100]);
        $zones = [['stretch', 44.0, 24.0, 12.0, 24.0], ['seam', 200.0, 0.0, 50.0, 200.0]];
        $svg = simplexml_load_string(PixelMapTemplate::svg('Front', $face, null, $zones));
        self::assertNotFalse($svg);
        $svg->registerXPathNamespace('s', 'http://www.w3.org/2000/svg');
        $rects = static fn (string $kind): array => array_map(
            static fn (\SimpleXMLElement $r): string => "$r[x] $r[y] $r[width] $r[height]",
            $svg->xpath("//s:g[@id='avoid-$kind']/s:rect") ?: [],
        );
        self::assertSame(
            [['44.00 24.00 12.00 24.00'], ['200.00 0.00 50.00 200.00']],
            [$rects('stretch'), $rects('seam')],
        );
        self::assertCount(2, $svg->xpath('//s:g[@id="avoid"]/s:text') ?: []);
        self::assertStringNotContainsString('<pattern', PixelMapTemplate::svg('Front', $face));
        // A quarter of a zone's pixels have its colour, and none outside.
        [$plain, $drawn] = [
            PixelMapTemplate::picture('Front', $face),
            PixelMapTemplate::picture('Front', $face, null, $zones),
        ];
        $found = [];
        for ($y = 0; $y < 200; $y++) {
            for ($x = 0; $x < 400; $x++) {
                if ($plain->pixel($x, $y) !== $drawn->pixel($x, $y)) {
                    $found[] =
                        $x >= 44 && $x < 56 && $y >= 24 && $y < 48
                            ? 'stretch'
                            : ($x >= 200 && $x < 250
                                ? 'seam'
                                : 'outside');
                }
            }
        }
        $counts = array_count_values($found);
        self::assertSame(
            ['seam', 'stretch'],
            array_keys(array_intersect_key(['seam' => 1, 'stretch' => 1, 'outside' => 1], $counts)),
        );
        self::assertSame(intdiv(12 * 24, 4), $counts['stretch']);
    }

    /** @return list<array{string, list<list<string>>}> */
    public static function tables(): array
    {
        return [
            ["a,b\r\n1,\"x \"\"y\"\", z\"\r\n", [['a', 'b'], ['1', 'x "y", z']]],
            ["a;b\n1;2", [['a', 'b'], ['1', '2']]],
            ["a\tb\n1\t2\n", [['a', 'b'], ['1', '2']]],
            ["a,b\n\"two\nlines\",2\n", [['a', 'b'], ["two\nlines", '2']]],
            ["a,b\r1,\r", [['a', 'b'], ['1', '']]],
            ['', []],
        ];
    }

    /** @param  list<list<string>>  $rows */
    #[DataProvider('tables')]
    public function test_tables_of_every_house_are_read(string $text, array $rows): void
    {
        self::assertSame($rows, Csv::read($text));
    }

    public function test_the_library_goes_out_and_comes_in_unchanged(): void
    {
        self::assertEquals(PanelLibrary::panels(), PanelTable::read(PanelTable::write(PanelLibrary::panels())));
        $odd = [Panel::of('=SUM("1")', 500.5, 1000, 100, 200, 1.25, 0, 0)];
        self::assertEquals($odd, PanelTable::read("\xEF\xBB\xBF".PanelTable::write($odd)));
    }

    public function test_a_table_says_which_row_is_wrong(): void
    {
        $head = "name,width mm,height mm,width px,height px,kg\n";
        foreach (
            [
                [$head."A,500,500,100,100,1\nB,500,500,0,100,1\n", 'Row 3: widthPx'],
                [$head.'A,500,wide,100,100,1', 'Row 2 has "wide" for height mm'],
                ["name,kg\nA,1", 'lacks the columns width mm'],
                [$head, 'no panel'],
                [$head.str_repeat("A,500,500,100,100,1\n", 1001), 'at most 1000'],
                ["name\xff", 'UTF-8'],
            ] as [$csv, $message]
        ) {
            try {
                PanelTable::read($csv);
                self::fail('It was taken.');
            } catch (InvalidValue $refused) {
                self::assertSame('csv', $refused->field);
                self::assertStringContainsString($message, $refused->getMessage());
            }
        }
    }

    public function test_a_camera_takes_in_what_its_sensor_and_focal_length_have_it(): void
    {
        $camera = Camera::fromRow(['name' => 'C', 'sensorWidth' => 36, 'sensorHeight' => 24, 'focal' => 18]);
        self::assertEqualsWithDelta(
            [90.0, rad2deg(2 * atan(2 / 3))],
            [$camera->angleAcross(), $camera->angleDown()],
            1e-9,
        );
        self::assertEqualsWithDelta(18.0, Camera::focalFor(36, 90), 1e-9);
        $this->expectException(InvalidValue::class);
        Camera::focalFor(36, 180);
    }

    public function test_props_are_closed_and_as_large_as_told(): void
    {
        $box = Prop::fromRow(['name' => 'Crate', 'shape' => ['width' => 2, 'height' => 3, 'depth' => 4]])->mesh();
        self::assertEqualsWithDelta(2 * (2 * 3 + 3 * 4 + 2 * 4), $box->area(), 1e-9);
        self::assertEquals([[-1, 0, -2], [1, 3, 2]], $box->bounds());
        $cylinder = Prop::fromRow([
            'name' => 'Drum',
            'kind' => 'cylinder',
            'shape' => ['radius' => 1, 'height' => 2],
        ])->mesh();
        self::assertEqualsWithDelta(2 * M_PI * 2 + 2 * M_PI, $cylinder->area(), 0.2);
        foreach ([$box, $cylinder] as $mesh) {
            // The volume by the divergence theorem is that of the body, so all sides look outward.
            $volume = 0.0;
            for ($t = 0; $t < count($mesh->indices); $t += 3) {
                [$a, $b, $c] = array_map($mesh->position(...), array_slice($mesh->indices, $t, 3));
                $volume += $a->dot($b->cross($c)) / 6;
            }
            self::assertEqualsWithDelta($mesh === $box ? 24 : 2 * M_PI, $volume, 0.1);
        }
        self::assertSame([], Edges::of(Mesh::of([], [], [])));
    }

    public function test_a_show_keeps_going_with_what_stands_in_it_broken(): void
    {
        $show = self::show([
            'rig' => [['id' => 'a', 'rig' => 'b'], ['id' => 'b', 'rig' => 'a']],
            'camera' => [['id' => 'c', 'rig' => 'gone', 'name' => 'Crane'], ['id' => 'd', 'focal' => 0]],
            'projector' => [['id' => 'j', 'lens' => ['throwMin' => 5, 'throwMax' => 1]]],
            'surface' => [
                ['id' => 'm', 'name' => 'Lighthouse', 'kind' => 'model', 'modelFile' => ['state' => 'working']],
            ],
            'variant' => [
                [
                    'id' => 'v',
                    'projectors' => [['id' => 'x', 'name' => 'X', 'position' => [1, 2, 3], 'rotation' => [0, 0, 0]]],
                ],
            ],
        ]);
        $sentences = array_column($show->broken, 'message', 'id');
        self::assertSame('Crane was carried by a rig that was removed; it stands in the venue now.', $sentences['c']);
        self::assertArrayHasKey('d', $sentences);
        self::assertArrayHasKey('j', $sentences);
        self::assertStringContainsString('can\'t be its own parent', $sentences['a']);
        self::assertSame(['c'], array_keys($show->venue->cameras));
        self::assertSame(1.0, $show->venue->variants['v']->projectors['x'][1]->position->x);
        self::assertContains(
            'Lighthouse: Its model is still being read.',
            array_map(static fn (Finding $f): string => $f->message, Preflight::of($show)),
        );
        self::assertCount(1, $show->venue->bodies());
        self::assertSame([], $show->venue->beams());
    }
}
