<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Geometry\Pose;

/** A thing and where it stands, in the venue or on a rig. */
final readonly class Placed
{
    public function __construct(public string $id, public object $thing, public Pose $pose, public ?string $rig)
    {
    }
}
