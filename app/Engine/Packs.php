<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Plan\Bundle;

/** Whole plans as files under a key of what is in them: windows fetch them over HTTP and keep them for good. */
final readonly class Packs
{
    /** Packs that are kept, the newest. */
    private const KEPT = 40;

    public function __construct(private string $folder)
    {
    }

    public static function ofConfig(): self
    {
        return new self(config('kite.data').'/packs');
    }

    /** @return string its key */
    public function put(Bundle $bundle): string
    {
        $bytes = $bundle->toBytes();
        $key = substr(hash('xxh128', $bytes), 0, 24);
        is_dir($this->folder) || @mkdir($this->folder, 0770, true);
        $path = "$this->folder/$key.pack";
        if (is_file($path)) {
            touch($path);

            return $key;
        }
        $fresh = "$path.".getmypid();
        if (file_put_contents($fresh, $bytes) !== strlen($bytes) || ! rename($fresh, $path)) {
            @unlink($fresh);

            throw new \RuntimeException('The plan could not be written; is the disk full?');
        }
        $this->sweep();

        return $key;
    }

    private function sweep(): void
    {
        $ages = [];
        foreach (glob("$this->folder/*.pack") ?: [] as $file) {
            $ages[$file] = (int) @filemtime($file);
        }
        arsort($ages);
        foreach (array_slice(array_keys($ages), self::KEPT) as $old) {
            @unlink($old);
        }
    }
}
