<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A layer that a console drives. */
final class Control extends Model
{
    use IsShowRow;

    protected $table = 'controls';
}
