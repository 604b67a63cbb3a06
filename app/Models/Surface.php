<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A wall of panels, or a face to project on. */
final class Surface extends Model
{
    use IsShowRow;

    protected $table = 'surfaces';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['position' => 'array', 'rotation' => 'array', 'cells' => 'array', 'seams' => 'array', 'feeding' => 'array', 'shape' => 'array'];
    }
}
