<?php

declare(strict_types=1);

namespace Core\Cues;

/** What the values of a cue do when it is stopped or gives way to another. */
enum OnStop: string
{
    /** They fade back to what is below. */
    case Returns = 'returns';
    /** They freeze where they are. */
    case Stays = 'stays';
}
