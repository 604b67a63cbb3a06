<?php

declare(strict_types=1);

namespace Tests\Feature;

use App\Support\Problem;
use Illuminate\Support\Facades\DB;
use PHPUnit\Framework\Attributes\DataProvider;
use Tests\TestCase;

/**
 * What the API answers when the ground under it gives way, and to requests that once were answered by a fault of
 * ours.
 */
final class FaultTest extends TestCase
{
    private function send(string $method, string $path, string $body): \Illuminate\Testing\TestResponse
    {
        return $this->call(
            $method,
            "http://127.0.0.1:4180/api/$path",
            [],
            ['kite_person' => '01hzzzzzzzzzzzzzzzzzzzzzzz'],
            [],
            [
                'HTTP_HOST' => '127.0.0.1:4180',
                'HTTP_ORIGIN' => 'http://127.0.0.1:4180',
                'CONTENT_TYPE' => 'application/json',
            ],
            $body,
        );
    }

    public function test_a_database_that_somebody_else_holds_is_said_and_not_a_fault(): void
    {
        $show = $this->show();
        DB::statement('pragma busy_timeout = 30');
        $other = new \PDO("sqlite:$this->data/kite.sqlite");
        $other->exec('begin immediate');
        $edit = ['name' => 'Add', 'changes' => [$this->created('seat', $this->id(), ['name' => 'Row 1'])]];
        $this->ask('POST', "shows/$show/edits", $edit)
            ->assertStatus(503)
            ->assertHeader('Content-Type', 'application/problem+json')
            ->assertJsonPath('detail', 'Others are writing to the show just now. Nothing was changed; try again.');
        $this->ask('POST', "shows/$show/engage")->assertStatus(503);
        $this->ask('GET', "shows/$show")
            ->assertOk()
            ->assertJsonPath('revision', 0);
        $other->exec('rollback');
        $this->ask('POST', "shows/$show/edits", $edit)->assertCreated();
    }

    public function test_a_database_that_can_only_be_read_or_has_no_room_is_said(): void
    {
        $show = $this->show();
        $edit = fn (int $n): array => [
            'name' => 'Add',
            'changes' => array_map(
                fn (int $i): array => $this->created('seat', $this->id(), ['name' => str_repeat('Row ', 40).$i]),
                range(1, $n),
            ),
        ];
        DB::statement('pragma query_only = on');
        $this->ask('POST', "shows/$show/edits", $edit(1))
            ->assertStatus(503)
            ->assertJsonPath('title', 'Not just now');
        $this->ask('GET', "shows/$show")->assertOk();
        DB::statement('pragma query_only = off');
        DB::statement('pragma max_page_count = '.((int) DB::scalar('pragma page_count') + 2));
        $this->ask('POST', "shows/$show/edits", $edit(400))
            ->assertStatus(507)
            ->assertJsonPath('detail', 'The disk is full. Nothing was changed; make room and try again.');
        $this->ask('GET', "shows/$show")
            ->assertOk()
            ->assertJsonPath('revision', 0)
            ->assertJsonCount(0, 'rows.seat');
        DB::statement('pragma max_page_count = 1000000');
        $this->ask('POST', "shows/$show/edits", $edit(400))->assertCreated();
    }

    public function test_a_disk_that_takes_no_more_is_said_by_whoever_notices(): void
    {
        foreach (
            [
                'file_put_contents(): Write of 8192 bytes failed with errno=28 No space left on device',
                'file_put_contents(): Only 0 of 10 bytes written, possibly out of free disk space',
                'A computed warp could not be written: the disk is full or read-only.',
            ] as $said
        ) {
            $answer = Problem::response(new \ErrorException($said));
            self::assertSame(
                [507, 'No room left'],
                [$answer->getStatusCode(), json_decode((string) $answer->getContent(), true)['title'] ?? ''],
            );
        }
        self::assertSame(
            507,
            Problem::response(
                new \RuntimeException('Wrapped', 0, new \ErrorException('fwrite(): No space left on device')),
            )->getStatusCode(),
        );
        self::assertSame(500, Problem::response(new \RuntimeException('Something else'))->getStatusCode());
        // A body of which the disk took only a part.
        $show = $this->show();
        $this->call(
            'POST',
            "http://127.0.0.1:4180/api/shows/$show/edits",
            [],
            [],
            [],
            [
                'HTTP_HOST' => '127.0.0.1:4180',
                'HTTP_ORIGIN' => 'http://127.0.0.1:4180',
                'CONTENT_TYPE' => 'application/json',
                'CONTENT_LENGTH' => '5000',
            ],
            '{"name":"Add","changes":[',
        )->assertStatus(507);
    }

