<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Units\Flicks;

/** Engine time: flicks since an origin on the machine's monotonic clock. A restarted conductor takes up the origin of the one before. */
final readonly class EngineClock
{
    public function __construct(public int $origin)
    {
    }

    public static function starting(): self
    {
        return new self(hrtime(true));
    }

    public function now(): int
    {
        return Flicks::fromNanoseconds(hrtime(true) - $this->origin);
    }

    /** Which start of the machine this is: its monotonic clock only means something within one. */
    public static function boot(): string
    {
        return trim((string) @file_get_contents('/proc/sys/kernel/random/boot_id')) ?: 'unknown';
    }
}
