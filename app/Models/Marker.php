<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A named time. */
final class Marker extends Model
{
    use IsShowRow;

    protected $table = 'markers';
}
