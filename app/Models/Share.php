<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** The part of a canvas that a surface shows. */
final class Share extends Model
{
    use IsShowRow;

    protected $table = 'shares';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['values' => 'array'];
    }
}
