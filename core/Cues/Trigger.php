<?php

declare(strict_types=1);

namespace Core\Cues;

/** What starts a cue of the list. */
enum Trigger: string
{
    case Go = 'go';
    /** The cue before it, once that has faded in. */
    case Follow = 'follow';
    /** The cue before it, so long after that was started. */
    case Wait = 'wait';
    /** A time of day. */
    case Clock = 'clock';
}
