<?php

declare(strict_types=1);

namespace Core\Timeline;

/** What a timeline does when the clock that it follows jumps. */
enum ClockJump: string
{
    /** Goes where the clock is. */
    case Follow = 'follow';
    /** Holds where it stands until somebody plays it, or the clock falls silent and comes anew. */
    case Hold = 'hold';
}
