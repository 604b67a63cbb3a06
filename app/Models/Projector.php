<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** What throws a picture. */
final class Projector extends Model
{
    use IsShowRow;

    protected $table = 'projectors';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [
            'position' => 'array',
            'rotation' => 'array',
            'hidden' => 'boolean',
            'locked' => 'boolean',
            'lens' => 'array',
            'mirrored' => 'boolean',
            'aims' => 'array',
        ];
    }
}
