<?php

declare(strict_types=1);

namespace Core\Timeline;

/** What a clip shows when its media has run out. */
enum PastEnd: string
{
    case Loop = 'loop';
    case Hold = 'hold';
}
