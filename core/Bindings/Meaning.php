<?php

declare(strict_types=1);

namespace Core\Bindings;

/** What a binding makes of its control. */
enum Meaning: string
{
    /** A value goes along with it, or is set by its presses. */
    case Value = 'value';
    /** A command is given. */
    case Action = 'action';
    /** A cue is fired or released. */
    case Cue = 'cue';
    /** Each number that it sends has a command of its own. */
    case Choice = 'choice';
}
