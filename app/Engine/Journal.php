<?php

declare(strict_types=1);

namespace App\Engine;

/**
 * What a conductor has to know to go on where another ended: one line of JSON a change, and from time to time the
 * whole state, after which the file begins anew. Lines may be of any size. A line that can't be read is skipped, and
 * a disk that takes no more is counted: the next line that it takes is the whole state.
 */
final class Journal implements ChangeLog
{
    private const LONGEST = 1_000_000;

    /** @var resource|null */
    private $handle = null;

    private int $length = 0;

    /**
     * Bytes from which on it begins anew: never less than some times the whole state, so that a large one is seldom
     * written.
     */
    private int $max = self::LONGEST;

    private bool $whole = true;

    public int $lost = 0;

    public int $skipped = 0;

    public function __construct(private readonly string $path)
    {
    }

    /** The state that the file tells, group by group, entry by entry; null when there is none. */
    public function state(): ?array
    {
        $file = is_file($this->path) ? @fopen($this->path, 'rb') : false;
        if ($file === false) {
            return null;
        }
        $state = null;
        while (($line = fgets($file)) !== false) {
            $record = json_decode($line, true);
            if (is_array($record['state'] ?? null)) {
                $state = $record['state'];
            } elseif (is_array($record['change'] ?? null) && $state !== null) {
                $state = self::merged($state, $record['change']);
            } elseif (trim($line) !== '') {
                $this->skipped++;
            }
        }
        fclose($file);

        return $state;
    }

    /**
     * A state after a change: groups are maps whose entries are replaced one by one, null removes an entry; anything
     * else replaces what was.
     *
     * @param  array<string, mixed>  $state
     * @param  array<string, mixed>  $change
     * @return array<string, mixed>
     */
    public static function merged(array $state, array $change): array
    {
        foreach ($change as $group => $entries) {
            if (is_array($entries) && ! array_is_list($entries) && is_array($state[$group] ?? null)) {
                $state[$group] = array_filter(
                    array_merge($state[$group], $entries),
                    static fn (mixed $entry): bool => $entry !== null,
                );
            } else {
                $state[$group] = $entries;
            }
        }

        return $state;
    }

    public function write(array $change, \Closure $state): void
    {
        if ($this->whole || $this->length > $this->max) {
            $this->begin($state());

            return;
        }
        $line = Wire::encode(['change' => $change])."\n";
        $wrote = $this->handle === null ? false : @fwrite($this->handle, $line);
        if ($wrote === strlen($line)) {
            $this->length += $wrote;

            return;
        }
        // What was told as lost must not be there in part: a line that lacks only its end would be read.
        $this->handle === null || @ftruncate($this->handle, max(0, $this->length));
        $this->lost++;
        $this->whole = true;
    }

    /**
     * Starts a fresh file with the whole state, in one move, so that there is always a whole one.
     *
     * @param  array<string, mixed>  $state
     */
    private function begin(array $state): void
    {
        $line = Wire::encode(['state' => $state])."\n";
        $fresh = $this->path.'.new';
        if (@file_put_contents($fresh, $line) !== strlen($line) || ! @rename($fresh, $this->path)) {
            @unlink($fresh);
            $this->lost++;
            $this->whole = true;

            return;
        }
        if ($this->handle !== null) {
            fclose($this->handle);
        }
        $handle = @fopen($this->path, 'ab');
        $this->handle = $handle === false ? null : $handle;
        $this->whole = $handle === false;
        $this->length = strlen($line);
        $this->max = max(self::LONGEST, 4 * $this->length);
    }
}
