<?php

declare(strict_types=1);

namespace Core\Units;

/**
 * Time as a whole number of flicks, 1/705,600,000 s: one frame or sample of every usual rate is a whole number of
 * them.
 */
final class Flicks
{
    public const PER_SECOND = 705_600_000;

    /** Ten years; times beyond this are refused. */
    public const MAX = self::PER_SECOND * 315_360_000;

    /** The nearest flick to a time in seconds. */
    public static function fromSeconds(float $seconds): int
    {
        if (! is_finite($seconds) || abs($seconds) > 315_360_000) {
            throw InvalidValue::because('seconds', 'A time must be a finite number of seconds, at most ten years.');
        }

        return (int) round($seconds * self::PER_SECOND);
    }

    public static function toSeconds(int $flicks): float
    {
        return $flicks / self::PER_SECOND;
    }

    /** Nanoseconds to flicks, rounded down, without overflow for any monotonic clock. */
    public static function fromNanoseconds(int $nanoseconds): int
    {
        return intdiv($nanoseconds, 10_000) * 7_056 + intdiv(($nanoseconds % 10_000) * 7_056, 10_000);
    }

    /** Rounded down to a multiple of a step, also below zero. */
    public static function snapDown(int $flicks, int $step): int
    {
        $rest = $flicks % $step;

        return $flicks - ($rest < 0 ? $rest + $step : $rest);
    }
}
