<?php

declare(strict_types=1);

namespace App\Engine;

/** A source of controls whose devices take any message of MIDI. */
interface SendsMidi
{
    /** @param  string  $message  one whole message */
    public function sendMidi(string $message, string $device): void;
}
