<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A file or a pattern that the show uses. */
final class Media extends Model
{
    use IsShowRow;

    protected $table = 'media';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['versions' => 'array', 'values' => 'array'];
    }
}
