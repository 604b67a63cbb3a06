<?php

declare(strict_types=1);

namespace Core\Light;

use Core\Geometry\Bvh;
use Core\Geometry\Mesh;

/** All bodies of a venue as one tree of triangles, in venue coordinates. */
final readonly class Scene
{
    /** The most bodies that a ray goes through. */
    private const DEEPEST = 16;

    /**
     * @param  list<Body>  $bodies
     * @param  Mesh  $mesh  all of them together, in venue coordinates
     * @param  list<int>  $owner  body of each triangle
     */
    private function __construct(public array $bodies, public Mesh $mesh, public array $owner, private Bvh $tree)
    {
    }

    /** @param  list<Body>  $bodies */
    public static function of(array $bodies): self
    {
        [$positions, $uvs, $indices, $owner] = [[], [], [], []];
        foreach ($bodies as $b => $body) {
            $first = intdiv(count($positions), 3);
            foreach ($body->inVenue()->positions as $number) {
                $positions[] = $number;
            }
            foreach ($body->mesh->uvs as $uv) {
                $uvs[] = $uv;
            }
            foreach ($body->mesh->indices as $k => $i) {
                $indices[] = $first + $i;
                $k % 3 === 0 && ($owner[] = $b);
            }
        }

        return new self($bodies, Mesh::of($positions, $uvs, $indices), $owner, Bvh::of($positions, $indices));
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
    public function first(
        float $ox,
        float $oy,
        float $oz,
        float $dx,
        float $dy,
        float $dz,
        float $nearest = 1e-6,
        float $farthest = INF,
    ): ?array {
        $hit = $this->tree->first($ox, $oy, $oz, $dx, $dy, $dz, $nearest, $farthest);

        return $hit === null ? null : [$hit[0], $hit[1]];
    }

    /**
     * Share of the light from a point that comes through to another one on a body: 1 in free air, 0 behind something
     * opaque. The body that it is for is not in its own way where it is met at the goal.
     */
    public function reaches(float $ox, float $oy, float $oz, float $px, float $py, float $pz): float
    {
        [$dx, $dy, $dz] = [$px - $ox, $py - $oy, $pz - $oz];
        $left = 1.0;
        $from = 1e-9;
        // The goal lies at 1; a ten-thousandth before it counts as there, for meshes that are not quite where their
        // points are.
        while (($hit = $this->tree->first($ox, $oy, $oz, $dx, $dy, $dz, $from, 0.9999)) !== null) {
            $left *= $this->bodies[$this->owner[$hit[0]]]->material->transmission ?? 0.0;
            if ($left < 1e-4) {
                return 0.0;
            }
            $from = $hit[1] + 1e-7;
        }

        return $left;
    }

    /**
     * Share of the light that comes through what lets light through between a point and another one, but for a body;
     * what is opaque is not asked.
     */
    public function transmission(int $body, float $ox, float $oy, float $oz, float $px, float $py, float $pz): float
    {
        [$dx, $dy, $dz] = [$px - $ox, $py - $oy, $pz - $oz];
        $left = 1.0;
        $from = 1e-9;
        while (($hit = $this->tree->first($ox, $oy, $oz, $dx, $dy, $dz, $from, 0.9999)) !== null) {
            $through = $this->bodies[$this->owner[$hit[0]]]->material->transmission ?? 0.0;
            $left *= $through > 0 && $this->owner[$hit[0]] !== $body ? $through : 1.0;
            $from = $hit[1] + 1e-7;
        }

        return $left;
    }

    /**
     * Where a ray meets a body, through whatever lets light through.
     *
     * @return array{int, float}|null triangle and distance, in lengths of the direction; null where something else
     *     keeps it off, or it does not meet it
     */
    public function meets(int $body, float $ox, float $oy, float $oz, float $dx, float $dy, float $dz): ?array
    {
        $from = 1e-6;
        for ($deep = 0; $deep < self::DEEPEST; $deep++) {
            $hit = $this->first($ox, $oy, $oz, $dx, $dy, $dz, $from);
            if ($hit === null || $this->owner[$hit[0]] === $body) {
                return $hit;
            }
            if (($this->bodies[$this->owner[$hit[0]]]->material->transmission ?? 0.0) <= 0) {
                return null;
            }
            $from = $hit[1] + 1e-7;
        }

        return null;
    }

    /**
     * Where a place on a triangle is on the raster of its body.
     *
     * @return array{float, float} 0 to 1, from the top left
     */
    public function raster(int $triangle, float $x, float $y, float $z): array
    {
        [$p, $uv] = [$this->mesh->positions, $this->mesh->uvs];
        [$a, $b, $c] = [
            $this->mesh->indices[3 * $triangle],
            $this->mesh->indices[3 * $triangle + 1],
            $this->mesh->indices[3 * $triangle + 2],
        ];
        [$ux, $uy, $uz] = [$p[3 * $b] - $p[3 * $a], $p[3 * $b + 1] - $p[3 * $a + 1], $p[3 * $b + 2] - $p[3 * $a + 2]];
        [$vx, $vy, $vz] = [$p[3 * $c] - $p[3 * $a], $p[3 * $c + 1] - $p[3 * $a + 1], $p[3 * $c + 2] - $p[3 * $a + 2]];
        [$wx, $wy, $wz] = [$x - $p[3 * $a], $y - $p[3 * $a + 1], $z - $p[3 * $a + 2]];
        [$uu, $uvDot, $vv] = [
            $ux * $ux + $uy * $uy + $uz * $uz,
            $ux * $vx + $uy * $vy + $uz * $vz,
            $vx * $vx + $vy * $vy + $vz * $vz,
        ];
        [$wu, $wv] = [$wx * $ux + $wy * $uy + $wz * $uz, $wx * $vx + $wy * $vy + $wz * $vz];
        $det = $uu * $vv - $uvDot * $uvDot;
        [$s, $t] = $det > 0 ? [($vv * $wu - $uvDot * $wv) / $det, ($uu * $wv - $uvDot * $wu) / $det] : [0.0, 0.0];

        return [
            $uv[2 * $a] + $s * ($uv[2 * $b] - $uv[2 * $a]) + $t * ($uv[2 * $c] - $uv[2 * $a]),
            $uv[2 * $a + 1] + $s * ($uv[2 * $b + 1] - $uv[2 * $a + 1]) + $t * ($uv[2 * $c + 1] - $uv[2 * $a + 1]),
        ];
    }
}
