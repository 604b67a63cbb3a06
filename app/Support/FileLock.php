<?php

declare(strict_types=1);

namespace App\Support;

/** A lock on a file that stands for something only one may be at. The system lets go of it however its holder ends. */
final class FileLock
{
    /** @param  resource  $handle */
    private function __construct(private readonly string $path, private $handle)
    {
    }

    /**
     * The lock, or null where another has it or the file can't be made.
     *
     * @phpstan-impure
     */
    public static function try(string $path): ?self
    {
        return self::take($path, LOCK_EX | LOCK_NB);
    }

    /**
     * The lock, once nobody else has it; null where the file can't be made.
     *
     * @phpstan-impure
     */
    public static function wait(string $path): ?self
    {
        return self::take($path, LOCK_EX);
    }

    /** @param  int<0, 7>  $how */
    private static function take(string $path, int $how): ?self
    {
        for (; ;) {
            $handle = @fopen($path, 'c');
            if ($handle === false || ! flock($handle, $how)) {
                return null;
            }
            // Who had it may have taken the file away meanwhile: then this lock is on nothing that others see.
            clearstatcache(true, $path);
            if ((fstat($handle)['ino'] ?? null) === @fileinode($path)) {
                return new self($path, $handle);
            }
            fclose($handle);
        }
    }

    /** Lets go of it, and takes its file away. */
    public function release(): void
    {
        @unlink($this->path);
        fclose($this->handle);
    }
}
