<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A lens of a route. */
final class Lens extends Model
{
    use IsShowRow;

    protected $table = 'lenses';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['part' => 'array', 'values' => 'array'];
    }
}
