<?php

declare(strict_types=1);

namespace App\Support;

use Illuminate\Support\Str;

final class Id
{
    /** A new id of a row: a ULID in small letters. */
    public static function make(): string
    {
        return strtolower((string) Str::ulid());
    }
}
