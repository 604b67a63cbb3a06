<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** Something with controls. */
final class Device extends Model
{
    use IsShowRow;

    protected $table = 'devices';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [
            'showControl' => 'boolean',
            'timecode' => 'boolean',
            'attack' => 'float',
            'release' => 'float',
            'floor' => 'float',
            'ceiling' => 'float',
        ];
    }
}
