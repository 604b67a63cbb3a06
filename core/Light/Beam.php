<?php

declare(strict_types=1);

namespace Core\Light;

use Core\Geometry\Mat4;
use Core\Venue\Projector;

/** A projector where it stands. */
final readonly class Beam
{
    public function __construct(public string $id, public Projector $projector, public Mat4 $world)
    {
    }
}
