<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A shape that lets light through. */
final class Mask extends Model
{
    use IsShowRow;

    protected $table = 'masks';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['nodes' => 'array', 'inverted' => 'boolean'];
    }
}
