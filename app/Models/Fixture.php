<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A kind of pixel light. */
final class Fixture extends Model
{
    use IsShowRow;

    protected $table = 'fixtures';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['points' => 'array', 'straddles' => 'boolean'];
    }
}
