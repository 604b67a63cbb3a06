<?php

declare(strict_types=1);

namespace Tests\Feature;

use App\Jobs\RunTask;
use App\Media\GreyPicture;
use App\Models\Show;
use App\Models\Task;
use App\Paper\Png;
use App\Show\ShowRepository;
use App\Show\WarpStore;
use Core\Exchange\Csv;
use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Media\Picture;
use Core\Output\BlendMap;
use Core\Output\ComputedWarp;
use Core\Output\ProjectedMesh;
use Core\Plan\PlanCompiler;
use Core\Playback\Delivered;
use Core\Venue\Lens;
use Illuminate\Support\Facades\Artisan;
use Illuminate\Testing\TestResponse;
use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Component\Process\Process;
use Tests\SendsParts;
use Tests\TestCase;

/** Outputs, their regions, masks and projections by request; and what can't be. */
final class OutputsTest extends TestCase
{
    use SendsParts;

    private string $show = '';

    /** @var array<string, string> */
    private array $ids = [];

    private const LENS = ['widthPx' => 1920, 'heightPx' => 1200, 'throw' => 1.5];

    protected function setUp(): void
    {
        parent::setUp();
        $this->show = $this->show();
        foreach (
            [
                'panel',
                'wall',
                'wing',
                'front',
                'left',
                'right',
                'led',
                'one',
                'two',
                'server',
                'feedOne',
                'feedTwo',
                'regionOne',
                'regionTwo',
            ] as $name
        ) {
            $this->ids[$name] = $this->id();
        }
        $i = $this->ids;
        $this->edit([
            $this->created('panel', $i['panel'], [
                'name' => 'P',
                'widthMm' => 500,
                'heightMm' => 500,
                'widthPx' => 100,
                'heightPx' => 100,
            ]),
            $this->created('surface', $i['wall'], [
                'name' => 'Wall',
                'cells' => [[$i['panel'], $i['panel']]],
                'seams' => [0],
            ]),
            $this->created('surface', $i['wing'], [
                'name' => 'Wing',
                'cells' => [[$i['panel']]],
                'seams' => [],
                'position' => [2, 0, 0],
            ]),
            $this->created('surface', $i['front'], [
                'name' => 'House front',
                'kind' => 'flat',
                'position' => [0, 0, -10],
                'shape' => ['width' => 9, 'height' => 5, 'pixelsPerMetre' => 50],
            ]),
            $this->created('projector', $i['left'], [
                'name' => 'Left',
                'position' => [-1.6, 2.5, -4],
                'lens' => self::LENS,
                'lumens' => 12000,
            ]),
            $this->created('projector', $i['right'], [
                'name' => 'Right',
                'position' => [1.6, 2.5, -4],
                'lens' => self::LENS,
                'lumens' => 8000,
            ]),
            $this->created('server', $i['server'], ['name' => 'Quay', 'role' => 'main']),
            $this->created('output', $i['led'], [
                'name' => 'LED',
                'width' => 400,
                'height' => 300,
                'refresh' => 50,
                'server' => $i['server'],
                'connector' => 'sdi-3',
            ]),
            $this->created('output', $i['one'], [
                'name' => 'Projector 1',
                'width' => 1920,
                'height' => 1200,
                'connector' => 'dp-1.2',
            ]),
            $this->created('output', $i['two'], ['name' => 'Projector 2', 'width' => 1920, 'height' => 1200]),
            $this->created('feed', $i['feedOne'], [
                'output' => $i['one'],
                'name' => 'Left',
                'role' => 'projector',
                'projector' => $i['left'],
            ]),
            $this->created('feed', $i['feedTwo'], [
                'output' => $i['two'],
                'name' => 'Right',
                'role' => 'projector',
                'projector' => $i['right'],
            ]),
            $this->created('region', $i['regionOne'], [
                'output' => $i['one'],
                'surface' => $i['front'],
                'source' => [0, 0, 450, 250],
                'width' => 1920,
                'height' => 1200,
            ]),
            $this->created('region', $i['regionTwo'], [
                'output' => $i['two'],
                'surface' => $i['front'],
                'source' => [0, 0, 450, 250],
                'width' => 1920,
                'height' => 1200,
            ]),
        ])->assertCreated();
    }

    /** @param  list<array<string, mixed>>  $changes */
    private function edit(array $changes): TestResponse
    {
        return $this->ask('POST', "shows/$this->show/edits", ['name' => 'Lay out', 'changes' => $changes]);
    }

    /** @param  array<string, mixed>  $order */
    private function order(array $order): TestResponse
    {
        return $this->ask('POST', "shows/$this->show/outputs", $order);
    }

    /** @return array<string, mixed> */
    private function document(): array
    {
        return (array) $this->ask('GET', "shows/$this->show")
            ->assertOk()
            ->json();
    }

    /** @return array<string, mixed> */
    private function row(string $kind, string $id): array
    {
        return array_column($this->document()['rows'][$kind], null, 'id')[$id];
    }

    public function test_surfaces_are_put_on_an_output_packed_and_told_to_the_technician(): void
    {
        $i = $this->ids;
        $made = $this->order(['action' => 'put', 'output' => $i['led'], 'surfaces' => [$i['wall'], $i['wing']]])
            ->assertCreated()
            ->json('createdId');
        $regions = array_values(
            array_filter($this->document()['rows']['region'], static fn (array $r): bool => $r['output'] === $i['led']),
        );
        self::assertCount(2, $regions);
        self::assertSame($made, $regions[0]['id']);
        self::assertSame([[0, 0, 200, 100], [0, 0, 100, 100]], array_column($regions, 'source'));
        self::assertTrue(
            $regions[0]['x'] + 200 <= $regions[1]['x'] ||
                $regions[0]['y'] + 100 <= $regions[1]['y'] ||
                $regions[1]['x'] + 100 <= $regions[0]['x'] ||
                $regions[1]['y'] + 100 <= $regions[0]['y'],
            'they do not lie on one another',
        );
        // The sheet goes out, the technician dictates, it comes back.
        $csv = (string) $this->ask('GET', "shows/$this->show/regions.csv")
            ->assertOk()
            ->getContent();
        $table = Csv::read(ltrim($csv, "\u{FEFF}"));
        self::assertSame(['Region', 'Surface', 'Server', 'Output', 'Feeds', 'X', 'Y'], array_slice($table[0], 0, 7));
        self::assertContains('Quay', array_column($table, 2));
        self::assertStringStartsWith(
            '%PDF',
            (string) $this->ask('GET', "shows/$this->show/regions.pdf")
                ->assertOk()
                ->getContent(),
        );
        $this->ask('POST', "shows/$this->show/regions.csv", [
            'csv' => "Surface;X;Y;Turn\nWall;64;8;90\nWing;;200;\n",
        ])->assertCreated();
        $by = array_column($this->document()['rows']['region'], null, 'surface');
        self::assertSame(
            [64, 8, 90, 200],
            [$by[$i['wall']]['x'], $by[$i['wall']]['y'], $by[$i['wall']]['turn'], $by[$i['wing']]['y']],
        );
        // Packed with guards on the panels' grid; what is pinned stays.
        $this->edit([$this->updated('region', $by[$i['wing']]['id'], ['pinned' => [false, true]])])->assertCreated();
        $packed = $this->order(['action' => 'pack', 'outputs' => [$i['led']], 'turns' => true, 'guard' => 2])
            ->assertCreated()
            ->json('packed');
        $after = array_column($this->document()['rows']['region'], null, 'surface');
        self::assertSame([$by[$i['wing']]['x'], 200], [$after[$i['wing']]['x'], $after[$i['wing']]['y']]);
        self::assertSame([0, 0], [$after[$i['wall']]['x'] % 100, $after[$i['wall']]['y'] % 100]);
        self::assertSame([], $packed['unplaced']);
        self::assertEqualsWithDelta(30000 / 120000, $packed['used'][$i['led']], 1e-9);
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        self::assertSame(64, array_column($this->document()['rows']['region'], null, 'surface')[$i['wall']]['x']);
    }

