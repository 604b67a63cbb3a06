<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Protocol\ArtNet;
use Core\Protocol\MtcWriter;

/** A node, or a network, that is sent timecode by Art-Net: a packet a frame. */
final class ArtNetTimecodeOut implements TimecodeOut
{
    private ?\Socket $socket = null;

    /** @param  string  $interface  address of ours that it leaves by; empty for any */
    public function __construct(
        private readonly string $interface,
        private readonly string $address,
        private readonly int $port,
    ) {
    }

    public function whole(MtcWriter $writer, int $position): void
    {
        $packet = ArtNet::timecode($writer->frameAt($position), $writer->rate->name);
        if ($this->socket === null) {
            $socket = socket_create(AF_INET, SOCK_DGRAM, SOL_UDP);
            if ($socket === false) {
                return;
            }
            socket_set_option($socket, SOL_SOCKET, SO_BROADCAST, 1);
            $this->interface === '' || @socket_bind($socket, $this->interface);
            socket_set_nonblock($socket);
            $this->socket = $socket;
        }
        // What does not go out now is told anew with the next frame.
        @socket_sendto($this->socket, $packet, strlen($packet), 0, $this->address, $this->port);
    }

    public function quarter(MtcWriter $writer, int $number): void
    {
        $number % 4 === 0 && $this->whole($writer, $number * $writer->quarter());
    }
}
