<?php

declare(strict_types=1);

namespace Core\Timeline;

use Core\Units\Check;
use Core\Units\Flicks;

/** A cue at a time of the timeline. Where it is a hold point, playback arrives and waits for Go. */
final readonly class CuePoint
{
    private function __construct(public int $time, public string $number, public string $name, public bool $holds)
    {
    }

    public static function of(int $time, string $number, string $name, bool $holds): self
    {
        return new self(
            Check::whole('time', $time, 0, Flicks::MAX, 'flicks'),
            Check::name('number', $number),
            Check::name('name', $name),
            $holds,
        );
    }
}