    /** @return iterable<string, array{string, string}> */
    public static function sheets(): iterable
    {
        yield 'no columns' => ["A,B\n1,2\n", 'needs the columns'];
        yield 'an unknown surface' => ["Surface,X,Y\nPier,1,2\n", 'Line 2'];
        yield 'one of two' => ["Surface,X,Y\nHouse front,1,2\n", '2 regions'];
        yield 'half a pixel' => ["Surface,X,Y\nWall,1.5,2\n", 'Line 2: x has to be a whole number'];
        yield 'an unknown output' => ["Surface,Output,X,Y\nWall,Nowhere,1,2\n", 'no output'];
        yield 'an odd turn' => ["Surface,X,Y,Turn\nWall,1,2,45\n", '0, 90, 180 or 270'];
    }

    #[DataProvider('sheets')]
    public function test_a_sheet_that_can_not_be_read_changes_nothing(string $csv, string $said): void
    {
        $this->order([
            'action' => 'put',
            'output' => $this->ids['led'],
            'surfaces' => [$this->ids['wall']],
        ])->assertCreated();
        $before = $this->document()['rows']['region'];
        self::assertStringContainsString(
            $said,
            (string) $this->ask('POST', "shows/$this->show/regions.csv", ['csv' => $csv])
                ->assertStatus(422)
                ->json('detail'),
        );
        self::assertSame($before, $this->document()['rows']['region']);
    }

    public function test_regions_are_pinned_bent_copied_moved_together_and_reset(): void
    {
        [$one, $two] = [$this->ids['regionOne'], $this->ids['regionTwo']];
        $this->order(['action' => 'pin', 'region' => $one, 'by' => [0 => [12.5, -3.0], 2 => [-8.0, 4.0]]])
            ->assertCreated()
            ->assertJsonPath('name', 'Pin a corner of House front');
        self::assertEquals([12.5, -3, 0, 0, -8, 4, 0, 0], $this->row('region', $one)['pin']);
        $this->order(['action' => 'line', 'region' => $one, 'way' => 'column', 'at' => 0.4])->assertCreated();
        $before = $this->document()['computed']['regions'][$one]['lattice'][10];
        $this->order([
            'action' => 'bend',
            'region' => $one,
            'by' => [10 => [0.0, 30.0]],
            'radius' => 200.0,
        ])->assertCreated();
        $row = $this->row('region', $one);
        self::assertSame([[0, 0.4, 1], [0, 1], 2 * 7 * 4], [$row['columns'], $row['rows'], count($row['points'])]);
        $figures = $this->document()['computed']['regions'][$one];
        self::assertEqualsWithDelta([$before[0], $before[1] + 30], $figures['lattice'][10], 1e-6);
        self::assertTrue($figures['warped']);
        self::assertEquals([[12.5, -3], [1920, 0], [1912, 1204], [0, 1200]], $figures['corners']);
        self::assertCount(28, $figures['lattice']);
        $this->order(['action' => 'copy', 'from' => $one, 'regions' => [$two]])->assertCreated();
        self::assertEquals($row['points'], $this->row('region', $two)['points']);
        $this->order([
            'action' => 'together',
            'regions' => [$one, $two],
            'by' => ['x' => 10, 'y' => -5],
        ])->assertCreated();
        self::assertSame([10, -5], [$this->row('region', $two)['x'], $this->row('region', $two)['y']]);
        $this->order(['action' => 'together', 'regions' => [$one], 'degrees' => 180.0])->assertCreated();
        // Turned by a half about the middle of its corners: the first is where the third was, mirrored through that.
        $turned = $this->document()['computed']['regions'][$one]['corners'];
        self::assertEqualsWithDelta([10 + 1920 - 12.5 + 0, -5 + 1201 + 3], $turned[0], 1e-6);
        foreach (['bend' => 'points', 'pin' => 'pin'] as $what => $field) {
            $this->order(['action' => 'reset', 'regions' => [$one], 'what' => $what])->assertCreated();
            self::assertSame([], $this->row('region', $one)[$field]);
        }
        $this->order(['action' => 'line', 'region' => $two, 'way' => 'column', 'line' => 1])->assertCreated();
        self::assertSame([0, 1], $this->row('region', $two)['columns']);
        $this->order(['action' => 'fit', 'region' => $two, 'how' => 'contain'])->assertCreated();
        self::assertSame([1920, 1067], [$this->row('region', $two)['width'], $this->row('region', $two)['height']]);
        $this->order([
            'action' => 'split',
            'output' => $this->ids['led'],
            'columns' => 2,
            'rows' => 1,
        ])->assertCreated();
        self::assertSame(
            [[0, 0, 200, 300], [200, 0, 200, 300]],
            array_column(
                array_filter(
                    $this->document()['rows']['feed'],
                    fn (array $f): bool => $f['output'] === $this->ids['led'],
                ),
                'part',
            ),
        );
    }

