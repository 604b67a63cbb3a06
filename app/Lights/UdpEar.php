<?php

declare(strict_types=1);

namespace App\Lights;

/** Packets of the lighting network that come to a port of this machine. */
final class UdpEar
{
    /** Packets that are taken in one turn at most. */
    private const A_TURN = 512;

    private const LONGEST = 2048;

    /** @return \Socket|null null where the port is another's */
    public static function at(int $port): ?\Socket
    {
        $socket = socket_create(AF_INET, SOCK_DGRAM, SOL_UDP);
        if ($socket === false) {
            return null;
        }
        socket_set_option($socket, SOL_SOCKET, SO_REUSEADDR, 1);

        return @socket_bind($socket, '0.0.0.0', $port) ? $socket : null;
    }

    /** @return iterable<array{string, string}> what waits, and from which address it came */
    public static function waiting(?\Socket $socket): iterable
    {
        for ($i = 0; $socket !== null && $i < self::A_TURN && @socket_recvfrom($socket, $packet, self::LONGEST, MSG_DONTWAIT, $from, $port) !== false; $i++) {
            yield [(string) $packet, (string) $from];
        }
    }
}
