<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Geometry\Mesh;

/**
 * Whatever can carry a picture, in its own place: a raster of pixels, and a mesh whose UVs lie within it. The origin
 * is the middle of the bottom; the front faces +Z.
 */
interface Carrier
{
    public function rasterWidth(): int;

    public function rasterHeight(): int;

    public function mesh(): Mesh;

    /** How many triangles its mesh has, told without making it. */
    public function triangles(): int;

    /** Square metres that carry the picture. */
    public function area(): float;

    /** What it is, in a few words with its size. */
    public function inWords(): string;

    /** Whether it shines by itself, so that no projector is meant for it. */
    public function shines(): bool;

    /** The fixture whose pixels leave over the lighting network; null for one that an output feeds. */
    public function fixture(): ?FixtureType;

    /** Pixels of its raster to one of its own, each way. */
    public function oversampling(): int;

    /** What is wrong with what it is made of, in words; null where nothing is. */
    public function trouble(): ?string;

    /**
     * @return (\Closure(float, float): ?array{float, float, float})|null where a place of the raster (0 to 1, from
     *     the top left) is in its own place, in metres; null where it has nothing there. Null for one that is as flat
     *     as its mesh
     */
    public function shape(): ?\Closure;

    /** Its true shape in a form that can be interpolated; null for one that is as flat as its mesh. */
    public function roundness(): ?Round;

    /** @return list<float> v at which the shape jumps, from the top */
    public function breaks(): array;
}
