<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A place of the venue and the pixel of a projector that lights it. */
final class Point extends Model
{
    use IsShowRow;

    protected $table = 'points';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['place' => 'array', 'pixel' => 'array'];
    }
}
