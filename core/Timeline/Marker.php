<?php

declare(strict_types=1);

namespace Core\Timeline;

use Core\Units\Check;
use Core\Units\Flicks;

/** A named time. */
final readonly class Marker
{
    private function __construct(public int $time, public string $name)
    {
    }

    public static function of(int $time, string $name): self
    {
        return new self(Check::whole('time', $time, 0, Flicks::MAX, 'flicks'), Check::name('name', $name));
    }
}
