<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A device that shows an output. */
final class Feed extends Model
{
    use IsShowRow;

    protected $table = 'feeds';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['part' => 'array'];
    }
}