    /** @return iterable<string, array{array<string, mixed>}> */
    public static function refused(): iterable
    {
        yield 'an unknown order' => [['action' => 'fly']];
        yield 'an unknown region' => [
            ['action' => 'pin', 'region' => '01hzzzzzzzzzzzzzzzzzzzzzzz', 'by' => [0 => [1, 1]]],
        ];
        yield 'a fifth corner' => [['action' => 'pin', 'region' => 'regionOne', 'by' => [4 => [1, 1]]]];
        yield 'a corner without numbers' => [['action' => 'pin', 'region' => 'regionOne', 'by' => [0 => ['a', 1]]]];
        yield 'no corner' => [['action' => 'pin', 'region' => 'regionOne', 'by' => []]];
        yield 'a shape that is not convex' => [
            ['action' => 'pin', 'region' => 'regionOne', 'by' => [0 => [1900, 1100]]],
        ];
        yield 'a line where one is' => [['action' => 'line', 'region' => 'regionOne', 'way' => 'column', 'at' => 1]];
        yield 'a way that is none' => [['action' => 'line', 'region' => 'regionOne', 'way' => 'across', 'at' => 0.5]];
        yield 'a point that is not there' => [['action' => 'bend', 'region' => 'regionOne', 'by' => [99 => [1, 1]]]];
        yield 'a scale of none' => [['action' => 'together', 'regions' => ['regionOne'], 'scale' => 0]];
        yield 'a guard below none' => [['action' => 'pack', 'outputs' => ['led'], 'guard' => -1]];
        yield 'nothing to pack onto' => [['action' => 'pack', 'outputs' => []]];
        yield 'nine columns' => [['action' => 'split', 'output' => 'led', 'columns' => 9, 'rows' => 1]];
        yield 'a reset of nothing known' => [['action' => 'reset', 'regions' => ['regionOne'], 'what' => 'light']];
        yield 'a surface that is not there' => [
            ['action' => 'put', 'output' => 'led', 'surfaces' => ['01hzzzzzzzzzzzzzzzzzzzzzzz']],
        ];
        yield 'nothing measured' => [['action' => 'match', 'measured' => []]];
        yield 'something else measured' => [['action' => 'match', 'measured' => ['x' => ['white' => 5]]]];
    }

    /** @param  array<string, mixed>  $order */
    #[DataProvider('refused')]
    public function test_what_can_not_be_done_is_refused_with_a_reason_and_changes_nothing(array $order): void
    {
        $named = fn (mixed $v): mixed => is_string($v) ? $this->ids[$v] ?? $v : $v;
        $order = array_map(static fn (mixed $v): mixed => is_array($v) ? array_map($named, $v) : $named($v), $order);
        $before = $this->document();
        $answer = $this->order($order)->assertStatus(422);
        self::assertNotSame('', $answer->json('detail'));
        self::assertSame($before['revision'], $this->document()['revision']);
    }

    public function test_findings_say_what_no_connector_carries_and_what_is_scaled(): void
    {
        $i = $this->ids;
        $this->order(['action' => 'put', 'output' => $i['led'], 'surfaces' => [$i['wall']]])->assertCreated();
        $wall = array_column($this->document()['rows']['region'], null, 'surface')[$i['wall']];
        $this->edit([
            $this->updated('region', $wall['id'], ['width' => [0, 190]]),
            $this->created('region', $this->id(), [
                'output' => $i['led'],
                'surface' => $i['wing'],
                'source' => [0, 0, 100, 100],
                'x' => 191,
                'y' => 20,
            ]),
            $this->updated('output', $i['led'], [
                'width' => [400, 3840],
                'height' => [300, 2160],
                'refresh' => [50, 60],
            ]),
            $this->created('feed', $this->id(), [
                'output' => $i['led'],
                'name' => 'Beyond',
                'part' => [3000, 0, 1000, 100],
            ]),
            $this->created('mask', $this->id(), [
                'output' => $i['one'],
                'name' => 'Window',
                'nodes' => [0, 0, 0, 0, 0, 0, 50, 0, 0, 0, 0, 0, 50, 50, 0, 0, 0, 0],
                'feather' => 4,
            ]),
        ])->assertCreated();
        $document = $this->document();
        $said = static fn (string $key): string => implode(
            ' ',
            array_column($document['computed']['findings'][$key] ?? [], 'message'),
        );
        self::assertStringContainsString(
            '11.88 Gb/s (CTA-861, VIC 97, 594.00 MHz, 8 bit); 3G-SDI carries 2.97',
            $said("output $i[led]"),
        );
        self::assertStringContainsString('scaled from 200 × 100 to 190 × 100', $said("region $wall[id]"));
        self::assertStringContainsString(
            'one pixel apart',
            implode(' ', array_map($said, array_keys($document['computed']['findings']))),
        );
        self::assertStringContainsString(
            'takes pixels',
            implode(' ', array_map($said, array_keys($document['computed']['findings']))),
        );
        self::assertSame(594_000_000, $document['computed']['outputs'][$i['led']]['timing']['clock']);
        // A mask belongs to one thing, and goes with it.
        foreach ([['surface' => $i['front'], 'output' => $i['one']], []] as $both) {
            $this->edit([
                $this->created('mask', $this->id(), $both + ['name' => 'Two', 'nodes' => array_fill(0, 18, 1)]),
            ])->assertStatus(422);
        }
        self::assertCount(1, $document['rows']['mask']);
        $this->edit([['kind' => 'output', 'id' => $i['one'], 'op' => 'delete', 'fields' => []]])->assertCreated();
        self::assertSame(
            [[], 1],
            [
                $this->document()['rows']['mask'],
                count(
                    array_filter(
                        $this->document()['rows']['feed'],
                        static fn (array $f): bool => $f['role'] === 'projector',
                    ),
                ),
            ],
        );
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        self::assertCount(1, $this->document()['rows']['mask']);
    }

    public function test_templates_tell_where_seams_and_stretched_squares_are(): void
    {
        $at = "shows/$this->show/surfaces/{$this->ids['front']}/template";
        $svg = (string) $this->ask('GET', "$at.svg?zones=1")
            ->assertOk()
            ->getContent();
        self::assertStringContainsString('id="avoid-seam"', $svg);
        self::assertStringNotContainsString(
            'id="avoid-seam"',
            (string) $this->ask('GET', "$at.svg")
                ->assertOk()
                ->getContent(),
        );
        self::assertNotSame(
            $this->ask('GET', "$at.png")->getContent(),
            $this->ask('GET', "$at.png?zones=1")
                ->assertOk()
                ->getContent(),
        );
        $this->ask('GET', "shows/$this->show/surfaces/{$this->ids['wall']}/template.svg?zones=1")->assertOk();
        $this->ask('GET', "shows/$this->show/surfaces/nothing/template.svg?zones=1")->assertNotFound();
    }

