<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A recorded change that can be fired, at a time of a timeline, from the list or on the board. */
final class Cue extends Model
{
    use IsShowRow;

    protected $table = 'cues';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['holds' => 'boolean', 'listed' => 'boolean', 'held' => 'array', 'rate' => 'float', 'bpm' => 'float'];
    }
}
