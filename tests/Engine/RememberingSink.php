<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Lights\PacketSink;

/** A sink that remembers packets instead of sending them. */
final class RememberingSink implements PacketSink
{
    /** @var list<array{string, string, int}> packet, address and port */
    private array $sent = [];

    public function send(string $packet, string $address, int $port, string $interface = ''): void
    {
        $this->sent[] = [$packet, $address, $port];
    }

    /**
     * @return list<array{string, string, int}> what was sent since it was asked last
     *
     * @phpstan-impure
     */
    public function take(): array
    {
        [$sent, $this->sent] = [$this->sent, []];

        return $sent;
    }
}
