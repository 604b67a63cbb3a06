<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Units\Flicks;

/**
 * Flicks since an origin on the machine's monotonic clock. A restarted conductor takes up the origin of the one
 * before.
 */
final readonly class EngineClock implements Clock
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

    public function name(): string
    {
        return self::boot().'/'.$this->origin;
    }

    /** Which start of the machine this is: its monotonic clock only means something within one. */
    public static function boot(): string
    {
        return trim((string) @file_get_contents('/proc/sys/kernel/random/boot_id')) ?: 'unknown';
    }
}
