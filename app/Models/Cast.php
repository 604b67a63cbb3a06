<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Concerns\HasUlids;
use Illuminate\Database\Eloquent\Model;

/**
 * A finer look at the light of a venue, made by the worker.
 *
 * @property string $id
 * @property string $showId
 * @property string $key
 * @property int $cells
 * @property string $state waiting, working, ready, failed or cancelled
 * @property float $progress 0 to 1
 * @property string|null $sentence
 */
final class Cast extends Model
{
    use HasUlids;

    protected $guarded = [];
}
