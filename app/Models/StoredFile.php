<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/**
 * A file as it came, known by its SHA-256, and what the worker made of it. `state` is waiting, working, ready, failed or cancelled.
 *
 * @property string $hash
 * @property string $name
 * @property int $bytes
 * @property string $state
 * @property float $progress
 * @property string|null $sentence
 * @property array<string, mixed>|null $facts
 * @property array<string, mixed>|null $form
 * @property list<string>|null $thumbnails
 */
final class StoredFile extends Model
{
    protected $table = 'files';

    protected $primaryKey = 'hash';

    protected $keyType = 'string';

    public $incrementing = false;

    protected $guarded = [];

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['facts' => 'array', 'form' => 'array', 'thumbnails' => 'array', 'progress' => 'float', 'bytes' => 'integer'];
    }
}
