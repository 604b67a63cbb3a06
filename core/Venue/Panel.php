<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Units\Check;

/** One LED tile as it comes from the flight case. */
final readonly class Panel
{
    private function __construct(
        public string $name,
        public float $widthMm,
        public float $heightMm,
        public int $widthPx,
        public int $heightPx,
        public float $kilograms,
        public float $wattsAverage,
        public float $wattsMaximum,
    ) {
    }

    public static function of(string $name, float $widthMm, float $heightMm, int $widthPx, int $heightPx, float $kilograms, float $wattsAverage, float $wattsMaximum): self
    {
        return new self(
            Check::name('name', $name),
            Check::number('widthMm', $widthMm, 1, 10_000, 'mm'),
            Check::number('heightMm', $heightMm, 1, 10_000, 'mm'),
            Check::whole('widthPx', $widthPx, 1, 4096, 'px'),
            Check::whole('heightPx', $heightPx, 1, 4096, 'px'),
            Check::number('kilograms', $kilograms, 0, 1000, 'kg'),
            Check::number('wattsAverage', $wattsAverage, 0, 100_000, 'W'),
            Check::number('wattsMaximum', $wattsMaximum, $wattsAverage, 100_000, 'W'),
        );
    }

    /** Millimetres from one pixel to the next, across. */
    public function pitchX(): float
    {
        return $this->widthMm / $this->widthPx;
    }

    /** Millimetres from one pixel to the next, down. */
    public function pitchY(): float
    {
        return $this->heightMm / $this->heightPx;
    }
}
