<?php

declare(strict_types=1);

namespace Core\Timeline;

/**
 * How a layer is laid on what is below it, both display-encoded, the layer premultiplied with its alpha and opacity,
 * what is below opaque. Results above 1 are cut off where the picture is delivered. Their order is that of the
 * choice's numbers: new ones come last.
 */
enum BlendMode: string
{
    case Normal = 'normal';
    case Add = 'add';
    case Screen = 'screen';
    case Multiply = 'multiply';
    case Lighten = 'lighten';
    case Darken = 'darken';

    public static function numbered(float $number): self
    {
        return self::cases()[(int) round($number)] ?? self::Normal;
    }

    /** Whether it shows nothing where nothing below it is lit. */
    public function needsLightBelow(): bool
    {
        return $this === self::Multiply || $this === self::Darken;
    }

    /**
     * One channel, by W3C Compositing and Blending Level 1: αs·B(cb, cs) + (1 − αs)·cb for an opaque backdrop cb,
     * with the blend functions of its sections 10.1 (normal, multiply, screen) and lighter of 9.1.13 (add). Lighten
     * and darken are the brighter and the darker of both, the layer fading to black and to white by its alpha: each
     * is all of the layer at full alpha and nothing of it at none.
     *
     * @param  float  $source  premultiplied
     * @param  float  $alpha  of the source
     * @param  float  $below  of the backdrop
     */
    public function over(float $source, float $alpha, float $below): float
    {
        return match ($this) {
            self::Normal => $source + $below * (1 - $alpha),
            self::Add => $source + $below,
            self::Screen => $source + $below * (1 - $source),
            self::Multiply => $source * $below + $below * (1 - $alpha),
            self::Lighten => max($source, $below),
            self::Darken => min($source + 1 - $alpha, $below),
        };
    }
}
