<?php

declare(strict_types=1);

namespace Core\Routing;

/** The rule that carries pane pixels to surfaces. */
enum Reach: string
{
    /** Each surface's own raster is the pane, carried over its own UV. */
    case Skin = 'skin';
}
