<?php

declare(strict_types=1);

namespace Core\Bindings;

/** What somebody does with a control that a binding acts on. */
enum Gesture: string
{
    /** Moves it; what it sends is a place on its way. */
    case Move = 'move';
    case Press = 'press';
    case Release = 'release';
    /** Each press the other of two. */
    case Toggle = 'toggle';
    /** One on pressing, the other on letting go. */
    case Hold = 'hold';
    /** Presses twice within `DOUBLE`. */
    case Double = 'double';
    /** Keeps it pressed for `LONG`. */
    case Long = 'long';
}
