<?php

declare(strict_types=1);

namespace Core\Geometry;

/**
 * Triangles with UV. Flat lists, so that they can be handed on as they are: three numbers a position, two a UV, three
 * indices a triangle.
 */
final readonly class Mesh
{
    /**
     * @param  list<float>  $positions  metres, x y z after one another
     * @param  list<float>  $uvs  0 to 1, origin at the top left
     * @param  list<int>  $indices  counter-clockwise seen from the front
     */
    private function __construct(public array $positions, public array $uvs, public array $indices)
    {
    }

    /**
     * @param  list<float>  $positions
     * @param  list<float>  $uvs
     * @param  list<int>  $indices
     */
    public static function of(array $positions, array $uvs, array $indices): self
    {
        $vertices = intdiv(count($positions), 3);
        if (count($positions) !== 3 * $vertices || count($uvs) !== 2 * $vertices || count($indices) % 3 !== 0) {
            throw new \InvalidArgumentException(
                'A mesh needs three numbers a position, two a UV and three indices a triangle.',
            );
        }
        if ($indices !== [] && (min($indices) < 0 || max($indices) >= $vertices)) {
            throw new \InvalidArgumentException('A triangle of the mesh names a vertex that is not there.');
        }

        return new self($positions, $uvs, $indices);
    }

    /**
     * The same triangles, wound the other way.
     *
     * @param  list<int>  $indices
     * @return list<int>
     */
    public static function wound(array $indices): array
    {
        $out = [];
        for ($i = 0, $n = count($indices); $i < $n; $i += 3) {
            array_push($out, $indices[$i], $indices[$i + 2], $indices[$i + 1]);
        }

        return $out;
    }

    public function vertexCount(): int
    {
        return intdiv(count($this->positions), 3);
    }

    public function triangleCount(): int
    {
        return intdiv(count($this->indices), 3);
    }

    public function position(int $vertex): Vec3
    {
        return Vec3::of(
            $this->positions[3 * $vertex],
            $this->positions[3 * $vertex + 1],
            $this->positions[3 * $vertex + 2],
        );
    }

    /** The same mesh at another place, its UVs and triangles as they were. */
    public function moved(Mat4 $matrix): self
    {
        [$m, $p, $out] = [$matrix->m, $this->positions, []];
        for ($i = 0, $n = count($p); $i < $n; $i += 3) {
            [$x, $y, $z] = [$p[$i], $p[$i + 1], $p[$i + 2]];
            $out[] = $m[0] * $x + $m[4] * $y + $m[8] * $z + $m[12];
            $out[] = $m[1] * $x + $m[5] * $y + $m[9] * $z + $m[13];
            $out[] = $m[2] * $x + $m[6] * $y + $m[10] * $z + $m[14];
        }

        return new self($out, $this->uvs, $this->indices);
    }

    /** @return array{float, float, float} the unit normal of a triangle's front; straight ahead where it has no area */
    public function normal(int $triangle): array
    {
        $p = $this->positions;
        [$a, $b, $c] = [
            3 * $this->indices[3 * $triangle],
            3 * $this->indices[3 * $triangle + 1],
            3 * $this->indices[3 * $triangle + 2],
        ];
        [$ux, $uy, $uz] = [$p[$b] - $p[$a], $p[$b + 1] - $p[$a + 1], $p[$b + 2] - $p[$a + 2]];
        [$vx, $vy, $vz] = [$p[$c] - $p[$a], $p[$c + 1] - $p[$a + 1], $p[$c + 2] - $p[$a + 2]];
        [$x, $y, $z] = [$uy * $vz - $uz * $vy, $uz * $vx - $ux * $vz, $ux * $vy - $uy * $vx];
        $length = sqrt($x * $x + $y * $y + $z * $z);

        return $length > 0 ? [$x / $length, $y / $length, $z / $length] : [0.0, 0.0, 1.0];
    }

    /** Whether a triangle has a part of the raster; the reveals between reliefs have none. */
    public function pictured(int $triangle): bool
    {
        $uv = $this->uvs;
        [$a, $b, $c] = [
            2 * $this->indices[3 * $triangle],
            2 * $this->indices[3 * $triangle + 1],
            2 * $this->indices[3 * $triangle + 2],
        ];

        return abs(
            ($uv[$b] - $uv[$a]) * ($uv[$c + 1] - $uv[$a + 1]) - ($uv[$b + 1] - $uv[$a + 1]) * ($uv[$c] - $uv[$a]),
        ) > 1e-14;
    }

    /** Square metres of all triangles. */
    public function area(): float
    {
        [$p, $sum] = [$this->positions, 0.0];
        for ($i = 0, $n = count($this->indices); $i < $n; $i += 3) {
            [$a, $b, $c] = [3 * $this->indices[$i], 3 * $this->indices[$i + 1], 3 * $this->indices[$i + 2]];
            [$ux, $uy, $uz] = [$p[$b] - $p[$a], $p[$b + 1] - $p[$a + 1], $p[$b + 2] - $p[$a + 2]];
            [$vx, $vy, $vz] = [$p[$c] - $p[$a], $p[$c + 1] - $p[$a + 1], $p[$c + 2] - $p[$a + 2]];
            $sum +=
                sqrt(($uy * $vz - $uz * $vy) ** 2 + ($uz * $vx - $ux * $vz) ** 2 + ($ux * $vy - $uy * $vx) ** 2) / 2;
        }

        return $sum;
    }

    /**
     * @return array{array{float, float, float}, array{float, float, float}} the least and the greatest of each axis;
     *     zeros for an empty mesh
     */
    public function bounds(): array
    {
        if ($this->positions === []) {
            return [[0.0, 0.0, 0.0], [0.0, 0.0, 0.0]];
        }
        [$min, $max] = [[INF, INF, INF], [-INF, -INF, -INF]];
        foreach ($this->positions as $i => $v) {
            $axis = $i % 3;
            $v < $min[$axis] && ($min[$axis] = $v);
            $v > $max[$axis] && ($max[$axis] = $v);
        }

        return [$min, $max];
    }
}
