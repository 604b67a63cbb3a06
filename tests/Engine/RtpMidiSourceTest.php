<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\Clock;
use App\Engine\ControlSource;
use App\Engine\Guard;
use App\Engine\RtpMidiListener;
use Core\Bindings\ControlEvent;
use Core\Units\Flicks;

/** MIDI over the network, by another one's bytes. */
final class RtpMidiSourceTest extends ControlSourceContract
{
    private const PORT = TEST_PORTS + 36;

    private RtpMidiPeer $peer;

    private bool $isIn = false;

    private int $now = 100 * Flicks::PER_SECOND;

    /** @var list<string> */
    private array $lost = [];

    protected function setUp(): void
    {
        parent::setUp();
        $this->peer = new RtpMidiPeer(self::PORT);
    }

    protected function source(): ControlSource
    {
        $clock = new class($this->now) implements Clock
        {
            public function __construct(private int &$now)
            {
            }

            public function now(): int
            {
                return $this->now;
            }

            public function name(): string
            {
                return 'by hand';
            }
        };

        return new RtpMidiListener(
            $this->loop,
            '127.0.0.1',
            self::PORT,
            new Guard(),
            $clock,
            static function (): void {
            },
            function (string $source, string $device): void {
                $this->lost[] = "$source $device";
            },
        );
    }

    /** @return string what comes on a socket */
    private function packet(int $socket): string
    {
        for ($end = hrtime(true) + 5_000_000_000; hrtime(true) < $end;) {
            $packet = $this->peer->read($socket);
            if ($packet !== null) {
                return $packet;
            }
            $this->loop->addTimer(0.002, $this->loop->stop(...));
            $this->loop->run();
        }
        self::fail('Nothing came.');
    }

    private function join(string $name = 'Box'): void
    {
        $this->peer->invite($name);
        foreach ([0, 1] as $socket) {
            $answer = $this->packet($socket);
            self::assertSame("\xff\xffOK", substr($answer, 0, 4));
            self::assertSame([2, 0x0BADCAFE], array_values(unpack('N2', $answer, 4) ?: []));
            self::assertSame("Kite Lamp\0", substr($answer, 16));
        }
        // What is sent later is no report of where it stands.
        $this->now += Flicks::PER_SECOND;
        $this->isIn = true;
    }

    protected function examples(): array
    {
        return [['note:1:60', [64]], ['cc:2:7', [1]], ['note:1:62', [0]]];
    }

    protected function lamp(): array
    {
        return ['note:1:60', [0], [127]];
    }

    protected function origin(ControlSource $source): string
    {
        return 'midi';
    }

    protected function send(string $control, array $raw): void
    {
        [$kind, $channel, $number] = explode(':', $control);
        if (! $this->isIn) {
            $this->peer->invite();
            $until = hrtime(true) + 200_000_000;
            while (hrtime(true) < $until && $this->peer->read(1) === null) {
                $this->loop->addTimer(0.002, $this->loop->stop(...));
                $this->loop->run();
            }
            $this->now += Flicks::PER_SECOND;
            $this->isIn = hrtime(true) < $until;
        }
        $this->peer->midi(pack('C3', ($kind === 'note' ? 0x90 : 0xB0) | ((int) $channel - 1), (int) $number, $raw[0]));
    }

    protected function sendNonsense(): bool
    {
        $this->peer->write(1, "\x80\x61bad");

        return true;
    }

    protected function shown(): array
    {
        $packet = $this->peer->read(1);
        if ($packet === null || strlen($packet) !== 16) {
            return [];
        }
        // A header of twelve bytes, a length of three, and the command.
        self::assertSame([0x80, 0xE1, 3], [ord($packet[0]), ord($packet[1]), ord($packet[12])]);

        return [['note:'.((ord($packet[13]) & 0x0F) + 1).':'.ord($packet[14]), [ord($packet[15])]]];
    }

