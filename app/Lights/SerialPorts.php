<?php

declare(strict_types=1);

namespace App\Lights;

use Core\Protocol\SerialDmx;
use React\EventLoop\LoopInterface;

/** DMX interfaces at serial ports of this machine, each opened when it is first used, and again when it comes back. */
final class SerialPorts implements PacketSink
{
    /** Seconds between two tries to open a port. */
    private const AGAIN = 1.0;

    /** Bytes that are read at once. */
    private const A_READ = 8192;

    /** @var array<string, array{stream: resource, dmx: SerialDmx}> by path */
    private array $ports = [];

    /** @var array<string, float> when a port could not be opened last, by path */
    private array $failed = [];

    /** @var array<string, \Closure(string): void> who hears the slots that come from a port, by path */
    private array $heard = [];

    public int $sent = 0;

    public string $trouble = '';

    public function __construct(private readonly LoopInterface $loop)
    {
    }

    /**
     * Has the slots heard that come from ports, and from no others.
     *
     * @param  array<string, \Closure(string): void>  $heard  by path
     */
    public function listen(array $heard): void
    {
        $this->heard = $heard;
        foreach (array_keys($heard) as $path) {
            $this->port((string) $path);
        }
    }

    /** Opens ports that are listened to and were not there, or are gone. */
    public function keepUp(): void
    {
        $this->listen($this->heard);
    }

    public function send(string $packet, string $address, int $port, string $interface = ''): void
    {
        $stream = $this->port($address);
        if ($stream !== null && @fwrite($stream, $packet) === strlen($packet)) {
            $this->sent++;
        }
    }

    /** @return resource|null */
    private function port(string $path)
    {
        if (isset($this->ports[$path])) {
            return $this->ports[$path]['stream'];
        }
        $now = hrtime(true) / 1e9;
        if ($now - ($this->failed[$path] ?? -INF) < self::AGAIN) {
            return null;
        }
        // Bytes as they are: no echo, no line ends made of others.
        exec('stty -F '.escapeshellarg($path).' raw -echo 2>/dev/null', $said, $code);
        $stream = $code === 0 ? @fopen($path, 'r+') : false;
        if ($stream === false) {
            $this->failed[$path] = $now;
            $this->trouble = "$path is no serial port of this machine.";

            return null;
        }
        stream_set_blocking($stream, false);
        $this->ports[$path] = ['stream' => $stream, 'dmx' => new SerialDmx()];
        $this->trouble = '';
        $this->loop->addReadStream($stream, function () use ($path, $stream): void {
            $bytes = @fread($stream, self::A_READ);
            if ($bytes === false || ($bytes === '' && feof($stream))) {
                $this->close($path);

                return;
            }
            foreach ($this->ports[$path]['dmx']->read($bytes) as $slots) {
                isset($this->heard[$path]) && $this->heard[$path]($slots);
            }
        });

        return $stream;
    }

    private function close(string $path): void
    {
        $this->loop->removeReadStream($this->ports[$path]['stream']);
        @fclose($this->ports[$path]['stream']);
        unset($this->ports[$path]);
        $this->failed[$path] = hrtime(true) / 1e9;
        $this->trouble = "$path is gone.";
    }
}