    public function test_a_mask_is_made_of_a_picture(): void
    {
        $i = $this->ids;
        // 4 × 1 px: black, white, white but wholly transparent, grey.
        $png = Png::of(Picture::of(4, 1, "\0\0\0\xFF\xFF\xFF\xFF\xFF\xFF\xFF\xFF\0\x80\x80\x80\xFF"));
        $made = $this->order([
            'action' => 'paint',
            'surface' => $i['front'],
            'name' => 'Ivy',
            'image' => base64_encode($png),
            'inverted' => true,
        ])
            ->assertCreated()
            ->json('createdId');
        $row = array_column($this->document()['rows']['mask'], null, 'id')[$made];
        self::assertSame(
            ['Ivy', $i['front'], [], true],
            [$row['name'], $row['surface'], $row['nodes'], $row['inverted']],
        );
        $map = BlendMap::fromBytes((string) WarpStore::read($row['image']));
        self::assertSame([4, 2], [$map->columns, $map->rows]);
        self::assertEqualsWithDelta([0, 1, 0, 128 / 255], array_slice($map->shares, 0, 4), 0.005);
        $shown = GreyPicture::of(
            (string) $this->ask('GET', "shows/$this->show/masks/$made.png")
                ->assertOk()
                ->getContent(),
            4,
            2,
        );
        self::assertSame([0, 255, 0], array_slice($shown ?? [], 0, 3));
        // One of the projected outputs shows it in its share of the light; what is cut off is none.
        (new Process([
            'ffmpeg',
            '-y',
            '-v',
            'error',
            '-f',
            'lavfi',
            '-i',
            'testsrc2=s=400x300',
            '-frames:v',
            '1',
            "$this->data/whole.jpg",
        ]))->mustRun();
        $jpeg = (string) file_get_contents("$this->data/whole.jpg");
        self::assertCount(12, GreyPicture::of($jpeg, 4, 3) ?? []);
        foreach (
            [
                ['image' => base64_encode(substr($jpeg, 0, intdiv(strlen($jpeg), 2)))],
                ['image' => base64_encode(substr($jpeg, 0, -40))],
                ['image' => base64_encode('no picture')],
                ['image' => '***'],
                ['image' => ''],
                ['image' => base64_encode(substr($png, 0, 40))],
                ['surface' => $this->id()],
                ['name' => ''],
            ] as $bad
        ) {
            $answer = $this->order(
                $bad + ['action' => 'paint', 'surface' => $i['front'], 'name' => 'Ivy', 'image' => base64_encode($png)],
            )->assertStatus(422);
            self::assertNotSame('', $answer->json('detail'));
        }
        // A drawing of 20,000 × 20,000 px is refused before it is unpacked.
        $large = substr_replace($png, pack('NN', 20_000, 20_000), 16, 8);
        self::assertStringContainsString(
            '100 million',
            $this->order([
                'action' => 'paint',
                'surface' => $i['front'],
                'name' => 'Large',
                'image' => base64_encode($large),
            ])
                ->assertStatus(422)
                ->json('detail'),
        );
        self::assertCount(1, $this->document()['rows']['mask']);
        $this->ask('GET', "shows/$this->show/masks/nothing.png")->assertNotFound();
    }

    public function test_the_worker_computes_warps_and_blends_and_says_when_they_are_old(): void
    {
        $i = $this->ids;
        $seam = fn (): array => (array) $this->ask(
            'GET',
            "shows/$this->show/surfaces/$i[front]/seam?from=0.1,0.5&to=0.9,0.5",
        )
            ->assertOk()
            ->json();
        self::assertGreaterThan(
            0.3,
            $seam()['off'],
            'a bright band where they lie on one another, and one of them dimmer',
        );
        $job = $this->ask('POST', "shows/$this->show/projections", [
            'surface' => $i['front'],
            'level' => true,
            'limit' => 80.0,
        ])
            ->assertStatus(202)
            ->json('id');
        $this->work();
        $told = $this->ask('GET', "tasks/$job")
            ->assertJsonPath('state', 'ready')
            ->json();
        self::assertMatchesRegularExpression(
            '/Warps are right to 0\.0\d px\. All places get \d+ lx/',
            $told['message'],
        );
        $row = $this->row('region', $i['regionOne']);
        self::assertSame(64, strlen($row['model']));
        $warp = ComputedWarp::fromBytes((string) WarpStore::read($row['model']));
        // The middle of the face is lit by the left one's pixel right of its own middle: 1.6 m of 4 m over 1920 px.
        self::assertInstanceOf(ProjectedMesh::class, $warp->warp);
        self::assertEqualsWithDelta(0.0, $warp->warp->error, 1e-6);
        self::assertSame([1920, 1200], array_slice($warp->blend->place ?? [], 2));
        // Six metres before the face, 5 m of it wide: the picture's middle is at -1.6 m, which is 2.9 m from its left.
        Artisan::call('kite:place', ['output' => $i['one'], 'places' => ['960,600', '0.5,600', '3000,600']]);
        [$middle, $left, $past] = array_map(
            static fn (string $line): ?array => json_decode($line, true),
            explode("\n", trim(Artisan::output())),
        );
        self::assertSame([$i['front'], 125.0], [$middle['surface'] ?? '', round($middle['y'] ?? 0, 3)]);
        self::assertEqualsWithDelta(2.9 * 50, $middle['x'] ?? 0, 0.01);
        self::assertNull($past);
        self::assertSame(2, Artisan::call('kite:place', ['output' => $i['one'], 'places' => ['9']]));
        self::assertSame(2, Artisan::call('kite:place', ['output' => $this->id(), 'places' => ['9,9']]));
        self::assertLessThan(0.01, $seam()['off']);
        self::assertArrayNotHasKey("region $i[regionOne]", $this->document()['computed']['findings']);
        $even = $this->ask('GET', "shows/$this->show/regions/$i[regionOne]/evenness")
            ->assertOk()
            ->json();
        self::assertSame([true, 1.0], [$even['metres'], round($even['score'], 6)]);
        self::assertEqualsWithDelta(1 / 50, $even['pixel'], 1e-6);
        // Undone in one step, and old once a projector moves.
        $this->edit([
            $this->updated('projector', $i['left'], ['position' => [[-1.6, 2.5, -4], [-1.7, 2.5, -4]]]),
        ])->assertCreated();
        self::assertStringContainsString(
            'compute it again',
            $this->document()['computed']['findings']["region $i[regionOne]"][0]['message'],
        );
        self::assertGreaterThan(0.01, $seam()['off']);
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        self::assertSame(
            ['', ''],
            [$this->row('region', $i['regionOne'])['model'], $this->row('region', $i['regionTwo'])['model']],
        );
        self::assertFalse($this->ask('GET', "shows/$this->show/regions/".$this->regionOf('led'))->isOk());
    }

    private function regionOf(string $name): string
    {
        return $this->ids[$name].'/evenness';
    }

