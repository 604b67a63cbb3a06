<?php

declare(strict_types=1);

namespace Core\Media;

/**
 * What is heard with the flash that sound and picture are held against each other by: 50 ms of 1 kHz at the beginning
 * of each second.
 */
final class Beep
{
    /** Samples of one second, at 48 kHz. */
    public const SAMPLES = 48_000;

    private const LASTS = 2400;

    /** Samples over which it comes and goes, so that it does not click: 2 ms. */
    private const EDGE = 96;

    /** A second as 32-bit floats, little-endian, one channel. */
    public static function bytes(): string
    {
        $bytes = '';
        for ($n = 0; $n < self::LASTS; $n++) {
            $bytes .= pack(
                'g',
                0.5 *
                    min(1, $n / self::EDGE, (self::LASTS - $n) / self::EDGE) *
                    sin((2 * M_PI * 1000 * $n) / self::SAMPLES),
            );
        }

        return $bytes.str_repeat("\0", 4 * (self::SAMPLES - self::LASTS));
    }
}
