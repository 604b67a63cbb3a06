<?php

declare(strict_types=1);

namespace Core\Light;

/** What one projector brings to a face. */
final readonly class Arrival
{
    /**
     * @param  array<int, array{float, float, float, float, float, float}>  $lit  by cell: lux, cd/m², angle of
     *     incidence in degrees, pixels per metre across and down, distance along the axis against the focused one
     * @param  float  $lumens  that stay on the face
     */
    public function __construct(public array $lit, public float $lumens)
    {
    }
}