    public function test_a_computation_is_cancelled_and_what_it_can_not_do_is_said(): void
    {
        $i = $this->ids;
        $job = $this->ask('POST', "shows/$this->show/projections", ['surface' => $i['front']])
            ->assertStatus(202)
            ->json('id');
        $this->ask('POST', "tasks/$job/cancel")
            ->assertOk()
            ->assertJsonPath('state', 'cancelled');
        $this->work();
        self::assertSame('', $this->row('region', $i['regionOne'])['model']);
        $this->ask('POST', "shows/$this->show/projections", ['surface' => $i['wall']])
            ->assertStatus(422)
            ->assertJsonPath('field', 'surface');
        $this->ask('POST', "shows/$this->show/projections", ['surface' => $i['front'], 'limit' => 95])
            ->assertStatus(422)
            ->assertJsonPath('field', 'limit');
        // Turned away, it lights nothing; the worker says so.
        $this->edit([
            $this->updated('projector', $i['left'], ['rotation' => [[0, 0, 0], [180, 0, 0]]]),
        ])->assertCreated();
        $job = $this->ask('POST', "shows/$this->show/projections", ['surface' => $i['front']])
            ->assertStatus(202)
            ->json('id');
        $this->work();
        $told = $this->ask('GET', "tasks/$job")
            ->assertJsonPath('state', 'failed')
            ->json('message');
        self::assertStringContainsString('lights nothing', $told);
        // One whose workers all ended is given up in words.
        $dead = Task::query()->create([
            'showId' => $this->show,
            'person' => 'p',
            'kind' => 'projection',
            'input' => [],
            'state' => 'working',
            'progress' => 0.4,
        ]);
        (new RunTask($dead->id))->failed();
        self::assertSame('failed', $dead->refresh()->state);
        foreach (['from=0.1,0.5&to=2,0', 'from=0.1&to=0.5,0.5', ''] as $query) {
            $this->ask('GET', "shows/$this->show/surfaces/$i[front]/seam?$query")->assertStatus(422);
        }
    }

    public function test_where_a_pixel_of_a_surface_leaves_and_the_squares_of_its_guide_are_told(): void
    {
        $i = $this->ids;
        $region = $this->row('region', $i['regionOne']);
        [$x, $y] = [$region['source'][0] + 10, $region['source'][1] + 20];
        $lands = $this->ask('GET', "shows/$this->show/surfaces/$region[surface]/lands?x=$x&y=$y")
            ->assertOk()
            ->json('lands');
        $found = array_values(array_filter($lands, static fn (array $one): bool => $one['region'] === $i['regionOne']));
        self::assertSame($region['output'], $found[0]['output']);
        $of = app(ShowRepository::class)
            ->core(Show::query()->findOrFail($this->show))
            ->delivery->region($i['regionOne'])[0];
        self::assertEqualsWithDelta(
            $of->place->x + (10 * $of->place->width) / $of->source->width,
            $found[0]['x'],
            1e-9,
        );
        // Beside all that is shown, nothing.
        $this->ask('GET', "shows/$this->show/surfaces/$region[surface]/lands?x=-5&y=0")
            ->assertOk()
            ->assertJson(['lands' => []]);
        $this->ask('GET', "shows/$this->show/surfaces/$region[surface]/lands?x=a&y=0")
            ->assertStatus(422)
            ->assertJsonPath('field', 'x');
        $this->ask('GET', "shows/$this->show/surfaces/$i[left]/lands?x=1&y=0")->assertStatus(422);

        $front = $this->row('surface', $i['front']);
        $this->ask('GET', "shows/$this->show/surfaces/$i[front]/guide")->assertStatus(404);
        $this->edit([
            $this->updated('surface', $i['front'], ['shape' => [$front['shape'], ['guide' => 0.5] + $front['shape']]]),
        ])->assertCreated();
        $guide = $this->ask('GET', "shows/$this->show/surfaces/$i[front]/guide")
            ->assertOk()
            ->json();
        $square = $guide['rows'][0]['lines'][1] - $guide['rows'][0]['lines'][0];
        self::assertEqualsWithDelta((0.5 * $guide['width']) / $front['shape']['width'], $square, 1e-6);
        $png = $this->get("/api/shows/$this->show/surfaces/$i[front]/guide.png")->assertOk();
        self::assertSame(
            [$guide['width'], $guide['height']],
            array_slice((array) getimagesizefromstring((string) $png->getContent()), 0, 2),
        );
        $front = $this->row('surface', $i['front']);
        $this->edit([
            $this->updated('surface', $i['front'], [
                'shape' => [$front['shape'], ['guide' => 0.001] + $front['shape']],
            ]),
        ])
            ->assertStatus(422)
            ->assertJsonPath('field', 'guide');
    }

    public function test_points_that_drifted_are_taken_and_a_record_is_kept(): void
    {
        $i = $this->ids;
        $points = [];
        foreach ([[100, 100], [1800, 110], [1790, 1100], [120, 1090]] as $n => $pixel) {
            $points[] = $id = $this->id();
            $this->edit([
                $this->created('point', $id, [
                    'projector' => $i['left'],
                    'name' => "Mark $n",
                    'place' => [$n, 1, -10],
                    'pixel' => $pixel,
                ]),
            ])->assertCreated();
        }
        $before = $this->row('region', $i['regionOne']);
        $check = fn (array $body): TestResponse => $this->ask(
            'POST',
            "shows/$this->show/projectors/$i[left]/checks",
            $body,
        );
        $told = $check([
            'points' => [
                $points[0] => [103, 96],
                $points[1] => [1803, 106],
                $points[2] => [1793, 1096],
                $points[3] => [123, 1086],
            ],
        ])
            ->assertCreated()
            ->assertJsonPath('name', 'Check Left')
            ->json();
        self::assertSame(4, $told['moved']);
        self::assertEqualsWithDelta([5, 0], [$told['before'], $told['after']], 1e-6);
        self::assertEqualsWithDelta([3, -4, 3, -4, 3, -4, 3, -4], $this->row('region', $i['regionOne'])['pin'], 1e-3);
        self::assertSame([], $this->row('region', $i['regionTwo'])['pin'], 'another projector stays');
        $record = $this->row('check', $told['createdId']);
        self::assertSame([4, 4], [$record['points'], $record['moved']]);
        self::assertEqualsWithDelta(time(), strtotime("$record[taken] UTC"), 130);
        $this->ask('POST', "shows/$this->show/undo")->assertSuccessful();
        self::assertEquals($before, $this->row('region', $i['regionOne']));
        foreach (
            [
                ['points' => [$points[0] => [1]]],
                ['points' => [$points[0] => ['a', 'b']]],
                ['points' => [$this->id() => [1, 2]]],
                ['points' => [$points[0] => [1e9, 2]]],
                // A piece would turn over.
                ['points' => [$points[0] => [1800, 110], $points[1] => [100, 100]]],
            ] as $bad
        ) {
            $check($bad)->assertStatus(422);
        }
        $this->ask('POST', "shows/$this->show/projectors/$i[right]/checks", [])
            ->assertStatus(422)
            ->assertJsonPath('field', 'points');
        $this->ask('POST', "shows/$this->show/projectors/$i[wall]/checks", [])->assertStatus(404);
    }

