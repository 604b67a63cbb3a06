<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A place from which the audience looks. */
final class Seat extends Model
{
    use IsShowRow;

    protected $table = 'seats';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['position' => 'array', 'rotation' => 'array', 'hidden' => 'boolean', 'locked' => 'boolean'];
    }
}
