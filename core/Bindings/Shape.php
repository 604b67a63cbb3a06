<?php

declare(strict_types=1);

namespace Core\Bindings;

/** How a value goes over the way of its control; both go from 0 to 1. */
enum Shape: string
{
    case Linear = 'linear';
    /** Fine at the beginning: the square. */
    case Slow = 'slow';
    /** Fine at the end. */
    case Fast = 'fast';
    /** Fine at both ends: 3p² − 2p³. */
    case Smooth = 'smooth';

    public function at(float $place): float
    {
        return match ($this) {
            self::Linear => $place,
            self::Slow => $place ** 2,
            self::Fast => 1 - (1 - $place) ** 2,
            self::Smooth => $place ** 2 * (3 - 2 * $place),
        };
    }

    /** The place of the control at which this is the value. */
    public function inverse(float $value): float
    {
        return match ($this) {
            self::Linear => $value,
            self::Slow => sqrt($value),
            self::Fast => 1 - sqrt(1 - $value),
            // The middle root of 2p³ − 3p² + v, by cosines.
            self::Smooth => 0.5 - sin(asin(1 - 2 * $value) / 3),
        };
    }
}
