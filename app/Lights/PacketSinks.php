<?php

declare(strict_types=1);

namespace App\Lights;

/** Takes each packet to where its address says: a path is a serial port, all else goes over UDP. */
final readonly class PacketSinks implements PacketSink
{
    public function __construct(private PacketSink $network, private PacketSink $serial)
    {
    }

    public function send(string $packet, string $address, int $port, string $interface = ''): void
    {
        (str_starts_with($address, '/') ? $this->serial : $this->network)->send($packet, $address, $port, $interface);
    }
}
