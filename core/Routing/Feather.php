<?php

declare(strict_types=1);

namespace Core\Routing;

/** How a picture fades toward its edges. */
final class Feather
{
    /**
     * From 0 at the edge to 1 where the feather ends: t^c / (t^c + (1 − t)^c) of the way t, so that two that overlap
     * by their whole width sum to 1 for every curve; 1 is a straight line.
     *
     * @param  float  $distance  from the edge, as a share of the picture; negative beyond it
     * @param  float  $width  as a share of the picture; 0 ends sharply
     */
    public static function weight(float $distance, float $width, float $curve): float
    {
        if ($distance < 0) {
            return 0.0;
        }
        if ($distance >= $width) {
            return 1.0;
        }
        $t = $distance / $width;
        [$rise, $fall] = [$t ** $curve, (1 - $t) ** $curve];

        return $rise / ($rise + $fall);
    }
}
