<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\Frames;
use App\Engine\Journal;
use App\Engine\Lateness;
use App\Support\DoorRules;
use App\Support\TicketOffice;
use Core\Playback\Chunk;
use Core\Playback\LaneStore;
use Core\Protocol\Osc;
use Core\Units\Flicks;
use Symfony\Component\Process\Process;
use Tests\TestCase;

/** The conductor and its bakers as real processes, talked to over real sockets. */
final class ConductorTest extends TestCase
{
    private const PORT = 4431;

    private ?Process $conductor = null;

    private string $ticket = '';

    protected function tearDown(): void
    {
        $this->conductor?->stop(2);
        parent::tearDown();
    }

    private function start(): void
    {
        $this->conductor = new Process([PHP_BINARY, base_path('artisan'), 'kite:conductor'], base_path(), [
            'KITE_DATA' => $this->data, 'KITE_RUN' => "$this->data/run", 'KITE_PORT' => '4430', 'KITE_LIVE_PORT' => (string) self::PORT, 'KITE_OSC_PORT' => '4432', 'APP_KEY' => config('app.key'),
        ]);
        $this->conductor->setTimeout(null);
        $this->conductor->start();
        $this->ticket = (new TicketOffice(config('app.key')))->issue('somebody', time());
        $this->until('the conductor to listen', fn (): bool => @fsockopen('127.0.0.1', self::PORT) !== false);
    }

    private function until(string $what, \Closure $holds): mixed
    {
        for ($end = microtime(true) + 15; microtime(true) < $end; usleep(10_000)) {
            if (($answer = $holds()) !== false && $answer !== null) {
                return $answer;
            }
        }
        self::fail("Waited 15 s for $what. ".$this->conductor?->getErrorOutput().$this->conductor?->getOutput());
    }

    /** @return array{int, array<string, mixed>} status and body */
    private function http(string $request): array
    {
        $socket = fsockopen('127.0.0.1', self::PORT) ?: self::fail('Nobody listens.');
        stream_set_timeout($socket, 5);
        fwrite($socket, $request);
        preg_match('~^HTTP/1.1 (\d+)~', (string) fgets($socket), $m);
        $length = 0;
        while (($line = trim((string) fgets($socket))) !== '') {
            sscanf($line, 'Content-Length: %d', $length);
        }
        $body = $length > 0 ? (string) stream_get_contents($socket, $length) : '';
        fclose($socket);

        return [(int) ($m[1] ?? 0), (array) json_decode($body, true)];
    }

    /**
     * @param  array<string, mixed>|null  $body
     * @return array<string, mixed>
     */
    private function live(string $path, ?array $body = null): array
    {
        $json = $body === null ? '' : (string) json_encode($body);
        $host = '127.0.0.1:'.self::PORT;

        return $this->http(($body === null ? 'GET' : 'POST')." /live/$path HTTP/1.1\r\nHost: $host\r\nOrigin: http://$host\r\nContent-Type: application/json\r\nAuthorization: Bearer $this->ticket\r\nContent-Length: ".strlen($json)."\r\n\r\n$json")[1];
    }

    /** A show with one layer whose opacity fades from 0 to 1 within ten seconds. */
    private function fadingShow(): array
    {
        $show = $this->show();
        $ids = ['panel' => $this->id(), 'wall' => $this->id(), 'line' => $this->id(), 'layer' => $this->id(), 'media' => $this->id(), 'out' => $this->id()];
        $this->ask('POST', "shows/$show/edits", ['name' => 'Lay out', 'changes' => [
            $this->created('panel', $ids['panel'], ['name' => 'P', 'widthMm' => 500, 'heightMm' => 500, 'widthPx' => 10, 'heightPx' => 10]),
            $this->created('surface', $ids['wall'], ['name' => 'Wall', 'cells' => [[$ids['panel']]], 'seams' => []]),
            $this->created('timeline', $ids['line'], ['name' => 'Main', 'duration' => 60 * Flicks::PER_SECOND]),
            $this->created('layer', $ids['layer'], ['timeline' => $ids['line'], 'name' => 'L', 'aims' => [$ids['wall']]]),
            $this->created('media', $ids['media'], ['name' => 'Card', 'kind' => 'testcard']),
            $this->created('clip', $this->id(), ['layer' => $ids['layer'], 'media' => $ids['media'], 'start' => 0, 'length' => 60 * Flicks::PER_SECOND]),
            $this->created('curve', $this->id(), ['layer' => $ids['layer'], 'property' => 'opacity', 'keyframes' => [['t' => 0, 'v' => 0], ['t' => 10 * Flicks::PER_SECOND, 'v' => 1]]]),
        ]])->assertCreated();

        return [$show, $ids];
    }

