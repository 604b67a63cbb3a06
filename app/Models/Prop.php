<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A thing without a picture that stands in the light. */
final class Prop extends Model
{
    use IsShowRow;

    protected $table = 'props';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [
            'position' => 'array',
            'rotation' => 'array',
            'hidden' => 'boolean',
            'locked' => 'boolean',
            'shape' => 'array',
        ];
    }
}