    /** @return array<string, array{string, string, string, int, string}> method, path, body, status, field */
    public static function oddRequests(): array
    {
        return [
            'a name of a test card that is a list' => [
                'GET',
                'patterns/testcard.png?width=64&height=48&name[]=x',
                '{}',
                422,
                'name',
            ],
            'a width that is no number' => ['GET', 'patterns/testcard.png?width=1e3&height=48', '{}', 422, 'width'],
            'a surface that is a list' => ['GET', 'shows/SHOW/trace?surface[]=x', '{}', 422, 'surface'],
            'a frame rate that is a list' => ['POST', 'timecode', '{"text":"1","frameRate":["25"]}', 422, 'frameRate'],
            'a panel whose name is a list' => [
                'POST',
                'walls/figures',
                '{"panel":{"name":["x"],"widthMm":500,"heightMm":500,"widthPx":192,"heightPx":192},"columns":2,"rows":2}',
                422,
                'name',
            ],
            'a panel without a height' => [
                'POST',
                'walls/figures',
                '{"panel":{"widthMm":500,"widthPx":192,"heightPx":192},"columns":2,"rows":2}',
                422,
                'panel.heightMm',
            ],
            'a surface to aim at that is a list' => [
                'POST',
                'shows/SHOW/arrange',
                '{"action":"fill","ids":["x"],"surface":["x"]}',
                422,
                'ids',
            ],
            'an endless width of a sensor' => [
                'POST',
                'cameras/focal',
                '{"sensorWidth":1e309,"angle":40}',
                422,
                'sensorWidth',
            ],
            'a width of a sensor beyond all cameras' => [
                'POST',
                'cameras/focal',
                '{"sensorWidth":1e308,"angle":0.6}',
                422,
                'sensorWidth',
            ],
            'an endless angle' => ['POST', 'walls/seams', '{"columns":4,"angle":-1e309}', 422, 'angle'],
            'a panel that is wider than the sea' => [
                'POST',
                'walls/seams',
                '{"columns":4,"widthMm":1e308,"radius":1e308}',
                422,
                'width',
            ],
            'arithmetic that overflows' => ['POST', 'arithmetic', '{"text":"'.str_repeat('9', 400).'"}', 422, ''],
            'arithmetic with an endless value' => [
                'POST',
                'arithmetic',
                '{"text":"+1","present":1e309}',
                422,
                'present',
            ],
            'an endless value in a change' => [
                'POST',
                'shows/SHOW/edits',
                '{"name":"x","changes":[{"kind":"seat","id":"01hzzzzzzzzzzzzzzzzzzzzzzz","op":"create","fields":{"position":{"before":null,"after":[0,1e309,0]}}}]}',
                422,
                'changes.0.fields.position.after.1',
            ],
            'no object' => ['POST', 'arithmetic', '"x"', 400, ''],
            'nothing but brackets' => ['POST', 'arithmetic', str_repeat('[', 100).str_repeat(']', 100), 400, ''],
            'a frame rate of a show that is a list' => [
                'POST',
                'shows',
                '{"name":"x","frameRate":[25]}',
                422,
                'frameRate',
            ],
            'spares by the million' => ['GET', 'shows/SHOW/specification.csv?spares=1e308', '{}', 422, 'spares'],
        ];
    }

    #[DataProvider('oddRequests')]
    public function test_odd_requests_are_refused_by_name(
        string $method,
        string $path,
        string $body,
        int $status,
        string $field,
    ): void {
        $show = str_contains($path, 'SHOW') ? $this->show() : '';
        $answer = $this->send($method, str_replace('SHOW', $show, $path), $body)
            ->assertStatus($status)
            ->assertHeader('Content-Type', 'application/problem+json');
        $field === '' || $answer->assertJsonPath('field', $field);
    }

    public function test_a_body_of_millions_of_lists_is_refused_before_it_is_read(): void
    {
        $before = memory_get_peak_usage();
        $body = '{"name":"x","changes":['.substr(str_repeat('[1],', 2_500_000), 0, -1).']}';
        $this->send('POST', "shows/{$this->show()}/edits", $body)->assertStatus(413);
        self::assertLessThan($before + 60_000_000, memory_get_peak_usage());
    }

