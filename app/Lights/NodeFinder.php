<?php

declare(strict_types=1);

namespace App\Lights;

use Core\Protocol\ArtNet;
use Core\Protocol\Malformed;
use Core\Protocol\TimecodeFrame;
use React\EventLoop\LoopInterface;

/** Asks the lighting network for nodes of Art-Net, and remembers those that answered lately. */
final class NodeFinder
{
    /** Seconds between two questions, and after which a node that does not answer counts as gone. */
    private const EVERY = 2.8;

    private const GONE = 9.0;

    private const MAX_NODES = 500;

    /** Seconds between two looks: a quarter of a frame of a console. */
    private const LISTEN = 0.006;

    /**
     * @var array<string, array{ip: string, name: string, long: string, report: string, ports: list<int>, heard: float}> by address and bind index
     */
    private array $found = [];

    public int $bad = 0;

    private readonly UdpReceiver $receiver;

    /**
     * @param  string  $listening  address of the interface on which answers come
     * @param  \Closure(): list<array{string, string, int}>  $targets  interface, address and port to ask
     * @param  (\Closure(array<string, mixed>, string): void)|null  $dmx  told data of a universe, and from where it
     *     came: it comes to the same port
     * @param  (\Closure(TimecodeFrame, string): void)|null  $timecode  told timecode, and its rate
     */
    public function __construct(
        private readonly LoopInterface $loop,
        private readonly UdpSink $sink,
        string $listening,
        int $port,
        private readonly \Closure $targets,
        private readonly ?\Closure $dmx = null,
        private readonly ?\Closure $timecode = null,
    ) {
        // Nodes answer to the port of the protocol, whoever asked from where.
        $this->receiver = new UdpReceiver($listening, $port);
        $loop->addPeriodicTimer(self::EVERY, $this->ask(...));
        $loop->addPeriodicTimer(self::LISTEN, $this->listen(...));
    }

    public function ask(): void
    {
        foreach (($this->targets)() as [$interface, $address, $port]) {
            $this->sink->send(ArtNet::poll(), $address, $port, $interface);
        }
        $now = hrtime(true) / 1e9;
        $this->found = array_filter($this->found, static fn (array $node): bool => $now - $node['heard'] < self::GONE);
    }

    /** Some answer to the socket by which was asked instead. */
    private function listen(): void
    {
        foreach ($this->receiver->packets() as [$packet, $from]) {
            $this->heard($packet, $from);
        }
        foreach (array_unique(array_column(($this->targets)(), 0)) as $interface) {
            foreach ($this->sink->answers($interface) as [$packet, $from]) {
                $this->heard($packet, $from);
            }
        }
    }

    private function heard(string $packet, string $from): void
    {
        try {
            $said = ArtNet::decode($packet);
        } catch (Malformed) {
            $this->bad++;

            return;
        }
        if ($said['op'] === ArtNet::DMX && $this->dmx !== null) {
            ($this->dmx)($said, $from);
        }
        if (isset($said['timecode'], $said['rate']) && $this->timecode !== null) {
            ($this->timecode)($said['timecode'], $said['rate']);
        }
        $key = "$from ".($said['bind'] ?? 0);
        // One that is known is refreshed, however many there are.
        if ($said['op'] !== ArtNet::REPLY || (count($this->found) >= self::MAX_NODES && ! isset($this->found[$key]))) {
            return;
        }
        $this->found[$key] = [
            'ip' => $from,
            'name' => $said['name'] ?? '',
            'long' => $said['long'] ?? '',
            'report' => $said['report'] ?? '',
            'ports' => $said['ports'] ?? [],
            'heard' => hrtime(true) / 1e9,
        ];
    }

    /** What keeps answers and consoles from being received; empty where nothing does. */
    public function trouble(): string
    {
        return $this->receiver->trouble;
    }

    /** @return list<string> other programs at our port */
    public function sharers(): array
    {
        return $this->receiver->sharers();
    }

    /** @return list<array{ip: string, name: string, long: string, report: string, ports: list<int>}> by address */
    public function found(): array
    {
        ksort($this->found);

        return array_values(
            array_map(static function (array $node): array {
                unset($node['heard']);

                return $node;
            }, $this->found),
        );
    }
}
