<?php

declare(strict_types=1);

namespace Core\Bindings;

/** How a control takes a value over that is not where the control stands. */
enum Takeover: string
{
    /** At once. */
    case Jump = 'jump';
    /** Once the control has passed the value. */
    case Meet = 'meet';
    /** The gap closes over the way that the control has left. */
    case Scaled = 'scaled';
}
