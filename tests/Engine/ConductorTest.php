<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\HeldValues;
use App\Engine\Journal;
use App\Engine\LatencyStats;
use App\Engine\Wire;
use App\Support\RequestRules;
use App\Support\TicketOffice;
use Core\Plan\Bundle;
use Core\Plan\Plan;
use Core\Playback\Head;
use Core\Playback\Moment;
use Core\Protocol\Osc;
use Core\Timeline\TransportMap;
use Core\Units\Flicks;
use Core\Values\HeldValue;
use Symfony\Component\Process\Process;

/** The conductor and its compilers as real processes, talked to over real sockets. */
final class ConductorTest extends ConductorCase
{
    public function test_a_window_gets_a_pack_maps_and_held_values_and_has_every_value_by_them(): void
    {
        [$show, $ids] = $this->fadingShow();
        $this->start();
        $this->until(
            'the first compilation',
            fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 1,
        );
        $next = $this->stream();
        self::assertSame($show, $next('hello', self::frame(Wire::HELLO))['show']);
        $plan = $this->pack($next('a pack', self::frame(Wire::BASE))['pack']);
        self::assertSame(
            ['layer', 'surface', 'clips'],
            array_keys($plan->parts["contribution:{$ids['layer']}@{$ids['wall']}"]),
        );
        $this->live('command', ['action' => 'jump', 'time' => 4 * Flicks::PER_SECOND]);
        $this->live('command', ['action' => 'play']);
        $bytes = 0;
        $deck = $next('a running deck', static function (int $type, string $payload) use (&$bytes): ?array {
            $data = $type === Wire::DECK ? json_decode($payload, true) : null;
            $bytes = strlen($payload);

            return is_array($data) && count($data['map']['p'] ?? []) > 2 ? $data : null;
        });
        self::assertLessThanOrEqual(300, $bytes);
        self::assertSame([$ids['line'], true], [$deck['timeline'], $deck['on']]);
        $map = TransportMap::fromArray($deck['map']);
        $starts = array_values(array_filter($map->pieces, static fn (array $p): bool => $p[2] === 1.0))[0][0];
        foreach ([0, 0.5, 1.013, 1.777] as $seconds) {
            $moment = new Moment($plan, [Head::of($ids['line'], $map)], [], $starts + Flicks::fromSeconds($seconds));
            self::assertEqualsWithDelta(
                0.4 + $seconds / 10,
                $moment->value("layer:{$ids['layer']}/opacity", $moment->heads[0]),
                1e-6,
            );
        }
        // It knows where it will rest: at the end, sixty seconds in.
        self::assertSame(60 * Flicks::PER_SECOND, $map->at($starts + 900 * Flicks::PER_SECOND));
    }

