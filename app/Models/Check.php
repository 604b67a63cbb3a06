<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A dated record of how far a projector's points had drifted. */
final class Check extends Model
{
    use IsShowRow;

    protected $table = 'checks';
}
