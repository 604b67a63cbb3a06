<?php

declare(strict_types=1);

namespace Core\Routing\Reaches;

use Core\Geometry\Mat3;
use Core\Routing\Route;
use Core\Venue\Surface;

/** What reaches have in common that are thrown through the venue. */
trait Thrown
{
    public function isThrown(): bool
    {
        return true;
    }

    public function mayBeWithoutPane(): bool
    {
        return false;
    }

    public function surfaces(Route $route): array
    {
        return $route->aimed;
    }

    public function onto(Route $route, Surface $surface): ?Mat3
    {
        return null;
    }

    public function degreesPerPixel(Route $route, array $pane): ?array
    {
        return null;
    }
}
