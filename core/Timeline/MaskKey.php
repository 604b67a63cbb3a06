<?php

declare(strict_types=1);

namespace Core\Timeline;

/**
 * What of a mask's picture says how much of a layer is there. New ones are put at the end: they are stored and sent
 * by their numbers.
 */
enum MaskKey: string
{
    case Lightness = 'lightness';
    case Alpha = 'alpha';
    case Colour = 'colour';

    /** By its number, the nearest. */
    public static function numbered(float $number): self
    {
        $all = self::cases();

        return $all[max(0, min(count($all) - 1, (int) round($number)))];
    }
}
