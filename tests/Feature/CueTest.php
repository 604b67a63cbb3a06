<?php

declare(strict_types=1);

namespace Tests\Feature;

use Core\Units\Flicks;
use Illuminate\Testing\TestResponse;
use Symfony\Component\Process\Process;
use Tests\TestCase;

/** Cues over the API: recorded of what an engine says is on, changed, numbered, and as tables. */
final class CueTest extends TestCase
{
    private const S = 705_600_000;

    private string $show = '';

    /** @var array<string, string> */
    private array $ids = [];

    private ?Process $engine = null;

    protected function setUp(): void
    {
        parent::setUp();
        $this->show = $this->show();
        foreach (['line', 'layer', 'group', 'page'] as $name) {
            $this->ids[$name] = $this->id();
        }
        $this->edit(
            $this->created('timeline', $this->ids['line'], ['name' => 'Main', 'duration' => 60 * self::S]),
            $this->created('layer', $this->ids['layer'], [
                'timeline' => $this->ids['line'],
                'name' => 'Sea',
                'order' => 0,
            ]),
            $this->created('group', $this->ids['group'], ['name' => 'Fronts', 'colour' => '#336699']),
            $this->created('page', $this->ids['page'], ['name' => 'Front', 'columns' => 4, 'rows' => 2]),
        )->assertCreated();
    }

    protected function tearDown(): void
    {
        $this->engine?->stop(0);
        parent::tearDown();
    }

    private function edit(array ...$changes): TestResponse
    {
        return $this->ask('POST', "shows/$this->show/edits", ['name' => 'Build', 'changes' => $changes]);
    }

    /** @param  array<string, mixed>  $order */
    private function cues(array $order): TestResponse
    {
        return $this->ask('POST', "shows/$this->show/cues", $order);
    }

    /** @return list<array<string, mixed>> */
    private function rows(string $kind = 'cue'): array
    {
        return $this->ask('GET', "shows/$this->show")->json("rows.$kind");
    }

    /**
     * An engine that says one thing to everybody who asks for values, and another to who asks for its state.
     *
     * @param  array<string, float>  $values
     * @param  array<string, float>  $loose
     */
    private function engineSays(array $values, array $loose = [], ?string $show = null): void
    {
        $this->engine?->stop(0);
        $path = "$this->data/run/control.sock";
        @unlink($path);
        $answers = var_export(
            [
                'values' => json_encode(['values' => (object) $values, 'stacks' => (object) []]),
                'state' => json_encode(['show' => $show ?? $this->show, 'live' => (object) $loose]),
            ],
            true,
        );
        $this->engine = new Process([
            PHP_BINARY,
            '-r',
            "\$s = stream_socket_server('unix://$path'); echo 'up'; \$a = $answers; while (\$c = stream_socket_accept(\$s, 60)) { \$m = json_decode((string) fgets(\$c), true); if (isset(\$m['ask'])) fwrite(\$c, \$a[\$m['ask']].\"\\n\"); fclose(\$c); }",
        ]);
        $this->engine->start();
        $this->engine->waitUntil(static fn (string $type, string $output): bool => str_contains($output, 'up'));
    }

    public function test_a_table_of_before_the_column_had_its_name_is_still_read(): void
    {
        foreach (['grasp' => '901', 'scope' => '902'] as $column => $number) {
            $this->ask('POST', "shows/$this->show/cues.csv", [
                'csv' => "number,name,$column\n$number,Whole,everything\n",
            ])
                ->assertCreated()
                ->assertJsonPath('changes.0.fields.scope.after', 'everything');
        }
    }

