<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** One use of a media on a layer. */
final class Clip extends Model
{
    use IsShowRow;

    protected $table = 'clips';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['ownClock' => 'boolean'];
    }
}
