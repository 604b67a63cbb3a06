<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Concerns\HasUlids;
use Illuminate\Database\Eloquent\Model;

/**
 * The document. The one that is engaged is the one that the engine plays.
 *
 * @property string $id
 * @property string $name
 * @property string $frameRate
 * @property int $revision
 * @property bool $engaged
 */
final class Show extends Model
{
    use HasUlids;

    protected $guarded = [];

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['engaged' => 'boolean', 'revision' => 'integer'];
    }
}
