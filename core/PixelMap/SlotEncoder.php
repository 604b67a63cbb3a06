<?php

declare(strict_types=1);

namespace Core\PixelMap;

use Core\Units\Pixels;

/**
 * Light of an emitter as control bytes: v = minimum + (1 − minimum) · L^(1/γ) for light that is not dark, 0 for the
 * dark; then 8 bits rounded, or dithered over four frames so that their mean is the value, or 16 bits with the coarse
 * byte first.
 */
final readonly class SlotEncoder
{
    /** Thresholds of four frames in turn; neighbours begin at different ones. */
    private const TURNS = [0.125, 0.625, 0.375, 0.875];

    public function __construct(
        public int $bits,
        public float $gamma = 1,
        public float $minimum = 0,
        public bool $dithered = false,
    ) {
    }

    /** The value that is sent, 0 to 1. */
    public function value(float $light): float
    {
        if ($light <= 0) {
            return 0.0;
        }
        $light = min(1.0, $light);

        return $this->minimum + (1 - $this->minimum) * ($this->gamma === 1.0 ? $light : $light ** (1 / $this->gamma));
    }

    /**
     * @param  float  $value  0 to 1, as it is sent
     * @param  int  $frame  counted by the sender
     * @param  int  $pixel  so that neighbours do not flicker together
     * @return string one byte, or two
     */
    public function bytes(float $value, int $frame = 0, int $pixel = 0): string
    {
        if ($this->bits === 16) {
            return pack('n', (int) round(65_535 * $value));
        }
        $scaled = 255 * $value;

        return chr(
            $this->dithered
                ? min(255, Pixels::floor($scaled + self::TURNS[($frame + $pixel) & 3]))
                : (int) round($scaled),
        );
    }
}
