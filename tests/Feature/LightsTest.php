<?php

declare(strict_types=1);

namespace Tests\Feature;

use App\Paper\Archive;
use Illuminate\Testing\TestResponse;
use PHPUnit\Framework\Attributes\DataProvider;
use Tests\Core\GdtfTest;
use Tests\TestCase;

/** Pixel lights by request: their types, patches and nodes, and what can't be. */
final class LightsTest extends TestCase
{
    private string $show = '';

    /** @var array<string, string> */
    private array $ids = [];

    protected function setUp(): void
    {
        parent::setUp();
        $this->show = $this->show();
        foreach (['fixture', 'one', 'two', 'three', 'node', 'face'] as $name) {
            $this->ids[$name] = $this->id();
        }
        $i = $this->ids;
        $light = fn (string $name): array => $this->created('surface', $i[$name], [
            'name' => ucfirst($name),
            'kind' => 'light',
            'shape' => ['fixture' => $i['fixture']],
        ]);
        $this->edit([
            $this->created('fixture', $i['fixture'], [
                'name' => 'Mast',
                'columns' => 9,
                'rows' => 22,
                'widthMm' => 450,
                'heightMm' => 2200,
                'channels' => 'red, green, blue, white 3200, white 6500',
            ]),
            $light('one'),
            $light('two'),
            $light('three'),
            $this->created('surface', $i['face'], [
                'name' => 'Face',
                'kind' => 'flat',
                'shape' => ['width' => 2, 'height' => 1],
            ]),
            $this->created('node', $i['node'], ['name' => 'Node', 'protocol' => 'artnet', 'address' => '10.0.0.5']),
        ])->assertCreated();
    }

    /** @param  list<array<string, mixed>>  $changes */
    private function edit(array $changes): TestResponse
    {
        return $this->ask('POST', "shows/$this->show/edits", ['name' => 'Lights', 'changes' => $changes]);
    }

    /** @param  array<string, mixed>  $more */
    private function patched(array $more = []): TestResponse
    {
        return $this->ask(
            'POST',
            "shows/$this->show/outputs",
            $more + [
                'action' => 'patch',
                'node' => $this->ids['node'],
                'surfaces' => [$this->ids['one'], $this->ids['two'], $this->ids['three']],
                'universe' => 1,
                'channel' => 1,
                'rule' => 'new universe',
            ],
        );
    }

    /** @return array<string, array{int, int}> universe and channel by light */
    private function addresses(): array
    {
        $rows = $this->ask('GET', "shows/$this->show")
            ->assertOk()
            ->json('rows');
        $names = array_column($rows['surface'], 'name', 'id');
        $found = [];
        foreach ($rows['patch'] as $row) {
            $found[$names[$row['surface']]] = [$row['universe'], $row['channel']];
        }
        ksort($found);

        return $found;
    }

    public function test_lights_are_patched_by_rules(): void
    {
        $this->patched()->assertCreated()->assertJsonPath('name', 'Patch lights');
        self::assertSame(['One' => [1, 1], 'Three' => [5, 1], 'Two' => [3, 1]], $this->addresses());
        // The first ends at slot 480 of universe 2. The second has six pixels there, 102 in universe 3, and 90 in
        // universe 4: 450 slots.
        $this->patched(['rule' => 'pack'])->assertCreated();
        self::assertSame(['One' => [1, 1], 'Three' => [4, 451], 'Two' => [2, 481]], $this->addresses());
        $this->patched(['rule' => 'every', 'every' => 3, 'universe' => 10, 'channel' => 33])->assertCreated();
        self::assertSame(['One' => [10, 33], 'Three' => [16, 33], 'Two' => [13, 33]], $this->addresses());
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        self::assertSame([2, 481], $this->addresses()['Two']);
        self::assertCount(
            3,
            $this->ask('GET', "shows/$this->show")->json('rows.patch'),
            'what was patched is addressed anew, not twice',
        );
    }

    /** @return array<string, array{array<string, mixed>, string}> */
    public static function wrong(): array
    {
        return [
            'no such rule' => [['rule' => 'by chance'], 'rule'],
            'no such node' => [['node' => '01hzz000000000000000000000'], 'node'],
            'beyond the last universe' => [['universe' => 32_765], 'universe'],
            'universe 0' => [['universe' => 0], 'universe'],
            'channel 513' => [['channel' => 513], 'channel'],
            'no light' => [['surfaces' => ['01hzz000000000000000000000']], 'surfaces'],
            'so far apart' => [['rule' => 'every', 'every' => 1001], 'every'],
        ];
    }

