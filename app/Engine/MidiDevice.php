<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Bindings\ControlEvent;
use Core\Bindings\MidiControls;
use Core\Protocol\MidiStream;

/** One MIDI device as its bytes come in: events of its controls. */
final class MidiDevice
{
    /** What arrives for so long after it has come is where it stands, in flicks: 0.3 s. */
    private const REPORTS = 211_680_000;

    private readonly MidiStream $stream;

    private readonly MidiControls $controls;

    /**
     * @param  string  $port  what it is called
     * @param  int|null  $came  engine time at which it came; null where it was there already
     */
    public function __construct(public readonly string $port, private readonly ?int $came = null)
    {
        [$this->stream, $this->controls] = [new MidiStream(), new MidiControls()];
    }

    /** @return list<ControlEvent> */
    public function read(string $bytes, int $time): array
    {
        $events = [];
        foreach ($this->stream->read($bytes) as $message) {
            foreach ($this->controls->read($message) as [$control, $raw]) {
                $events[] = new ControlEvent(
                    'midi',
                    $control,
                    $raw,
                    $time,
                    $this->port,
                    $this->came !== null && $time - $this->came < self::REPORTS,
                );
            }
        }

        return $events;
    }
}
