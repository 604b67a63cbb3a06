<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A wall of panels, a face to project on, or an imported model. */
final class Surface extends Model
{
    use IsShowRow;

    protected $table = 'surfaces';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [
            'hidden' => 'boolean',
            'locked' => 'boolean',
            'material' => 'array',
            'reliefs' => 'array',
            'position' => 'array',
            'rotation' => 'array',
            'cells' => 'array',
            'seams' => 'array',
            'feeding' => 'array',
            'shape' => 'array',
        ];
    }
}
