<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** What is done to the pictures of a layer or a clip. */
final class Effect extends Model
{
    use IsShowRow;

    protected $table = 'effects';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['values' => 'array'];
    }
}