    public function test_two_projectors_are_matched_by_eye(): void
    {
        $i = $this->ids;
        $halves = $this->ask('GET', "shows/$this->show/halves?regions=$i[regionOne],$i[regionTwo]")
            ->assertOk()
            ->json('halves');
        self::assertEqualsCanonicalizing([$i['regionOne'], $i['regionTwo']], array_keys($halves));
        $step = fn (array $more): TestResponse => $this->ask('POST', "shows/$this->show/outputs", [
            ...['action' => 'eye', 'regions' => [$i['regionOne'], $i['regionTwo']]],
            ...$more,
        ]);
        $step(['brighter' => -10])
            ->assertCreated()
            ->assertJsonPath('name', 'Match by eye');
        self::assertEqualsWithDelta(exp(-0.1), $this->row('output', $i['one'])['peak'], 1e-9);
        self::assertEquals(1, $this->row('output', $i['two'])['peak']);
        $step(['warmer' => 4])->assertCreated();
        $gain = $this->row('output', $i['one'])['gain'];
        self::assertEqualsWithDelta(exp(0.08), $gain[0] / $gain[2], 1e-9);
        $step(['brighter' => 101])
            ->assertStatus(422)
            ->assertJsonPath('field', 'brighter');
        $step(['regions' => [$i['regionOne']]])
            ->assertStatus(422)
            ->assertJsonPath('field', 'regions');
        $this->ask('GET', "shows/$this->show/halves?regions=$i[regionOne]")->assertStatus(422);
        $this->ask('GET', "shows/$this->show/halves?regions=$i[regionOne],$i[left]")->assertStatus(422);
    }

    public function test_a_projector_is_aligned_by_its_points(): void
    {
        $i = $this->ids;
        $lens = Lens::fromRow(self::LENS);
        $true = Pose::of(Vec3::of(-1.9, 2.7, -3.6), 3, -2, 1);
        $in = $true->matrix()->rigidInverse();
        $changes = [];
        foreach (
            [
                [-4.0, 0.5, -10.0],
                [0.5, 0.5, -10.0],
                [0.5, 4.5, -10.0],
                [-4.0, 4.5, -10.0],
                [-2.0, 2.0, -9.2],
                [-1.0, 3.0, -8.8],
                [-3.0, 3.5, -9.5],
            ] as $n => $place
        ) {
            $at = $in->point(Vec3::of(...$place));
            $changes[] = $this->created('point', $this->id(), [
                'projector' => $i['left'],
                'name' => "Point $n",
                'place' => $place,
                'pixel' => $lens->pixel($at->x, $at->y, $at->z),
            ]);
        }
        $changes[] = $this->created('point', $this->id(), [
            'projector' => $i['left'],
            'name' => 'Not found yet',
            'place' => [0, 0, -10],
        ]);
        $this->edit($changes)->assertCreated();
        $found = $this->ask('POST', "shows/$this->show/projectors/$i[left]/align", ['knownLens' => false])
            ->assertOk()
            ->json();
        self::assertEqualsWithDelta([-1.9, 2.7, -3.6], $found['pose']['position'], 1e-4);
        self::assertCount(7, $found['residuals']);
        self::assertLessThan(1e-4, $found['rms']);
        self::assertEquals([-1.6, 2.5, -4], $this->row('projector', $i['left'])['position'], 'looked at, not done');
        $this->ask('POST', "shows/$this->show/projectors/$i[left]/align", ['knownLens' => true, 'apply' => true])
            ->assertCreated()
            ->assertJsonPath('name', 'Align Left');
        self::assertEqualsWithDelta([-1.9, 2.7, -3.6], $this->row('projector', $i['left'])['position'], 1e-4);
        self::assertEqualsWithDelta([3, -2, 1], $this->row('projector', $i['left'])['rotation'], 1e-3);
        $this->ask('POST', "shows/$this->show/projectors/$i[right]/align", ['knownLens' => true])
            ->assertStatus(422)
            ->assertJsonPath('field', 'points');
        // A lens that bends is kept as one.
        $bent = Lens::fromRow(['distortion' => 0.04] + self::LENS);
        $this->edit(
            array_map(function (array $change) use ($bent, $in): array {
                $row = $this->row('point', $change['id']);
                $at = $in->point(Vec3::of(...$row['place']));

                return $this->updated('point', $change['id'], [
                    'pixel' => [$row['pixel'], $bent->pixel($at->x, $at->y, $at->z)],
                ]);
            }, array_slice($changes, 0, 7)),
        )->assertCreated();
        $this->ask('POST', "shows/$this->show/projectors/$i[left]/align", [
            ...['knownLens' => true, 'radial' => true, 'apply' => true],
        ])->assertCreated();
        self::assertEqualsWithDelta(0.04, $this->row('projector', $i['left'])['lens']['distortion'], 1e-5);
        $this->ask('POST', "shows/$this->show/projectors/$i[wall]/align", [])->assertStatus(404);
        foreach ([['place' => [0, 0]], ['place' => [0, 0, 0], 'pixel' => [1]], ['place' => [0, 0, 1e9]]] as $bad) {
            $this->edit([
                $this->created('point', $this->id(), ['projector' => $i['left'], 'name' => 'P'] + $bad),
            ])->assertStatus(422);
        }
    }

