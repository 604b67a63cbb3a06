<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Protocol\MtcWriter;

/** A MIDI device that is sent time code: quarter frames, and whole ones. */
final readonly class MidiTimecodeOut implements TimecodeOut
{
    public function __construct(private SendsMidi $source, private string $device)
    {
    }

    public function whole(MtcWriter $writer, int $position): void
    {
        $this->source->sendMidi($writer->wholeAt($position), $this->device);
    }

    public function quarter(MtcWriter $writer, int $number): void
    {
        $this->source->sendMidi($writer->quarterAt($number * $writer->quarter()), $this->device);
    }
}
