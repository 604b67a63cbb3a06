<?php

declare(strict_types=1);

namespace Core\Light;

use Core\Geometry\Mat4;
use Core\Geometry\Mesh;
use Core\Venue\Emission;
use Core\Venue\Material;

/**
 * A thing that stands in the light: with a material it is a face that may be projected on, without one it only
 * blocks.
 */
final readonly class Body
{
    public function __construct(
        public string $id,
        public string $name,
        public Mesh $mesh,
        public Mat4 $world,
        public ?Material $material,
        public int $rasterWidth = 0,
        public int $rasterHeight = 0,
        public ?Emission $emission = null,
    ) {
    }

    /** Its mesh where it stands. */
    public function inVenue(): Mesh
    {
        return $this->mesh->moved($this->world);
    }
}
