<?php

declare(strict_types=1);

namespace Core\Light;

/** What is seen of a body from a place: how much of its front and of its back, how far, how obliquely, and the smallest detail. */
final readonly class Sight
{
    /** The smallest angle that reads, in radians: one arc minute. */
    public const READS = M_PI / 180 / 60;

    /**
     * @param  float  $front  share of its area whose front is seen
     * @param  float  $back  share whose back is seen
     * @param  float  $nearest  metres to the nearest seen place
     * @param  float  $mean  metres
     * @param  float  $oblique  degrees between the line of sight and the normal, mean of what is seen from the front; 0 is straight on
     * @param  float  $detailMm  the smallest detail that reads at the mean distance: distance · tan 1'
     * @param  float  $detailPx  the same in pixels of its raster, seen straight on; 0 where it has none
     */
    private function __construct(public string $body, public string $name, public float $front, public float $back, public float $nearest, public float $mean, public float $oblique, public float $detailMm, public float $detailPx)
    {
    }

    /** @return self|null null where nothing of it is seen */
    public static function of(Scene $scene, int $body, float $x, float $y, float $z, int $cells = 120): ?self
    {
        $of = $scene->bodies[$body];
        $lattice = Lattice::of($scene, $body, $cells);
        [$front, $back, $nearest, $far, $oblique] = [0.0, 0.0, INF, 0.0, 0.0];
        foreach ($lattice->points as [$px, $py, $pz, $nx, $ny, $nz, , , , , , , $share]) {
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
            }
            $nearest = min($nearest, $distance);
            $far += $distance * $share;
        }
        $seen = $front + $back;
        $area = $lattice->area();
        if ($seen <= 0) {
            return null;
        }
        $detail = $far / $seen * tan(self::READS);

        return new self($of->id, $of->name, $front / $area, $back / $area, $nearest, $far / $seen, $front > 0 ? $oblique / $front : 0.0, $detail * 1000, $detail * sqrt($of->rasterWidth * $of->rasterHeight / $area));
    }
}
