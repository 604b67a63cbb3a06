<?php

declare(strict_types=1);

namespace App\Jobs;

use Illuminate\Queue\Worker;

/**
 * Tells how far a job is, four times a second at most, and finds out as often whether it is still wanted. By a clock
 * that nobody sets.
 */
final class Pace
{
    private const EVERY = 250_000_000;

    private int $next = 0;

    private readonly int $until;

    /**
     * @param  \Closure(): bool  $wanted
     * @param  \Closure(float): void  $tell  the share that is done
     * @param  int  $seconds  that it may take
     */
    public function __construct(
        private readonly \Closure $wanted,
        private readonly \Closure $tell,
        private readonly int $seconds,
    ) {
        $this->until = hrtime(true) + $seconds * 1_000_000_000;
    }

    /**
     * @throws Stopped when it is not wanted any more
     * @throws Interrupted when the worker has to end
     * @throws TookTooLong
     */
    public function at(float $share): void
    {
        $now = hrtime(true);
        if ($now < $this->next) {
            return;
        }
        $this->next = $now + self::EVERY;
        if ($now > $this->until) {
            throw TookTooLong::limit($this->seconds);
        }
        $worker = app()->resolved('queue.worker') ? app('queue.worker') : null;
        if ($worker instanceof Worker && $worker->shouldQuit) {
            throw new Interrupted();
        }
        if (! ($this->wanted)()) {
            throw new Stopped();
        }
        ($this->tell)($share);
    }
}
