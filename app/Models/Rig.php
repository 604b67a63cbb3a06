<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A parent that carries surfaces, cameras, projectors, props and other rigs along. */
final class Rig extends Model
{
    use IsShowRow;

    protected $table = 'rigs';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['position' => 'array', 'rotation' => 'array', 'hidden' => 'boolean', 'locked' => 'boolean'];
    }
}
