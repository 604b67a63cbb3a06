<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** Control slots of a pixel light. */
final class Patch extends Model
{
    use IsShowRow;

    protected $table = 'patches';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [
            'wiring' => 'array',
            'path' => 'array',
            'gains' => 'array',
            'values' => 'array',
            'dithered' => 'boolean',
        ];
    }
}
