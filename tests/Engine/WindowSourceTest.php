<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\ControlSource;
use App\Engine\EngineClock;
use App\Engine\Guard;
use App\Engine\WindowControls;
use App\Engine\Wire;
use Core\Bindings\ControlEvent;
use Core\Protocol\LtcEncoder;
use Core\Protocol\TimecodeFrame;
use Core\Units\Flicks;

/** A MIDI port of a browser, as its window delivers it. */
final class WindowSourceTest extends ControlSourceContract
{
    private ?WindowControls $source = null;

    /** @var list<array{string, list<int>}> */
    private array $shown = [];

    /** @var list<string> */
    private array $lost = [];

    protected function source(): ControlSource
    {
        return $this->source = new WindowControls(
            EngineClock::starting(),
            new Guard(),
            function (int $stream, string $frame): void {
                self::assertSame(1, $stream);
                [[$type, $payload]] = (new Wire())->feed($frame);
                self::assertSame(Wire::FEEDBACK, $type);
                $data = json_decode($payload, true);
                $this->shown[] = ["note:1:{$data['data'][1]}", [$data['data'][2]]];
            },
            static function (): void {
            },
            function (string $source, string $port): void {
                $this->lost[] = "$source $port";
            },
        );
    }

    protected function examples(): array
    {
        return [['note:1:60', [64]], ['note:1:61', [1]], ['note:1:62', [0]]];
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
        $this->source?->take(1, [
            ['source' => 'midi', 'port' => 'Box', 'data' => [0x90, (int) explode(':', $control)[2], $raw[0]]],
        ]);
    }

    protected function sendNonsense(): bool
    {
        return $this->source?->take(1, [['source' => 'midi', 'port' => 'Box', 'data' => [256]]]) !== null;
    }

    protected function shown(): array
    {
        [$shown, $this->shown] = [$this->shown, []];

        return $shown;
    }

    public function test_what_is_no_event_is_refused_in_words(): void
    {
        $source = $this->source();
        self::assertInstanceOf(WindowControls::class, $source);
        foreach (
            [
                [['x' => 1], 'Events of controls are a list of up to 1000.'],
                [array_fill(0, 1001, []), 'Events of controls are a list of up to 1000.'],
                [[1], 'An event of a control is an object.'],
                [
                    [['source' => 'sun']],
                    'An event comes from midi, with the name of its port, from keys, sound, touch or ltc.',
                ],
                [
                    [['source' => 'midi', 'port' => ' ']],
                    'An event comes from midi, with the name of its port, from keys, sound, touch or ltc.',
                ],
                [[['source' => 'midi', 'port' => 'Box', 'data' => 'x']], 'MIDI data is a list of bytes, 0 to 255.'],
                [
                    [['source' => 'keys', 'control' => 'key:A b', 'value' => 1]],
                    'A key is key:CODE with 1 or 0 as its value.',
                ],
                [
                    [['source' => 'keys', 'control' => 'key:KeyA', 'value' => 2]],
                    'A key is key:CODE with 1 or 0 as its value.',
                ],
            ] as [$events, $message]
        ) {
            self::assertSame($message, $source->take(1, $events));
        }
        self::assertNull($source->take(1, [['source' => 'keys', 'control' => 'key:KeyA', 'value' => 1]]));
    }

    public function test_a_port_that_has_just_come_tells_where_it_stands_and_goes_with_its_window(): void
    {
        $source = $this->source();
        self::assertInstanceOf(WindowControls::class, $source);
        $events = [];
        $source->start(static function (ControlEvent $event) use (&$events): ?string {
            $events[] = [$event->control, $event->device, $event->isReport];

            return null;
        });
        $source->take(1, [
            ['source' => 'midi', 'port' => 'Box', 'came' => true],
            ['source' => 'midi', 'port' => 'Box', 'data' => [0xB0, 7, 100]],
            ['source' => 'midi', 'port' => 'Old box', 'data' => [0xB0, 7, 100]],
        ]);
        self::assertSame([['cc:1:7', 'Box', true], ['cc:1:7', 'Old box', false]], $events);
        $source->take(1, [['source' => 'midi', 'port' => 'Box', 'gone' => true]]);
        $source->feedback('note:1:1', [1], 'Box');
        self::assertSame([[], ['midi Box']], [$this->shown(), $this->lost]);
        $source->left(1);
        self::assertSame(['midi Box', 'midi Old box'], $this->lost);
    }

