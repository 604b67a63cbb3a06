<?php

declare(strict_types=1);

namespace App\Lights;

/**
 * Receives packets of the lighting network on one port of one interface: what is sent to its address, to its broadcast
 * address, and to the multicast groups that were joined. On 0.0.0.0 it receives from all interfaces.
 */
final class UdpReceiver
{
    /** Packets that are taken at once at most. */
    private const MAX_PACKETS = 2048;

    private const MAX_BYTES = 2048;

    /** Bytes that the system keeps for us between two looks. */
    private const BUFFER = 4_194_304;

    /** @var array<string, \Socket> by the address that they are bound to */
    private array $sockets = [];

    /** Which addresses could not be bound; empty where all could. */
    public string $trouble = '';

    /** @param  string  $interface  IPv4 address of an interface of this machine */
    public function __construct(private readonly string $interface, private readonly int $port)
    {
        foreach ([$interface, ...self::broadcasts($interface)] as $address) {
            $this->bind($address);
        }
    }

    /** Receives what is sent to a multicast group; one that was joined already stays. */
    public function join(string $group): void
    {
        if (isset($this->sockets[$group])) {
            return;
        }
        // A socket for each: the system gives one no more than twenty groups, and what is bound to a group is sent
        // nothing else.
        $socket = $this->bind($group);
        if (
            $socket !== null &&
            ! @socket_set_option($socket, IPPROTO_IP, MCAST_JOIN_GROUP, [
                'group' => $group,
                'interface' => $this->number(),
            ])
        ) {
            $this->trouble =
                "Multicast group $group can't be joined on $this->interface: ".
                socket_strerror(socket_last_error($socket)).
                '.';
        }
    }

    /**
     * Leaves all groups but these.
     *
     * @param  list<string>  $groups
     */
    public function keep(array $groups): void
    {
        foreach (
            array_diff(array_keys($this->sockets), [
                $this->interface,
                ...self::broadcasts($this->interface),
                ...$groups,
            ]) as $gone
        ) {
            socket_close($this->sockets[$gone]);
            unset($this->sockets[$gone]);
        }
    }

    /** @return iterable<array{string, string}> packets that wait, each with the address that it came from */
    public function packets(): iterable
    {
        // Each has its share, so that a flood at one does not keep the others waiting.
        $share = max(64, intdiv(self::MAX_PACKETS, max(1, count($this->sockets))));
        foreach ($this->sockets as $socket) {
            for (
                $left = $share;
                $left > 0 && @socket_recvfrom($socket, $packet, self::MAX_BYTES, MSG_DONTWAIT, $from, $port) !== false;
                $left--
            ) {
                yield [(string) $packet, (string) $from];
            }
        }
    }

    /**
     * Other programs that have our port open, of which the system gives packets to the one that opened it last.
     *
     * @param  string  $proc  where the system tells of sockets and processes
     * @return list<string> "name (pid)", or "another program" where the system does not say which
     *
     * @phpstan-impure
     */
    public function sharers(string $proc = '/proc'): array
    {
        $ours = self::inodesOf("$proc/self");
        $others = [];
        foreach (array_slice(@file("$proc/net/udp") ?: [], 1) as $line) {
            $columns = preg_split('/\s+/', trim($line)) ?: [];
            if (
                preg_match('/^([0-9A-F]{8}):([0-9A-F]{4})$/', $columns[1] ?? '', $m) !== 1 ||
                hexdec($m[2]) !== $this->port
            ) {
                continue;
            }
            $address = implode('.', array_reverse(array_map(hexdec(...), str_split($m[1], 2))));
            $inode = $columns[9] ?? '';
            if (
                ($address === '0.0.0.0' || $this->interface === '0.0.0.0' || isset($this->sockets[$address])) &&
                ! isset($ours[$inode])
            ) {
                $others[$inode] = true;
            }
        }
        if ($others === []) {
            return [];
        }
        $named = [];
        foreach (glob("$proc/[0-9]*", GLOB_ONLYDIR | GLOB_NOSORT) ?: [] as $process) {
            foreach (array_intersect_key($others, self::inodesOf($process)) as $inode => $_) {
                $named[$inode] = trim((string) @file_get_contents("$process/comm")).' ('.basename($process).')';
            }
        }

        return array_values(
            array_unique(
                array_map(
                    static fn (int|string $inode): string => $named[$inode] ?? 'another program',
                    array_keys($others),
                ),
            ),
        );
    }

    /** @return array<int|string, true> inodes of a process's sockets */
    private static function inodesOf(string $process): array
    {
        $found = [];
        foreach (@scandir("$process/fd") ?: [] as $name) {
            if (preg_match('/^socket:\[(\d+)\]$/', (string) @readlink("$process/fd/$name"), $m) === 1) {
                $found[$m[1]] = true;
            }
        }

        return $found;
    }

    private function bind(string $address): ?\Socket
    {
        $socket = socket_create(AF_INET, SOCK_DGRAM, SOL_UDP);
        if ($socket === false) {
            return null;
        }
        // Other receivers of this machine may have the port too; who they are is told.
        socket_set_option($socket, SOL_SOCKET, SO_REUSEADDR, 1);
        socket_set_option($socket, SOL_SOCKET, SO_RCVBUF, self::BUFFER);
        if (! @socket_bind($socket, $address, $this->port)) {
            $this->trouble =
                "UDP port $this->port of $address can't be opened: ".
                socket_strerror(socket_last_error($socket)).
                '.';

            return null;
        }

        return $this->sockets[$address] = $socket;
    }

    /** The system's number of the interface; 0 lets it choose. */
    private function number(): int
    {
        return NetworkInterfaces::index($this->interface) ?? 0;
    }

    /** @return list<string> addresses to which is sent what all of an interface's network are to receive */
    private static function broadcasts(string $interface): array
    {
        $mask =
            $interface === '0.0.0.0' || str_starts_with($interface, '127.')
                ? null
                : NetworkInterfaces::mask($interface);

        return $mask === null
            ? []
            : array_values(
                array_unique([
                    (string) long2ip((int) ip2long($interface) | (~(int) ip2long($mask) & 0xFFFFFFFF)),
                    '255.255.255.255',
                ]),
            );
    }
}
