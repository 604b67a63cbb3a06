<?php

declare(strict_types=1);

namespace Core\Plan;

use Core\Geometry\Mat4;
use Core\Geometry\Mesh;
use Core\Venue\Round;
use Core\Venue\Surface;

/**
 * The triangles of a surface that carry its raster, where they are in the venue, packed: for each of the three
 * corners of each, eleven 32-bit floats: raster pixel (2), place in metres (3), normal of the triangle's front (3),
 * and, of what is round, the three numbers of its true shape there (`Round`), else 0.
 */
final readonly class SurfaceMesh
{
    public const NUMBERS = 11;

    private function __construct(public string $bytes)
    {
    }

    public static function of(Surface $surface, Mat4 $world): self
    {
        $own = $surface->carrier->mesh();
        $mesh = $own->moved($world);
        $true = self::round($surface);
        $axis = $true?->frame->origin();
        [$width, $height] = [$surface->width(), $surface->height()];
        $bytes = '';
        for ($t = 0, $n = $mesh->triangleCount(); $t < $n; $t++) {
            if (! $mesh->pictured($t)) {
                continue;
            }
            $normal = $mesh->normal($t);
            for ($k = 0; $k < 3; $k++) {
                $v = $mesh->indices[3 * $t + $k];
                $round =
                    $true === null || $axis === null
                        ? [0, 0, 0]
                        : $true->corner(
                            $mesh->uvs[2 * $v],
                            $mesh->uvs[2 * $v + 1],
                            $own->positions[3 * $v] - $axis->x,
                            $own->positions[3 * $v + 1] - $axis->y,
                            $own->positions[3 * $v + 2] - $axis->z,
                        );
                $bytes .= pack(
                    'g11',
                    $mesh->uvs[2 * $v] * $width,
                    $mesh->uvs[2 * $v + 1] * $height,
                    $mesh->positions[3 * $v],
                    $mesh->positions[3 * $v + 1],
                    $mesh->positions[3 * $v + 2],
                    ...$normal,
                    ...$round,
                );
            }
        }

        return new self($bytes);
    }

    /** The true shape of a surface, in its own place; null for one that is as flat as its triangles. */
    public static function round(Surface $surface): ?Round
    {
        return $surface->carrier->roundness();
    }

    /**
     * What stands in the way of light, without pictures: only the places of the corners.
     *
     * @param  list<Mesh>  $meshes  where they stand in the venue
     */
    public static function solids(array $meshes): self
    {
        $bytes = '';
        foreach ($meshes as $mesh) {
            foreach ($mesh->indices as $v) {
                $bytes .= pack(
                    'g11',
                    0,
                    0,
                    $mesh->positions[3 * $v],
                    $mesh->positions[3 * $v + 1],
                    $mesh->positions[3 * $v + 2],
                    0,
                    0,
                    0,
                    0,
                    0,
                    0,
                );
            }
        }

        return new self($bytes);
    }

    public static function fromBytes(string $bytes): self
    {
        return new self($bytes);
    }

    public function corners(): int
    {
        return intdiv(strlen($this->bytes), 4 * self::NUMBERS);
    }

    /** @return list<float> eleven numbers for each corner */
    public function numbers(): array
    {
        return $this->bytes === '' ? [] : array_values((array) unpack('g*', $this->bytes));
    }
}
