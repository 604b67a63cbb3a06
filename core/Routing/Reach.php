<?php

declare(strict_types=1);

namespace Core\Routing;

/** The rule that carries pane pixels to surfaces. */
enum Reach: string
{
    /** Over each surface's own UV; the pane is its raster, or one of the route's own that is fitted to each. */
    case Skin = 'skin';

    /** Each surface takes a share of one large pane. */
    case Canvas = 'canvas';

    /** Thrown from virtual cameras onto the fronts of surfaces. */
    case Lens = 'lens';

    /** Wrapped on a sphere, or a part of one, round a centre. */
    case Globe = 'globe';

    /** Whether what reaches a place of a surface depends on where in the venue it is. */
    public function isThrown(): bool
    {
        return $this === self::Lens || $this === self::Globe;
    }
}
