<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Units\Check;
use Core\Units\InvalidValue;

/** One LED tile as it comes from the flight case. */
final readonly class Panel
{
    /**
     * @param  float  $depthMm  from face to back
     * @param  float  $candela  cd/m² at full white; 0 where unknown
     * @param  float  $viewAcross  degrees in all at which half the light is left, across
     * @param  float  $viewDown  likewise, down
     * @param  float  $jointMin  degrees that a joint to the next panel may have, convex below zero
     * @param  float  $jointMax  concave
     * @param  float  $inrushAmperes  drawn for a moment when switched on; 0 where unknown
     */
    private function __construct(
        public string $name,
        public float $widthMm,
        public float $heightMm,
        public int $widthPx,
        public int $heightPx,
        public float $kilograms,
        public float $wattsAverage,
        public float $wattsMaximum,
        public float $depthMm,
        public float $candela,
        public float $viewAcross,
        public float $viewDown,
        public float $jointMin,
        public float $jointMax,
        public float $inrushAmperes,
    ) {
    }

    public static function of(
        string $name,
        float $widthMm,
        float $heightMm,
        int $widthPx,
        int $heightPx,
        float $kilograms,
        float $wattsAverage,
        float $wattsMaximum,
        float $depthMm = 80,
        float $candela = 0,
        float $viewAcross = 140,
        float $viewDown = 140,
        float $jointMin = 0,
        float $jointMax = 0,
        float $inrushAmperes = 0,
    ): self {
        Check::number('jointMin', $jointMin, -90, 90, 'degrees');
        Check::number('jointMax', $jointMax, -90, 90, 'degrees');
        if ($jointMin > $jointMax) {
            throw InvalidValue::because(
                'jointMin',
                "jointMin can't be above jointMax; they were $jointMin and $jointMax degrees.",
            );
        }

        return new self(
            Check::name('name', $name),
            Check::number('widthMm', $widthMm, 1, 10_000, 'mm'),
            Check::number('heightMm', $heightMm, 1, 10_000, 'mm'),
            Check::whole('widthPx', $widthPx, 1, 4096, 'px'),
            Check::whole('heightPx', $heightPx, 1, 4096, 'px'),
            Check::number('kilograms', $kilograms, 0, 1000, 'kg'),
            Check::number('wattsAverage', $wattsAverage, 0, 100_000, 'W'),
            Check::number('wattsMaximum', $wattsMaximum, $wattsAverage, 100_000, 'W'),
            Check::number('depthMm', $depthMm, 0, 2000, 'mm'),
            Check::number('candela', $candela, 0, 100_000, 'cd/m²'),
            Check::number('viewAcross', $viewAcross, 1, 180, 'degrees'),
            Check::number('viewDown', $viewDown, 1, 180, 'degrees'),
            $jointMin,
            $jointMax,
            Check::number('inrushAmperes', $inrushAmperes, 0, 1000, 'A'),
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

    public function allowsJoint(float $degrees): bool
    {
        return $degrees >= $this->jointMin - 1e-9 && $degrees <= $this->jointMax + 1e-9;
    }
}
