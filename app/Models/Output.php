<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** One connector. */
final class Output extends Model
{
    use IsShowRow;

    protected $table = 'outputs';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['gain' => 'array'];
    }
}
