<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** Control slots by which a console drives a layer. */
final class Personality extends Model
{
    use IsShowRow;

    protected $table = 'personalities';
}