    public function test_one_order_makes_the_regions_of_all_projectors_that_are_there_for_a_surface(): void
    {
        $i = $this->ids;
        $drum = $this->id();
        $this->edit([
            $this->created('surface', $drum, [
                'name' => 'Tower',
                'kind' => 'drum',
                'position' => [0, 0, -8],
                'shape' => ['radius' => 1.5, 'arc' => 200, 'height' => 5, 'pixelsPerMetre' => 40],
            ]),
            $this->updated('projector', $i['left'], ['aims' => [[], [$drum]]]),
            $this->updated('projector', $i['right'], ['aims' => [[], [$drum]]]),
            $this->updated('feed', $i['feedTwo'], ['part' => [[], [0, 0, 960, 1200]]]),
        ])->assertCreated();
        $this->order(['action' => 'project', 'surface' => $i['wall']])
            ->assertStatus(422)
            ->assertJsonPath('field', 'surface');
        $this->order(['action' => 'project', 'surface' => $drum])
            ->assertCreated()
            ->assertJsonPath('name', 'Project onto Tower');
        $made = array_values(
            array_filter($this->document()['rows']['region'], static fn (array $r): bool => $r['surface'] === $drum),
        );
        self::assertEqualsCanonicalizing(
            [[1920, 1200], [960, 1200]],
            array_map(static fn (array $r): array => [$r['width'], $r['height']], $made),
        );
        $this->order(['action' => 'project', 'surface' => $drum])
            ->assertOk()
            ->assertJsonPath('changes', []);
        $job = $this->ask('POST', "shows/$this->show/projections", ['surface' => $drum, 'limit' => 70])
            ->assertStatus(202)
            ->json('id');
        $this->work();
        $this->ask('GET', "tasks/$job")->assertJsonPath('state', 'ready');
        // What one lights more straightly it gives more of; in the middle both give half.
        $maps = array_map(
            static fn (array $r): ComputedWarp => ComputedWarp::fromBytes((string) WarpStore::read($r['model'])),
            array_filter($this->document()['rows']['region'], static fn (array $r): bool => $r['surface'] === $drum),
        );
        foreach ($maps as $warp) {
            self::assertNotNull($warp->blend);
            self::assertGreaterThan(0.95, max($warp->blend->shares));
            self::assertSame(0.0, min($warp->blend->shares));
        }
    }

    /**
     * A region that is bent by hand, fades, is masked on both sides and lifted in the dark, on an output of few pixels.
     *
     * @return array{string, string, string} surface, output, region
     */
    private function bentSheet(): array
    {
        [$sheet, $output, $region] = [$this->id(), $this->id(), $this->id()];
        $this->edit([
            $this->created('surface', $sheet, [
                'name' => 'Sheet',
                'kind' => 'flat',
                'shape' => ['width' => 6, 'height' => 4, 'pixelsPerMetre' => 50],
            ]),
            $this->created('output', $output, [
                'name' => 'Small',
                'width' => 240,
                'height' => 150,
                'gamma' => 2.4,
                'black' => 0.03,
            ]),
            $this->created('region', $region, [
                'output' => $output,
                'surface' => $sheet,
                'source' => [20, 10, 260, 180],
                'x' => 10,
                'y' => 8,
                'width' => 220,
                'height' => 130,
                'pin' => [9, 4, -12, 6, -6, -11, 3, -2],
                'blend' => ['right' => 90, 'top' => 40, 'curve' => 2],
            ]),
            $this->created('mask', $this->id(), [
                'surface' => $sheet,
                'name' => 'Door',
                'nodes' => [60, 60, 60, 60, 60, 60, 110, 50, 110, 50, 110, 50, 100, 120, 100, 120, 100, 120],
                'inverted' => true,
                'feather' => 9,
            ]),
        ])->assertCreated();
        $this->order(['action' => 'line', 'region' => $region, 'way' => 'column', 'at' => 0.4])->assertCreated();
        $this->order([
            'action' => 'bend',
            'region' => $region,
            'by' => [10 => [0.0, 14.0]],
            'radius' => 60.0,
        ])->assertCreated();

        return [$sheet, $output, $region];
    }

    /** Packs of a surface as they are downloaded. */
    private function package(string $surface): string
    {
        $package = (string) $this->ask('GET', "shows/$this->show/surfaces/$surface/projection.mpcdi")
            ->assertOk()
            ->assertHeader('Content-Type', 'application/zip')
            ->getContent();
        self::assertSame('PK', substr($package, 0, 2));

        return $package;
    }

    /** Sends a package in parts, and imports it for a surface. */
    private function importPackage(string $package, string $surface): void
    {
        $upload = $this->ask('POST', "shows/$this->show/uploads", [
            'name' => 'Sheet.mpcdi',
            'bytes' => strlen($package),
        ])->assertCreated();
        $half = intdiv(strlen($package), 2);
        $this->part((string) $upload->json('id'), 0, substr($package, 0, $half))->assertOk();
        $sent = $this->part((string) $upload->json('id'), $half, substr($package, $half))->assertOk();
        self::assertArrayNotHasKey('media', (array) $sent->json());
        $task = $this->ask('POST', "shows/$this->show/surfaces/$surface/projection.mpcdi", [
            'file' => $sent->json('hash'),
        ])
            ->assertStatus(202)
            ->json('id');
        $this->work();
        $this->ask('GET', "tasks/$task")->assertJsonPath('state', 'ready');
    }

    /** @return array<int, array{surface: string, x: float, y: float, weight: float}|null> what each pixel of an output shows */
    private function shown(string $output): array
    {
        $show = app(ShowRepository::class)->core(Show::query()->findOrFail($this->show));
        $compiler = new PlanCompiler(WarpStore::read(...));
        $compiler->compile($show, 1);
        $delivered = Delivered::of($compiler->plan(), $output);
        $of = $show->delivery->outputs[$output];
        $places = [];
        for ($y = 0; $y < $of->height; $y++) {
            for ($x = 0; $x < $of->width; $x++) {
                $places[] = $delivered->place($x + 0.5, $y + 0.5);
            }
        }

        return $places;
    }

    public function test_a_calibration_that_goes_out_and_comes_back_is_the_same_at_every_pixel(): void
    {
        [$sheet, $output, $region] = $this->bentSheet();
        $before = $this->shown($output);
        $package = $this->package($sheet);
        $this->importPackage($package, $sheet);
        $row = $this->row('region', $region);
        self::assertSame([[], []], [$row['pin'], $row['points']], 'what came in does all of it');
        self::assertSame(0.03, $this->row('output', $output)['black']);
        $after = $this->shown($output);
        $lit = 0;
        foreach ($before as $k => $was) {
            $is = $after[$k];
            self::assertSame($was === null, $is === null, "pixel $k");
            if ($was === null || $is === null) {
                continue;
            }
            $lit++;
            self::assertEqualsWithDelta([$was['x'], $was['y']], [$is['x'], $is['y']], 0.01, "pixel $k");
            // Half a step of 255 by which it was written, one by which it is told.
            self::assertEqualsWithDelta($was['weight'] ** (1 / 2.4), $is['weight'] ** (1 / 2.4), 1.5 / 254, "pixel $k");
        }
        self::assertGreaterThan(20_000, $lit);
        // Twice is the same again; the lift is even over all of it.
        $warp = ComputedWarp::fromBytes((string) WarpStore::read($row['model']));
        self::assertInstanceOf(ProjectedMesh::class, $warp->warp);
        self::assertNotNull($warp->lift);
        self::assertEqualsWithDelta(1.0, $warp->lift->at(60.5, 100.5), 0.02);
        self::assertArrayNotHasKey(
            "region $region",
            $this->document()['computed']['findings'],
            'nothing is known of what it was made of',
        );
        // Into a show without black, what was added comes along.
        $this->edit([$this->updated('output', $output, ['black' => [0.03, 0.0]])])->assertCreated();
        $this->importPackage($package, $sheet);
        self::assertEqualsWithDelta(0.03, $this->row('output', $output)['black'], 0.003);
        // A map of other pixels than the output's, as other programs make them, is read between its own.
        $this->edit([
            $this->updated('output', $output, ['width' => [240, 480], 'height' => [150, 300]]),
        ])->assertCreated();
        $this->importPackage($package, $sheet);
        foreach ($this->shown($output) as $k => $is) {
            [$x, $y] = [$k % 480, intdiv($k, 480)];
            $was = $before[intdiv($y, 2) * 240 + intdiv($x, 2)];
            if ($is !== null && $was !== null) {
                self::assertEqualsWithDelta([$was['x'], $was['y']], [$is['x'], $is['y']], 0.8, "pixel $x, $y");
            }
        }
    }