    public function test_a_session_is_joined_kept_and_left(): void
    {
        $source = $this->source();
        $events = [];
        $source->start(static function (ControlEvent $event) use (&$events): ?string {
            $events[] = [$event->device, $event->control, $event->raw[0], $event->isReport];

            return null;
        });
        $this->join();
        $this->peer->clock();
        $answer = $this->packet(0);
        self::assertSame("\xff\xffCK", substr($answer, 0, 4));
        $clock = unpack('Ns/Cc/x3/Ja/Jb/Jd', $answer, 4) ?: [];
        // Ours has run for 101 s: in ticks of a ten-thousandth.
        self::assertSame([1, 777, 1_010_000, 0], [$clock['c'], $clock['a'], $clock['b'], $clock['d']]);
        // Two commands with running status, a time between them, and over the end of the sequence.
        $this->peer->midi("\x90\x3c\x40\x00\x3e\x00");
        $this->peer->midi("\xb0\x07\x05");
        $this->peer->midi("\xb0\x07\x09", skip: 3);
        while (count($events) < 4) {
            $this->loop->addTimer(0.002, $this->loop->stop(...));
            $this->loop->run();
        }
        self::assertSame(
            [
                ['Box', 'note:1:60', 64, false],
                ['Box', 'note:1:62', 0, false],
                ['Box', 'cc:1:7', 5, false],
                ['Box', 'cc:1:7', 9, false],
            ],
            $events,
        );
        $health = $source->health();
        self::assertSame([3, ['Box']], [$health['lost'] ?? null, $health['sessions'] ?? null]);
        // Within the second, the other one is told up to which packet all came: 65,535, 0, 4.
        self::assertSame("\xff\xffRS".substr($answer, 4, 4)."\0\4\0\0", $this->packet(0));
        $this->peer->bye();
        while ($this->lost === []) {
            $this->loop->addTimer(0.002, $this->loop->stop(...));
            $this->loop->run();
        }
        self::assertSame([['midi Box'], []], [$this->lost, $source->health()['sessions'] ?? null]);
        $source->stop();
    }

    public function test_a_session_that_falls_silent_is_given_up_and_what_it_had_is_free_again(): void
    {
        $source = $this->source();
        $source->start(static fn (): ?string => null);
        $this->join();
        $this->now += 89 * Flicks::PER_SECOND;
        $this->peer->clock();
        $this->packet(0);
        $this->now += 89 * Flicks::PER_SECOND;
        $this->loop->addTimer(1.1, $this->loop->stop(...));
        $this->loop->run();
        self::assertSame([], $this->lost, 'Its clock was heard.');
        $this->now += 2 * Flicks::PER_SECOND;
        $this->loop->addTimer(1.1, $this->loop->stop(...));
        $this->loop->run();
        self::assertSame(['midi Box'], $this->lost);
        self::assertSame("\xff\xffBY", substr($this->packet(0), 0, 4));
        $source->stop();
    }

    public function test_malformed_packets_and_strangers_do_nothing(): void
    {
        $source = $this->source();
        $events = 0;
        $source->start(static function () use (&$events): ?string {
            $events++;

            return null;
        });
        $this->join();
        mt_srand(11);
        $before = memory_get_usage();
        for ($i = 0; $i < 20_000; $i++) {
            $bytes = '';
            for ($n = mt_rand(0, 40); $n > 0; $n--) {
                $bytes .= chr(mt_rand(0, 255));
            }
            $this->peer->write($i % 2, ["\xff\xff", "\xff\xffIN", "\xff\xffCK", "\x80\x61", ''][$i % 5].$bytes);
            if ($i % 50 === 0) {
                $this->loop->addTimer(0.001, $this->loop->stop(...));
                $this->loop->run();
            }
        }
        self::assertLessThan(2_000_000, memory_get_usage() - $before);
        $stranger = new RtpMidiPeer(self::PORT, 99);
        $stranger->midi("\x90\x3c\x40");
        $this->peer->midi("\x90\x3c\x40");
        while ($events === 0) {
            $this->loop->addTimer(0.002, $this->loop->stop(...));
            $this->loop->run();
        }
        self::assertGreaterThan(10_000, $source->health()['bad']);
        $source->stop();
    }

