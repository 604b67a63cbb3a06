<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Concerns\HasUlids;

/**
 * What all rows of a show have in common: a ULID that the maker may choose, no timestamps (the history has them),
 * columns named as in the API.
 */
trait IsShowRow
{
    use HasUlids;

    public function initializeIsShowRow(): void
    {
        $this->timestamps = false;
        $this->guarded = [];
    }
}
