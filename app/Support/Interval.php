<?php

declare(strict_types=1);

namespace App\Support;

/**
 * Intervals of processes that run for a long time, in one place. KITE_HASTE divides them, down to a second, so that
 * a test can run a process past its longest timer.
 */
enum Interval
{
    /** Between two looks for values that only cycles hold. */
    case CollectCycles;
    /** Between two packets that say which universes of sACN are sent (E1.31, 4.3). */
    case DiscoverUniverses;
    /** Between two looks for other programs at our ports. */
    case CheckPorts;
    /** Between two sweeps of files that nothing names. */
    case Sweep;
    /** After which a connection without a request is closed. */
    case IdleConnection;
    /** After which the compiler of a show that no window has open ends. */
    case UnusedCompiler;
    /** How long a test of a light lasts unless it is sent again. */
    case LightTest;
    /** After which a session of MIDI over the network that sends not even its clock is over. */
    case SilentSession;
    /** Between two questions to each projector how it is. */
    case PollProjectors;

    private const SHORTEST_HASTENED = 1.0;

    public function seconds(): float
    {
        $seconds = match ($this) {
            self::CollectCycles, self::IdleConnection => 60.0,
            self::SilentSession => 90.0,
            self::PollProjectors => 5.0,
            self::DiscoverUniverses, self::CheckPorts, self::LightTest => 10.0,
            self::Sweep => 3600.0,
            self::UnusedCompiler => 20.0,
        };

        return max(self::SHORTEST_HASTENED, $seconds / self::haste());
    }

    /** By how much intervals are divided: 1, or what KITE_HASTE says. */
    public static function haste(): float
    {
        $haste = getenv('KITE_HASTE');

        return is_numeric($haste) ? max(1.0, (float) $haste) : 1.0;
    }

    /** The longest of them all. */
    public static function longest(): float
    {
        return max(array_map(static fn (self $one): float => $one->seconds(), self::cases()));
    }
}
