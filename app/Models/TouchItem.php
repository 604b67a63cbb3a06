<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** Something on a touch panel. */
final class TouchItem extends Model
{
    use IsShowRow;

    protected $table = 'touch_items';
}
