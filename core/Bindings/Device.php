<?php

declare(strict_types=1);

namespace Core\Bindings;

use Core\Units\Check;
use Core\Units\InvalidValue;

/** Something with controls: a fader box, a tablet, a keyboard. */
final readonly class Device
{
    /** How a device speaks; each is the name of a source of control events. */
    public const PROTOCOLS = ['midi', 'osc', 'keys', 'dmx', 'sound', 'http', 'touch'];

    /** Protocols of which a device is told apart by its name, not by a port. */
    public const NAMED = ['http', 'touch'];

    /**
     * @param  string  $port  what it is called where it comes in (a MIDI port, the name of a network session, the host
     *     that sends OSC, an audio input); empty for all of its protocol. Of DMX its universe, as `DmxUniverse` reads it
     * @param  bool  $showControl  whether MIDI show control and machine control of it act by themselves
     * @param  bool  $timecode  whether it is sent the timecode of the driven timeline
     * @param  string  $invite  of MIDI, host and port that a network session is asked of; empty for none
     * @param  string  $token  of HTTP, the SHA-256 of the token that its requests carry; empty where none was made
     * @param  float  $attack  of sound, seconds in which a value rises by 63 % of the way, as $release falls
     * @param  float|null  $floor  of sound, dB of full scale at which a value is 0, as $ceiling for 1; null to learn it
     * @param  int  $columns  of a touch panel's grid, as $rows
     */
    private function __construct(
        public string $name,
        public string $protocol,
        public string $port,
        public bool $showControl,
        public bool $timecode,
        public string $invite,
        public string $token,
        public float $attack,
        public float $release,
        public ?float $floor,
        public ?float $ceiling,
        public int $columns,
        public int $rows,
    ) {
    }

    /** @param  array<string, mixed>  $row */
    public static function fromRow(array $row): self
    {
        $protocol = Check::oneOf('protocol', (string) ($row['protocol'] ?? 'midi'), self::PROTOCOLS);
        $port = trim((string) ($row['port'] ?? ''));
        $level = static fn (string $field): ?float => isset($row[$field])
            ? Check::number($field, (float) $row[$field], -120, 0, 'dB')
            : null;

        return new self(
            Check::name('name', (string) ($row['name'] ?? '')),
            $protocol,
            $protocol === 'dmx' ? DmxUniverse::of($port)->label() : $port,
            (bool) ($row['showControl'] ?? true),
            (bool) ($row['timecode'] ?? false),
            self::invited(trim((string) ($row['invite'] ?? ''))),
            (string) ($row['token'] ?? ''),
            Check::number('attack', (float) ($row['attack'] ?? 0), 0, 10, 's'),
            Check::number('release', (float) ($row['release'] ?? 0.3), 0, 10, 's'),
            $level('floor'),
            $level('ceiling'),
            Check::whole('columns', (int) ($row['columns'] ?? 6), 1, TouchItem::MAX_SIDE),
            Check::whole('rows', (int) ($row['rows'] ?? 4), 1, TouchItem::MAX_SIDE),
        );
    }

    /** @throws InvalidValue for what is no host and port */
    private static function invited(string $text): string
    {
        if ($text === '') {
            return '';
        }
        if (
            preg_match('/^(\d{1,3}(?:\.\d{1,3}){3}|\[[0-9a-fA-F:]{2,45}\]):(\d{1,5})$/D', $text, $m) !== 1 ||
            filter_var(trim($m[1], '[]'), FILTER_VALIDATE_IP) === false ||
            (int) $m[2] < 1 ||
            (int) $m[2] > 65_534
        ) {
            throw InvalidValue::because(
                'invite',
                'A session is asked of an IP address and a port, as in 192.0.2.8:5004; the port after it is for data.',
            );
        }

        return $text;
    }

    /** The universe that it is, where it is one of DMX. */
    public function universe(): ?DmxUniverse
    {
        return $this->protocol === 'dmx' ? DmxUniverse::of($this->port) : null;
    }

    /** Whether an event comes from it. */
    public function sends(ControlEvent $event): bool
    {
        return $this->isAt($event->source, $event->device);
    }

    /**
     * Whether it is what a source calls so.
     *
     * @param  string  $source  its protocol
     * @param  string  $port  what it is called there: of HTTP and of touch panels its name
     */
    public function isAt(string $source, string $port): bool
    {
        return $this->protocol === $source &&
            (in_array($source, self::NAMED, true)
                ? $this->name === $port
                : $this->port === '' || $this->port === $port);
    }
}
