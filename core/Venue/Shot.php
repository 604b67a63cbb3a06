<?php

declare(strict_types=1);

namespace Core\Venue;

/**
 * How a camera sees one surface: how wide its picture is there, how large the pixels of a wall are on its sensor, and
 * whether both rasters beat.
 */
final readonly class Shot
{
    /**
     * Sensor pixels for each pitch of a wall below which its raster can't be told from others: two, by the sampling
     * theorem.
     */
    public const SAFE = 2.0;

    /**
     * @param  float  $distance  metres along the axis to the middle of the surface
     * @param  float  $width  metres that the picture takes in there
     * @param  float  $pitchPixels  sensor pixels for each pitch of a wall; 0 for what is no wall
     * @param  bool  $sharp  whether it lies in the depth of field
     */
    private function __construct(
        public string $surface,
        public string $name,
        public float $distance,
        public float $width,
        public float $pitchPixels,
        public bool $moire,
        public bool $sharp,
    ) {
    }

    /** @return self|null null for what lies behind the camera */
    public static function of(Camera $camera, Surface $surface, float $distance): ?self
    {
        if ($distance <= 0) {
            return null;
        }
        $wall = $surface->wall();
        $figures = $wall?->figures();
        $pitch = $figures === null ? 0.0 : min($figures->pitchX, $figures->pitchY);
        // The pitch on the sensor, in millimetres, over the size of a sensor's pixel.
        $pixels = ($pitch * $camera->focal) / ($distance * 1000) / ($camera->sensorWidth / $camera->pixels);
        $focus = $camera->depthOfField();

        return new self(
            $surface->id,
            $surface->name,
            $distance,
            $camera->widthAt($distance),
            $pixels,
            $wall !== null && $pixels < self::SAFE,
            $distance >= $focus->near && $distance <= $focus->far,
        );
    }
}
