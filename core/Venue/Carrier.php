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
}
