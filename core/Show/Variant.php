<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Geometry\Pose;
use Core\Venue\Projector;

/** A placement of projectors, kept to compare. */
final readonly class Variant
{
    /** @param  array<string, array{Projector, Pose}>  $projectors  poses in the venue */
    public function __construct(public string $name, public array $projectors)
    {
    }
}
