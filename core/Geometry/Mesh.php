<?php

declare(strict_types=1);

namespace Core\Geometry;

/** Triangles with UV. Flat lists, so that they can be handed on as they are: three numbers a position, two a UV, three indices a triangle. */
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
            throw new \InvalidArgumentException('A mesh needs three numbers a position, two a UV and three indices a triangle.');
        }
        if ($indices !== [] && (min($indices) < 0 || max($indices) >= $vertices)) {
            throw new \InvalidArgumentException('A triangle of the mesh names a vertex that is not there.');
        }

        return new self($positions, $uvs, $indices);
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
        return Vec3::of($this->positions[3 * $vertex], $this->positions[3 * $vertex + 1], $this->positions[3 * $vertex + 2]);
    }
}
