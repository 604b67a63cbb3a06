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
}
