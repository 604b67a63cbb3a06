<?php

declare(strict_types=1);

namespace Core\Venue;

/** From where a pitch looks right. */
final class Viewing
{
    /** The usual nearest distance in metres: one for each millimetre of pitch. */
    public static function nearest(float $pitchMm): float
    {
        return $pitchMm;
    }

    /** Where single pixels vanish, in metres: the pitch is seen under one arc minute. */
    public static function vanishing(float $pitchMm): float
    {
        return $pitchMm / 1000 / tan(deg2rad(1 / 60));
    }

    /** How wide a picture an angle of view takes in at a distance, in metres. */
    public static function widthTakenIn(float $distance, float $degrees): float
    {
        return 2 * $distance * tan(deg2rad($degrees) / 2);
    }
}
