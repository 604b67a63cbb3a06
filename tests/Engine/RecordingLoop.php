<?php

declare(strict_types=1);

namespace Tests\Engine;

use React\EventLoop\LoopInterface;
use React\EventLoop\StreamSelectLoop;
use React\EventLoop\TimerInterface;

/** A loop that remembers what was given to it, and calls all of it with exactly what a loop gives. */
final class RecordingLoop implements LoopInterface
{
    private readonly StreamSelectLoop $loop;

    /** @var list<array{string, callable, list<mixed>}> what it is called on, the callback and its arguments */
    private array $given = [];

    public function __construct()
    {
        $this->loop = new StreamSelectLoop();
    }

    /** Calls everything once; a signal last, since it ends the process. */
    public function callAll(): int
    {
        $given = $this->given;
        usort($given, static fn (array $a, array $b): int => ($a[0] === 'signal') <=> ($b[0] === 'signal'));
        foreach ($given as [, $callback, $arguments]) {
            $callback(...$arguments);
        }

        return count($given);
    }

    public function addReadStream($stream, $listener)
    {
        $this->given[] = ['read', $listener, [$stream]];
        $this->loop->addReadStream($stream, $listener);
    }

    public function addWriteStream($stream, $listener)
    {
        $this->loop->addWriteStream($stream, $listener);
    }

    public function removeReadStream($stream)
    {
        $this->loop->removeReadStream($stream);
    }

    public function removeWriteStream($stream)
    {
        $this->loop->removeWriteStream($stream);
    }

    public function addTimer($interval, $callback)
    {
        return $this->remember('timer', $callback, $this->loop->addTimer($interval, $callback));
    }

    public function addPeriodicTimer($interval, $callback)
    {
        return $this->remember('periodic', $callback, $this->loop->addPeriodicTimer($interval, $callback));
    }

    private function remember(string $on, callable $callback, TimerInterface $timer): TimerInterface
    {
        $this->given[] = [$on, $callback, [$timer]];

        return $timer;
    }

    public function cancelTimer(TimerInterface $timer)
    {
        $this->loop->cancelTimer($timer);
    }

    public function futureTick($listener)
    {
        $this->given[] = ['tick', $listener, []];
        $this->loop->futureTick($listener);
    }

    public function addSignal($signal, $listener)
    {
        $this->given[] = ['signal', $listener, [$signal]];
    }

    public function removeSignal($signal, $listener)
    {
    }

    public function run()
    {
        $this->loop->run();
    }

    public function stop()
    {
        $this->loop->stop();
    }
}
