<?php

declare(strict_types=1);

namespace Core\Geometry;

/** Collects the quads and triangles of a mesh that is being made. */
final class MeshMaker
{
    /** @var list<float> */
    private array $positions = [];

    /** @var list<float> */
    private array $uvs = [];

    /** @var list<int> */
    private array $indices = [];

    /**
     * A flat polygon of three or four corners, counter-clockwise seen from the front.
     *
     * @param  array{float, float, float, float, float}  ...$corners  x, y, z, u, v
     */
    public function add(array ...$corners): void
    {
        $first = intdiv(count($this->positions), 3);
        foreach ($corners as [$x, $y, $z, $u, $v]) {
            array_push($this->positions, $x, $y, $z);
            array_push($this->uvs, $u, $v);
        }
        for ($i = 2, $n = count($corners); $i < $n; $i++) {
            array_push($this->indices, $first, $first + $i - 1, $first + $i);
        }
    }

    public function mesh(): Mesh
    {
        return Mesh::of($this->positions, $this->uvs, $this->indices);
    }
}
