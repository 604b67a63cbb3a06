<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Plan\SurfaceMesh;

/** Where in the pane in which a layer is placed a pixel of a surface lies: the way of a picture, walked backward. */
final class PanePlace
{
    /**
     * @param  float  $x  pixels of the surface's raster, also beside it where the layer is not thrown
     * @return array{float, float}|null pane pixels; of several lenses, those of the one that counts most; null where
     *     the layer does not reach
     */
    public static function of(Moment $moment, string $layer, string $surface, float $x, float $y): ?array
    {
        foreach ($moment->plan->contributions($surface) as $part) {
            if ($part['layer'] !== $layer) {
                continue;
            }
            $head = $moment->headsOf($moment->plan->parts["layer:$layer"]['timeline'])[0] ?? null;
            if ($head === null || ($part['by'] ?? 0) !== $moment->way($layer, $head)) {
                continue;
            }
            $thrown = DrawStep::thrown($moment, $part, $head);
            if ($thrown !== []) {
                $mesh = $moment->plan->tracks["surface:$surface/mesh"] ?? null;
                $place =
                    $mesh instanceof SurfaceMesh
                        ? (new RasterPlaces($mesh, $moment->plan->parts["round:$surface"] ?? null))->at($x, $y)
                        : null;
                if ($place === null) {
                    return null;
                }
                $most = null;
                foreach ($thrown as $projection) {
                    $at = $projection->at(...$place[0]);
                    $most = $at !== null && $at[2] > ($most[2] ?? 0.0) ? $at : $most;
                }

                return $most === null ? null : [$most[0], $most[1]];
            }
            $onto = DrawStep::onto($moment, $part, $head);
            $back = $onto?->inverse();

            return $onto === null ? [$x, $y] : $back?->point($x, $y);
        }

        return null;
    }
}
