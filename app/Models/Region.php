<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** Where pixels of a surface land on an output. */
final class Region extends Model
{
    use IsShowRow;

    protected $table = 'regions';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [
            'source' => 'array',
            'mirror' => 'boolean',
            'polygon' => 'array',
            'pin' => 'array',
            'columns' => 'array',
            'rows' => 'array',
            'points' => 'array',
            'blend' => 'array',
            'pinned' => 'boolean',
            'locked' => 'boolean',
        ];
    }
}
