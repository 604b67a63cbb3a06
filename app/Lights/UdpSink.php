<?php

declare(strict_types=1);

namespace App\Lights;

/** Packets over UDP: one socket for each interface, able to broadcast and to multicast one network far. */
final class UdpSink implements PacketSink
{
    /** Packets that are taken at once. */
    private const MAX_ANSWERS = 512;

    /** @var array<string, \Socket> by interface */
    private array $sockets = [];

    public int $sent = 0;

    public int $failed = 0;

    public string $trouble = '';

    public function send(string $packet, string $address, int $port, string $interface = ''): void
    {
        $socket = $this->socket($interface);
        if (
            $socket !== null &&
            @socket_sendto($socket, $packet, strlen($packet), 0, $address, $port) === strlen($packet)
        ) {
            $this->sent++;

            return;
        }
        $this->failed++;
        if ($socket !== null) {
            $this->trouble = "$address: ".socket_strerror(socket_last_error($socket));
            socket_clear_error($socket);
        }
    }

    /**
     * @return iterable<array{string, string}> packets that came back to the socket of an interface, each with the
     *     address that it came from
     */
    public function answers(string $interface): iterable
    {
        $socket = $this->socket($interface);
        for (
            $i = 0;
            $socket !== null &&
            $i < self::MAX_ANSWERS &&
            @socket_recvfrom($socket, $packet, 2048, MSG_DONTWAIT, $from, $port) !== false;
            $i++
        ) {
            yield [(string) $packet, (string) $from];
        }
    }

    /** @return \Socket|null null where the interface is not one of ours */
    private function socket(string $interface): ?\Socket
    {
        if (isset($this->sockets[$interface])) {
            return $this->sockets[$interface];
        }
        $socket = socket_create(AF_INET, SOCK_DGRAM, SOL_UDP);
        if ($socket === false) {
            return null;
        }
        socket_set_option($socket, SOL_SOCKET, SO_BROADCAST, 1);
        socket_set_option($socket, IPPROTO_IP, IP_MULTICAST_TTL, 1);
        if ($interface !== '') {
            if (! @socket_bind($socket, $interface)) {
                $this->trouble = "$interface is no address of this machine.";

                return null;
            }
            $number = NetworkInterfaces::index($interface);
            $number !== null && @socket_set_option($socket, IPPROTO_IP, IP_MULTICAST_IF, $number);
        }
        socket_set_nonblock($socket);

        return $this->sockets[$interface] = $socket;
    }
}
