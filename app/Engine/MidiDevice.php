<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Bindings\ControlEvent;
use Core\Bindings\MidiControls;
use Core\Protocol\MidiStream;
use Core\Protocol\MtcReader;

/** One MIDI device as its bytes come in: events of its controls. */
final class MidiDevice
{
    /** What arrives for so long after it has come is where it stands, in flicks: 0.3 s. */
    private const REPORTS = 211_680_000;

    /** The control that MIDI time code comes as: its text, and its time in flicks. */
    public const TIMECODE = 'timecode';

    private readonly MidiStream $stream;

    private readonly MtcReader $timecode;

    private readonly MidiControls $controls;

    /**
     * @param  string  $port  what it is called
     * @param  int|null  $came  engine time at which it came; null where it was there already
     */
    public function __construct(public readonly string $port, private readonly ?int $came = null)
    {
        [$this->stream, $this->controls, $this->timecode] = [new MidiStream(), new MidiControls(), new MtcReader()];
    }

    /** @return list<ControlEvent> */
    public function read(string $bytes, int $time): array
    {
        $events = [];
        foreach ($this->stream->read($bytes) as $message) {
            $told = $this->timecode->read($message);
            if ($told !== null) {
                $events[] = new ControlEvent(
                    'midi',
                    self::TIMECODE,
                    [$told['timecode']->text(), $told['time'], $told['rate']],
                    $time,
                    $this->port,
                );
            }
            foreach ($this->controls->read($message) as [$control, $raw]) {
                $events[] = new ControlEvent(
                    'midi',
                    $control,
                    $raw,
                    $time,
                    $this->port,
                    $this->came !== null && $time - $this->came < self::REPORTS,
                    pack('C*', ...$message),
                );
            }
        }

        return $events;
    }
}
