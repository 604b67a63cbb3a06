<?php

declare(strict_types=1);

namespace Core\Show;

/** A row that names something which is gone, or can't be what it says: it is kept out of what plays, and told. */
final readonly class InvalidRow
{
    public function __construct(public string $kind, public string $id, public string $message)
    {
    }
}
