<?php

declare(strict_types=1);

namespace Core\Values;

/** What a value is, and with it how it moves. */
enum PropertyType: string
{
    case Number = 'number';

    /** Red, green and blue: three numbers, each with a slot, a track and a curve of its own. */
    case Colour = 'colour';

    /** On or off: 1 or 0 within. */
    case Switch = 'switch';

    /** One of a list of names: within, its place in the list. */
    case Choice = 'choice';

    /** A row of the show, or none: within, its number (Reference). */
    case Reference = 'reference';

    /**
     * Whether it can lie between two values. What can not, changes in steps, and the newest that holds it by at least
     * a half has it.
     */
    public function mixes(): bool
    {
        return $this === self::Number || $this === self::Colour;
    }
}
