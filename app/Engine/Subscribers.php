<?php

declare(strict_types=1);

namespace App\Engine;

use React\Socket\ConnectionInterface;

/**
 * The live streams of all windows, and which shows each has open. One that can't keep up is dropped; it comes back by
 * itself and is told anew. What is buffered for all of them together has a limit too.
 */
final class Subscribers
{
    private const MAX_WAITING = 8_388_608;

    private const MAX_TOGETHER = 67_108_864;

    public const MAX_SHOWS = 4;

    /** @var array<int, ConnectionInterface> */
    private array $open = [];

    /** @var array<int, int> bytes written since the connection's buffer was last empty */
    private array $waiting = [];

    /** @var array<int, list<string>> shows that a window has open, besides the one on air */
    private array $shows = [];

    /** @var array<int, string> whose stream it is */
    private array $owners = [];

    public int $dropped = 0;

    /**
     * @param  \Closure(int): void  $onGone  a stream has ended
     * @param  int  $together  bytes that may wait for all windows together
     */
    public function __construct(
        private readonly \Closure $onGone,
        private readonly int $together = self::MAX_TOGETHER,
    ) {
    }

    /**
     * @param  string  $person  whose stream it is
     * @return int the number of the stream, which nobody can guess
     */
    public function add(ConnectionInterface $connection, string $person = ''): int
    {
        // What a browser counts exactly goes up to 2^53.
        do {
            $id = random_int(1, 2 ** 53 - 1);
        } while (isset($this->open[$id]));
        $this->owners[$id] = $person;
        $this->open[$id] = $connection;
        $this->waiting[$id] = 0;
        $this->shows[$id] = [];
        $connection->on('close', function () use ($id): void {
            unset($this->open[$id], $this->waiting[$id], $this->shows[$id], $this->owners[$id]);
            ($this->onGone)($id);
        });
        $connection->on('drain', function () use ($id): void {
            $this->waiting[$id] = 0;
        });
        $connection->write(
            "HTTP/1.1 200 OK\r\nContent-Type: application/octet-stream\r\nCache-Control: no-store\r\nX-Accel-Buffering: no\r\nTransfer-Encoding: chunked\r\n\r\n",
        );

        return $id;
    }

    public function has(int $id): bool
    {
        return isset($this->open[$id]);
    }

    /** Whether a stream is of a person, or there is none. */
    public function isOf(int $id, string $person): bool
    {
        return ($this->owners[$id] ?? $person) === $person;
    }

    /** @param  \Closure(string): bool  $isMeant  whose streams are closed */
    public function closeOf(\Closure $isMeant): void
    {
        foreach ($this->owners as $id => $person) {
            $isMeant($person) && ($this->open[$id] ?? null)?->close();
        }
    }

    /** @param  list<string>  $shows */
    public function setShows(int $id, array $shows): void
    {
        if (isset($this->shows[$id])) {
            $this->shows[$id] = $shows;
        }
    }

    /** @return list<string> */
    public function showsOf(int $id): array
    {
        return $this->shows[$id] ?? [];
    }

    /** @return list<string> shows that somebody has open */
    public function shows(): array
    {
        return array_values(array_unique(array_merge([], ...array_values($this->shows))));
    }

    /** Tells all windows, or those that have a show open. */
    public function send(string $frame, ?string $show = null): void
    {
        foreach (array_keys($this->open) as $id) {
            if ($show === null || in_array($show, $this->shows[$id] ?? [], true)) {
                $this->give($id, $frame);
            }
        }
    }

    public function give(int $id, string $frame): void
    {
        $connection = $this->open[$id] ?? null;
        if ($connection === null) {
            return;
        }
        $drained = $connection->write(dechex(strlen($frame))."\r\n$frame\r\n");
        $this->waiting[$id] = $drained ? 0 : $this->waiting[$id] + strlen($frame);
        if ($this->waiting[$id] > self::MAX_WAITING) {
            $this->drop($id);
        } elseif ($this->waiting[$id] > 0 && array_sum($this->waiting) > $this->together) {
            $this->drop((int) array_search(max($this->waiting), $this->waiting, true));
        }
    }

    private function drop(int $id): void
    {
        $this->dropped++;
        ($this->open[$id] ?? null)?->close();
    }

    public function count(): int
    {
        return count($this->open);
    }
}
