<?php

declare(strict_types=1);

namespace App\Lights;

/** Where packets of the lighting network go. */
interface PacketSink
{
    /**
     * Sends one packet, or counts that it could not.
     *
     * @param  string  $interface  address of ours by which it leaves; empty for what the system takes
     */
    public function send(string $packet, string $address, int $port, string $interface = ''): void;
}
