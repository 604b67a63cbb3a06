<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A panel type of the show's library. */
final class Panel extends Model
{
    use IsShowRow;

    protected $table = 'panels';
}
