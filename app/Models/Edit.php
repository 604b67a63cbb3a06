<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Concerns\HasUlids;
use Illuminate\Database\Eloquent\Model;

/**
 * One change of a show in its history. `act` is edit, undo or redo; the `state` of an edit is done, undone or dropped.
 *
 * @property string $id
 * @property string $showId
 * @property int $revision
 * @property string $person
 * @property string $name
 * @property string $act
 * @property string $state
 * @property list<array{kind: string, id: string, op: string, fields: array<string, array{before: mixed, after: mixed}>}> $changes
 */
final class Edit extends Model
{
    use HasUlids;

    public $timestamps = false;

    protected $guarded = [];

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['changes' => 'array', 'at' => 'datetime'];
    }
}
