<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** The keyframes of one value, by its address. */
final class Curve extends Model
{
    use IsShowRow;

    protected $table = 'curves';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['keyframes' => 'array'];
    }
}