    public function test_others_are_invited_asked_again_and_heard(): void
    {
        // The other end: two sockets at addresses that are known.
        $open = static function (int $port) {
            $socket =
                stream_socket_server("udp://127.0.0.1:$port", $code, $error, STREAM_SERVER_BIND) ?: self::fail($error);
            stream_set_blocking($socket, false);

            return $socket;
        };
        $others = [$open(self::PORT + 20), $open(self::PORT + 21)];
        $next = function (int $n) use ($others): string {
            for ($end = hrtime(true) + 6_000_000_000; hrtime(true) < $end;) {
                $packet = stream_socket_recvfrom($others[$n], 2048);
                if ($packet !== false && $packet !== '') {
                    return $packet;
                }
                $this->loop->addTimer(0.002, $this->loop->stop(...));
                $this->loop->run();
            }
            self::fail('Nothing came.');
        };
        $say = static fn (int $n, string $bytes): int|false => stream_socket_sendto(
            $others[$n],
            $bytes,
            0,
            '127.0.0.1:'.(self::PORT + $n),
        );
        $source = $this->source();
        self::assertInstanceOf(RtpMidiListener::class, $source);
        $events = [];
        $source->start(static function (ControlEvent $event) use (&$events): ?string {
            $events[] = [$event->device, $event->control, $event->isReport];

            return null;
        });
        $address = '127.0.0.1:'.(self::PORT + 20);
        $source->invite([$address]);
        $first = $next(0);
        self::assertSame(["\xff\xffIN", 2], [substr($first, 0, 4), unpack('N', $first, 4)[1] ?? 0]);
        self::assertSame("Kite Lamp\0", substr($first, 16));
        // Nobody answers: it asks once more, with the same token.
        $this->now += 3 * Flicks::PER_SECOND;
        self::assertSame($first, $next(0));
        $token = substr($first, 8, 4);
        $mine = pack('N', 0x5EA);
        // What answers another question, or from elsewhere, is nobody.
        $say(0, "\xff\xffOK".pack('N', 2)."xxxx{$mine}Stranger\0");
        $say(1, "\xff\xffOK".pack('N', 2)."$token{$mine}Too early\0");
        // Both have been read once these were refused.
        $say(0, "\xff\xffXX");
        $say(1, "\xff\xffXX");
        while ($source->health()['bad'] < 2) {
            $this->loop->addTimer(0.002, $this->loop->stop(...));
            $this->loop->run();
        }
        $say(0, "\xff\xffOK".pack('N', 2)."$token{$mine}Desk\0");
        $second = $next(1);
        self::assertSame(["\xff\xffIN", $token], [substr($second, 0, 4), substr($second, 8, 4)]);
        self::assertSame([[], [$address]], [$source->health()['sessions'] ?? 0, $source->health()['waiting'] ?? 0]);
        $say(1, "\xff\xffOK".pack('N', 2)."$token{$mine}Desk\0");
        // Who invited begins with the clocks: 0, and after the answer 2, with all three times.
        $clock = $next(1);
        self::assertSame(["\xff\xffCK", "\0"], [substr($clock, 0, 4), $clock[8]]);
        self::assertSame([['Desk'], []], [$source->health()['sessions'] ?? 0, $source->health()['waiting'] ?? 0]);
        $say(1, "\xff\xffCK$mine\x01\0\0\0".substr($clock, 12, 8).pack('J', 4711).pack('J', 0));
        $last = $next(1);
        self::assertSame(
            ["\x02", substr($clock, 12, 8), 4711],
            [$last[8], substr($last, 12, 8), unpack('J', $last, 20)[1] ?? 0],
        );
        $this->now += Flicks::PER_SECOND;
        $say(1, pack('CCnNN', 0x80, 0x61, 9, 1000, 0x5EA)."\x03\x90\x3c\x40");
        while ($events === []) {
            $this->loop->addTimer(0.002, $this->loop->stop(...));
            $this->loop->run();
        }
        self::assertSame([['Desk', 'note:1:60', false]], $events);
        // It leaves, and is asked again in a while; what is not wanted any more is left.
        $say(0, "\xff\xffBY".pack('N', 2).$token.$mine);
        while ($this->lost === []) {
            $this->loop->addTimer(0.002, $this->loop->stop(...));
            $this->loop->run();
        }
        $this->now += 3 * Flicks::PER_SECOND;
        do {
            $again = $next(0);
        } while (substr($again, 0, 4) === "\xff\xffRS");
        self::assertSame("\xff\xffIN", substr($again, 0, 4));
        self::assertNotSame($token, substr($again, 8, 4));
        $source->invite([]);
        self::assertSame([], $source->health()['waiting'] ?? null);
        $source->stop();
        array_map(fclose(...), $others);
    }
}
