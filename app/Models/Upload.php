<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Concerns\HasUlids;
use Illuminate\Database\Eloquent\Model;

/**
 * A file on its way here; what has come of it lies in the folder of uploads under its id.
 *
 * @property string $id
 * @property string $showId
 * @property string $person
 * @property string $name
 * @property int $bytes
 * @property array<string, mixed>|null $result what it was filed as, once it is
 */
final class Upload extends Model
{
    use HasUlids;

    protected $guarded = [];

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['result' => 'array', 'bytes' => 'integer'];
    }
}
