<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A control that is tied to a value, a cue or a command. */
final class Binding extends Model
{
    use IsShowRow;

    protected $table = 'bindings';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['invert' => 'boolean', 'velocity' => 'boolean', 'lamp' => 'boolean', 'motor' => 'boolean'];
    }
}