    public function test_a_line_of_timecode_comes_as_samples_and_counts_from_when_it_was_heard(): void
    {
        $source = $this->source();
        self::assertInstanceOf(WindowControls::class, $source);
        $events = [];
        $source->start(static function (ControlEvent $event) use (&$events): ?string {
            $events[] = $event;

            return null;
        });
        $encoder = new LtcEncoder(48_000, 25.0);
        $frame = new TimecodeFrame(1, 0, 0, 0);
        $samples = [];
        for ($i = 0; $i < 10; $i++) {
            array_push($samples, ...$encoder->write($frame));
            $frame = $frame->next(25);
        }
        $clock = EngineClock::starting();
        foreach (array_chunk($samples, 960) as $i => $piece) {
            $bytes = pack('v*', ...array_map(static fn (float $x): int => (int) round(32_767 * $x), $piece));
            self::assertNull(
                $source->take(1, [
                    ['source' => 'ltc', 'rate' => 48_000, 'samples' => base64_encode($bytes), 'at' => $clock->now()],
                ]),
            );
        }
        self::assertGreaterThanOrEqual(9, count($events));
        self::assertSame(
            ['ltc', 'timecode', '01:00:00:00', '25'],
            [$events[0]->source, $events[0]->control, $events[0]->raw[0], $events[0]->raw[2]],
        );
        // At its end, an hour and a frame; and no event is of the future.
        self::assertSame(3600 * Flicks::PER_SECOND + intdiv(Flicks::PER_SECOND, 25), $events[0]->raw[1]);
        self::assertLessThanOrEqual($clock->now() + Flicks::PER_SECOND, $events[8]->time);
        foreach (
            [
                ['rate' => 7999],
                ['rate' => 48_000, 'samples' => '!', 'at' => 1],
                ['rate' => 48_000, 'samples' => base64_encode(str_repeat('x', 40_000)), 'at' => 1],
                ['rate' => 48_000, 'samples' => '', 'at' => 'now'],
            ] as $bad
        ) {
            self::assertStringStartsWith(
                'A line of timecode has',
                (string) $source->take(1, [['source' => 'ltc'] + $bad]),
            );
        }
    }

    public function test_a_flood_of_mutated_timecode_and_midi_takes_no_memory_and_the_next_event_counts(): void
    {
        $source = $this->source();
        self::assertInstanceOf(WindowControls::class, $source);
        $source->start(static fn (ControlEvent $event): ?string => null);
        mt_srand(20_262);
        $good = [
            ['source' => 'ltc', 'rate' => 48_000, 'samples' => base64_encode(str_repeat('xyz', 160)), 'at' => 0],
            ['source' => 'midi', 'port' => 'Box', 'data' => [0x90, 60, 64, 0xF1, 0x23, 0xF0, 0x7F]],
        ];
        $odd = [
            null,
            true,
            -1,
            256,
            0.5,
            '',
            ' ',
            [],
            [1],
            [[]],
            'midi',
            'ltc',
            PHP_INT_MAX,
            'AAAA',
            [0xF0, 1, 2],
            192_000,
        ];
        [$refused, $before] = [0, 0];
        for ($i = 0; $i < 30_000; $i++) {
            $event = $good[mt_rand(0, 1)];
            for ($n = mt_rand(0, 2); $n > 0; $n--) {
                $field = array_rand($event);
                $event[$field] = match (mt_rand(0, 2)) {
                    0 => $odd[mt_rand(0, count($odd) - 1)],
                    1 => is_string($event[$field]) ? substr($event[$field], mt_rand(0, 9)) : $i,
                    default => $field === 'port'
                        ? "Port $i"
                        : base64_encode(str_repeat(chr(mt_rand(0, 255)), mt_rand(0, 40))),
                };
            }
            $source->take(1 + ($i % 3), [$event]) === null || $refused++;
            $this->lost = $this->shown = [];
            if ($i === 10_000) {
                $before = memory_get_usage();
            }
        }
        self::assertGreaterThan(5_000, $refused);
        self::assertLessThan(500_000, memory_get_usage() - $before);
        self::assertNull($source->take(1, [['source' => 'keys', 'control' => 'key:KeyG', 'value' => 1]]));
    }
}
