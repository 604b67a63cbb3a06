<?php

declare(strict_types=1);

namespace Core\Show;

/**
 * A kind of row that belongs to a row of one of several kinds: the field of that kind's name says to which, the
 * others are empty.
 */
interface BelongsToOneOf extends Kind
{
    /** @return non-empty-list<string> */
    public function parents(): array;
}
