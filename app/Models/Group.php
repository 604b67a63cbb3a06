<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A yield group of cues. */
final class Group extends Model
{
    use IsShowRow;

    protected $table = 'yield_groups';
}
