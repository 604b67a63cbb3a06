<?php

declare(strict_types=1);

namespace Core\Units;

/** Whole pixels of a computed number: what is whole but for the rounding of floats counts as whole. */
final class Pixels
{
    /** Far below what is seen, far above what a float of some ten thousand is off by. */
    private const TOLERANCE = 1e-9;

    public static function floor(float $pixels): int
    {
        return (int) floor($pixels + self::TOLERANCE);
    }

    public static function ceil(float $pixels): int
    {
        return (int) ceil($pixels - self::TOLERANCE);
    }

    /** The nearest; a half goes up. */
    public static function nearest(float $pixels): int
    {
        return self::floor($pixels + 0.5);
    }
}
