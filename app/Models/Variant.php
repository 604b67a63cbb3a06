<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A placement of projectors, kept to compare with others. */
final class Variant extends Model
{
    use IsShowRow;

    protected $table = 'variants';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['projectors' => 'array'];
    }
}
