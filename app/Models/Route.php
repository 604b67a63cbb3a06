<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** How pictures reach surfaces. */
final class Route extends Model
{
    use IsShowRow;

    protected $table = 'routes';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['surfaces' => 'array', 'fittings' => 'array', 'values' => 'array'];
    }
}
