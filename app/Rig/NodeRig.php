<?php

declare(strict_types=1);

namespace App\Rig;

use App\Engine\Guard;
use Core\Protocol\ArtNet;
use Core\Protocol\Ddp;
use Core\Protocol\Malformed;
use Core\Protocol\Sacn;
use React\EventLoop\LoopInterface;

/**
 * Nodes of the virtual rig: one for each protocol of the lighting network, at 127.0.0.2 (Art-Net), 127.0.0.3 (sACN)
 * and 127.0.0.4 (DDP). They take what is sent to them as real ones do and say who they are. What they have is asked
 * over HTTP.
 */
final class NodeRig
{
    public const ADDRESSES = ['artnet' => '127.0.0.2', 'sacn' => '127.0.0.3', 'ddp' => '127.0.0.4'];

    private const A_TURN = 256;

    private const MAX_UNIVERSES = 4096;

    private const MAX_BYTES = 2_097_152;

    /**
     * @var array<string, array<int, string>> slots by protocol and the number that it gives a universe; of DDP all bytes under 0
     */
    private array $universes = ['artnet' => [], 'sacn' => [], 'ddp' => [0 => '']];

    /** @var array<int, string> what waits for the sign by which all show it at once */
    private array $waiting = [];

    /** @var array<string, int> packets by protocol */
    private array $packets = ['artnet' => 0, 'sacn' => 0, 'ddp' => 0];

    private int $bad = 0;

    private bool $synchronised = false;

    private float $syncHeard = -INF;

    /**
     * @param  array<string, int>  $ports  by protocol
     * @param  int  $answers  port to which answers of Art-Net go
     */
    public function __construct(LoopInterface $loop, array $ports, private readonly int $answers, Guard $guard)
    {
        foreach (self::ADDRESSES as $protocol => $address) {
            $context = stream_context_create(['socket' => ['so_reuseport' => false]]);
            $socket = @stream_socket_server(
                "udp://$address:{$ports[$protocol]}",
                $code,
                $error,
                STREAM_SERVER_BIND,
                $context,
            );
            if ($socket === false) {
                @fwrite(STDERR, "The virtual $protocol node can't listen on $address:{$ports[$protocol]}: $error.\n");

                continue;
            }
            stream_set_blocking($socket, false);
            $loop->addReadStream($socket, $guard->around('nodes', fn () => $this->read($socket, $protocol)));
        }
    }

    /** @param  resource  $socket */
    private function read($socket, string $protocol): void
    {
        for ($i = 0; $i < self::A_TURN; $i++) {
            $packet = stream_socket_recvfrom($socket, 2048, 0, $from);
            if ($packet === false || $packet === '' || $from === null) {
                return;
            }
            $this->packets[$protocol]++;
            try {
                match ($protocol) {
                    'artnet' => $this->artNet($packet, $socket, $from),
                    'sacn' => $this->sacn($packet),
                    default => $this->ddp($packet),
                };
            } catch (Malformed) {
                $this->bad++;
            }
        }
    }

    /** @param  resource  $socket */
    private function artNet(string $packet, $socket, string $from): void
    {
        $said = ArtNet::decode($packet);
        $now = hrtime(true) / 1e9;
        if ($said['op'] === ArtNet::POLL) {
            $ports = array_keys($this->universes['artnet']);
            sort($ports);
            $ip = (string) strstr($from, ':', true);
            // Four ports to an answer, those of one net and sub-net together.
            $groups = [];
            foreach ($ports === [] ? [0] : $ports as $port) {
                $groups[$port >> 4][] = $port;
            }
            $bind = 0;
            foreach ($groups as $group) {
                foreach (array_chunk($group, 4) as $four) {
                    $reply = ArtNet::reply(
                        self::ADDRESSES['artnet'],
                        'Virtual node',
                        'Virtual node of Kite Lamp',
                        $four,
                        min(255, ++$bind),
                    );
                    stream_socket_sendto($socket, $reply, 0, "$ip:$this->answers");
                }
            }
        } elseif ($said['op'] === ArtNet::SYNC) {
            [$this->synchronised, $this->syncHeard] = [true, $now];
            $this->universes['artnet'] = $this->waiting + $this->universes['artnet'];
            $this->waiting = [];
        } elseif ($said['op'] === ArtNet::DMX && count($this->universes['artnet']) < self::MAX_UNIVERSES) {
            // Four seconds after the last sign, a node shows what comes at once (Art-Net 4, ArtSync).
            $this->synchronised = $this->synchronised && $now - $this->syncHeard < 4;
            if ($this->synchronised) {
                $this->waiting[$said['address'] ?? 0] = $said['slots'] ?? '';
            } else {
                $this->universes['artnet'][$said['address'] ?? 0] = $said['slots'] ?? '';
            }
        }
    }

    private function sacn(string $packet): void
    {
        $said = Sacn::decode($packet);
        if ($said['kind'] !== 'data' || ($said['start'] ?? 0) !== 0) {
            return;
        }
        if (($said['ends'] ?? false) === true) {
            unset($this->universes['sacn'][$said['universe'] ?? 0]);
        } elseif (count($this->universes['sacn']) < self::MAX_UNIVERSES) {
            $this->universes['sacn'][$said['universe'] ?? 0] = $said['slots'] ?? '';
        }
    }

    private function ddp(string $packet): void
    {
        ['offset' => $offset, 'bytes' => $bytes] = Ddp::decode($packet);
        if ($offset + strlen($bytes) <= self::MAX_BYTES) {
            $this->universes['ddp'][0] = substr_replace(
                str_pad($this->universes['ddp'][0], $offset, "\0"),
                $bytes,
                $offset,
                strlen($bytes),
            );
        }
    }

    /** @return array<string, mixed> slots in base64, by protocol and number */
    public function state(): array
    {
        return [
            'packets' => $this->packets,
            'bad' => $this->bad,
            'universes' => array_map(
                static fn (array $all): object => (object) array_map(base64_encode(...), $all),
                $this->universes,
            ),
        ];
    }
}
