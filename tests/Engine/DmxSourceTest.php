<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\ControlSource;
use App\Engine\DmxControls;
use App\Engine\EngineClock;
use App\Engine\Guard;
use Core\Bindings\ControlEvent;

/** Slots of a universe, as the process that hears consoles delivers them. */
final class DmxSourceTest extends ControlSourceContract
{
    private ?DmxControls $source = null;

    private string $slots = "\0\0\0\0";

    /** @var list<string> */
    private array $bound = [];

    /** @var list<string> */
    private array $seen = [];

    protected function source(): ControlSource
    {
        $this->source = new DmxControls(
            EngineClock::starting(),
            new Guard(),
            fn (string $universe): array => $universe === 'sACN 7' ? $this->bound : [],
            function (string $source, string $universe): void {
                $this->seen[] = "$source $universe";
            },
            function (string $source, string $universe): void {
                $this->seen[] = "no $source $universe";
            },
        );
        $this->source->take(['sacn 7' => base64_encode($this->slots)]);

        return $this->source;
    }

    protected function examples(): array
    {
        return [['slot:1', [255]], ['slot:2', [3]], ['slot:4', [200]]];
    }

    protected function origin(ControlSource $source): string
    {
        return 'dmx';
    }

    protected function send(string $control, array $raw): void
    {
        // Each the other of two: what stays the same is no event.
        $at = (int) substr($control, 5) - 1;
        $this->slots[$at] = $this->slots[$at] === "\0" ? chr((int) $raw[0]) : "\0";
        $this->source?->take(['sacn 7' => base64_encode($this->slots)]);
    }

    protected function sendNonsense(): bool
    {
        $this->source?->take(['sacn 7' => '*']);

        return true;
    }

    protected function shown(): array
    {
        return [];
    }

    protected function lamp(): ?array
    {
        return null;
    }

    public function test_a_universe_that_comes_back_only_tells_where_it_stands(): void
    {
        $source = $this->source();
        self::assertInstanceOf(DmxControls::class, $source);
        $this->bound = ['slot:2', 'slot16:3'];
        $events = [];
        $source->start(static function (ControlEvent $event) use (&$events): ?string {
            $events[] = [$event->control, $event->raw, $event->device, $event->isReport];

            return null;
        });
        $source->take(['sacn 7' => base64_encode("\x01\x02\x03\x04"), 'artnet 1' => base64_encode("\x09")]);
        $source->take(['sacn 7' => null]);
        $source->take(['sacn 7' => base64_encode("\x01\xFF\x03\x04")]);
        $source->take(['artnet 1' => base64_encode("\x0A")]);
        self::assertSame(
            [
                ['slot:1', [1], 'sACN 7', false],
                ['slot:2', [2], 'sACN 7', false],
                ['slot16:3', [772], 'sACN 7', false],
                ['slot:2', [255], 'sACN 7', true],
                ['slot16:3', [772], 'sACN 7', true],
                ['slot:1', [10], 'Art-Net 0', false],
            ],
            $events,
        );
        self::assertSame(['dmx sACN 7', 'dmx Art-Net 0', 'no dmx sACN 7', 'dmx sACN 7'], $this->seen);
    }
}