    public function test_a_cue_is_added_at_a_time_with_a_number_between_its_neighbours(): void
    {
        $add = fn (int $seconds) => $this->cues([
            'action' => 'add',
            'timeline' => $this->ids['line'],
            'time' => $seconds * Flicks::PER_SECOND + 5,
        ])->assertCreated();
        $number = fn (TestResponse $done): string => (string) $done->json('changes.0.fields.number.after');
        $first = $number($add(1));
        $last = $number($add(20));
        self::assertSame(1.0, (float) $last - (float) $first);
        $between = $add(10);
        self::assertSame(
            (float) $first + 0.1,
            (float) $number($between),
            'whole ones are taken, so it is the next tenth',
        );
        self::assertTrue($between->json('changes.0.fields.holds.after'));
        self::assertSame(10 * Flicks::PER_SECOND, $between->json('changes.0.fields.time.after'), 'on its frame');
        self::assertSame($between->json('createdId'), $between->json('changes.0.id'));
        $this->cues(['action' => 'add', 'timeline' => $this->id(), 'time' => 0])
            ->assertStatus(422)
            ->assertJsonPath('field', 'timeline');
        $this->cues(['action' => 'add', 'timeline' => $this->ids['line'], 'time' => -1])
            ->assertStatus(422)
            ->assertJsonPath('field', 'time');
    }

    public function test_what_is_on_is_recorded_whole_or_chosen(): void
    {
        $opacity = "layer:{$this->ids['layer']}/opacity";
        $x = "layer:{$this->ids['layer']}/x";
        $this->engineSays([$opacity => 0.8, $x => 12.5], [$x => -40.0, 'master:show/level' => 0.5]);
        $whole = $this->cues([
            'action' => 'record',
            'scope' => 'everything',
            'name' => 'Harbour',
            'timeline' => $this->ids['line'],
            'time' => 5 * self::S + 7,
            'fade' => 2 * self::S,
        ])
            ->assertCreated()
            ->json('createdId');
        $chosen = $this->cues([
            'action' => 'record',
            'discard' => true,
            'page' => $this->ids['page'],
            'row' => 1,
            'column' => 3,
        ])
            ->assertCreated()
            ->json('createdId');
        $rows = array_column($this->rows(), null, 'id');
        self::assertSame(
            [
                '1',
                'Harbour',
                'everything',
                5 * self::S,
                2 * self::S,
                [['a' => $opacity, 'v' => 0.8], ['a' => $x, 'v' => 12.5]],
            ],
            array_map(static fn (string $f): mixed => $rows[$whole][$f], [
                'number',
                'name',
                'scope',
                'time',
                'fade',
                'held',
            ]),
        );
        // The master belongs to no cue.
        self::assertEquals(
            ['2', 'Cue 2', 'chosen', null, 1, 3, [['a' => $x, 'v' => -40]]],
            array_map(static fn (string $f): mixed => $rows[$chosen][$f], [
                'number',
                'name',
                'scope',
                'time',
                'row',
                'column',
                'held',
            ]),
        );
        $this->engineSays([$opacity => 0.25, $x => 1.0]);
        $this->cues(['action' => 'update', 'cue' => $chosen])->assertCreated();
        $this->cues(['action' => 'merge', 'cue' => $chosen, 'addresses' => [$opacity]])->assertCreated();
        self::assertEquals(
            [['a' => $x, 'v' => 1], ['a' => $opacity, 'v' => 0.25]],
            array_column($this->rows(), null, 'id')[$chosen]['held'],
        );
        $this->cues(['action' => 'trim', 'cue' => $chosen, 'addresses' => [$x]])->assertCreated();
        self::assertEquals([['a' => $opacity, 'v' => 0.25]], array_column($this->rows(), null, 'id')[$chosen]['held']);
        $this->cues(['action' => 'trim', 'cue' => $chosen, 'addresses' => [$x]])->assertOk();
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        self::assertCount(2, array_column($this->rows(), null, 'id')[$chosen]['held']);
        $this->cues(['action' => 'renumber', 'first' => 10, 'step' => 0.5])->assertCreated();
        self::assertSame(['10', '10.5'], array_column($this->rows(), 'number'));
    }

