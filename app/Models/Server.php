<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A machine that outputs leave. */
final class Server extends Model
{
    use IsShowRow;

    protected $table = 'servers';
}
