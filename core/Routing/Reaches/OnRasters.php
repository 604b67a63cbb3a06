<?php

declare(strict_types=1);

namespace Core\Routing\Reaches;

use Core\Routing\Route;
use Core\Values\PropertySet;
use Core\Venue\Surface;

/** What reaches have in common that land on rasters wherever these are in the venue. */
trait OnRasters
{
    public function isThrown(): bool
    {
        return false;
    }

    public function properties(): PropertySet
    {
        return PropertySet::none();
    }

    public function drawn(array $part, \Closure $values): array
    {
        return [];
    }

    public function projections(Route $route, Surface $surface, \Closure $frame): array
    {
        return [];
    }

    public function degreesPerPixel(Route $route, array $pane): ?array
    {
        return null;
    }
}