    public function test_without_an_engine_or_with_another_show_nothing_is_recorded(): void
    {
        self::assertStringContainsString(
            'not running',
            (string) $this->cues(['action' => 'record'])
                ->assertStatus(422)
                ->json('detail'),
        );
        $this->engineSays([], [], str_repeat('0', 26));
        self::assertStringContainsString(
            'Another show',
            (string) $this->cues(['action' => 'record'])
                ->assertStatus(422)
                ->json('detail'),
        );
        $this->engineSays([], ['layer:'.str_repeat('0', 26).'/opacity' => 0.5]);
        $this->cues(['action' => 'record'])->assertStatus(422);
        foreach (
            [
                ['action' => 'dance'],
                ['action' => 'record', 'scope' => 'some'],
                ['action' => 'update', 'cue' => $this->id()],
                ['action' => 'renumber', 'step' => 0],
                ['action' => 'record', 'addresses' => 'x'],
                ['action' => 'record', 'fade' => -1],
            ] as $bad
        ) {
            $this->engineSays([]);
            $this->cues($bad)->assertStatus(422);
        }
        self::assertSame([], $this->rows());
        $this->engineSays([]);
        $this->cues(['action' => 'record', 'number' => '7'])->assertCreated();
        self::assertSame(
            'number',
            $this->cues(['action' => 'record', 'number' => '7'])
                ->assertStatus(422)
                ->json('field'),
        );
    }

    public function test_the_list_and_markers_go_out_as_tables_and_come_back(): void
    {
        $this->edit(
            $this->created('cue', $this->id(), [
                'number' => '2',
                'name' => 'Lamps, "all"',
                'note' => 'on the bell',
                'timeline' => $this->ids['line'],
                'time' => 10 * self::S,
                'holds' => true,
                'fade' => (3 * self::S) / 2,
                'group' => $this->ids['group'],
                'held' => [['a' => "layer:{$this->ids['layer']}/opacity", 'v' => 0.5]],
            ]),
            $this->created('cue', $this->id(), [
                'number' => '1',
                'name' => 'Dark',
                'trigger' => 'clock',
                'clock' => '21:30 fri',
                'onStop' => 'stays',
            ]),
            $this->created('marker', $this->id(), [
                'timeline' => $this->ids['line'],
                'time' => 4 * self::S,
                'name' => 'Bell',
                'colour' => '#aa0000',
            ]),
        )->assertCreated();
        $csv = (string) $this->ask('GET', "shows/$this->show/cues.csv")
            ->assertOk()
            ->getContent();
        $lines = explode("\r\n", trim($csv, "\xEF\xBB\xBF\r\n"));
        self::assertSame(
            [
                'number,name,note,timeline,time,hold,trigger,wait s,clock,fade s,delay s,curve,scope,on stop,group,values,seconds',
                '1,Dark,,,,,clock,0,21:30 fri,0,0,linear,chosen,stays,,0,',
                '2,"Lamps, ""all""",on the bell,Main,00:00:10:00,yes,go,0,,1.5,0,linear,chosen,returns,Fronts,1,10',
            ],
            $lines,
        );
        // As it came out, nothing changes.
        $this->ask('POST', "shows/$this->show/cues.csv", ['csv' => $csv])->assertOk();
        $this->ask('POST', "shows/$this->show/cues.csv", [
            'csv' => "Number;Name;Fade s;Time;Timeline\n2;Lamps;4;00:00:12:00;Main\n3;New;;;\n",
        ])->assertCreated();
        $rows = array_column($this->rows(), null, 'number');
        self::assertEquals(
            ['Lamps', 4 * self::S, 12 * self::S, 1, true, 'New', null],
            [
                $rows['2']['name'],
                $rows['2']['fade'],
                $rows['2']['time'],
                count($rows['2']['held']),
                $rows['2']['holds'],
                $rows['3']['name'],
                $rows['3']['time'],
            ],
        );
        $marks = (string) $this->ask('GET', "shows/$this->show/markers.csv")
            ->assertOk()
            ->getContent();
        self::assertSame(
            "\xEF\xBB\xBFtimeline,time,name,colour,seconds\r\nMain,00:00:04:00,Bell,#aa0000,4\r\n",
            $marks,
        );
        $this->ask('POST', "shows/$this->show/markers.csv", [
            'csv' => "time,name\n00:00:04:00,Great bell\n00:00:05:12,Drum\n",
        ])->assertCreated();
        self::assertSame(
            [['Great bell', 4 * self::S], ['Drum', 5 * self::S + (12 * self::S) / 25]],
            array_map(static fn (array $m): array => [$m['name'], $m['time']], $this->rows('marker')),
        );
        // Between frames: it comes back to the flick, and where its timecode was changed, that counts.
        $between = 7 * self::S + 12_345_677;
        $this->edit(
            $this->created('marker', $this->id(), [
                'timeline' => $this->ids['line'],
                'time' => $between,
                'name' => 'Off beat',
            ]),
        )->assertCreated();
        $marks = (string) $this->ask('GET', "shows/$this->show/markers.csv")->getContent();
        $this->ask('POST', "shows/$this->show/markers.csv", ['csv' => $marks])->assertOk();
        self::assertContains($between, array_column($this->rows('marker'), 'time'));
        $this->ask('POST', "shows/$this->show/markers.csv", [
            'csv' => str_replace('00:00:07:00', '00:00:08:00', $marks),
        ])->assertCreated();
        self::assertContains(8 * self::S, array_column($this->rows('marker'), 'time'));
        $this->ask('POST', "shows/$this->show/markers.csv", [
            'csv' => "time,name,seconds\n00:00:04:00,Bell,soon\n",
        ])->assertStatus(422);
        foreach (
            [
                "name\nx\n" => 'number',
                "number,name\n1,a\n1,b\n" => 'again',
                "number,name,time\n9,a,noon\n" => 'Row 2',
                "number,name,fade s\n9,a,slow\n" => 'slow',
                "number,name,group\n9,a,Gone\n" => 'Gone',
                "number,name,trigger\n9,a,x\n" => 'trigger',
                "number,name\n" => 'no rows',
                "number,name\n9,\xff\n" => 'UTF-8',
            ] as $bad => $said
        ) {
            // What is no UTF-8 can't even be said in JSON.
            $answer = mb_check_encoding($bad, 'UTF-8')
                ? $this->ask('POST', "shows/$this->show/cues.csv", ['csv' => $bad])
                    ->assertStatus(422)
                    ->json('detail')
                : 'UTF-8';
            self::assertStringContainsString($said, (string) $answer);
        }
        self::assertCount(3, $this->rows());
    }

