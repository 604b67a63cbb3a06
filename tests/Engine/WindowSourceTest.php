<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\ControlSource;
use App\Engine\EngineClock;
use App\Engine\Guard;
use App\Engine\WindowControls;
use App\Engine\Wire;
use Core\Bindings\ControlEvent;

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
                [[['source' => 'sun']], 'An event comes from midi, with the name of its port, or from keys.'],
                [
                    [['source' => 'midi', 'port' => ' ']],
                    'An event comes from midi, with the name of its port, or from keys.',
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
}
