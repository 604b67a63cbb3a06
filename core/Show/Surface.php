<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Geometry\Pose;
use Core\Venue\Feeding;
use Core\Venue\Wall;

/** Whatever can carry a picture, as it stands in the show. */
final readonly class Surface
{
    public function __construct(public string $id, public string $name, public Pose $pose, public Wall $wall, public Feeding $feeding)
    {
    }

    public function width(): int
    {
        return $this->wall->rasterWidth();
    }

    public function height(): int
    {
        return $this->wall->rasterHeight();
    }
}