    public function test_clips_and_keyframes_are_worked_on_by_order(): void
    {
        $media = $this->id();
        $curve = $this->id();
        $clips = [$this->id(), $this->id()];
        $this->edit(
            $this->created('media', $media, ['name' => 'Red', 'kind' => 'solid', 'colour' => '#ff0000']),
            $this->created('clip', $clips[0], [
                'layer' => $this->ids['layer'],
                'media' => $media,
                'start' => 0,
                'length' => 10 * self::S,
            ]),
            $this->created('clip', $clips[1], [
                'layer' => $this->ids['layer'],
                'media' => $media,
                'start' => 10 * self::S,
                'length' => 5 * self::S,
            ]),
            $this->created('curve', $curve, [
                'ownerKind' => 'layer',
                'owner' => $this->ids['layer'],
                'property' => 'opacity',
                'keyframes' => [['t' => 0, 'v' => 0.5], ['t' => self::S, 'v' => 1], ['t' => 3 * self::S, 'v' => 0]],
            ]),
        )->assertCreated();
        $this->edit([
            'kind' => 'clip',
            'id' => $clips[1],
            'op' => 'update',
            'fields' => ['ownClock' => ['before' => false, 'after' => true]],
        ])->assertCreated();
        self::assertSame([false, true], array_column($this->sorted($this->rows('clip')), 'ownClock'));
        $do = fn (array $order): TestResponse => $this->ask('POST', "shows/$this->show/program", $order);
        $made = (string) $do(['action' => 'split', 'clips' => [$clips[0]], 'time' => 4 * self::S])
            ->assertCreated()
            ->json('createdId');
        $do(['action' => 'remove', 'clips' => [$made], 'ripple' => true])->assertCreated();
        $do(['action' => 'paste', 'clips' => $clips, 'time' => 70 * self::S])->assertCreated();
        $do(['action' => 'speed', 'clip' => $clips[0], 'speed' => 2, 'stretch' => true])->assertCreated();
        self::assertSame(
            [[0, 2], [4, 5], [70, 4], [74, 5]],
            array_map(
                static fn (array $c): array => [$c['start'] / self::S, $c['length'] / self::S],
                $this->sorted($this->rows('clip')),
            ),
        );
        self::assertSame(79 * self::S, $this->rows('timeline')[0]['duration']);
        $keys = array_map(static fn (int $t): array => ['curve' => $curve, 't' => $t * self::S], [1, 3]);
        $do([
            'action' => 'moveKeys',
            'keys' => $keys,
            'by' => self::S,
            'factor' => 2,
            'about' => self::S,
            'rise' => 0.25,
        ])->assertCreated();
        $is = fn (): array => array_map(
            static fn (array $k): array => [$k['t'] / self::S, $k['v']],
            $this->rows('curve')[0]['keyframes'],
        );
        self::assertEquals([[0, 0.5], [2, 1], [6, 0.25]], $is());
        $do([
            'action' => 'pasteKeys',
            'keys' => [['curve' => $curve, 't' => 0], ['curve' => $curve, 't' => 2 * self::S]],
            'time' => 6 * self::S,
        ])->assertCreated();
        self::assertEquals([[0, 0.5], [2, 1], [6, 0.5], [8, 1]], $is());
        $do([
            'action' => 'dropKeys',
            'keys' => [['curve' => $curve, 't' => 0], ['curve' => $curve, 't' => 8 * self::S]],
        ])->assertCreated();
        self::assertEquals([[2, 1], [6, 0.5]], $is());
        $both = array_map(static fn (int $t): array => ['curve' => $curve, 't' => $t * self::S], [2, 6]);
        $do(['action' => 'valueKeys', 'keys' => $both, 'text' => '*0.5'])->assertCreated();
        self::assertEquals([[2, 0.5], [6, 0.25]], $is());
        $do([
            'action' => 'shapeKeys',
            'keys' => [$both[0]],
            'way' => 'bezier',
            'handles' => [0.1, 0, 0.5, 1.5],
        ])->assertCreated();
        self::assertEquals(
            ['i' => 'bezier', 'h' => [0.1, 0, 0.5, 1.5]],
            array_intersect_key($this->rows('curve')[0]['keyframes'][0], ['i' => 0, 'h' => 0]),
        );
        foreach (
            [
                ['action' => 'valueKeys', 'keys' => $both, 'text' => '+'],
                ['action' => 'shapeKeys', 'keys' => $both, 'way' => 'bezier', 'handles' => [1, 2, 3]],
                ['action' => 'shapeKeys', 'keys' => $both, 'way' => 'bezier', 'handles' => [1, 2, 3, 'x']],
            ] as $bad
        ) {
            $do($bad)->assertStatus(422);
        }
        $do([
            'action' => 'tempo',
            'timeline' => $this->ids['line'],
            'taps' => [self::S, 2 * self::S, 3 * self::S],
        ])->assertCreated();
        self::assertEquals([60, self::S], [$this->rows('timeline')[0]['bpm'], $this->rows('timeline')[0]['firstBeat']]);
        foreach (
            [
                ['action' => 'split', 'clips' => [], 'time' => 0],
                ['action' => 'move', 'clips' => [$clips[0]], 'by' => 1e300],
                ['action' => 'moveKeys', 'keys' => [['curve' => $curve]], 'by' => 0],
                ['action' => 'moveKeys', 'keys' => [['curve' => $curve, 't' => 5]], 'by' => 0],
                ['action' => 'moveKeys', 'keys' => $keys, 'by' => 0, 'factor' => 0],
                ['action' => 'pasteKeys', 'keys' => [], 'time' => 0],
                ['action' => 'tempo', 'timeline' => $this->ids['line'], 'taps' => [1]],
                ['action' => 'speed', 'clip' => $clips[0], 'speed' => 0],
            ] as $bad
        ) {
            $do($bad)->assertStatus(422);
        }
    }

    /**
     * @param  list<array<string, mixed>>  $clips
     * @return list<array<string, mixed>>
     */
    private function sorted(array $clips): array
    {
        usort($clips, static fn (array $a, array $b): int => $a['start'] <=> $b['start']);

        return $clips;
    }
}
