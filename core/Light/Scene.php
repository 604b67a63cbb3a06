<?php

declare(strict_types=1);

namespace Core\Light;

use Core\Geometry\Bvh;

/** All bodies of a venue as one tree of triangles, in venue coordinates. */
final readonly class Scene
{
    /**
     * @param  list<Body>  $bodies
     * @param  list<float>  $positions
     * @param  list<float>  $uvs
     * @param  list<int>  $indices
     * @param  list<int>  $owner  body of each triangle
     */
    private function __construct(public array $bodies, public array $positions, public array $uvs, public array $indices, public array $owner, private Bvh $tree)
    {
    }

    /** @param  list<Body>  $bodies */
    public static function of(array $bodies): self
    {
        [$positions, $uvs, $indices, $owner] = [[], [], [], []];
        foreach ($bodies as $b => $body) {
            $first = intdiv(count($positions), 3);
            $m = $body->world->m;
            $p = $body->mesh->positions;
            for ($i = 0, $n = count($p); $i < $n; $i += 3) {
                [$x, $y, $z] = [$p[$i], $p[$i + 1], $p[$i + 2]];
                $positions[] = $m[0] * $x + $m[4] * $y + $m[8] * $z + $m[12];
                $positions[] = $m[1] * $x + $m[5] * $y + $m[9] * $z + $m[13];
                $positions[] = $m[2] * $x + $m[6] * $y + $m[10] * $z + $m[14];
            }
            foreach ($body->mesh->uvs as $uv) {
                $uvs[] = $uv;
            }
            foreach ($body->mesh->indices as $k => $i) {
                $indices[] = $first + $i;
                $k % 3 === 0 && $owner[] = $b;
            }
        }

        return new self($bodies, $positions, $uvs, $indices, $owner, Bvh::of($positions, $indices));
    }

    public function triangles(): int
    {
        return count($this->owner);
    }

    /**
     * What a ray meets first.
     *
     * @return array{int, float}|null triangle and distance, in lengths of the direction
     */
    public function first(float $ox, float $oy, float $oz, float $dx, float $dy, float $dz, float $nearest = 1e-6, float $farthest = INF): ?array
    {
        $hit = $this->tree->first($ox, $oy, $oz, $dx, $dy, $dz, $nearest, $farthest);

        return $hit === null ? null : [$hit[0], $hit[1]];
    }

    /**
     * Share of the light from a point that comes through to another one on a body: 1 in free air, 0 behind something opaque.
     * The body that it is for is not in its own way where it is met at the goal.
     */
    public function reaches(float $ox, float $oy, float $oz, float $px, float $py, float $pz): float
    {
        [$dx, $dy, $dz] = [$px - $ox, $py - $oy, $pz - $oz];
        $left = 1.0;
        $from = 1e-9;
        // The goal lies at 1; a ten-thousandth before it counts as there, for meshes that are not quite where their points are.
        while (($hit = $this->tree->first($ox, $oy, $oz, $dx, $dy, $dz, $from, 0.9999)) !== null) {
            $left *= $this->bodies[$this->owner[$hit[0]]]->material->transmission ?? 0.0;
            if ($left < 1e-4) {
                return 0.0;
            }
            $from = $hit[1] + 1e-7;
        }

        return $left;
    }

    /** @return array{float, float, float} the unit normal of a triangle's front */
    public function normal(int $triangle): array
    {
        $p = $this->positions;
        [$a, $b, $c] = [3 * $this->indices[3 * $triangle], 3 * $this->indices[3 * $triangle + 1], 3 * $this->indices[3 * $triangle + 2]];
        [$ux, $uy, $uz] = [$p[$b] - $p[$a], $p[$b + 1] - $p[$a + 1], $p[$b + 2] - $p[$a + 2]];
        [$vx, $vy, $vz] = [$p[$c] - $p[$a], $p[$c + 1] - $p[$a + 1], $p[$c + 2] - $p[$a + 2]];
        [$x, $y, $z] = [$uy * $vz - $uz * $vy, $uz * $vx - $ux * $vz, $ux * $vy - $uy * $vx];
        $length = sqrt($x * $x + $y * $y + $z * $z);

        return $length > 0 ? [$x / $length, $y / $length, $z / $length] : [0.0, 0.0, 1.0];
    }

    /** Whether a triangle has a part of its body's raster; the reveals between boards have none. */
    public function pictured(int $triangle): bool
    {
        $uv = $this->uvs;
        [$a, $b, $c] = [2 * $this->indices[3 * $triangle], 2 * $this->indices[3 * $triangle + 1], 2 * $this->indices[3 * $triangle + 2]];

        return abs(($uv[$b] - $uv[$a]) * ($uv[$c + 1] - $uv[$a + 1]) - ($uv[$b + 1] - $uv[$a + 1]) * ($uv[$c] - $uv[$a])) > 1e-14;
    }
}