    /** @param  array<string, mixed>  $order */
    #[DataProvider('wrong')]
    public function test_what_can_not_be_patched_is_refused_and_changes_nothing(array $order, string $field): void
    {
        $before = $this->ask('GET', "shows/$this->show")->json('revision');
        self::assertSame($field, $this->patched($order)->assertStatus(422)->json('field'));
        self::assertSame([$before, []], [$this->ask('GET', "shows/$this->show")->json('revision'), $this->addresses()]);
    }

    public function test_addresses_of_a_light_are_told_along_its_wiring(): void
    {
        $this->patched()->assertCreated();
        $patch = $this->ask('GET', "shows/$this->show")->json('rows.patch.0');
        $this->edit([
            $this->updated('patch', $patch['id'], [
                'wiring' => [[], ['corner' => 'bottom left', 'along' => 'columns', 'serpentine' => true]],
            ]),
        ])->assertCreated();
        $told = $this->ask('GET', "shows/$this->show/patches/$patch[id]")
            ->assertOk()
            ->json();
        self::assertSame(
            [[189, 180, 171], [[1, 1], [1, 6], [1, 11]], [1, 506], [2, 1], 'artnet', [[1, 0], [2, 1]]],
            [
                array_slice($told['order'], 0, 3),
                array_slice($told['addresses'], 0, 3),
                $told['addresses'][101],
                $told['addresses'][102],
                $told['protocol'],
                $told['numbers'],
            ],
        );
        self::assertSame(
            [['red', [1, 0, 0]], ['white', true]],
            [
                [$told['channels'][0]['kind'], array_map(intval(...), $told['channels'][0]['colour'])],
                [$told['channels'][3]['kind'], $told['channels'][3]['colour'][2] < 0.6],
            ],
        );
        $this->ask('GET', "shows/$this->show/patches/nothing")->assertNotFound();
    }

    public function test_layers_are_driven_by_a_console_one_after_another(): void
    {
        [$line, $desk] = [$this->id(), $this->id()];
        $layers = array_map(fn (): string => $this->id(), range(1, 40));
        $this->edit([
            $this->created('timeline', $line, ['name' => 'Main', 'duration' => 705_600_000 * 60]),
            $this->created('personality', $desk, [
                'name' => 'Desk',
                'parts' => 'intensity 16, folder, index, x 16, y 16, scale 16, turn 16',
            ]),
            ...array_map(
                fn (string $id, int $n): array => $this->created('layer', $id, [
                    'timeline' => $line,
                    'name' => "L$n",
                    'order' => $n,
                ]),
                $layers,
                array_keys($layers),
            ),
        ])->assertCreated();
        $order = fn (array $more = []): TestResponse => $this->ask(
            'POST',
            "shows/$this->show/outputs",
            $more + [
                'action' => 'console',
                'personality' => $desk,
                'layers' => $layers,
                'protocol' => 'artnet',
                'universe' => 3,
                'channel' => 5,
            ],
        );
        $order()->assertCreated()->assertJsonPath('name', 'Drive layers by a console');
        $places = function () use ($layers): array {
            $rows = array_column($this->ask('GET', "shows/$this->show")->json('rows.control'), null, 'layer');

            return array_map(static fn (string $id): array => [$rows[$id]['universe'], $rows[$id]['channel']], $layers);
        };
        // 12 channels each: 42 from channel 5 on end with 508, and 40 fit; from 490 on the first ends with 501, and
        // 13 would not fit into 11.
        self::assertSame([[3, 5], [3, 17], [3, 473]], [$places()[0], $places()[1], $places()[39]]);
        $order(['channel' => 490])->assertCreated();
        self::assertSame(
            [[3, 490], [4, 1], [4, 13], [4, 457]],
            [$places()[0], $places()[1], $places()[2], $places()[39]],
        );
        $told = $this->ask('GET', "shows/$this->show")->json('computed.personalities')[$desk];
        self::assertSame(
            [12, [5, 'Position X', 2, 128, -4096, 0]],
            [
                $told['slots'],
                [
                    $told['channels'][3]['channel'],
                    $told['channels'][3]['name'],
                    $told['channels'][3]['slots'],
                    $told['channels'][3]['rest'],
                    (int) $told['channels'][3]['from'],
                    (int) $told['channels'][3]['at'],
                ],
            ],
        );
        foreach (
            [
                [['channel' => 502], 'channel'],
                [['universe' => 0], 'universe'],
                [['universe' => 32_768, 'channel' => 500], 'universe'],
                [['universe' => 32_769], 'universe'],
                [['personality' => $line], 'personality'],
                [['layers' => [$desk]], 'layers'],
                [['protocol' => 'ddp'], 'protocol'],
            ] as [$wrong, $field]
        ) {
            self::assertSame($field, $order($wrong)->assertStatus(422)->json('field'));
        }
        self::assertSame([3, 490], $places()[0]);
        $csv = explode(
            "\r\n",
            str_replace(
                "\u{FEFF}",
                '',
                (string) $this->ask('GET', "shows/$this->show/personalities/$desk.csv")
                    ->assertOk()
                    ->getContent(),
            ),
        );
        // 32768 of 65535 is a hair past the middle: the greatest is 4096 · 32767 ÷ 32768.
        self::assertSame(
            [
                '1,Intensity,coarse,0,0,0,1,Dimmer,',
                '2,Intensity,fine,0,,,,Dimmer,',
                '3,Media folder,,0,0,0,255,MediaFolder1,',
                '5,Position X,coarse,128,-4096,0,4095.875,XYZ_X,',
                14,
            ],
            [$csv[1], $csv[2], $csv[3], $csv[5], count($csv)],
        );
        $this->ask('GET', "shows/$this->show/personalities/$line.csv")->assertNotFound();
        $gdtf = $this->ask('GET', "shows/$this->show/personalities.gdtf")->assertOk();
        self::assertStringContainsString('.gdtf', (string) $gdtf->headers->get('Content-Disposition'));
        self::assertStringContainsString(
            '<DMXMode Name="Desk"',
            Archive::files((string) $gdtf->getContent(), 'file', 'description.xml')['description.xml'],
        );
        // Parts that no longer fit where it is patched are refused, and nothing is lost.
        $this->edit([
            $this->updated('personality', $desk, [
                'parts' => ['intensity 16, folder, index, x 16, y 16, scale 16, turn 16', 'warp'],
            ]),
        ])->assertStatus(422);
    }

