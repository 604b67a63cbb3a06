<?php

declare(strict_types=1);

namespace Core\Bindings;

use Core\Units\Check;

/** Something with controls: a fader box, a tablet, a keyboard. */
final readonly class Device
{
    /** How a device speaks; each is the name of a source of control events. */
    public const PROTOCOLS = ['midi', 'osc', 'keys'];

    /**
     * @param  string  $port  what it is called where it comes in (a MIDI port, the name of a network session, the host
     *     that sends OSC); empty for all of its protocol
     * @param  bool  $showControl  whether MIDI show control and machine control of it act by themselves
     * @param  bool  $timecode  whether it is sent the timecode of the driven timeline
     */
    private function __construct(
        public string $name,
        public string $protocol,
        public string $port,
        public bool $showControl,
        public bool $timecode,
    ) {
    }

    /** @param  array<string, mixed>  $row */
    public static function fromRow(array $row): self
    {
        return new self(
            Check::name('name', (string) ($row['name'] ?? '')),
            Check::oneOf('protocol', (string) ($row['protocol'] ?? 'midi'), self::PROTOCOLS),
            trim((string) ($row['port'] ?? '')),
            (bool) ($row['showControl'] ?? true),
            (bool) ($row['timecode'] ?? false),
        );
    }

    /** Whether an event comes from it. */
    public function sends(ControlEvent $event): bool
    {
        return $this->protocol === $event->source && ($this->port === '' || $this->port === $event->device);
    }
}
