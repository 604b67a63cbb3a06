<?php

declare(strict_types=1);

namespace Core\Values;

/** Who sets a value from outside its timeline, from below: each is mixed over what those below it say. */
enum Stratum: int
{
    case Cue = 3;
    case Bound = 4;
    case Loose = 5;
    /** Everything dark, whatever else is said. */
    case Panic = 9;

    /** As a person reads it. */
    public function word(): string
    {
        return strtolower($this->name);
    }
}