    public function test_the_sheet_of_lights_goes_out(): void
    {
        $this->patched()->assertCreated();
        $csv = (string) $this->ask('GET', "shows/$this->show/lights.csv")
            ->assertOk()
            ->getContent();
        self::assertStringContainsString('Two,Mast,Node,10.0.0.5,Art-Net,3,2,1,510,102,2,top left,rows,0', $csv);
        self::assertStringStartsWith(
            '%PDF',
            (string) $this->ask('GET', "shows/$this->show/lights.pdf")
                ->assertOk()
                ->getContent(),
        );
        $this->ask('GET', "shows/{$this->show()}/lights.pdf")->assertOk();
        $this->ask('GET', "shows/$this->show/lights.txt")->assertNotFound();
    }

    public function test_types_in_the_library_are_as_they_are_stored(): void
    {
        $types = $this->ask('GET', 'fixtures')->assertOk()->json('fixtures');
        self::assertGreaterThan(10, count($types));
        $changes = [];
        foreach ($types as $type) {
            $changes[] = $this->created(
                'fixture',
                $this->id(),
                array_intersect_key(
                    $type,
                    array_flip([
                        'name',
                        'columns',
                        'rows',
                        'widthMm',
                        'heightMm',
                        'points',
                        'channels',
                        'header',
                        'bits',
                        'straddles',
                        'gamma',
                        'minimum',
                        'watts',
                    ]),
                ),
            );
        }
        $this->edit($changes)->assertCreated();
    }

