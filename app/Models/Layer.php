<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** One row of a timeline. */
final class Layer extends Model
{
    use IsShowRow;

    protected $table = 'layers';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['values' => 'array', 'locked' => 'boolean', 'hidden' => 'boolean', 'stock' => 'array'];
    }
}
