<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** What films the show. */
final class Camera extends Model
{
    use IsShowRow;

    protected $table = 'cameras';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [
            'position' => 'array',
            'rotation' => 'array',
            'hidden' => 'boolean',
            'locked' => 'boolean',
            'tracked' => 'boolean',
        ];
    }
}
