<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Geometry\Bvh;
use Core\Plan\SurfaceMesh;

/** Whether something of the venue stands between a place and what throws light there. */
final readonly class Occlusion
{
    /**
     * How far before a place something has to stand to be in the way: metres, and a share of the distance; the
     * place's own surface is not.
     */
    private const NEAR = 0.01;

    private const SHARE = 0.002;

    private function __construct(private Bvh $solids)
    {
    }

    public static function of(SurfaceMesh $solids): self
    {
        $positions = [];
        foreach (array_chunk($solids->numbers(), SurfaceMesh::NUMBERS) as $corner) {
            array_push($positions, $corner[2], $corner[3], $corner[4]);
        }

        return new self(Bvh::of($positions, $positions === [] ? [] : range(0, intdiv(count($positions), 3) - 1)));
    }

    /**
     * @param  array{float, float, float}  $eye  metres, in the venue
     * @param  array{float, float, float}  $place
     */
    public function hides(array $eye, array $place): bool
    {
        [$x, $y, $z] = [$place[0] - $eye[0], $place[1] - $eye[1], $place[2] - $eye[2]];
        $distance = sqrt($x * $x + $y * $y + $z * $z);
        $until = $distance * (1 - self::SHARE) - self::NEAR;

        return $until > 0 &&
            $this->solids->first(
                $eye[0],
                $eye[1],
                $eye[2],
                $x / $distance,
                $y / $distance,
                $z / $distance,
                1e-6,
                $until,
            ) !== null;
    }
}
