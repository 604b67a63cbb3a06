<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A group of regions. */
final class RegionGroup extends Model
{
    use IsShowRow;

    protected $table = 'region_groups';
}