    /** @return \Closure(int): list<array{int, string}> the next frames of a live stream, at least so many */
    private function stream(): \Closure
    {
        $socket = fsockopen('127.0.0.1', self::PORT) ?: self::fail('Nobody listens.');
        fwrite($socket, "GET /live/stream HTTP/1.1\r\nHost: 127.0.0.1\r\nAuthorization: Bearer $this->ticket\r\n\r\n");
        stream_set_timeout($socket, 5);
        while (trim((string) fgets($socket)) !== '');
        $frames = new Frames;

        return static function (int $least) use ($socket, $frames): array {
            $got = [];
            while (count($got) < $least) {
                $size = hexdec(trim((string) fgets($socket)));
                if ($size === 0) {
                    break;
                }
                array_push($got, ...$frames->feed((string) stream_get_contents($socket, (int) $size)));
                fgets($socket);
            }

            return $got;
        };
    }

    public function test_a_window_gets_the_plan_and_the_bake_of_what_plays(): void
    {
        [, $ids] = $this->fadingShow();
        $this->start();
        $this->until('the first bake', fn (): bool => ($this->live('state')['baker']['revision'] ?? null) === 1);
        $next = $this->stream();
        $types = [];
        $plan = null;
        $store = new LaneStore;
        foreach ($next(6) as [$type, $payload]) {
            $types[] = $type;
            $type === Frames::PLAN && $plan = json_decode($payload, true);
            $type === Frames::CHUNK && $store->add(Chunk::fromBytes($payload));
        }
        self::assertSame(Frames::HELLO, $types[0]);
        self::assertSame(1, $plan['revision'] ?? null);
        $lane = (int) array_search("{$ids['layer']}/opacity", $plan['lanes'] ?? [], true);
        self::assertSame(0.0, $store->at($lane, (int) $this->live('state')['engine'] + Flicks::PER_SECOND)['value'] ?? null);
        $this->live('command', ['do' => 'jump', 'time' => 4 * Flicks::PER_SECOND]);
        $answer = $this->live('command', ['do' => 'play']);
        self::assertTrue($answer['transport']['playing']);
        $start = (int) $answer['transport']['engine'];
        $value = $this->until('two seconds of bake', function () use ($next, $store, $lane, $start) {
            foreach ($next(1) as [$type, $payload]) {
                $type === Frames::CHUNK && $store->add(Chunk::fromBytes($payload));
            }

            return ($store->at($lane, $start + 2 * Flicks::PER_SECOND)['value'] ?? 0) > 0.55 ? $store : null;
        });
        // From 4 s on, one tenth a second, straight between the frames.
        foreach ([0, 0.5, 1.013, 1.777] as $seconds) {
            self::assertEqualsWithDelta(0.4 + $seconds / 10, $value->at($lane, $start + Flicks::fromSeconds($seconds))['value'], 1e-6);
        }
    }

    public function test_a_fader_resends_its_lane_and_nothing_else(): void
    {
        [, $ids] = $this->fadingShow();
        $this->start();
        $this->until('the first bake', fn (): bool => ($this->live('state')['baker']['revision'] ?? null) === 1);
        $next = $this->stream();
        $next(7);
        self::assertSame([], array_diff_key($this->live('command', ['do' => 'live', 'values' => ["{$ids['layer']}/opacity" => 0.7]]), $this->live('state')));
        $chunk = $this->until('the chunk of the fader', function () use ($next) {
            foreach ($next(1) as [$type, $payload]) {
                if ($type === Frames::CHUNK) {
                    return Chunk::fromBytes($payload);
                }
            }

            return null;
        });
        self::assertFalse($chunk->allLanes);
        self::assertEqualsWithDelta([0.7], array_merge(...array_column($chunk->lanes, 'values')), 1e-6);
        self::assertSame(0.7, $this->live('state')['live']["{$ids['layer']}/opacity"]);
        self::assertSame('A live value is a number for a lane, or null to let go.', $this->live('command', ['do' => 'live', 'values' => ['x' => 'much']])['detail']);
    }