    public function test_a_value_that_is_no_number_is_refused_where_nothing_would_change(): void
    {
        $show = $this->show();
        $seat = $this->id();
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Add',
            'changes' => [$this->created('seat', $seat, ['name' => 'Row 1'])],
        ])->assertCreated();
        $this->send(
            'POST',
            "shows/$show/edits",
            '{"name":"x","changes":[{"kind":"seat","id":"'.
                $seat.
                '","op":"update","fields":{"position":{"before":[0,0,0],"after":[1e309,0,0]}}}]}',
        )->assertStatus(422);
        $this->ask('GET', "shows/$show")->assertJsonPath('revision', 1);
    }

    public function test_a_value_has_one_curve_also_when_a_curve_changes_what_it_belongs_to(): void
    {
        $show = $this->show();
        [$timeline, $layer, $first, $second] = [$this->id(), $this->id(), $this->id(), $this->id()];
        $key = [['t' => 0, 'v' => 1.0, 'i' => 'linear']];
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Add',
            'changes' => [
                $this->created('timeline', $timeline, ['name' => 'Main', 'duration' => 705_600_000]),
                $this->created('layer', $layer, ['timeline' => $timeline, 'name' => 'Rain']),
                $this->created('curve', $first, ['owner' => $layer, 'property' => 'opacity', 'keyframes' => $key]),
                $this->created('curve', $second, ['owner' => $layer, 'property' => 'x', 'keyframes' => $key]),
            ],
        ])->assertCreated();
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Turn',
            'changes' => [$this->updated('curve', $second, ['property' => ['x', 'opacity']])],
        ])
            ->assertStatus(422)
            ->assertJsonPath('field', 'property');
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Add',
            'changes' => [
                $this->created('curve', $this->id(), ['owner' => $layer, 'property' => 'x', 'keyframes' => $key]),
            ],
        ])
            ->assertStatus(422)
            ->assertJsonPath('field', 'property');
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Turn',
            'changes' => [$this->updated('curve', $second, ['property' => ['x', 'y']])],
        ])->assertCreated();
    }

    public function test_a_panel_that_a_wall_is_built_of_can_not_leave_it_without_a_word(): void
    {
        $show = $this->show();
        [$panel, $wall] = [$this->id(), $this->id()];
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Add',
            'changes' => [
                $this->created('panel', $panel, [
                    'name' => 'Tile',
                    'widthMm' => 500,
                    'heightMm' => 500,
                    'widthPx' => 100,
                    'heightPx' => 100,
                ]),
                $this->created('surface', $wall, [
                    'name' => 'Wall',
                    'kind' => 'wall',
                    'cells' => [[$panel, $panel]],
                    'seams' => [0],
                ]),
            ],
        ])->assertCreated();
        $remove = fn (string ...$what): array => [
            'name' => 'Remove',
            'changes' => array_map(
                static fn (string $one): array => [
                    'kind' => explode(' ', $one)[0],
                    'id' => explode(' ', $one)[1],
                    'op' => 'delete',
                    'fields' => [],
                ],
                $what,
            ),
        ];
        $this->ask('POST', "shows/$show/edits", $remove("panel $panel"))
            ->assertStatus(422)
            ->assertJsonPath('detail', 'Wall is built of Tile. Give its cells another panel first.');
        // As it was before panels were held: a wall whose panel is gone stands nowhere, and nothing falls over it.
        DB::table('panels')->where('id', $panel)->delete();
        foreach (
            [
                ['action' => 'move', 'by' => [1, 0, 0]],
                ['action' => 'duplicate'],
                ['action' => 'align', 'axis' => 'x', 'to' => 'min'],
                ['action' => 'mirror', 'axis' => 'x'],
            ] as $order
        ) {
            $this->ask('POST', "shows/$show/arrange", $order + ['ids' => [$wall]])
                ->assertStatus(422)
                ->assertJsonPath('field', 'ids');
        }
        self::assertContains(
            $wall,
            array_column(
                array_merge(
                    [],
                    ...array_values(
                        $this->ask('GET', "shows/$show")
                            ->assertOk()
                            ->json('computed.findings'),
                    ),
                ),
                'id',
            ),
        );
        $this->ask('POST', "shows/$show/edits", $remove("surface $wall"))->assertCreated();
    }
}
