<?php

declare(strict_types=1);

namespace App\Jobs;

/** Tells how far a job is, four times a second at most, and finds out as often whether it is still wanted. */
final class Pace
{
    private float $next = 0.0;

    /**
     * @param  \Closure(): bool  $wanted
     * @param  \Closure(float): void  $tell  the share that is done
     */
    public function __construct(private readonly \Closure $wanted, private readonly \Closure $tell)
    {
    }

    /** Whether to go on. */
    public function still(float $share): bool
    {
        if (microtime(true) < $this->next) {
            return true;
        }
        $this->next = microtime(true) + 0.25;
        if (! ($this->wanted)()) {
            return false;
        }
        ($this->tell)($share);

        return true;
    }

    /** @throws Stopped when it is not wanted any more */
    public function orStop(float $share): void
    {
        $this->still($share) || throw new Stopped;
    }
}
