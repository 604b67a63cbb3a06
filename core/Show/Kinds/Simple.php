<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Values\PropertySet;

/** What holds for most kinds: they belong to nothing, have no values over time and need no other row. */
trait Simple
{
    public function parent(): ?string
    {
        return null;
    }

    public function properties(): PropertySet
    {
        return PropertySet::none();
    }

    /**
     * @param  array<string, mixed>  $row
     * @return array<string, list<string>>
     */
    public function needs(array $row): array
    {
        return [];
    }
}
