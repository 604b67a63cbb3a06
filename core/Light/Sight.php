<?php

declare(strict_types=1);

namespace Core\Light;

/**
 * What is seen of a body from a place: how much of its front and of its back, how far, how obliquely, and the
 * smallest detail.
 */
final readonly class Sight
{
    /** The smallest angle that reads, in radians: one arc minute. */
    public const READS = M_PI / 180 / 60;

    /** The least angle of a letter's height that reads with ease (ISO 9241-303), in radians: sixteen arc minutes. */
    public const LETTER = 16 * self::READS;

    /**
     * @param  float  $front  share of its area whose front is seen
     * @param  float  $back  share whose back is seen
     * @param  float  $nearest  metres to the nearest seen place
     * @param  float  $mean  metres
     * @param  float  $oblique  degrees between the line of sight and the normal, mean of what is seen from the front;
     *     0 is straight on
     * @param  float  $detailMm  the smallest detail that reads at the mean distance: distance · tan 1'
     * @param  float  $detailPx  the same in pixels of its raster where it is seen, straight on; 0 where it has none
     * @param  float  $foreshortenedMm  the smallest detail along the way in which it is seen most obliquely: distance
     *     · tan 1' / cos, mean over its front
     * @param  float  $letterMm  height of letters that read with ease at the mean distance: distance · tan 16', the
     *     least of ISO 9241-303
     * @param  float  $nits  cd/m² of a wall's white toward this place, mean over what is seen of its front; 0 where
     *     the panels don't say
     * @param  float  $contrast  of white to the light around that the wall throws back; 0 where there is none
     */
    private function __construct(
        public string $body,
        public string $name,
        public float $front,
        public float $back,
        public float $nearest,
        public float $mean,
        public float $oblique,
        public float $detailMm,
        public float $detailPx,
        public float $foreshortenedMm,
        public float $letterMm,
        public float $nits,
        public float $contrast,
    ) {
    }

    /** @return self|null null where nothing of it is seen */
    public static function of(Scene $scene, int $body, float $x, float $y, float $z, int $cells = 120): ?self
    {
        $of = $scene->bodies[$body];
        $grid = SampleGrid::of($scene, $body, $cells);
        [$front, $back, $nearest, $far, $oblique, $pixels, $short, $light] = [0.0, 0.0, INF, 0.0, 0.0, 0.0, 0.0, 0.0];
        // A cell stands for as many pixels wherever it lies; how many metres that is differs from place to place.
        $cellPixels = ($of->rasterWidth * $of->rasterHeight) / ($grid->columns * $grid->rows);
        foreach ($grid->points as [$px, $py, $pz, $nx, $ny, $nz, $rx, $ry, $rz, $ux, $uy, $uz, $share]) {
            [$dx, $dy, $dz] = [$px - $x, $py - $y, $pz - $z];
            $distance = sqrt($dx * $dx + $dy * $dy + $dz * $dz);
            if ($distance < 1e-6 || $scene->reaches($x, $y, $z, $px, $py, $pz) <= 0) {
                continue;
            }
            $cos = -($nx * $dx + $ny * $dy + $nz * $dz) / $distance;
            if ($cos <= 0) {
                $back += $share;
            } else {
                $front += $share;
                $oblique += rad2deg(acos(min(1.0, $cos))) * $share;
                $of->emission !== null &&
                    ($light +=
                        $share *
                        $of->emission->toward(
                            atan2(-($rx * $dx + $ry * $dy + $rz * $dz), $cos * $distance),
                            atan2(-($ux * $dx + $uy * $dy + $uz * $dz), $cos * $distance),
                        ));
                $short += ($distance / max($cos, self::READS)) * $share;
            }
            $nearest = min($nearest, $distance);
            $far += $distance * $share;
            $pixels += $distance * sqrt($cellPixels / $share) * $share;
        }
        $seen = $front + $back;
        $area = $grid->area();
        if ($seen <= 0) {
            return null;
        }
        $detail = ($far / $seen) * tan(self::READS);

        $nits = $front > 0 ? $light / $front : 0.0;
        $around = $of->emission->ambient ?? 0.0;

        return new self(
            $of->id,
            $of->name,
            $front / $area,
            $back / $area,
            $nearest,
            $far / $seen,
            $front > 0 ? $oblique / $front : 0.0,
            $detail * 1000,
            ($pixels / $seen) * tan(self::READS),
            $front > 0 ? ($short / $front) * tan(self::READS) * 1000 : 0.0,
            ($far / $seen) * tan(self::LETTER) * 1000,
            $nits,
            $nits > 0 && $around > 0 ? ($nits + $around) / $around : 0.0,
        );
    }
}