    public function test_a_fader_sends_one_held_value_and_an_edit_only_what_it_changed(): void
    {
        [$show, $ids] = $this->fadingShow();
        $this->start();
        $this->until(
            'the first compilation',
            fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 1,
        );
        $next = $this->stream();
        $next('all held values', self::frame(Wire::HELD));
        $address = "layer:{$ids['layer']}/opacity";
        $asked = $this->live('command', ['action' => 'live', 'values' => [$address => 0.7]])['engine'];
        $held = $next('the fader', self::frame(Wire::HELD));
        self::assertSame([$address], array_keys($held['set']));
        $value = HeldValue::fromArray($held['set'][$address][0]);
        self::assertEqualsWithDelta(
            [0.25, 0.7],
            [
                HeldValue::over(0.25, [$value], $asked - Flicks::PER_SECOND),
                HeldValue::over(0.25, [$value], $asked + Flicks::PER_SECOND),
            ],
            1e-9,
        );
        self::assertSame([$address => 0.7], $this->live('state')['live']);
        self::assertSame(
            'opacity must be a finite number.',
            $this->live('command', ['action' => 'live', 'values' => [$address => 'much']])['detail'],
        );
        self::assertStringContainsString(
            'is no address',
            $this->live('command', ['action' => 'live', 'values' => ['x' => 1]])['detail'],
        );
        self::assertStringContainsString(
            'property must be one of',
            $this->live('command', ['action' => 'live', 'values' => ["layer:{$ids['layer']}/glow" => 1]])['detail'],
        );
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Move',
            'changes' => [$this->updated('clip', $ids['clip'], ['start' => [0, Flicks::PER_SECOND]])],
        ])->assertCreated();
        $bundle = $next(
            'the edit',
            static fn (int $type, string $payload): ?Bundle => $type === Wire::DELTA
                ? Bundle::fromBytes(substr($payload, 34))
                : null,
        );
        self::assertSame(
            [2, [], ["layer:{$ids['layer']}/media"]],
            [$bundle->revision, array_keys($bundle->parts), array_keys($bundle->tracks)],
        );
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Rename',
            'changes' => [$this->updated('surface', $ids['wall'], ['name' => ['Wall', 'Sea wall']])],
        ])->assertCreated();
        $figures = $next(
            'figures of it',
            self::frame(Wire::FIGURES, static fn (array $data): bool => $data['revision'] === 3),
        );
        self::assertSame(['findings'], array_keys($figures['figures']));
        self::assertStringStartsWith(
            'Sea wall has no region',
            array_values($figures['figures']['findings'])[0][0]['message'],
        );
        // One that comes now has a pack and what came after it, and by that the same plan.
        $late = $this->stream();
        $plan = $this->pack($late('a pack', self::frame(Wire::BASE))['pack']);
        $plan = $plan->with(
            $late(
                'an edit',
                static fn (int $type, string $payload): ?Bundle => $type === Wire::DELTA
                    ? Bundle::fromBytes(substr($payload, 34))
                    : null,
            ),
        );
        self::assertSame([-1, 0], $plan->tracks["layer:{$ids['layer']}/media"]->at(0, 28_224_000));
    }

    public function test_marks_reach_every_window_for_a_while_and_never_the_show(): void
    {
        $this->fadingShow();
        $this->start();
        $this->until(
            'the first compilation',
            fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 1,
        );
        [$one, $two] = [$this->stream(), $this->stream()];
        foreach ([$one, $two] as $next) {
            $next('a window that is there', self::frame(Wire::HELLO));
        }
        $before = $this->live('state');
        $shape = ['points' => [[0, 0], [100, 0], [100, 50.5]], 'label' => 'Wing 1'];
        $this->live('command', [
            'action' => 'mark',
            'output' => 'some output',
            'cross' => [12, 34.5],
            'shapes' => [$shape],
        ]);
        foreach ([$one, $two] as $next) {
            $marks = $next('the marks', self::frame(Wire::MARKS));
            self::assertSame(
                ['some output', [12, 34.5], [$shape]],
                [$marks['output'], $marks['cross'], $marks['shapes']],
            );
            // Ten seconds from when they were told.
            self::assertEqualsWithDelta(10, ($marks['until'] - $before['engine']) / Flicks::PER_SECOND, 2);
        }
        $this->live('command', ['action' => 'mark', 'output' => 'some output']);
        self::assertSame(
            [null, []],
            (static fn (array $m): array => [$m['cross'], $m['shapes']])($one('none', self::frame(Wire::MARKS))),
        );
        foreach (
            [
                ['action' => 'mark'],
                ['action' => 'mark', 'output' => 'o', 'cross' => [1, 'b']],
                ['action' => 'mark', 'output' => 'o', 'shapes' => [['points' => [[1]]]]],
            ] as $wrong
        ) {
            self::assertNotSame('', (string) ($this->live('command', $wrong)['detail'] ?? ''));
        }
        self::assertSame(
            [$before['show'], $before['live']],
            [$this->live('state')['show'], $this->live('state')['live']],
        );
    }

    public function test_two_timelines_run_side_by_side(): void
    {
        [, $ids] = $this->fadingShow();
        $this->start();
        $this->until(
            'the first compilation',
            fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 1,
        );
        $on = fn (): array => array_map(
            static fn (array $deck): array => [$deck['on'], $deck['running']],
            $this->live('state')['decks'],
        );
        self::assertSame([$ids['line'] => [true, false], $ids['bell'] => [false, false]], $on());
        $this->live('command', ['action' => 'play', 'timeline' => 'Bell']);
        self::assertSame([$ids['line'] => [true, false], $ids['bell'] => [true, true]], $on());
        $this->live('command', ['action' => 'play']);
        self::assertSame([$ids['line'] => [true, true], $ids['bell'] => [true, true]], $on());
        $this->live('command', ['action' => 'off', 'timeline' => $ids['bell']]);
        self::assertSame([$ids['line'] => [true, true], $ids['bell'] => [false, false]], $on());
        self::assertSame(
            'There is no timeline of this id or name.',
            $this->live('command', ['action' => 'play', 'timeline' => 'Gong'])['detail'],
        );
    }

    public function test_a_surface_that_is_watched_is_traced_again_when_something_of_it_changes(): void
    {
        [$show, $ids] = $this->fadingShow();
        $this->start();
        $this->until(
            'the first compilation',
            fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 1,
        );
        $next = $this->stream();
        $stream = $next('hello', self::frame(Wire::HELLO))['stream'];
        $this->live('watch', ['stream' => $stream, 'show' => $show, 'surface' => $ids['wall']]);
        $layer = static fn (array $data): string => $data['links'][1]['message'];
        self::assertSame(
            'L is at 0 % opacity at 00:00:00:00 (keyframed).',
            $layer($next('a trace', self::frame(Wire::TRACE))),
        );
        $this->live('command', ['action' => 'live', 'values' => ["layer:{$ids['layer']}/opacity" => 0.5]]);
        self::assertSame('L is up at 50 %.', $layer($next('another', self::frame(Wire::TRACE))));
        $this->live('command', ['action' => 'live', 'values' => ["layer:{$ids['layer']}/opacity" => null]]);
        $this->live('command', ['action' => 'jump', 'time' => intdiv(15 * Flicks::PER_SECOND, 2)]);
        $next(
            'the jump',
            self::frame(Wire::TRACE, static fn (array $data): bool => $layer($data) === 'L is up at 75 %.'),
        );
        $this->live('report', ['player' => 'p', 'output' => $ids['out'], 'lacks' => []]);
        self::assertSame(
            'L is up at 75 %.',
            $this->ask('GET', "shows/$show/trace?surface={$ids['wall']}")
                ->assertOk()
                ->json('links.1.message'),
        );
        self::assertStringContainsString(
            'by their ids',
            $this->live('watch', ['stream' => 999, 'show' => $show, 'surface' => $ids['wall']])['detail'],
        );
    }

    public function test_a_show_that_is_not_on_air_is_looked_at_with_a_transport_of_its_own(): void
    {
        [$air] = $this->fadingShow();
        [$other, $ids] = $this->fadingShow();
        $this->start();
        $this->until(
            'the first compilation',
            fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 1,
        );
        [$mine, $theirs] = [$this->stream(), $this->stream()];
        $stream = $mine('hello', self::frame(Wire::HELLO))['stream'];
        $this->live('look', ['stream' => $stream, 'shows' => [$other]]);
        $base = $mine('its pack', self::frame(Wire::BASE, static fn (array $data): bool => $data['show'] === $other));
        self::assertArrayHasKey("layer:{$ids['layer']}", $this->pack($base['pack'])->parts);
        $this->live('command', ['action' => 'play', 'show' => $other, 'stream' => $stream]);
        $deck = $mine(
            'its deck running',
            self::frame(
                Wire::DECK,
                static fn (array $data): bool => $data['show'] === $other && count($data['map']['p']) > 2,
            ),
        );
        self::assertSame($ids['line'], $deck['timeline']);
        $state = $this->live('state');
        self::assertSame([$air, false], [$state['show'], array_values($state['decks'])[0]['running']]);
        // The other window hears of what is on air only.
        $this->live('command', ['action' => 'play']);
        $heard = [];
        $theirs('what is on air running', static function (int $type, string $payload) use (&$heard): ?bool {
            $data = $type === Wire::DECK ? json_decode($payload, true) : null;
            $data === null || ($heard[$data['show']] = true);

            return count($data['map']['p'] ?? []) > 2 ? true : null;
        });
        self::assertSame([$air => true], $heard);
        self::assertSame(
            'This window does not have that show open.',
            $this->live('command', ['action' => 'play', 'show' => $other, 'stream' => 77])['detail'],
        );
    }

    public function test_a_compiler_that_is_killed_during_an_edit_and_a_jump_is_followed_by_one_that_knows_both(): void
    {
        [$show, $ids] = $this->fadingShow();
        $this->start();
        $first = $this->until(
            'the first compilation',
            fn () => ($this->live('state')['compiler']['revision'] ?? null) === 1
                ? $this->live('state')['compiler']['pid']
                : null,
        );
        $next = $this->stream();
        $next('hello', self::frame(Wire::HELLO));
        $this->live('command', ['action' => 'jump', 'time' => 6 * Flicks::PER_SECOND]);
        posix_kill((int) $first, SIGKILL);
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Dim',
            'changes' => [$this->updated('layer', $ids['layer'], ['values.x' => [0, 40]])],
        ])->assertCreated();
        $this->live('command', ['action' => 'play']);
        $this->until(
            'the next compiler',
            fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 2 &&
                $this->live('state')['compiler']['pid'] !== $first,
        );
        $plan = null;
        $next('the plan with the edit', function (int $type, string $payload) use (&$plan, $ids): ?bool {
            if ($type === Wire::BASE) {
                $plan = $this->pack(json_decode($payload, true)['pack']);
            } elseif ($type === Wire::DELTA) {
                $plan = $plan?->with(Bundle::fromBytes(substr($payload, 34)));
            }

            return isset($plan?->tracks["layer:{$ids['layer']}/x"]) ? true : null;
        });
        $deck = array_values($this->live('state')['decks'])[0];
        self::assertTrue($deck['running']);
        self::assertGreaterThanOrEqual(6 * Flicks::PER_SECOND, $deck['position']);
    }

    public function test_whatever_comes_in_is_answered_or_counted_and_the_clock_runs_on(): void
    {
        $this->fadingShow();
        $this->start();
        $this->until(
            'the first compilation',
            fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 1,
        );
        foreach (
            [
                'GET / HTTP/1.1',
                'GET /live/clock nonsense',
                'POST /live/command HTTP/1.1',
                'nonsense',
                "GET /live/clock HTTP/1.1\r\nHost: elsewhere",
                "POST /live/command HTTP/1.1\r\nHost: 127.0.0.1\r\nTransfer-Encoding: chunked",
                "POST /live/command HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 99999999",
            ] as $head
        ) {
            self::assertGreaterThanOrEqual(400, $this->http("$head\r\n\r\n")[0], $head);
        }
        self::assertSame(431, $this->http('GET /'.str_repeat('x', 20_000)." HTTP/1.1\r\n\r\n")[0]);
        self::assertSame(
            401,
            $this->http(
                "GET /live/state HTTP/1.1\r\nHost: 127.0.0.1\r\nAuthorization: Bearer {$this->ticket}x\r\n\r\n",
            )[0],
        );
        self::assertSame(
            'There is no cue "Nowhere".',
            $this->live('command', ['action' => 'jump', 'cue' => 'Nowhere'])['detail'],
        );
        self::assertStringContainsString(
            'no command of this name',
            $this->live('command', ['action' => 'explode'])['detail'],
        );
        self::assertSame('A report names its player.', $this->live('report', ['player' => 7])['detail']);
        $host = '127.0.0.1:'.self::PORT;
        foreach (
            [
                'report' => '{"player": "p", "late": 1e999, "offset": -1e999}',
                'command' => '{"action": "live", "values": {"master:show/level": 1e999}}',
            ] as $path => $json
        ) {
            $this->http(
                "POST /live/$path HTTP/1.1\r\nHost: $host\r\nOrigin: http://$host\r\nContent-Type: application/json\r\nAuthorization: Bearer $this->ticket\r\nContent-Length: ".
                    strlen($json).
                    "\r\n\r\n$json",
            );
        }
        $before = $this->live('state');
        self::assertGreaterThanOrEqual(8, $before['refused']);
        $udp = stream_socket_client('udp://127.0.0.1:'.(TEST_PORTS + 32));
        foreach (
            [
                '',
                'abc',
                '/kite/jump',
                "\xff\xff\xff\xff",
                Osc::encode('/kite/jump', [NAN]),
                Osc::encode('/kite/jump', [-4]),
                Osc::encode('/kite/jump', [1e30]),
                Osc::encode('/elsewhere'),
            ] as $packet
        ) {
            fwrite($udp, $packet);
        }
        $after = $this->until('the packets to be counted', function () {
            $now = $this->live('state');

            return $now['osc']['packets'] >= 7 ? $now : null;
        });
        self::assertGreaterThan($before['engine'], $after['engine']);
        self::assertSame(0, $after['guard']['caught']);
        self::assertTrue($this->conductor->isRunning());
        self::assertSame($before['pid'], $after['pid']);
    }

    public function test_a_conductor_goes_on_where_the_killed_one_was(): void
    {
        [, $ids] = $this->fadingShow();
        $this->start();
        $this->until(
            'the first compilation',
            fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 1,
        );
        $this->live('command', ['action' => 'play']);
        $this->live('command', [
            'action' => 'live',
            'values' => ["layer:{$ids['layer']}/x" => 12, 'master:show/level' => 0.5],
        ]);
        $this->until(
            'the fader to be journalled',
            fn (): bool => str_contains((string) file_get_contents("$this->data/journal.jsonl"), 'master:show/level'),
        );
        $old = $this->until('playback to be under way', function () use ($ids) {
            $now = $this->live('state');

            return $now['decks'][$ids['line']]['position'] > 0 ? $now : null;
        });
        $this->conductor->signal(SIGKILL);
        $this->until('its end', fn (): bool => ! $this->conductor->isRunning());
        $this->start();
        $new = $this->live('state');
        [$was, $is] = [$old['decks'][$ids['line']], $new['decks'][$ids['line']]];
        self::assertTrue($is['running']);
        self::assertLessThanOrEqual(1, abs($is['position'] - $was['position'] - ($new['engine'] - $old['engine'])));
        self::assertEqualsWithDelta(
            ['master:show/level' => 0.5, "layer:{$ids['layer']}/x" => 12.0],
            array_replace(['master:show/level' => 0], $new['live']),
            1e-9,
        );
    }

    public function test_fifteen_hundred_loose_values_and_the_last_of_them_outlive_a_kill(): void
    {
        [$show, $ids] = $this->fadingShow();
        foreach (array_chunk(range(1, 500), 250) as $some) {
            $this->ask('POST', "shows/$show/edits", [
                'name' => 'More',
                'changes' => array_map(
                    fn (int $n): array => $this->created('layer', sprintf('01hzzzzzzzzzzzzzzzzzzz%04d', $n), [
                        'timeline' => $ids['line'],
                        'name' => "L $n",
                    ]),
                    $some,
                ),
            ])->assertCreated();
        }
        $this->start();
        $this->until('the compilation', fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 3);
        $this->live('command', ['action' => 'play']);
        $values = [];
        foreach (range(1, 500) as $n) {
            foreach (['opacity' => 0.25, 'x' => 7, 'turn' => 90] as $property => $value) {
                $values[sprintf('layer:01hzzzzzzzzzzzzzzzzzzz%04d/%s', $n, $property)] = $value;
            }
        }
        $this->live('command', ['action' => 'live', 'values' => $values]);
        $old = $this->until('playback to be under way', function () use ($ids) {
            $now = $this->live('state');

            return $now['decks'][$ids['line']]['position'] > 0 ? $now : null;
        });
        // Answered is kept: what is set in the moment before the kill is there after it.
        $this->live('command', ['action' => 'live', 'values' => ["layer:{$ids['layer']}/x" => 12]]);
        $this->conductor?->signal(SIGKILL);
        $this->until('its end', fn (): bool => ! ($this->conductor?->isRunning() ?? false));
        self::assertGreaterThan(65_536, max(array_map(strlen(...), file("$this->data/journal.jsonl") ?: [''])));
        $this->start();
        $new = $this->live('state');
        self::assertCount(1501, $new['live']);
        self::assertEquals(
            [12, 0.25, 90],
            [
                $new['live']["layer:{$ids['layer']}/x"],
                $new['live']['layer:01hzzzzzzzzzzzzzzzzzzz0001/opacity'],
                $new['live']['layer:01hzzzzzzzzzzzzzzzzzzz0500/turn'],
            ],
        );
        self::assertTrue($new['decks'][$ids['line']]['running']);
        self::assertLessThanOrEqual(
            1,
            abs(
                $new['decks'][$ids['line']]['position'] -
                    $old['decks'][$ids['line']]['position'] -
                    ($new['engine'] - $old['engine']),
            ),
        );
    }

    public function test_a_conductor_killed_in_the_middle_of_writing_has_all_that_it_answered(): void
    {
        [, $ids] = $this->fadingShow();
        $this->start();
        $this->until('the compilation', fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 1);
        for ($round = 0; $round < 4; $round++) {
            $pid = (int) $this->live('state')['pid'];
            // A process of its own kills it at a moment that nobody here knows.
            $killer = new Process(['sh', '-c', 'sleep '.(0.03 + 0.05 * $round)."; kill -9 $pid"]);
            $killer->start();
            $answered = null;
            for ($n = 1000 * $round; ; $n++) {
                try {
                    $said = $this->live('command', ['action' => 'live', 'values' => ["layer:{$ids['layer']}/x" => $n]]);
                } catch (\Throwable) {
                    break;
                }
                if (! isset($said['engine'])) {
                    break;
                }
                $answered = $n;
            }
            $killer->wait();
            $this->until('its end', fn (): bool => ! ($this->conductor?->isRunning() ?? false));
            self::assertNotNull($answered);
            // Half a line, as a kill may leave.
            file_put_contents("$this->data/journal.jsonl", '{"change":{"held":{"layer:', FILE_APPEND);
            $this->start();
            $x = $this->live('state')['live']["layer:{$ids['layer']}/x"] ?? null;
            self::assertContains((int) $x, [$answered, $answered + 1], "What was answered last was $answered.");
        }
    }

    public function test_two_who_keep_the_same_value_at_once_get_one_curve(): void
    {
        [$show, $ids] = $this->fadingShow();
        $this->start();
        $this->until('the compilation', fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 1);
        $this->live('command', ['action' => 'live', 'values' => ["layer:{$ids['layer']}/x" => 30]]);
        $address = "layer:{$ids['layer']}/x";
        $ask =
            'require "'.
            base_path('vendor/autoload.php').
            '"; $app = require "'.
            base_path('bootstrap/app.php').
            '"; $k = $app->make(Illuminate\Contracts\Http\Kernel::class);'.
            '$r = App\Http\JsonRequest::create("http://127.0.0.1:4180/api/shows/'.
            $show.
            '/keep", "POST", [], [], [], ["HTTP_HOST" => "127.0.0.1:4180", "HTTP_ORIGIN" => "http://127.0.0.1:4180", "CONTENT_TYPE" => "application/json"], json_encode(["addresses" => ["'.
            $address.
            '"], "keyframe" => true]));'.
            '$r->setJson(new Symfony\Component\HttpFoundation\InputBag(json_decode($r->getContent(), true))); echo $k->handle($r)->getStatusCode();';
        $all = array_map(function () use ($ask): Process {
            $process = new Process([PHP_BINARY, '-r', $ask], base_path(), [
                'KITE_DATA' => $this->data,
                'KITE_RUN' => "$this->data/run",
                'APP_KEY' => config('app.key'),
                'APP_ENV' => 'production',
            ]);
            $process->start();

            return $process;
        }, range(1, 4));
        $statuses = array_map(static function (Process $process): int {
            $process->wait();

            return (int) $process->getOutput();
        }, $all);
        self::assertSame(
            [],
            array_diff($statuses, [201, 409, 422]),
            implode(' ', $statuses).$all[0]->getErrorOutput(),
        );
        self::assertContains(201, $statuses);
        $curves = array_filter(
            $this->ask('GET', "shows/$show")->json('rows.curve'),
            static fn (array $c): bool => $c['property'] === 'x',
        );
        self::assertCount(1, $curves);
    }

    public function test_a_thousand_connections_and_windows_that_do_not_read_leave_it_answering(): void
    {
        [, $ids] = $this->fadingShow();
        $this->start();
        $this->until('the compilation', fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 1);
        $before = $this->live('state');
        $open = [];
        for ($n = 0; $n < 1_050; $n++) {
            $socket = @stream_socket_client('tcp://127.0.0.1:'.self::PORT, $code, $error, 2);
            if ($socket !== false) {
                stream_set_blocking($socket, false);
                $n < 200 &&
                    @fwrite(
                        $socket,
                        "GET /live/stream HTTP/1.1\r\nHost: 127.0.0.1\r\nAuthorization: Bearer $this->ticket\r\n\r\n",
                    );
                $open[] = $socket;
            }
        }
        // Each of these is told to two hundred windows, of which none reads.
        $mine = array_pop($open);
        self::assertIsResource($mine);
        foreach (array_splice($open, 250) as $socket) {
            fclose($socket);
        }
        $this->until('room again', fn (): bool => isset($this->live('state')['engine']));
        for ($n = 0; $n < 60; $n++) {
            $this->live('command', ['action' => 'live', 'values' => ["layer:{$ids['layer']}/x" => $n]]);
        }
        $after = $this->live('state');
        self::assertSame($before['pid'], $after['pid']);
        self::assertSame(0, $after['guard']['caught']);
        self::assertLessThan(300_000_000, $after['memory']);
        self::assertEquals(59, $after['live']["layer:{$ids['layer']}/x"]);
    }

    public function test_osc_bundles_take_effect_at_their_time_and_patterns_name_several_methods(): void
    {
        [, $ids] = $this->fadingShow();
        $this->start();
        $this->until('the compilation', fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 1);
        $udp = stream_socket_client('udp://127.0.0.1:'.(TEST_PORTS + 32)) ?: self::fail();
        $bundle = static function (float $at, string $message): string {
            $seconds = (int) floor($at);

            return "#bundle\0".
                pack('NN', $seconds + 2_208_988_800, (int) (($at - $seconds) * 2 ** 32)).
                pack('N', strlen($message)).
                $message;
        };
        $position = fn (): int => $this->live('state')['decks'][$ids['line']]['position'];
        $asked = microtime(true);
        fwrite($udp, $bundle($asked + 0.6, Osc::encode('/kite/jump', [7.0])));
        fwrite($udp, $bundle($asked - 5, Osc::encode('/kite/jump', [3.0])));
        $this->until('the one whose time is past', fn (): bool => $position() === 3 * Flicks::PER_SECOND);
        self::assertLessThan(0.6, microtime(true) - $asked);
        $this->until('the one whose time comes', fn (): bool => $position() === 7 * Flicks::PER_SECOND);
        self::assertGreaterThanOrEqual(0.6, microtime(true) - $asked);
        fwrite($udp, $bundle($asked + 7000, Osc::encode('/kite/jump', [1.0])));
        $this->until(
            'the one that is too far off',
            fn (): bool => str_contains(
                (string) ($this->live('state')['osc']['last'][0]['fault'] ?? ''),
                'are the clocks alike?',
            ),
        );
        fwrite($udp, Osc::encode('/kite/{play,nothing}'));
        $this->until('playback', fn (): bool => $this->live('state')['decks'][$ids['line']]['running']);
        fwrite($udp, Osc::encode('/kite/h*'));
        $this->until('rest', fn (): bool => ! $this->live('state')['decks'][$ids['line']]['running']);
        self::assertNull($this->live('state')['osc']['last'][0]['fault']);
        // A fader sets a value, in its unit or over its range; the light follows by the held value.
        fwrite($udp, Osc::encode("/kite/value/layer/{$ids['layer']}/opacity", [25.0]));
        fwrite($udp, Osc::encode('/kite/fader/master/show/level', [0.5]));
        $this->until(
            'both values',
            fn (): bool => $this->live('state')['live'] == [
                "layer:{$ids['layer']}/opacity" => 0.25,
                'master:show/level' => 0.5,
            ],
        );
        fwrite($udp, Osc::encode("/kite/value/layer/{$ids['layer']}/opacity", []));
        $this->until('one to be discarded', fn (): bool => $this->live('state')['live'] == ['master:show/level' => 0.5]);
        // A pad says when it is pressed and when it is let go of: that is one press.
        $this->live('command', ['action' => 'play']);
        fwrite($udp, Osc::encode('/kite/hold', [1.0]));
        $this->until('rest', fn (): bool => ! $this->live('state')['decks'][$ids['line']]['running']);
        $this->live('command', ['action' => 'play']);
        fwrite($udp, Osc::encode('/kite/hold', [0.0]));
        fwrite($udp, Osc::encode('/kite/nudge', ['soon']));
        $this->until(
            'both to be heard',
            fn (): bool => str_contains(
                (string) ($this->live('state')['osc']['last'][0]['fault'] ?? ''),
                '/kite/nudge takes time (seconds)',
            ),
        );
        self::assertTrue($this->live('state')['decks'][$ids['line']]['running']);
    }

    public function test_a_report_of_endless_numbers_spoils_neither_trace_nor_keeping(): void
    {
        [$show, $ids] = $this->fadingShow();
        $this->start();
        $this->until('the compilation', fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 1);
        $host = '127.0.0.1:'.self::PORT;
        $json =
            '{"player": "p", "output": "o", "engine": 1e309, "late": -1e309, "drawn": 1e309, "layers": [{"layer": "a", "frame": 1e309, "shown": 1e309}]}';
        self::assertSame(
            200,
            $this->http(
                "POST /live/report HTTP/1.1\r\nHost: $host\r\nOrigin: http://$host\r\nContent-Type: application/json\r\nAuthorization: Bearer $this->ticket\r\nContent-Length: ".
                    strlen($json).
                    "\r\n\r\n$json",
            )[0],
        );
        config(['kite.run' => "$this->data/run"]);
        $this->ask('GET', "shows/$show/trace?surface={$ids['wall']}")
            ->assertOk()
            ->assertJsonPath('engine', true);
        $this->live('command', ['action' => 'live', 'values' => ["layer:{$ids['layer']}/x" => 3]]);
        $this->ask('POST', "shows/$show/keep", ['addresses' => ["layer:{$ids['layer']}/x"]])->assertCreated();
        self::assertSame('p', $this->live('state')['players'][0]['player']);
    }

    public function test_a_journal_on_a_full_disk_loses_nothing_once_there_is_room(): void
    {
        if (posix_geteuid() !== 0) {
            self::markTestSkipped('A small file system can only be mounted by root.');
        }
        [, $ids] = $this->fadingShow();
        mkdir("$this->data/small");
        if ((new Process(['mount', '-t', 'tmpfs', '-o', 'size=256k', 'tmpfs', "$this->data/small"]))->run() !== 0) {
            self::markTestSkipped('No file system can be mounted here.');
        }
        try {
            $there = ['KITE_DATA' => "$this->data/small", 'DB_DATABASE' => "$this->data/kite.sqlite"];
            $this->start($there);
            $this->until('the compilation', fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 1);
            @file_put_contents("$this->data/small/ballast", str_repeat('x', 1_000_000));
            for ($n = 1; $n <= 200; $n++) {
                $this->live('command', ['action' => 'live', 'values' => ["layer:{$ids['layer']}/x" => $n]]);
            }
            $full = $this->live('state');
            self::assertGreaterThan(0, $full['journal']['lost']);
            self::assertSame(0, $full['guard']['caught']);
            // Killed while there is no room: the last value that is there is the last that was not told as lost.
            $lost = $full['journal']['lost'];
            $kept = [];
            for ($n = 201; $n <= 215; $n++) {
                $this->live('command', ['action' => 'live', 'values' => ["layer:{$ids['layer']}/x" => $n]]);
                $now = $this->live('state')['journal']['lost'];
                $now === $lost && ($kept[] = $n);
                $lost = $now;
            }
            self::assertSame([], $kept);
            $this->conductor?->signal(SIGKILL);
            $this->until('its end', fn (): bool => ! ($this->conductor?->isRunning() ?? false));
            $before = new Journal("$this->data/small/journal.jsonl");
            self::assertLessThan(
                200,
                HeldValues::restored($before->state()['held'] ?? [])->loose()["layer:{$ids['layer']}/x"] ?? -1,
            );
            self::assertSame(0, $before->skipped, 'no line is there in part');
            unlink("$this->data/small/ballast");
            $this->start($there);
            $this->live('command', ['action' => 'live', 'values' => ["layer:{$ids['layer']}/x" => 200]]);
            $this->live('command', ['action' => 'live', 'values' => ["layer:{$ids['layer']}/y" => 5]]);
            $this->conductor?->signal(SIGKILL);
            $this->until('its end', fn (): bool => ! ($this->conductor?->isRunning() ?? false));
            $this->start($there);
            self::assertEquals(
                ["layer:{$ids['layer']}/x" => 200, "layer:{$ids['layer']}/y" => 5],
                $this->live('state')['live'],
            );
        } finally {
            $this->conductor?->stop(2);
            (new Process(['umount', '-l', "$this->data/small"]))->run();
        }
    }

    public function test_a_command_whose_fields_are_of_any_type_is_answered_in_words(): void
    {
        $this->start();
        $odd = [null, true, -1, 1.5, 1e308, 'x', '', str_repeat('y', 5000), [], [1, [2, [3]]], ['a' => ['b' => null]]];
        $fields = [
            'stream',
            'show',
            'timeline',
            'time',
            'fade',
            'rate',
            'from',
            'to',
            'cue',
            'values',
            'runs',
            'fades',
            'surfaces',
            'output',
            'cross',
            'shapes',
            'patch',
            'test',
            'on',
            'source',
            'fire',
            'by',
            'as',
            'person',
        ];
        foreach (
            [
                'play',
                'hold',
                'stop',
                'go',
                'jump',
                'nudge',
                'rate',
                'loop',
                'off',
                'clock',
                'fire',
                'release',
                'advance',
                'back',
                'pointer',
                'panic',
                'live',
                'cards',
                'mark',
                'identify',
                'light',
                'bind',
                'clockStep',
                'sing',
            ] as $do
        ) {
            foreach ($fields as $field) {
                $value = $odd[crc32("$do $field") % count($odd)];
                self::assertContains(
                    $this->told('command', ['action' => $do, $field => $value]),
                    [200, 422, 403],
                    "$do with $field ".json_encode($value),
                );
            }
        }
        foreach (['command', 'look', 'watch', 'preview', 'report'] as $path) {
            foreach ($odd as $value) {
                foreach (
                    ['stream', 'show', 'shows', 'surface', 'cue', 'action', 'player', 'layers', 'lacks'] as $field
                ) {
                    self::assertContains(
                        $this->told($path, [$field => $value]),
                        [200, 422, 403],
                        "$path with $field ".json_encode($value),
                    );
                }
            }
        }
        self::assertSame(['caught' => 0, 'last' => ''], $this->live('state')['guard']);
    }

    public function test_a_window_is_its_owners_and_opens_shows_that_are_there_up_to_a_number(): void
    {
        $shows = array_map(fn (): string => $this->show(), range(1, 10));
        $this->ask('POST', "shows/$shows[0]/engage")->assertOk();
        $this->start();
        $this->until('the show on air', fn (): bool => ($this->live('state')['compiler']['ready'] ?? false) === true);
        $mine = $this->stream();
        $stream = $mine('hello', self::frame(Wire::HELLO))['stream'];
        self::assertGreaterThan(1_000_000, $stream);
        // Shows that are not there start no compiler.
        for ($i = 0; $i < 20; $i++) {
            self::assertStringContainsString(
                'There is no show',
                $this->live('look', ['stream' => $stream, 'shows' => [$this->id()]])['detail'] ?? '',
            );
        }
        self::assertSame(0, $this->live('state')['looked']);
        self::assertSame(['shows' => [$shows[1]]], $this->live('look', ['stream' => $stream, 'shows' => [$shows[1]]]));
        // Another person plays, looks and watches by it in vain.
        $owner = $this->ticket;
        $this->ticket = (new TicketOffice(config('app.key')))->issue('another', time());
        foreach (
            [
                'command' => ['action' => 'play', 'show' => $shows[1]],
                'look' => ['shows' => []],
                'watch' => ['show' => $shows[1], 'surface' => 'x'],
                'preview' => ['show' => $shows[1]],
            ] as $path => $body
        ) {
            self::assertSame(403, $this->told($path, ['stream' => $stream] + $body), $path);
        }
        $this->ticket = $owner;
        self::assertSame(
            ['engine'],
            array_keys(
                $this->live('command', ['action' => 'live', 'values' => [], 'show' => $shows[1], 'stream' => $stream]),
            ),
        );
        self::assertStringContainsString(
            'does not have that show open',
            $this->live('watch', ['stream' => $stream, 'show' => $shows[2], 'surface' => 'x'])['detail'] ?? '',
        );
        // Up to seven besides the one on air; what nobody has open makes room.
        $other = $this->stream();
        $second = $other('hello', self::frame(Wire::HELLO))['stream'];
        self::assertArrayHasKey(
            'shows',
            $this->live('look', ['stream' => $stream, 'shows' => array_slice($shows, 1, 4)]),
        );
        self::assertArrayHasKey(
            'shows',
            $this->live('look', ['stream' => $second, 'shows' => array_slice($shows, 5, 3)]),
        );
        self::assertStringContainsString(
            'close one first',
            $this->live('look', ['stream' => $second, 'shows' => array_slice($shows, 5, 4)])['detail'] ?? '',
        );
        self::assertSame(7, $this->live('state')['looked']);
        self::assertArrayHasKey('shows', $this->live('look', ['stream' => $stream, 'shows' => [$shows[1]]]));
        self::assertArrayHasKey(
            'shows',
            $this->live('look', ['stream' => $second, 'shows' => array_slice($shows, 5, 4)]),
        );
        self::assertSame(7, $this->live('state')['looked']);
    }

    public function test_test_cards_stay_on_through_a_restart_and_loose_values_within_their_range(): void
    {
        [, $ids] = $this->fadingShow();
        $this->start();
        $this->until(
            'the first compilation',
            fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 1,
        );
        $this->live('command', ['action' => 'cards', 'surfaces' => [$ids['wall'], $ids['wall']]]);
        self::assertSame([$ids['wall']], $this->live('state')['cards']);
        foreach ([null, 'all', [1], ['../..'], ['a' => $ids['wall']]] as $bad) {
            self::assertMatchesRegularExpression(
                '/by their ids|`surfaces` of cards is a list/',
                (string) ($this->live('command', ['action' => 'cards', 'surfaces' => $bad])['detail'] ?? ''),
            );
        }
        $this->live('command', [
            'action' => 'live',
            'values' => [
                "layer:{$ids['layer']}/opacity" => 5,
                "layer:{$ids['layer']}/x" => -1e9,
                'master:show/level' => 3,
            ],
        ]);
        self::assertEquals(
            [
                "layer:{$ids['layer']}/opacity" => 1.0,
                "layer:{$ids['layer']}/x" => -65_536.0,
                'master:show/level' => 1.0,
            ],
            $this->live('state')['live'],
        );
        $this->until(
            'the journal to have them',
            fn (): bool => str_contains((string) file_get_contents("$this->data/journal.jsonl"), $ids['wall']),
        );
        $this->conductor?->signal(SIGKILL);
        $this->until('it to be gone', fn (): bool => ! ($this->conductor?->isRunning() ?? false));
        $this->start();
        self::assertSame([$ids['wall']], $this->live('state')['cards']);
        $this->live('command', ['action' => 'cards', 'surfaces' => []]);
        self::assertSame([], $this->live('state')['cards']);
    }

    public function test_a_show_that_is_engaged_later_takes_over_and_starts_held(): void
    {
        $this->fadingShow();
        $this->start();
        $this->until(
            'the first compilation',
            fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 1,
        );
        $this->live('command', ['action' => 'play']);
        $other = $this->ask('POST', 'shows', ['name' => 'Other', 'frameRate' => '50'])->json('id');
        $this->ask('POST', "shows/$other/engage")->assertOk();
        $state = $this->until('the other show', function () use ($other) {
            $now = $this->live('state');

            return $now['show'] === $other ? $now : null;
        });
        self::assertSame([[], 0], [$state['decks'], $state['revision']]);
    }

    public function test_keeping_a_loose_value_makes_a_keyframe_at_the_playhead_and_lets_go_of_it(): void
    {
        [$show, $ids] = $this->fadingShow();
        $this->start();
        $this->until(
            'the first compilation',
            fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 1,
        );
        $this->live('command', ['action' => 'jump', 'time' => 5 * Flicks::PER_SECOND]);
        $this->live('command', [
            'action' => 'live',
            'values' => ["layer:{$ids['layer']}/opacity" => 0.9, "layer:{$ids['layer']}/x" => 30],
        ]);
        $this->ask('POST', "shows/$show/keep", [
            'addresses' => ["layer:{$ids['layer']}/opacity", "layer:{$ids['layer']}/x"],
        ])
            ->assertCreated()
            ->assertJsonPath('name', 'Keep 2 values');
        $rows = $this->ask('GET', "shows/$show")->json('rows');
        self::assertSame(
            [[0, 0], [5 * Flicks::PER_SECOND, 0.9], [10 * Flicks::PER_SECOND, 1]],
            array_map(static fn (array $k): array => [$k['t'], $k['v']], $rows['curve'][0]['keyframes']),
        );
        self::assertEqualsWithDelta(30, $rows['layer'][0]['values']['x'], 1e-9);
        $this->until('the loose values to be let go', fn (): bool => $this->live('state')['live'] === []);
        $this->ask('POST', "shows/$show/keep", ['addresses' => ["layer:{$ids['layer']}/opacity"]])
            ->assertStatus(422)
            ->assertJsonPath('field', 'addresses');
    }

    public function test_colours_switches_and_choices_are_loose_by_name_or_number_and_kept_slot_by_slot(): void
    {
        [$show, $ids] = $this->fadingShow();
        $this->start();
        $this->until(
            'the first compilation',
            fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 1,
        );
        $layer = "layer:{$ids['layer']}";
        $this->live('command', [
            'action' => 'live',
            'values' => ["$layer/blend" => 'screen', "$layer/mute" => true, "$layer/gain" => 2, "$layer/gain#2" => 9],
        ]);
        self::assertEquals(
            ["$layer/blend" => 2, "$layer/mute" => 1, "$layer/gain" => 2, "$layer/gain#2" => 4],
            $this->live('state')['live'],
        );
        foreach (
            [
                ['blend' => 'glow'],
                ['gain#3' => 1],
                ['opacity#1' => 1],
                ['mute' => 'yes'],
                ['opacity' => true],
                ['gain' => [1, 1, 1]],
            ] as $bad
        ) {
            self::assertSame(
                422,
                $this->live('command', [
                    'action' => 'live',
                    'values' => ["$layer/".array_key_first($bad) => reset($bad)],
                ])['status'] ?? 0,
                (string) json_encode($bad),
            );
        }
        $this->ask('POST', "shows/$show/keep", [
            'addresses' => ["$layer/gain", "$layer/gain#2", "$layer/blend", "$layer/mute"],
        ])->assertCreated();
        self::assertEquals(
            ['gain' => [2, 1, 4], 'blend' => 'screen', 'mute' => true],
            $this->ask('GET', "shows/$show")->json('rows')['layer'][0]['values'],
        );
        $this->until('the loose values to be let go', fn (): bool => $this->live('state')['live'] === []);
        $this->live('command', ['action' => 'live', 'values' => ["$layer/gain#1" => 0.25, "$layer/blend" => 1]]);
        $this->ask('POST', "shows/$show/keep", [
            'addresses' => ["$layer/gain#1", "$layer/blend"],
            'keyframe' => true,
        ])->assertCreated();
        $curves = array_column($this->ask('GET', "shows/$show")->json('rows')['curve'], null, 'property');
        self::assertEquals(
            [1, 0.25, 'add', 'step'],
            [
                $curves['gain']['slot'],
                $curves['gain']['keyframes'][0]['v'],
                $curves['blend']['keyframes'][0]['v'],
                $curves['blend']['keyframes'][0]['i'],
            ],
        );
    }

    public function test_the_small_parts_of_the_engine_do_what_they_say(): void
    {
        $frames = new Wire();
        $bytes = Wire::pack(3, 'abc').Wire::json(7, ['a' => 1]);
        self::assertSame([], $frames->feed(substr($bytes, 0, 6)));
        self::assertSame([[3, 'abc'], [7, '{"a":1}']], $frames->feed(substr($bytes, 6)));
        $late = new LatencyStats();
        array_map($late->note(...), range(1.0, 100.0));
        self::assertSame(['p50' => 51.0, 'p99' => 100.0, 'max' => 100.0, 'ticks' => 100], $late->figures());
        $office = new TicketOffice('key');
        $ticket = $office->issue('mira', 1000);
        self::assertSame(
            ['mira', null, null],
            [
                $office->person($ticket, 2000),
                $office->person($ticket, 1000 + 43_201),
                (new TicketOffice('other'))->person($ticket, 2000),
            ],
        );
        self::assertNull($office->person('', 0));
        self::assertNull(
            (new RequestRules(['localhost']))->refusal(
                'POST',
                'localhost:1',
                'http://localhost:1',
                'application/json; charset=utf-8',
            ),
        );
        self::assertSame(
            403,
            (new RequestRules(['localhost']))->refusal(
                'POST',
                'localhost:1',
                'http://localhost:2',
                'application/json',
            )[0] ?? null,
        );
    }
}