    public function test_whatever_comes_in_is_answered_or_counted_and_the_clock_runs_on(): void
    {
        $this->fadingShow();
        $this->start();
        foreach (['GET / HTTP/1.1', 'POST /live/command HTTP/1.1', 'nonsense', "GET /live/clock HTTP/1.1\r\nHost: elsewhere", "POST /live/command HTTP/1.1\r\nHost: 127.0.0.1\r\nTransfer-Encoding: chunked", "POST /live/command HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 99999999"] as $head) {
            self::assertGreaterThanOrEqual(400, $this->http("$head\r\n\r\n")[0], $head);
        }
        self::assertSame(431, $this->http('GET /'.str_repeat('x', 20_000)." HTTP/1.1\r\n\r\n")[0]);
        self::assertSame(401, $this->http("GET /live/state HTTP/1.1\r\nHost: 127.0.0.1\r\nAuthorization: Bearer {$this->ticket}x\r\n\r\n")[0]);
        self::assertSame('There is no cue "Nowhere".', $this->live('command', ['do' => 'jump', 'cue' => 'Nowhere'])['detail']);
        self::assertStringContainsString('no command of this name', $this->live('command', ['do' => 'explode'])['detail']);
        self::assertSame('A report names its player.', $this->live('report', ['player' => 7])['detail']);
        $host = '127.0.0.1:'.self::PORT;
        foreach (['report' => '{"player": "p", "late": 1e999, "offset": -1e999}', 'command' => '{"do": "live", "values": {"master": 1e999}}'] as $path => $json) {
            $this->http("POST /live/$path HTTP/1.1\r\nHost: $host\r\nOrigin: http://$host\r\nContent-Type: application/json\r\nAuthorization: Bearer $this->ticket\r\nContent-Length: ".strlen($json)."\r\n\r\n$json");
        }
        $before = $this->live('state');
        self::assertGreaterThanOrEqual(8, $before['refused']);
        $udp = stream_socket_client('udp://127.0.0.1:4432');
        foreach (['', 'abc', '/kite/jump', "\xff\xff\xff\xff", Osc::encode('/kite/jump', [NAN]), Osc::encode('/kite/jump', [-4]), Osc::encode('/kite/jump', [1e30]), Osc::encode('/elsewhere')] as $packet) {
            fwrite($udp, $packet);
        }
        $after = $this->until('the packets to be counted', function () {
            $now = $this->live('state');

            return $now['osc']['packets'] >= 7 ? $now : null;
        });
        self::assertGreaterThan($before['engine'], $after['engine']);
        self::assertTrue($this->conductor->isRunning());
        self::assertSame($before['pid'], $after['pid']);
    }

    public function test_a_conductor_goes_on_where_the_killed_one_was(): void
    {
        [, $ids] = $this->fadingShow();
        $this->start();
        $this->until('the first bake', fn (): bool => ($this->live('state')['baker']['revision'] ?? null) === 1);
        $this->live('command', ['do' => 'play']);
        $this->live('command', ['do' => 'live', 'values' => ["{$ids['layer']}/x" => 12, 'master' => 0.5]]);
        $this->until('the fader to be journalled', fn (): bool => str_contains((string) file_get_contents("$this->data/journal.jsonl"), '"master":0.5'));
        $old = $this->until('playback to be under way', function () {
            $now = $this->live('state');

            return $now['position'] > 0 ? $now : null;
        });
        $this->conductor->signal(SIGKILL);
        $this->until('its end', fn (): bool => ! $this->conductor->isRunning());
        $this->start();
        $new = $this->live('state');
        self::assertTrue($new['running']);
        self::assertLessThanOrEqual(1, abs(($new['position'] - $old['position']) - ($new['engine'] - $old['engine'])));
        self::assertEqualsWithDelta(['master' => 0.5, "{$ids['layer']}/x" => 12.0], array_replace(['master' => 0], $new['live']), 1e-9);
        self::assertGreaterThan($old['generation'], $new['generation']);
    }

    public function test_test_cards_stay_on_through_a_restart_and_loose_values_within_their_range(): void
    {
        [, $ids] = $this->fadingShow();
        $this->start();
        $this->until('the first bake', fn (): bool => ($this->live('state')['baker']['revision'] ?? null) === 1);
        $this->live('command', ['do' => 'cards', 'surfaces' => [$ids['wall'], $ids['wall']]]);
        self::assertSame([$ids['wall']], $this->live('state')['cards']);
        foreach ([null, 'all', [1], ['../..'], ['a' => $ids['wall']]] as $bad) {
            self::assertStringContainsString('by their ids', (string) ($this->live('command', ['do' => 'cards', 'surfaces' => $bad])['detail'] ?? ''));
        }
        $this->live('command', ['do' => 'live', 'values' => ["{$ids['layer']}/opacity" => 5, "{$ids['layer']}/x" => -1e9, 'master' => 3]]);
        self::assertEquals(["{$ids['layer']}/opacity" => 1.0, "{$ids['layer']}/x" => -65_536.0, 'master' => 1.0], $this->live('state')['live']);
        $this->until('the journal to have them', fn (): bool => str_contains((string) file_get_contents("$this->data/journal.jsonl"), $ids['wall']));
        $this->conductor?->signal(SIGKILL);
        $this->until('it to be gone', fn (): bool => ! ($this->conductor?->isRunning() ?? false));
        $this->start();
        self::assertSame([$ids['wall']], $this->live('state')['cards']);
        $this->live('command', ['do' => 'cards', 'surfaces' => []]);
        self::assertSame([], $this->live('state')['cards']);
    }

