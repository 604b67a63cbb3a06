<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Concerns\HasUlids;
use Illuminate\Database\Eloquent\Model;

/**
 * What a worker does for somebody: light that is cast, a projection, an import, an answer that takes long.
 *
 * @property string $id
 * @property string $showId
 * @property string $person who asked for it
 * @property string $kind light, projection, import or answer
 * @property array<string, mixed> $input what its kind needs
 * @property string $key hash of what the result depends on, once it is there
 * @property string $state waiting, working, writing (too late to stop), ready, failed or cancelled
 * @property float $progress 0 to 1
 * @property string|null $message what came of it, or what is wrong
 * @property int|null $revision of the show, where an edit came of it
 */
final class Task extends Model
{
    use HasUlids;

    /** States in which it is not over. */
    public const OPEN = ['waiting', 'working', 'writing'];

    protected $guarded = [];

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['input' => 'array'];
    }

    /** Ends it before a worker is done; what is being written already goes on. */
    public function cancel(): void
    {
        self::query()
            ->whereKey($this->id)
            ->whereIn('state', ['waiting', 'working'])
            ->update(['state' => 'cancelled', 'updated_at' => now()]);
        $this->refresh();
    }

    /**
     * @return array{id: string, kind: string, state: string, progress: float, message: string|null, revision: int|null} what
     *     a window hears
     */
    public function payload(): array
    {
        return [
            'id' => $this->id,
            'kind' => $this->kind,
            'state' => $this->state,
            'progress' => (float) $this->progress,
            'message' => $this->message,
            'revision' => $this->revision,
        ];
    }
}
