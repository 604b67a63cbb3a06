<?php

declare(strict_types=1);

namespace Core\Cues;

/** What a cue takes hold of. */
enum Scope: string
{
    /** Only the values that it names. */
    case Chosen = 'chosen';
    /** The whole picture: what it does not name goes dark, also layers that were made after it. */
    case Everything = 'everything';
}