    public function test_regions_are_grouped_overlapped_and_faded_each_as_one_edit(): void
    {
        [$a, $b] = [$this->ids['regionOne'], $this->ids['regionTwo']];
        $made = $this->order(['action' => 'group', 'regions' => [$a, $b], 'name' => 'Front'])
            ->assertCreated()
            ->json('createdId');
        self::assertSame([$made, $made], [$this->row('region', $a)['group'], $this->row('region', $b)['group']]);
        $this->order(['action' => 'nest', 'group' => $made, 'into' => $made])
            ->assertStatus(422)
            ->assertJsonPath('detail', "Front can't lie in itself.");
        $this->order(['action' => 'gather', 'regions' => [$b], 'into' => ''])->assertCreated();
        self::assertNull($this->row('region', $b)['group']);
        // A group that is gone leaves its regions, and comes back with undo.
        $this->edit([['kind' => 'regionGroup', 'id' => $made, 'op' => 'delete']])->assertCreated();
        self::assertSame($made, $this->row('region', $a)['group']);
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        self::assertSame('Front', $this->row('regionGroup', $made)['name']);
        $sources = [$this->row('region', $a)['source'], $this->row('region', $b)['source']];
        $this->order(['action' => 'overlap', 'regions' => [$a, $b], 'amount' => 60, 'unit' => 'px'])->assertCreated();
        [$left, $right] = [$this->row('region', $a)['source'], $this->row('region', $b)['source']];
        self::assertSame(60, $left[0] + $left[2] - $right[0]);
        $this->order(['action' => 'fade', 'regions' => [$a, $b]])->assertCreated();
        self::assertEquals(60, $this->row('region', $b)['blend']['left']);
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        self::assertSame($sources, [$this->row('region', $a)['source'], $this->row('region', $b)['source']]);
        $this->order(['action' => 'overlap', 'regions' => [$a], 'amount' => 60])
            ->assertStatus(422)
            ->assertJsonPath('field', 'regions');
    }

    public function test_what_is_no_calibration_is_refused(): void
    {
        $i = $this->ids;
        [$sheet, , $region] = $this->bentSheet();
        $table = Csv::read(
            ltrim(
                (string) $this->ask('GET', "shows/$this->show/regions/$region/warp.csv")
                    ->assertOk()
                    ->getContent(),
                "\u{FEFF}",
            ),
        );
        self::assertSame(['Source X', 'Source Y', 'Output X', 'Output Y'], $table[0]);
        self::assertCount(1 + 33 * 33, $table);
        self::assertEqualsWithDelta([19.0, 12.0], [(float) $table[1][2], (float) $table[1][3]], 1e-3);
        $alpha = (string) $this->ask('GET', "shows/$this->show/regions/$region/alpha.png")
            ->assertOk()
            ->getContent();
        self::assertSame([240, 150], GreyPicture::size($alpha));
        $this->ask('POST', "shows/$this->show/surfaces/$sheet/projection.mpcdi", ['file' => str_repeat('a', 64)])
            ->assertStatus(422)
            ->assertJsonPath('field', 'file');
        $this->ask('POST', "shows/$this->show/uploads", ['name' => 'A.mpcdi', 'bytes' => 2 ** 30 + 1])
            ->assertStatus(413)
            ->assertJsonPath('detail', 'A.mpcdi is larger than the 1 GB that a package may have.');
        // One that names files which it does not have says so, and changes nothing.
        $upload = (string) $this->ask('POST', "shows/$this->show/uploads", ['name' => 'B.mpcdi', 'bytes' => 22])->json(
            'id',
        );
        $hash = $this->part($upload, 0, "PK\x05\x06".str_repeat("\0", 18))
            ->assertOk()
            ->json('hash');
        $task = $this->ask('POST', "shows/$this->show/surfaces/$sheet/projection.mpcdi", ['file' => $hash])->json('id');
        $this->work();
        $this->ask('GET', "tasks/$task")
            ->assertJsonPath('state', 'failed')
            ->assertJsonPath('message', 'The package has no file "mpcdi.xml".');
        self::assertSame('', $this->row('region', $region)['model']);
        foreach (['', 'not base64!', base64_encode('no archive')] as $bad) {
            $this->ask('POST', "shows/$this->show/surfaces/$i[front]/projection.mpcdi", ['package' => $bad])
                ->assertStatus(422)
                ->assertJsonPath('field', 'package');
        }
        $this->ask('GET', "shows/$this->show/surfaces/$i[wall]/projection.mpcdi")->assertStatus(422);
        $this->ask('GET', "shows/$this->show/surfaces/$i[led]/projection.mpcdi")->assertStatus(404);
        $this->ask('GET', "shows/$this->show/regions/$i[wall]/alpha.png")->assertStatus(404);
        $this->ask('GET', "shows/$this->show/regions/$i[wall]/warp.csv")->assertStatus(404);
    }

    public function test_projectors_are_matched_by_what_was_measured(): void
    {
        [$one, $two] = [$this->ids['one'], $this->ids['two']];
        $matched = $this->order([
            'action' => 'match',
            'measured' => [$one => ['white' => 200, 'black' => 0.2], $two => ['white' => 150, 'black' => 0.3]],
        ])
            ->assertCreated()
            ->json('matched');
        self::assertEqualsWithDelta([150, 0.25], [$matched['white'], $matched['costs'][$one]], 1e-9);
        self::assertEqualsWithDelta([0.75, 0.75, 0.75], $this->row('output', $one)['gain'], 1e-9);
        self::assertEqualsWithDelta(0.0005, $this->row('output', $one)['black'], 1e-9);
    }
}