    public function test_a_gdtf_file_becomes_types_with_their_wiring(): void
    {
        $pixels = [[0.1, 0, 0, 1], [0, 0, 0, 4], [0, 0, 0.1, 7], [0.1, 0, 0.1, 10]];
        $channels = implode(
            '',
            array_map(
                static fn (int $i, string $c): string => GdtfTest::channel('Cell', (string) ($i + 1), "ColorAdd_$c"),
                [0, 1, 2],
                ['R', 'G', 'B'],
            ),
        );
        $file = fn (array $files): array => ['file' => base64_encode(Archive::of($files))];
        $told = $this->ask(
            'POST',
            'fixtures/gdtf',
            $file(['description.xml' => GdtfTest::description($pixels, $channels), 'models/cell.glb' => 'x']),
        )
            ->assertOk()
            ->json();
        self::assertSame(
            ['Quay bar', 1, 'red, green, blue', []],
            [$told['name'], count($told['modes']), $told['modes'][0]['type']['channels'], $told['modes'][0]['path']],
        );
        // From the bottom right leftward, and back above.
        self::assertSame(
            ['bottom right', 'rows', true],
            [
                $told['modes'][0]['wiring']['corner'],
                $told['modes'][0]['wiring']['along'],
                $told['modes'][0]['wiring']['serpentine'],
            ],
        );
        $type = $told['modes'][0]['type'];
        $this->edit([
            $this->created(
                'fixture',
                $this->id(),
                array_intersect_key(
                    $type,
                    array_flip([
                        'name',
                        'columns',
                        'rows',
                        'widthMm',
                        'heightMm',
                        'points',
                        'channels',
                        'header',
                        'bits',
                    ]),
                ),
            ),
        ])->assertCreated();
        foreach (
            [
                ['file' => ''],
                ['file' => '***'],
                ['file' => base64_encode('no archive')],
                $file(['readme.txt' => 'x']),
                $file(['description.xml' => '<a/>']),
            ] as $bad
        ) {
            self::assertNotSame('', $this->ask('POST', 'fixtures/gdtf', $bad)->assertStatus(422)->json('detail'));
        }
    }

    public function test_rows_that_can_not_be_are_refused_whole(): void
    {
        $i = $this->ids;
        foreach (
            [
                [
                    $this->created('fixture', $this->id(), [
                        'name' => 'Bad',
                        'columns' => 4,
                        'rows' => 1,
                        'widthMm' => 100,
                        'heightMm' => 10,
                        'channels' => 'mauve',
                    ]),
                    'channels',
                ],
                [
                    $this->created('surface', $this->id(), ['name' => 'Light', 'kind' => 'light', 'shape' => []]),
                    'shape',
                ],
                [
                    $this->created('surface', $this->id(), [
                        'name' => 'Light',
                        'kind' => 'light',
                        'shape' => ['fixture' => $i['node']],
                    ]),
                    'shape',
                ],
                [$this->created('node', $this->id(), ['name' => 'Bad', 'address' => 'quay.local']), 'address'],
                [$this->created('patch', $this->id(), ['surface' => $i['one'], 'universe' => 70_000]), 'universe'],
                [$this->created('patch', $this->id(), ['surface' => $i['one'], 'path' => [1, 1]]), 'path'],
                [
                    $this->created('patch', $this->id(), ['surface' => $i['one'], 'wiring' => ['corner' => 'middle']]),
                    'corner',
                ],
                [$this->created('patch', $this->id(), ['surface' => $i['one'], 'values' => ['level' => 2]]), 'level'],
                [$this->created('patch', $this->id(), ['surface' => $this->id()]), 'surface'],
            ] as [$change, $field]
        ) {
            $answer = $this->edit([$change])->assertStatus(422);
            self::assertStringContainsString($field, (string) $answer->json('field').' '.$answer->json('detail'));
        }
        // A type that lights are made of stays, and so does what they show of it.
        $refused = $this->edit([
            ['kind' => 'fixture', 'id' => $i['fixture'], 'op' => 'delete', 'fields' => []],
        ])->assertStatus(422);
        self::assertStringContainsString('is built of Mast', (string) $refused->json('detail'));
        // A patch on what is no light sends nothing, and says so.
        $this->edit([
            $this->created('patch', $this->id(), ['surface' => $i['face'], 'node' => $i['node']]),
        ])->assertCreated();
        self::assertStringContainsString(
            'Face is no pixel light any more',
            (string) json_encode($this->ask('GET', "shows/$this->show")->json('computed.findings')),
        );
        // A light that goes takes its patch along, and comes back with it.
        $this->patched()->assertCreated();
        $this->edit([['kind' => 'surface', 'id' => $i['one'], 'op' => 'delete', 'fields' => []]])->assertCreated();
        self::assertArrayNotHasKey('One', $this->addresses());
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        self::assertSame([1, 1], $this->addresses()['One']);
        // A node that goes leaves the patches.
        $this->edit([['kind' => 'node', 'id' => $i['node'], 'op' => 'delete', 'fields' => []]])->assertCreated();
        self::assertCount(4, $this->ask('GET', "shows/$this->show")->json('rows.patch'));
        self::assertStringContainsString(
            'The node that the patch of One names was removed.',
            (string) json_encode($this->ask('GET', "shows/$this->show")->json('computed.findings')),
        );
    }
}