    public function test_the_journal_reads_its_last_whole_line_and_does_not_grow_for_ever(): void
    {
        $path = "$this->data/journal.jsonl";
        $journal = new Journal($path);
        self::assertNull($journal->last());
        $journal->write(['at' => 1]);
        $journal->write(['at' => 2]);
        file_put_contents($path, '{"at": 3, "half', FILE_APPEND);
        self::assertSame(['at' => 2], (new Journal($path))->last());
        for ($i = 0; $i < 3000; $i++) {
            $journal->write(['at' => $i, 'padding' => str_repeat('x', 500)]);
        }
        clearstatcache();
        self::assertLessThan(1_100_000, filesize($path));
        $last = (new Journal($path))->last();
        self::assertSame(2999, (int) ($last['at'] ?? 0)); // @phpstan-ignore nullCoalesce.offset
    }

    public function test_a_show_that_is_engaged_later_takes_over_and_starts_held(): void
    {
        $this->fadingShow();
        $this->start();
        $this->until('the first bake', fn (): bool => ($this->live('state')['baker']['revision'] ?? null) === 1);
        $this->live('command', ['do' => 'play']);
        $other = $this->ask('POST', 'shows', ['name' => 'Other', 'frameRate' => '50'])->json('id');
        $this->ask('POST', "shows/$other/engage")->assertOk();
        $state = $this->until('the other show', function () {
            $now = $this->live('state');

            return $now['baker']['revision'] === 0 ? $now : null;
        });
        self::assertSame([false, 0], [$state['running'], $state['position']]);
    }

    public function test_keeping_a_loose_value_makes_a_keyframe_at_the_playhead_and_lets_go_of_it(): void
    {
        [$show, $ids] = $this->fadingShow();
        $this->start();
        $this->until('the first bake', fn (): bool => ($this->live('state')['baker']['revision'] ?? null) === 1);
        $this->live('command', ['do' => 'jump', 'time' => 5 * Flicks::PER_SECOND]);
        $this->live('command', ['do' => 'live', 'values' => ["{$ids['layer']}/opacity" => 0.9, "{$ids['layer']}/x" => 30]]);
        $this->ask('POST', "shows/$show/keep", ['lanes' => ["{$ids['layer']}/opacity", "{$ids['layer']}/x"]])->assertCreated()->assertJsonPath('name', 'Keep 2 values');
        $rows = $this->ask('GET', "shows/$show")->json('rows');
        self::assertSame([[0, 0], [5 * Flicks::PER_SECOND, 0.9], [10 * Flicks::PER_SECOND, 1]], array_map(static fn (array $k): array => [$k['t'], $k['v']], $rows['curve'][0]['keyframes']));
        self::assertEqualsWithDelta(30, $rows['layer'][0]['x'], 1e-9);
        $this->until('the loose values to be let go', fn (): bool => $this->live('state')['live'] === []);
        $this->ask('POST', "shows/$show/keep", ['lanes' => ["{$ids['layer']}/opacity"]])->assertStatus(422)->assertJsonPath('field', 'lanes');
    }

    public function test_the_small_parts_of_the_engine_do_what_they_say(): void
    {
        $frames = new Frames;
        $bytes = Frames::pack(3, 'abc').Frames::json(7, ['a' => 1]);
        self::assertSame([], $frames->feed(substr($bytes, 0, 6)));
        self::assertSame([[3, 'abc'], [7, '{"a":1}']], $frames->feed(substr($bytes, 6)));
        $late = new Lateness;
        array_map($late->note(...), range(1.0, 100.0));
        self::assertSame(['p50' => 51.0, 'p99' => 100.0, 'max' => 100.0, 'ticks' => 100], $late->figures());
        $office = new TicketOffice('key');
        $ticket = $office->issue('mira', 1000);
        self::assertSame(['mira', null, null], [$office->person($ticket, 2000), $office->person($ticket, 1000 + 43_201), (new TicketOffice('other'))->person($ticket, 2000)]);
        self::assertNull($office->person('', 0));
        self::assertNull((new DoorRules(['localhost']))->refusal('POST', 'localhost:1', 'http://localhost:1', 'application/json; charset=utf-8'));
        self::assertSame(403, (new DoorRules(['localhost']))->refusal('POST', 'localhost:1', 'http://localhost:2', 'application/json')[0] ?? null);
    }
}
