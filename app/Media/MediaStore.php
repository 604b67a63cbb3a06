<?php

declare(strict_types=1);

namespace App\Media;

/**
 * Where files lie: originals by hash as they came, playback forms and thumbnails beside them, uploads until they are
 * whole.
 */
final readonly class MediaStore
{
    public function __construct(private string $root)
    {
        foreach (['originals', 'forms', 'thumbnails', 'uploads', 'models'] as $folder) {
            is_dir("$root/$folder") || @mkdir("$root/$folder", 0700, true);
        }
    }

    public static function ofConfig(): self
    {
        return new self(config('kite.data').'/media');
    }

    public function original(string $hash): string
    {
        return "$this->root/originals/$hash";
    }

    public function form(string $hash, string $extension): string
    {
        return "$this->root/forms/$hash.$extension";
    }

    public function thumbnail(string $hash, int|string $number): string
    {
        return "$this->root/thumbnails/$hash-$number.jpg";
    }

    public function model(string $hash): string
    {
        return "$this->root/models/$hash.bin";
    }

    public function upload(string $id): string
    {
        return "$this->root/uploads/$id";
    }

    public function free(): float
    {
        return (float) disk_free_space($this->root);
    }

    public function path(): string
    {
        return $this->root;
    }

    /** @return array<string, array{files: int, bytes: int}> by folder */
    public function sizes(): array
    {
        return array_map(
            static fn (array $paths): array => [
                'files' => count($paths),
                'bytes' => (int) array_sum(array_map(static fn (string $path): int => (int) @filesize($path), $paths)),
            ],
            $this->everything(),
        );
    }

    /** @return array<string, list<string>> paths by folder */
    public function everything(): array
    {
        $paths = [];
        foreach (['originals', 'forms', 'thumbnails', 'uploads', 'models'] as $folder) {
            $paths[$folder] = glob("$this->root/$folder/*") ?: [];
        }

        return $paths;
    }

    /** Removes all that was made from an original, not the original. */
    public function clean(string $hash): void
    {
        foreach (
            [...glob("$this->root/forms/$hash.*") ?: [], ...glob("$this->root/thumbnails/$hash-*") ?: []] as $path
        ) {
            @unlink($path);
        }
    }
}
