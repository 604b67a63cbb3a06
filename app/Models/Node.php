<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A device of the lighting network. */
final class Node extends Model
{
    use IsShowRow;

    protected $table = 'nodes';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['synchronised' => 'boolean', 'onlyChanges' => 'boolean', 'timecode' => 'boolean'];
    }
}
