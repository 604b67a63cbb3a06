<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Builder;
use Illuminate\Database\Eloquent\Model;

/**
 * A file as it came, known by its SHA-256, and what the worker made of it. `state` is waiting, working, ready, failed
 * or cancelled.
 *
 * @property string $hash
 * @property string $name
 * @property int $bytes
 * @property string $state
 * @property float $progress
 * @property string|null $message
 * @property array<string, mixed>|null $facts
 * @property array<string, mixed>|null $form
 * @property list<string>|null $thumbnails
 * @property list<array{string, string}>|null $log
 */
final class StoredFile extends Model
{
    /** What the name of a live input begins with; it stands where a file has its hash. */
    public const INPUT = 'input:';

    protected $table = 'files';

    protected $primaryKey = 'hash';

    protected $keyType = 'string';

    public $incrementing = false;

    protected $guarded = [];

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [
            'facts' => 'array',
            'form' => 'array',
            'thumbnails' => 'array',
            'progress' => 'float',
            'bytes' => 'integer',
            'log' => 'array',
        ];
    }

    /** @return Builder<self> live inputs */
    public static function inputs(): Builder
    {
        return self::query()->where('hash', 'like', self::INPUT.'%');
    }

    /** @return Builder<self> all but live inputs: what lies on the disk */
    public static function onDisk(): Builder
    {
        return self::query()->where('hash', 'not like', self::INPUT.'%');
    }

    public function isInput(): bool
    {
        return str_starts_with($this->hash, self::INPUT);
    }

    /** Lines of what was done with it that are kept. */
    private const LOGGED = 200;

    /** Notes what is done with it: a moment and a line; stored with what is said of it next. */
    public function note(string $line): void
    {
        $lines = $this->log ?? [];
        foreach (explode("\n", mb_scrub($line)) as $one) {
            $lines[] = [now()->toIso8601ZuluString('millisecond'), mb_strimwidth($one, 0, 2000, '…')];
        }
        $this->log = array_slice($lines, -self::LOGGED);
    }
}
