<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A wall, for now. */
final class Surface extends Model
{
    use IsShowRow;

    protected $table = 'surfaces';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['position' => 'array', 'rotation' => 'array', 'cells' => 'array', 'seams' => 'array', 'feeding' => 'array'];
    }
}
