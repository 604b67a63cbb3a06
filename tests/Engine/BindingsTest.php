<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\Wire;
use Core\Bindings\Action;
use Core\Protocol\ArtNet;
use Core\Protocol\MidiStream;
use Core\Protocol\MtcReader;
use Core\Protocol\Osc;
use Core\Protocol\RtpMidi;
use Core\Protocol\TimecodeFrame;
use Core\Units\Flicks;
use Symfony\Component\Process\Process;

/** Controls that are bound, over real sockets, on a whole conductor. */
final class BindingsTest extends ConductorCase
{
    /** @return array{string, array<string, string>} show and ids: a fader, a button for a cue, one for Go, pages, OSC */
    private function boundShow(): array
    {
        [$show, $ids] = $this->fadingShow();
        foreach (['box', 'pad', 'fader', 'cue', 'button', 'go', 'turn', 'second', 'osc'] as $name) {
            $ids[$name] = $this->id();
        }
        $binding = fn (string $name, array $fields): array => $this->created(
            'binding',
            $ids[$name],
            $fields + ['device' => $ids['box']],
        );
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Bind',
            'changes' => [
                $this->created('cue', $ids['cue'], [
                    'number' => '1',
                    'name' => 'Quarter',
                    'held' => [['a' => "layer:$ids[layer]/x", 'v' => 40]],
                ]),
                $this->created('device', $ids['box'], ['name' => 'Box', 'port' => 'Box']),
                $this->created('device', $ids['pad'], ['name' => 'Pad', 'protocol' => 'osc']),
                $binding('fader', [
                    'control' => 'cc:1:7',
                    'meaning' => 'value',
                    'gesture' => 'move',
                    'target' => "layer:$ids[layer]/opacity",
                ]),
                $binding('button', [
                    'control' => 'note:1:60',
                    'meaning' => 'cue',
                    'gesture' => 'toggle',
                    'target' => $ids['cue'],
                ]),
                $binding('go', ['control' => 'note:1:61', 'target' => 'toggle', 'page' => 1]),
                $binding('turn', ['control' => 'note:1:63', 'target' => 'page 2']),
                $binding('second', ['control' => 'note:1:61', 'target' => 'panic 1', 'page' => 2]),
                $this->created('binding', $ids['osc'], [
                    'device' => $ids['pad'],
                    'control' => '/1/*',
                    'meaning' => 'value',
                    'gesture' => 'move',
                    'target' => 'master:show/level',
                    'takeover' => 'jump',
                    'to' => 1,
                ]),
            ],
        ])->assertCreated();
        $this->start();
        $this->until('the bindings', fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 2);

        return [$show, $ids];
    }

    private function peer(int $ssrc = 1): RtpMidiPeer
    {
        $peer = new RtpMidiPeer(TEST_PORTS + 34, $ssrc);
        $peer->invite();
        foreach ([0, 1] as $socket) {
            $this->until('the session', static fn (): bool => $peer->read($socket) !== null);
        }
        // What comes now is no report any more.
        usleep(350_000);

        return $peer;
    }

    /** @return \Closure(string): bool waits until a device was shown a command, in hex; what came before it is passed over */
    private function shown(RtpMidiPeer $peer): \Closure
    {
        return fn (string $hex): mixed => $this->until("the feedback $hex", static function () use ($peer, $hex): bool {
            while (($packet = $peer->read(1)) !== null) {
                if (bin2hex(substr($packet, 13)) === $hex) {
                    return true;
                }
            }

            return false;
        });
    }

    public function test_a_fader_box_drives_values_cues_and_pages_and_shows_what_is(): void
    {
        [$show, $ids] = $this->boundShow();
        $box = $this->peer();
        $shown = $this->shown($box);
        // The layer's opacity is 0 at the start, by its keyframes: the lamp of the cue is off, the motor at 0.
        $box->midi("\xb0\x07\x50");
        $this->until('the fader to wait', fn (): bool => ($this->live('state')['midi']['rtp']['packets'] ?? 0) === 1);
        usleep(100_000);
        self::assertSame([], $this->live('state')['live'], 'It stands at 80 of 127, the value at 0: nothing jumps.');
        $box->midi("\xb0\x07\x10");
        usleep(50_000);
        self::assertSame([], $this->live('state')['live']);
        $box->midi("\xb0\x07\x00");
        $opacity = "layer:$ids[layer]/opacity";
        $this->until('the value', fn (): bool => $this->loose($opacity) === 0.0);
        $box->midi("\xb0\x07\x7f");
        $this->until('the top', fn (): bool => $this->loose($opacity) === 1.0);
        // A cue by a button, and its lamp.
        $box->midi("\x90\x3c\x7f");
        $this->until('the cue', fn (): bool => isset($this->live('state')['cues']['on'][$ids['cue']]));
        self::assertSame('MIDI', $this->live('state')['cues']['on'][$ids['cue']]['by']);
        $shown('903c7f');
        $box->midi("\x90\x3c\x00\x00\x90\x3c\x7f");
        $this->until('its release', fn (): bool => ! isset($this->live('state')['cues']['on'][$ids['cue']]));
        $shown('903c00');
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Has a motor',
            'changes' => [$this->updated('binding', $ids['fader'], ['motor' => [false, true]])],
        ])->assertCreated();
        // Somebody's hand takes the value elsewhere: the motor goes along, once nobody moves it.
        self::assertSame(200, $this->told('command', ['action' => 'live', 'values' => [$opacity => 0.5]]));
        $shown('b00740');
        // From there the fader is where the value is.
        $box->midi("\xb0\x07\x41");
        $this->until('one step', fn (): bool => abs(($this->live('state')['live'][$opacity] ?? 0) - 65 / 127) < 1e-9);
        // One button on two pages.
        $box->midi("\x90\x3d\x7f\x00\x90\x3d\x00");
        $this->until('it to play', fn (): bool => $this->running());
        $shown('903d7f');
        $box->midi("\x90\x3f\x7f\x00\x90\x3f\x00");
        $shown('903f7f');
        $box->midi("\x90\x3d\x7f\x00\x90\x3d\x00");
        $this->until('panic', fn (): bool => $this->live('state')['cues']['panic']);
        self::assertTrue($this->running());
    }

    /** @phpstan-impure */
    private function running(): bool
    {
        $decks = $this->live('state')['decks'];

        return reset($decks)['running'] ?? false;
    }

    public function test_what_comes_is_told_to_who_watches_with_what_came_of_it(): void
    {
        [, $ids] = $this->boundShow();
        $next = $this->stream();
        $stream = $next('hello', self::frame(Wire::HELLO))['stream'];
        self::assertSame(422, $this->told('controls', ['watch' => true]));
        self::assertSame(200, $this->told('controls', ['stream' => $stream, 'watch' => true]));
        $socket = stream_socket_client('udp://127.0.0.1:'.(TEST_PORTS + 32)) ?: self::fail('No OSC.');
        fwrite($socket, Osc::encode('/1/fader', [0.25]));
        fwrite($socket, Osc::encode('/2/fader', [0.25]));
        $events = [];
        $next(
            'both',
            self::frame(Wire::CONTROLS, static function (array $d) use (&$events): bool {
                array_push($events, ...$d['events']);

                return count($events) >= 2;
            }),
        );
        self::assertSame(
            [['/1/fader', $ids['osc'], ''], ['/2/fader', '', 'Nothing is bound to it.']],
            array_map(static fn (array $e): array => [$e['control'], $e['binding'], $e['fault']], $events),
        );
        self::assertSame(
            0.25,
            $this->until('the master', fn (): mixed => $this->live('state')['live']['master:show/level'] ?? null),
        );
        // A MIDI port of this window: events in, lamps out; and a fader that waits says where it has to go.
        self::assertSame(
            200,
            $this->told('controls', [
                'stream' => $stream,
                'events' => [
                    ['source' => 'midi', 'port' => 'Box', 'data' => [0xB0, 7, 100]],
                    ['source' => 'midi', 'port' => 'Box', 'data' => [0x90, 60, 100]],
                ],
            ]),
        );
        $lamp = $next(
            'a lamp',
            self::frame(Wire::FEEDBACK, static fn (array $d): bool => $d['data'] === [0x90, 60, 127]),
        );
        self::assertSame('Box', $lamp['port']);
        $meets = $next(
            'what it has to meet',
            self::frame(Wire::CONTROLS, static fn (array $d): bool => isset($d['meets'][$ids['fader']])),
        );
        self::assertEquals(['value' => 0, 'above' => false], $meets['meets'][$ids['fader']]);
        self::assertSame(422, $this->told('controls', ['stream' => $stream, 'events' => [['source' => 'sun']]]));
        self::assertSame(422, $this->told('controls', ['stream' => 12, 'events' => []]));
    }

    public function test_a_fader_of_a_thousand_events_a_second_is_a_value_a_frame_and_loses_no_last_one(): void
    {
        [, $ids] = $this->boundShow();
        $next = $this->stream();
        $next('all', self::frame(Wire::HELD, static fn (array $d): bool => isset($d['all'])));
        $socket = stream_socket_client('udp://127.0.0.1:'.(TEST_PORTS + 32)) ?: self::fail('No OSC.');
        $began = hrtime(true);
        for ($i = 1; $i <= 1000; $i++) {
            fwrite($socket, Osc::encode('/1/fader', [$i / 1001]));
            $wait = $began + $i * 1_000_000 - hrtime(true);
            $wait > 0 && usleep(intdiv($wait, 1000));
        }
        $seconds = (hrtime(true) - $began) / 1e9;
        fwrite($socket, Osc::encode('/1/fader', [0.625]));
        $frames = 0;
        $next(
            'the last',
            self::frame(Wire::HELD, static function (array $d) use (&$frames): bool {
                $value = $d['set']['master:show/level'][0]['v'] ?? null;
                $frames += $value === null ? 0 : 1;

                // A track: of each piece the time, and four coefficients from there.
                return $value !== null && abs((float) $value[count($value) - 4] - 0.625) < 1e-6;
            }),
        );
        self::assertLessThanOrEqual($seconds * 60 + 3, $frames);
        self::assertGreaterThan(10, $frames);
        self::assertSame(1001, $this->live('state')['osc']['packets']);
        self::assertSame(0, $this->live('state')['guard']['caught']);
    }

    public function test_after_a_kill_the_box_goes_on_where_it_was_and_one_that_comes_anew_only_reports(): void
    {
        [, $ids] = $this->boundShow();
        $opacity = "layer:$ids[layer]/opacity";
        $box = $this->peer();
        $box->midi("\xb0\x07\x00");
        $this->until('the value', fn (): bool => isset($this->live('state')['live'][$opacity]));
        $box->midi("\xb0\x07\x40");
        $this->until('half', fn (): bool => abs($this->live('state')['live'][$opacity] - 64 / 127) < 1e-9);
        $this->conductor?->signal(SIGKILL);
        $this->until('it to be gone', fn (): bool => $this->conductor?->isRunning() === false);
        $this->start();
        $this->until('the show', fn (): bool => ($this->live('state')['compiler']['ready'] ?? false) === true);
        // Its session goes on without a new invitation: one step away, the fader is where the value is.
        $box->midi("\xb0\x07\x41");
        $this->until('one step', fn (): bool => abs($this->loose($opacity) - 65 / 127) < 1e-9);
        // A box that comes anew tells where it stands: that is no wish.
        $other = new RtpMidiPeer(TEST_PORTS + 34, 2);
        $other->invite();
        $this->until('the session', static fn (): bool => $other->read(1) !== null);
        $other->midi("\xb0\x07\x7f");
        usleep(400_000);
        self::assertEqualsWithDelta(65 / 127, $this->loose($opacity), 1e-9);
    }

    /** What a loose value is set to; -1 where it is none. */
    private function loose(string $address): float
    {
        return (float) ($this->live('state')['live'][$address] ?? -1);
    }

    public function test_a_timeline_chases_midi_time_code_and_holds_when_its_freewheel_is_over(): void
    {
        [$show, $ids] = $this->fadingShow();
        $second = Flicks::PER_SECOND;
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Follow',
            'changes' => [
                $this->updated('timeline', $ids['line'], [
                    'clock' => ['', 'MTC'],
                    'clockStart' => [0, 3600 * $second],
                    'freewheel' => [$second, 2 * $second],
                ]),
            ],
        ])->assertCreated();
        $this->start();
        $this->until('the show', fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 2);
        $box = $this->peer();
        // Five seconds from 01:00:10:00 at 25 frames, a quarter frame each 10 ms.
        $frame = new TimecodeFrame(1, 0, 10, 0);
        [$began, $n] = [hrtime(true), 0];
        $errors = [];
        for ($pair = 0; $pair < 62; $pair++) {
            foreach (MtcReader::quarters($frame, '25') as $quarter) {
                $due = $began + $n * 10_000_000;
                usleep(max(0, intdiv($due - hrtime(true), 1000)));
                $box->midi($quarter);
                $n++;
            }
            $frame = $frame->next(25)->next(25);
            if ($pair > 10 && $pair % 10 === 0) {
                $asked = (hrtime(true) - $began) / 1e9;
                $position = $this->live('state')['decks'][$ids['line']]['position'] / $second - 10;
                $answered = (hrtime(true) - $began) / 1e9;
                // How far it is outside of what passed while it was asked.
                $errors[] = max(0.0, $asked - $position, $position - $answered);
            }
        }
        // Within a frame; where this process or the engine was late itself, within what that makes.
        sort($errors);
        self::assertLessThan(0.04, $errors[0] ?? 1.0, (string) json_encode($errors));
        self::assertLessThan(0.25, $errors[intdiv(count($errors), 2)] ?? 1.0, (string) json_encode($errors));
        self::assertTrue($this->running());
        $silent = microtime(true);
        usleep(1_500_000);
        self::assertTrue($this->running(), 'It freewheels for two seconds.');
        $this->until('it to hold', fn (): bool => ! $this->running());
        self::assertEqualsWithDelta(2.0, microtime(true) - $silent, 0.4);
        // A full frame is a jump.
        $box->midi("\xF0\x7F\x7F\x01\x01\x21\x00\x14\x00\xF7");
        $this->until(
            'the jump',
            fn (): bool => $this->live('state')['decks'][$ids['line']]['position'] === 20 * $second,
        );
    }

    public function test_a_timeline_waits_to_believe_a_clock_and_holds_where_it_jumps(): void
    {
        [$show, $ids] = $this->fadingShow();
        $second = Flicks::PER_SECOND;
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Follow',
            'changes' => [
                $this->updated('timeline', $ids['line'], [
                    'clock' => ['', 'Band'],
                    'clockJump' => ['follow', 'hold'],
                    'clockBelieve' => [0, intdiv($second, 2)],
                    'freewheel' => [$second, 10 * $second],
                ]),
            ],
        ])->assertCreated();
        $this->start();
        $this->until('the show', fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 2);
        $began = hrtime(true);
        $tell = function (float $from) use ($began, $second): void {
            $at = (int) round(($from + (hrtime(true) - $began) / 1e9) * $second);
            self::assertSame(200, $this->told('command', ['action' => 'clock', 'source' => 'Band', 'time' => $at]));
        };
        $deck = fn (): array => $this->live('state')['decks'][$ids['line']];
        $chase = fn (): array => $this->live('state')['chases'][$ids['line']] ?? [];
        $tell(5);
        self::assertSame('waits', $chase()['state'] ?? '');
        self::assertFalse($deck()['running'], 'One reading is not believed.');
        $this->until('it to be believed', function () use ($tell, $deck): bool {
            $tell(5);

            return $deck()['running'];
        });
        self::assertGreaterThan(0.45, (hrtime(true) - $began) / 1e9);
        $tell(5);
        self::assertSame('locked', $chase()['state']);
        self::assertLessThan(2.0, abs($chase()['error']));
        // The clock jumps: it holds, and is in hand again.
        $tell(40);
        self::assertSame(['jumped', false], [$chase()['state'], $deck()['running']]);
        $stood = $deck()['position'];
        $tell(40);
        self::assertSame($stood, $deck()['position']);
        // Also with the next engine; then somebody plays it, and it follows again once the clock is believed.
        $this->conductor?->signal(SIGKILL);
        $this->until('it to be gone', fn (): bool => $this->conductor?->isRunning() === false);
        $this->start();
        $this->until('the show', fn (): bool => ($this->live('state')['compiler']['ready'] ?? false) === true);
        $tell(40);
        self::assertFalse($deck()['running']);
        self::assertSame(200, $this->told('command', ['action' => 'play']));
        $this->until('it to follow', function () use ($tell, $deck, $second): bool {
            $tell(40);

            return $deck()['position'] > 35 * $second;
        });
    }

    public function test_a_timeline_is_where_the_day_is(): void
    {
        [$show, $ids] = $this->fadingShow();
        $now = new \DateTimeImmutable();
        $second = Flicks::PER_SECOND;
        $today = ((int) $now->format('G') * 3600 + (int) $now->format('i') * 60 + (int) $now->format('s')) * $second;
        // It began twenty seconds ago; near midnight, the test would be at the day before.
        if ($today < 60 * $second) {
            self::markTestSkipped('It is midnight.');
        }
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Follow',
            'changes' => [
                $this->updated('timeline', $ids['line'], [
                    'clock' => ['', 'Time of day'],
                    'clockStart' => [0, $today - 20 * $second],
                ]),
            ],
        ])->assertCreated();
        $this->start();
        $this->until(
            'it to play',
            fn (): bool => ($this->live('state')['decks'][$ids['line']]['position'] ?? 0) > 20 * $second,
        );
        usleep(1_200_000);
        $wall = microtime(true);
        $at = $this->live('state')['decks'][$ids['line']]['position'] / $second;
        $expected = 20 + ($wall - $now->getTimestamp());
        self::assertEqualsWithDelta($expected, $at, 0.15);
    }

    /**
     * @param  resource  $socket
     * @return string a packet that came; empty where none did
     *
     * @phpstan-impure
     */
    private static function received($socket): string
    {
        $packet = @stream_socket_recvfrom($socket, 1000);

        return $packet === false ? '' : $packet;
    }

    public function test_a_request_with_the_token_of_its_device_presses_what_it_is_bound_to(): void
    {
        [$show, $ids] = $this->boundShow();
        [$door, $bound] = [$this->id(), $this->id()];
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Door',
            'changes' => [
                $this->created('device', $door, ['name' => 'Door', 'protocol' => 'http']),
                $this->created('binding', $bound, [
                    'device' => $door,
                    'control' => '/door/*',
                    'meaning' => 'cue',
                    'target' => $ids['cue'],
                    'to' => 1,
                ]),
            ],
        ])->assertCreated();
        self::assertSame(
            'Only a device of HTTP has a token.',
            $this->ask('POST', "shows/$show/devices/$ids[box]/token", [])
                ->assertStatus(422)
                ->json('detail'),
        );
        $first = $this->ask('POST', "shows/$show/devices/$door/token", [])
            ->assertCreated()
            ->json('token');
        $token = $this->ask('POST', "shows/$show/devices/$door/token", [])
            ->assertCreated()
            ->json('token');
        self::assertNotSame($first, $token);
        $this->until('the token', fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 5);
        $press = function (string $token, string $body, string $more = ''): array {
            $length = strlen($body);

            return $this->http(
                "POST /live/press HTTP/1.1\r\nHost: 127.0.0.1\r\nAuthorization: Bearer $token\r\n".
                    "Content-Type: application/json\r\n{$more}Content-Length: $length\r\n\r\n$body",
            );
        };
        self::assertSame(401, $press((string) $first, '{"control": "/door/1"}')[0], 'The token before it.');
        self::assertSame(401, $press($this->ticket, '{"control": "/door/1"}')[0]);
        self::assertSame(422, $press((string) $token, 'x')[0]);
        self::assertSame(
            403,
            $press((string) $token, '{"control": "/door/1"}', "Origin: http://elsewhere.example\r\n")[0],
        );
        self::assertSame(
            [422, 'Nothing listens to /window.'],
            [($no = $press((string) $token, '{"control": "/window"}'))[0], $no[1]['detail']],
        );
        self::assertSame([], $this->live('state')['cues']['on']);
        self::assertSame(200, $press((string) $token, '{"control": "/door/1"}')[0]);
        self::assertSame('HTTP', $this->live('state')['cues']['on'][$ids['cue']]['by']);
    }

    public function test_a_cue_tells_devices_however_it_is_fired_and_a_look_tells_none(): void
    {
        [$show, $ids] = $this->fadingShow();
        $socket =
            stream_socket_server('udp://127.0.0.1:'.(TEST_PORTS + 38), $code, $error, STREAM_SERVER_BIND) ?:
            self::fail('No UDP.');
        stream_set_blocking($socket, false);
        $to = '127.0.0.1:'.(TEST_PORTS + 38);
        [$hand, $passed] = [$this->id(), $this->id()];
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Cues',
            'changes' => [
                $this->created('cue', $hand, [
                    'number' => '1',
                    'name' => 'By hand',
                    'actions' => "send udp $to hand\nrate 0.5",
                ]),
                $this->created('cue', $passed, [
                    'number' => '2',
                    'name' => 'Passed',
                    'timeline' => $ids['line'],
                    'time' => Flicks::PER_SECOND,
                    'actions' => "send osc $to /passed 2",
                ]),
            ],
        ])->assertCreated();
        $refused = $this->ask('POST', "shows/$show/edits", [
            'name' => 'Loop',
            'changes' => [$this->updated('cue', $hand, ['actions' => ["send udp $to hand\nrate 0.5", 'fire 1']])],
        ])->assertStatus(422);
        self::assertSame('fire 1 is nothing that a cue does.', $refused->json('detail'));
        $this->start();
        $this->until('the cues', fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 2);
        self::assertSame(200, $this->told('preview', ['show' => $show, 'cue' => $hand]));
        usleep(100_000);
        self::assertSame('', self::received($socket), 'What is only previewed is not done.');
        self::assertSame(200, $this->told('command', ['action' => 'fire', 'cue' => '1']));
        $this->until('the line', static fn (): bool => self::received($socket) === 'hand');
        $this->until('the rate', fn (): bool => $this->live('state')['decks'][$ids['line']]['rate'] === 0.5);
        self::assertSame(200, $this->told('command', ['action' => 'rate', 'rate' => 1]));
        self::assertSame(200, $this->told('command', ['action' => 'play']));
        $this->until('the other', static fn (): bool => self::received($socket) === Osc::encode('/passed', [2]));
        usleep(100_000);
        self::assertSame('', self::received($socket), 'Each once.');
        self::assertCount(2, $this->live('state')['devices']['lines']);
    }

    public function test_a_node_is_sent_the_timecode_of_the_driven_timeline_a_packet_a_frame(): void
    {
        [$show, $ids] = $this->fadingShow();
        $second = Flicks::PER_SECOND;
        $socket =
            stream_socket_server('udp://127.0.0.1:'.(TEST_PORTS + 39), $code, $error, STREAM_SERVER_BIND) ?:
            self::fail('No UDP.');
        stream_set_blocking($socket, false);
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Node',
            'changes' => [
                $this->created('node', $this->id(), [
                    'name' => 'Desk',
                    'protocol' => 'artnet',
                    'address' => '127.0.0.1',
                    'port' => TEST_PORTS + 39,
                    'timecode' => true,
                ]),
                $this->updated('timeline', $ids['line'], ['clockStart' => [0, 3600 * $second]]),
            ],
        ])->assertCreated();
        $this->start();
        $this->until('the show', fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 2);
        $next = static function () use ($socket): ?array {
            $packet = self::received($socket);

            return $packet === '' ? null : ArtNet::decode($packet);
        };
        self::assertSame(200, $this->told('command', ['action' => 'jump', 'time' => 5 * $second]));
        $this->until('where it stands', static fn (): bool => ($next()['timecode'] ?? null)?->text() === '01:00:05:00');
        self::assertSame(200, $this->told('command', ['action' => 'play']));
        [$frames, $heard] = [[], 0.0];
        $this->until('two seconds', static function () use ($next, &$frames, &$heard): bool {
            while (($told = $next()) !== null) {
                $frames[] = [$told['timecode']->text(), $told['rate']];
                $heard = hrtime(true) / 1e9;
            }

            return count($frames) > 51;
        });
        $before = hrtime(true) / 1e9;
        $position = $this->live('state')['decks'][$ids['line']]['position'] / $second;
        $after = hrtime(true) / 1e9;
        // Frame by frame: 01:00:05:01, :02 …; the first may be said twice, standing and running. Where the machine was at
        // something else, those are left out that are over, and what comes is the frame that is.
        $numbers = array_values(
            array_unique(
                array_map(static fn (array $f): int => (int) substr($f[0], 6, 2) * 25 + (int) substr($f[0], 9), $frames),
            ),
        );
        $ordered = $numbers;
        sort($ordered);
        self::assertSame($ordered, $numbers);
        self::assertGreaterThan(20, count($numbers));
        $last = $numbers[count($numbers) - 1] / 25;
        self::assertLessThan($position + 0.05, $last, 'None is ahead.');
        self::assertGreaterThan($position - ($after - $before) - ($before - $heard) - 0.2, $last);
        self::assertSame(['25'], array_values(array_unique(array_column($frames, 1))));
        self::assertLessThanOrEqual(127, $numbers[0]);
        self::assertSame(200, $this->told('command', ['action' => 'hold']));
        usleep(300_000);
        while ($next() !== null) {
        }
        usleep(300_000);
        self::assertNull($next(), 'While it stands, nothing is sent.');
    }

    public function test_a_line_of_midi_goes_to_the_device_that_it_names_and_says_where_there_is_none(): void
    {
        [$show, $ids] = $this->boundShow();
        $send = $this->id();
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'MIDI out',
            'changes' => [
                $this->created('cue', $send, [
                    'number' => '9',
                    'name' => 'MIDI',
                    'actions' => "send midi \"Box\" 90 40 11 80 40 00\nsend midi Nowhere 90 40 11",
                ]),
            ],
        ])->assertCreated();
        $this->until('the cue', fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 3);
        $box = $this->peer();
        $shown = $this->shown($box);
        self::assertSame(200, $this->told('command', ['action' => 'fire', 'cue' => '9']));
        $shown('904011');
        $shown('804000');
        self::assertSame(
            ['There is no MIDI device Nowhere at present.', null],
            array_column($this->live('state')['devices']['lines'], 'fault'),
        );
    }

    public function test_the_stand_in_of_a_machine_that_plays_is_followed_and_one_for_lines_takes_them(): void
    {
        [$show, $ids] = $this->fadingShow();
        $second = Flicks::PER_SECOND;
        $cue = $this->id();
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Follow',
            'changes' => [
                $this->updated('timeline', $ids['line'], [
                    'clock' => ['', 'MTC'],
                    'clockStart' => [0, 3600 * $second],
                ]),
                $this->created('cue', $cue, [
                    'number' => '1',
                    'name' => 'Haze',
                    'actions' => 'send tcp 127.0.0.1:'.(TEST_PORTS + 58).' haze on\r',
                ]),
            ],
        ])->assertCreated();
        $this->start();
        $this->until('the show', fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 2);
        $run = function (string ...$command): Process {
            $process = new Process([PHP_BINARY, base_path('artisan'), ...$command], base_path(), [
                'KITE_DATA' => $this->data,
                'APP_KEY' => config('app.key'),
            ]);
            $process->start();

            return $process;
        };
        $lines = $run('rig:line', (string) (TEST_PORTS + 58));
        $machine = $run(
            'rig:mtc',
            '--from=01:00:10:00',
            '--to=127.0.0.1:'.(TEST_PORTS + 34),
            '--port='.(TEST_PORTS + 56),
        );
        $position = fn (): float => ($this->live('state')['decks'][$ids['line']]['position'] ?? 0) / $second;
        $this->until('it to be followed', fn (): bool => $position() > 11 && $this->running());
        self::assertLessThan(30, $position());
        self::assertContains('Timecode machine', $this->live('state')['midi']['rtp']['sessions']);
        $machine->signal(SIGTERM);
        $this->until('it to hold', fn (): bool => ! $this->running());
        $this->until('the line device', function (): bool {
            $socket = @fsockopen('127.0.0.1', TEST_PORTS + 58, $code, $error, 1);
            $socket === false || fclose($socket);

            return $socket !== false;
        });
        self::assertSame(200, $this->told('command', ['action' => 'fire', 'cue' => '1']));
        $this->until('the line', static fn (): bool => str_contains($lines->getOutput(), "haze on\n"));
        $lines->stop(1);
        $machine->stop(1);
    }

    public function test_a_device_is_sent_the_timecode_of_the_driven_timeline(): void
    {
        [$show, $ids] = $this->fadingShow();
        $second = Flicks::PER_SECOND;
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Recorder',
            'changes' => [
                $this->created('device', $this->id(), ['name' => 'Recorder', 'port' => 'Box', 'timecode' => true]),
                $this->updated('timeline', $ids['line'], ['clockStart' => [0, 3600 * $second]]),
            ],
        ])->assertCreated();
        $this->start();
        $this->until('the show', fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 2);
        $box = $this->peer();
        $reader = new MtcReader();
        /** @var \ArrayObject<int, array{timecode: TimecodeFrame, time: int, direction: int, came: float}> $told */
        $told = new \ArrayObject();
        // Each with when it came.
        $listen = static function () use ($box, $reader, $told): ?array {
            while (($packet = $box->read(1)) !== null) {
                foreach ((new MidiStream())->read(RtpMidi::decode($packet)['bytes']) as $message) {
                    $one = $reader->read($message);
                    $one === null || $told->append($one + ['came' => hrtime(true) / 1e9]);
                }
            }

            return count($told) === 0 ? null : $told[count($told) - 1];
        };
        self::assertSame(200, $this->told('command', ['action' => 'jump', 'time' => 5 * $second]));
        $stands = $this->until('where it stands', static function () use ($listen): ?array {
            $last = $listen();

            return $last !== null && $last['timecode']->text() === '01:00:05:00' ? $last : null;
        });
        self::assertSame(0, $stands['direction']);
        $told->exchangeArray([]);
        self::assertSame(200, $this->told('command', ['action' => 'play']));
        $offsets = [];
        // Eight quarters are two frames: as many as this are more than a second.
        $this->until('where it is', static function () use ($listen, $told, $second, &$offsets): bool {
            $listen();
            foreach ($told as $one) {
                $one['direction'] === 1 && ($offsets[] = $one['time'] / $second - $one['came']);
            }
            $told->exchangeArray([]);

            return count($offsets) >= 20;
        });
        $before = hrtime(true) / 1e9;
        $position = $this->live('state')['decks'][$ids['line']]['position'] / $second + 3600;
        $after = hrtime(true) / 1e9;
        // What this process reads late seems to be behind; nothing is ahead of the timeline, and the promptest is with it.
        $prompt = max($offsets);
        self::assertLessThan($position - $before + 0.04, $prompt, (string) json_encode($offsets));
        self::assertGreaterThan($position - $after - 0.04, $prompt, (string) json_encode($offsets));
        self::assertSame(200, $this->told('command', ['action' => 'hold']));
        $this->until('it to stand', static fn (): bool => ($listen()['direction'] ?? 1) === 0);
        // What was on its way when it was held comes within that.
        usleep(300_000);
        $listen();
        $told->exchangeArray([]);
        usleep(300_000);
        self::assertNull($listen(), 'While nothing changes, nothing is sent.');
    }

    public function test_bindings_go_out_as_a_table_and_into_another_show(): void
    {
        [$show, $ids] = $this->fadingShow();
        [$device, $cue] = [$this->id(), $this->id()];
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Bind',
            'changes' => [
                $this->created('cue', $cue, ['number' => '7.5', 'name' => 'Seven']),
                $this->created('device', $device, ['name' => 'Box, left', 'port' => 'Box']),
                $this->created('binding', $this->id(), [
                    'device' => $device,
                    'control' => 'cc:1:1',
                    'meaning' => 'value',
                    'gesture' => 'move',
                    'target' => "layer:$ids[layer]/gain#1",
                    'high' => 4,
                    'motor' => true,
                ]),
                $this->created('binding', $this->id(), [
                    'device' => $device,
                    'control' => 'note:1:1',
                    'meaning' => 'cue',
                    'target' => $cue,
                    'fade' => 12,
                ]),
                $this->created('binding', $this->id(), [
                    'device' => $device,
                    'control' => 'program:1',
                    'meaning' => 'choice',
                    'choices' => "1 go\n2 page 2",
                ]),
            ],
        ])->assertCreated();
        $csv = $this->ask('GET', "shows/$show/bindings.csv")
            ->assertOk()
            ->getContent();
        self::assertStringContainsString('"Box, left",midi,Box,"layer ""L"" gain#1",cc:1:1', (string) $csv);
        [$other] = $this->fadingShow();
        $this->ask('POST', "shows/$other/edits", [
            'name' => 'Its cue',
            'changes' => [$this->created('cue', $this->id(), ['number' => '7.5', 'name' => 'Seven'])],
        ])->assertCreated();
        $this->ask('POST', "shows/$other/bindings.csv", ['csv' => $csv])->assertCreated();
        $rows = fn (string $of): array => $this->ask('GET', "shows/$of")->json('rows');
        $plain = static fn (array $rows): array => array_map(
            static fn (array $row): array => array_diff_key($row, ['id' => 0, 'device' => 0, 'target' => 0]),
            $rows['binding'],
        );
        self::assertEqualsCanonicalizing($plain($rows($show)), $plain($rows($other)));
        self::assertSame(['Box, left'], array_column($rows($other)['device'], 'name'));
        self::assertSame(
            [],
            array_merge(...array_values($this->ask('GET', "shows/$other")->json('computed.findings.bindings') ?? [])),
        );
        // As JSON the devices come whole, but for what lets somebody in; it goes in by the same door.
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'More of the box',
            'changes' => [
                $this->updated('device', $device, ['timecode' => [false, true], 'invite' => ['', '192.0.2.8:5004']]),
            ],
        ])->assertCreated();
        $json = (string) $this->ask('GET', "shows/$show/bindings.json")
            ->assertOk()
            ->getContent();
        self::assertStringNotContainsString('token', $json);
        [$third] = $this->fadingShow();
        $this->ask('POST', "shows/$third/edits", [
            'name' => 'Its cue',
            'changes' => [$this->created('cue', $this->id(), ['number' => '7.5', 'name' => 'Seven'])],
        ])->assertCreated();
        $this->ask('POST', "shows/$third/bindings.csv", ['csv' => $json])->assertCreated();
        self::assertEqualsCanonicalizing($plain($rows($show)), $plain($rows($third)));
        self::assertSame(
            [['Box, left', true, '192.0.2.8:5004']],
            array_map(
                static fn (array $row): array => [$row['name'], $row['timecode'], $row['invite']],
                $rows($third)['device'],
            ),
        );
        $this->ask('POST', "shows/$third/bindings.csv", ['csv' => $json])->assertOk();
        foreach (
            [
                '{' => 'has no list "bindings"',
                '{"bindings": 1}' => 'has no list "bindings"',
                '{"bindings": [1]}' => 'has no list "bindings"',
                '{"bindings": [{"device": "Box"}]}' => 'Row 1: control is missing',
            ] as $bad => $message
        ) {
            $refused = $this->ask('POST', "shows/$third/bindings.csv", ['csv' => $bad])->assertStatus(422);
            self::assertStringContainsString($message, (string) $refused->json('detail'));
        }
        // The same again changes nothing; what is wrong says where.
        $this->ask('POST', "shows/$other/bindings.csv", ['csv' => $csv])->assertOk();
        self::assertCount(3, $rows($other)['binding']);
        foreach (
            [
                "device,control,meaning\nBox,cc:1:1,value" => 'lacks the columns target',
                "device,control,meaning,target\nBox,cc:1:1,cue,99" => 'Row 2: There is no cue 99.',
                "device,control,meaning,target\nBox,cc:1:1,value,\"layer \"\"Gone\"\" x\"" => 'Row 2: There is no layer "Gone".',
                "device,control,meaning,target\nBox,cc:99:1,action,go" => 'Row 2: "cc:99:1" is no control',
                "device,control,meaning,target,page\nBox,cc:1:1,action,go,x" => 'Row 2: page is "x", which is no whole number.',
                "device,control,meaning,target\nBox,note:1:1,action,go\nBox,note:1:1,action,stop" => 'Row 3 binds the same control again.',
            ] as $bad => $message
        ) {
            $refused = $this->ask('POST', "shows/$other/bindings.csv", ['csv' => $bad])->assertStatus(422);
            self::assertStringContainsString($message, (string) $refused->json('detail'));
        }
    }

    public function test_controls_are_learned_and_bound_by_request(): void
    {
        [$show, $ids] = $this->fadingShow();
        $answer = $this->ask('POST', "shows/$show/bindings", [
            'action' => 'bind',
            'protocol' => 'midi',
            'port' => 'Box',
            'meaning' => 'value',
            'targets' => ["layer:$ids[layer]/opacity", "layer:$ids[layer]/blend"],
            'events' => [
                [['cc:1:1', [3]], ['cc:1:1', [9]], ['cc:1:1', [12]]],
                [['cc:1:2', [3]], ['cc:1:2', [9]], ['cc:1:2', [12]]],
            ],
        ])->assertCreated();
        [$first, $second] = explode(' ', (string) $answer->json('createdId'));
        $rows = $this->ask('GET', "shows/$show")->json('rows');
        self::assertCount(1, $rows['device'], 'One device for both.');
        $bindings = array_column($rows['binding'], null, 'id');
        self::assertSame(
            ['cc:1:1', 'move', 0, 1],
            [
                $bindings[$first]['control'],
                $bindings[$first]['gesture'],
                $bindings[$first]['low'],
                $bindings[$first]['high'],
            ],
        );
        self::assertSame(
            $bindings[$second]['high'] + 1,
            $bindings[$second]['steps'],
            'Each option has its part of the way.',
        );
        // The same device again, and another control for one of them.
        $this->ask('POST', "shows/$show/bindings", [
            'action' => 'learn',
            'binding' => $first,
            'events' => [[['cc:1:9', [3]], ['cc:1:9', [9]]]],
        ])->assertCreated();
        $other = $this->id();
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Another',
            'changes' => [$this->created('device', $other, ['name' => 'Spare'])],
        ])->assertCreated();
        $this->ask('POST', "shows/$show/bindings", [
            'action' => 'move',
            'from' => $rows['device'][0]['id'],
            'to' => $other,
        ])->assertCreated();
        $rows = $this->ask('GET', "shows/$show")->json('rows');
        self::assertSame([$other, $other], array_column($rows['binding'], 'device'));
        self::assertSame('cc:1:9', array_column($rows['binding'], null, 'id')[$first]['control']);
        foreach (
            [
                [['action' => 'sing'], 'action'],
                [
                    [
                        'action' => 'bind',
                        'protocol' => 'midi',
                        'meaning' => 'cue',
                        'targets' => ['x'],
                        'events' => [[['msc:GO', []]]],
                    ],
                    'events',
                ],
                [
                    [
                        'action' => 'bind',
                        'protocol' => 'midi',
                        'meaning' => 'cue',
                        'targets' => ['x', 'y'],
                        'events' => [[['cc:1:1', [1]]]],
                    ],
                    'targets',
                ],
                [
                    [
                        'action' => 'bind',
                        'protocol' => 'sun',
                        'meaning' => 'cue',
                        'targets' => ['x'],
                        'events' => [[['cc:1:1', [1]]]],
                    ],
                    'protocol',
                ],
                [
                    [
                        'action' => 'bind',
                        'protocol' => 'midi',
                        'meaning' => 'value',
                        'targets' => ['x'],
                        'events' => [[['cc:1:1', [1]]]],
                    ],
                    'address',
                ],
                [
                    [
                        'action' => 'bind',
                        'protocol' => 'midi',
                        'meaning' => 'action',
                        'targets' => ['sing'],
                        'events' => [[['cc:1:1', [1]]]],
                    ],
                    'target',
                ],
                [['action' => 'move', 'from' => 'x', 'to' => $other], 'from'],
                [['action' => 'learn', 'binding' => 'x', 'events' => [[['cc:1:1', [1]]]]], 'binding'],
                [['action' => 'learn', 'binding' => $first, 'events' => 'x'], 'events'],
            ] as [$body, $field]
        ) {
            $refused = $this->ask('POST', "shows/$show/bindings", $body)->assertStatus(422);
            self::assertSame($field, $refused->json('field'), (string) json_encode($body));
        }
        self::assertSame(99, Action::PAGES);
    }
}
