<?php

declare(strict_types=1);

namespace App\Lights;

/** Packets over UDP: one socket for each interface, able to broadcast and to multicast one network far. */
final class UdpSink implements PacketSink
{
    /** @var array<string, \Socket> by interface */
    private array $sockets = [];

    public int $sent = 0;

    public int $failed = 0;

    public string $trouble = '';

    public function send(string $packet, string $address, int $port, string $interface = ''): void
    {
        $socket = $this->socket($interface);
        if ($socket !== null && @socket_sendto($socket, $packet, strlen($packet), 0, $address, $port) === strlen($packet)) {
            $this->sent++;

            return;
        }
        $this->failed++;
        if ($socket !== null) {
            $this->trouble = "$address: ".socket_strerror(socket_last_error($socket));
            socket_clear_error($socket);
        }
    }

    /** @return \Socket|null null where the interface is not one of ours */
    public function socket(string $interface): ?\Socket
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
            $number = $this->number($interface);
            $number !== null && @socket_set_option($socket, IPPROTO_IP, IP_MULTICAST_IF, $number);
        }
        socket_set_nonblock($socket);

        return $this->sockets[$interface] = $socket;
    }

    /** The system's number of the interface that has an address. */
    private function number(string $address): ?int
    {
        foreach (net_get_interfaces() ?: [] as $name => $interface) {
            foreach ($interface['unicast'] ?? [] as $one) {
                if (($one['address'] ?? '') === $address) {
                    $number = @file_get_contents('/sys/class/net/'.basename((string) $name).'/ifindex');

                    return $number === false ? null : (int) $number;
                }
            }
        }

        return null;
    }
}
