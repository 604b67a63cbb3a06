<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A page of the cue board. */
final class Page extends Model
{
    use IsShowRow;

    protected $table = 'pages';
}
