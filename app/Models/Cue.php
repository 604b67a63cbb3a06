<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A cue at a time of a timeline. */
final class Cue extends Model
{
    use IsShowRow;

    protected $table = 'cues';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['holds' => 'boolean'];
    }
}
