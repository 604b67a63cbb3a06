<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Units\Check;

/**
 * How the edges of a region fade, set by hand: the share of the light at a distance of d pixels of the source from an
 * edge that fades over w pixels is r / (r + (1 − t)ᶜ) with t = d / w, r = tᶜ and the curve c; where two regions
 * overlap by w, their shares sum to 1. Shares of several edges are multiplied. A share s of the light is s^(1/γ) of
 * the signal, with the γ of the output.
 */
final readonly class EdgeBlend
{
    public const EDGES = ['left', 'top', 'right', 'bottom'];

    /** Names as they are stored. */
    public const SETTINGS = ['left', 'top', 'right', 'bottom', 'curve'];

    /** @param  array{float, float, float, float}  $widths  px of the source: left, top, right, bottom; 0 for none */
    private function __construct(public array $widths, public float $curve)
    {
    }

    public static function none(): self
    {
        return new self([0.0, 0.0, 0.0, 0.0], 2.0);
    }

    /** @param  array<string, mixed>  $stored  left, top, right, bottom (px), curve */
    public static function of(array $stored): self
    {
        $at = static fn (
            string $name,
            float $default,
            float $min,
            float $max,
            string $unit = '',
        ): float => Check::number($name, (float) ($stored[$name] ?? $default), $min, $max, $unit);

        return new self(
            [
                $at('left', 0, 0, Check::MAX_PIXELS, 'px'),
                $at('top', 0, 0, Check::MAX_PIXELS, 'px'),
                $at('right', 0, 0, Check::MAX_PIXELS, 'px'),
                $at('bottom', 0, 0, Check::MAX_PIXELS, 'px'),
            ],
            $at('curve', 2, 0.5, 8),
        );
    }

    public function fades(): bool
    {
        return max($this->widths) > 0;
    }

    /** Share of the light at a distance from an edge, 0 to 1. */
    public static function rise(float $distance, float $width, float $curve): float
    {
        if ($width <= 0) {
            return 1.0;
        }
        $t = max(0.0, min(1.0, $distance / $width));
        $r = $t ** $curve;

        return $r / ($r + (1 - $t) ** $curve);
    }

    /** Share of the light at a pixel of the source, 0 to 1; x and y from its top left corner. */
    public function share(float $x, float $y, float $width, float $height): float
    {
        $share = 1.0;
        foreach ([$x, $y, $width - $x, $height - $y] as $edge => $distance) {
            $share *= self::rise($distance, $this->widths[$edge], $this->curve);
        }

        return $share;
    }
}
