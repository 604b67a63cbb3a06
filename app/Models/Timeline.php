<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** Layers over time. */
final class Timeline extends Model
{
    use IsShowRow;

    protected $table = 'timelines';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['values' => 'array', 'clockWaits' => 'boolean'];
    }
}
