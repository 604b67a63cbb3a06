<?php

declare(strict_types=1);

namespace App\Engine;

use React\Socket\ConnectionInterface;

/** The live streams of all windows. One that can't keep up is dropped; it comes back by itself and is told anew. */
final class Windows
{
    private const MOST_WAITING = 33_554_432;

    /** @var array<int, ConnectionInterface> */
    private array $open = [];

    /** @var array<int, int> bytes written since the connection's buffer was last empty */
    private array $waiting = [];

    public int $dropped = 0;

    /** @param  list<string>  $first frames for a window that has just come */
    public function add(ConnectionInterface $connection, array $first): void
    {
        $id = spl_object_id($connection);
        $this->open[$id] = $connection;
        $this->waiting[$id] = 0;
        $connection->on('close', function () use ($id): void {
            unset($this->open[$id], $this->waiting[$id]);
        });
        $connection->on('drain', function () use ($id): void {
            $this->waiting[$id] = 0;
        });
        $connection->write("HTTP/1.1 200 OK\r\nContent-Type: application/octet-stream\r\nCache-Control: no-store\r\nX-Accel-Buffering: no\r\nTransfer-Encoding: chunked\r\n\r\n");
        foreach ($first as $frame) {
            $this->give($id, $frame);
        }
    }

    public function tell(string $frame): void
    {
        foreach (array_keys($this->open) as $id) {
            $this->give($id, $frame);
        }
    }

    private function give(int $id, string $frame): void
    {
        $connection = $this->open[$id] ?? null;
        if ($connection === null) {
            return;
        }
        $drained = $connection->write(dechex(strlen($frame))."\r\n$frame\r\n");
        $this->waiting[$id] = $drained ? 0 : $this->waiting[$id] + strlen($frame);
        if ($this->waiting[$id] > self::MOST_WAITING) {
            $this->dropped++;
            $connection->close();
        }
    }

    public function count(): int
    {
        return count($this->open);
    }
}
