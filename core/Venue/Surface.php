<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Geometry\Pose;

/** Whatever can carry a picture, as it stands in the show; a wall also knows how it is fed. */
final readonly class Surface
{
    /**
     * @param  array{int, int}|null  $worked  the raster that content is made for, where it is not the carrier's own
     * @param  string  $colour  by which people tell it from others, #rrggbb; empty for none
     * @param  float  $guide  metres of a square of its guide; 0 for its test card instead
     */
    public function __construct(
        public string $id,
        public string $name,
        public Pose $pose,
        public Carrier $carrier,
        public Feeding $feeding,
        public Material $material,
        private ?array $worked = null,
        public string $colour = '',
        public float $guide = 0.0,
    ) {
    }

    public function width(): int
    {
        return $this->worked[0] ?? $this->carrier->rasterWidth();
    }

    public function height(): int
    {
        return $this->worked[1] ?? $this->carrier->rasterHeight();
    }

    /** Whether it shines by itself, so that no projector is meant for it. */
    public function shines(): bool
    {
        return $this->carrier->shines();
    }

    /** The wall that it is, or null when it is something else. */
    public function wall(): ?Wall
    {
        return $this->carrier instanceof Wall ? $this->carrier : null;
    }
}
