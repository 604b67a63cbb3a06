<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Units\Check;

/** A wall of which only size and pitch are known: its pixels, and what rounding to whole ones does. */
final readonly class WallBySize
{
    /**
     * @param  float  $widthChange  metres by which whole pixels of that pitch are wider (or narrower, below zero)
     *     than asked for
     * @param  float  $pitchForWidth  millimetres of pitch with which the width would be met exactly
     */
    private function __construct(
        public int $widthPx,
        public int $heightPx,
        public float $widthChange,
        public float $heightChange,
        public float $pitchForWidth,
        public float $pitchForHeight,
    ) {
    }

    /**
     * @param  float  $width  metres
     * @param  float  $height  metres
     */
    public static function of(float $width, float $height, float $pitchMm): self
    {
        Check::number('width', $width, 0.01, 1000, 'm');
        Check::number('height', $height, 0.01, 1000, 'm');
        Check::number('pitch', $pitchMm, 0.1, 1000, 'mm');
        $px = max(1, (int) round(($width * 1000) / $pitchMm));
        $py = max(1, (int) round(($height * 1000) / $pitchMm));

        return new self(
            $px,
            $py,
            ($px * $pitchMm) / 1000 - $width,
            ($py * $pitchMm) / 1000 - $height,
            ($width * 1000) / $px,
            ($height * 1000) / $py,
        );
    }
}
