<?php

declare(strict_types=1);

namespace Core\Timeline;

/** What a timeline does at its end. */
enum AtEnd: string
{
    case Hold = 'hold';
    /** Begins anew. */
    case Loop = 'loop';
    /** Stands, and another timeline plays from its beginning. */
    case Next = 'next';
}
