<?php

declare(strict_types=1);

namespace App\Lights;

use Core\Media\Picture;
use Core\Media\TestCard;

/** Small raw frames of media, as lights sample them; the last of each media is kept. */
final class RawFrames
{
    private const KEPT = 256;

    /** @var array<string, array{int, Picture|null}> by media */
    private array $kept = [];

    /** @var array<string, resource|null> by path */
    private array $files = [];

    /**
     * @param  string  $folder  of playback forms
     * @param  LiveInputs|null  $live  null where inputs are not read
     */
    public function __construct(private readonly string $folder, private readonly ?LiveInputs $live = null)
    {
    }

    /**
     * What tells pictures of a media apart that has no frames of its own; 0 for one that has.
     *
     * @param  array<string, mixed>|null  $media  its part of the plan
     */
    public function version(?array $media): int
    {
        return ($media['kind'] ?? null) === 'live' ? $this->live?->version((string) ($media['url'] ?? '')) ?? 0 : 0;
    }

    /** @param  array<string, mixed>|null  $media  its part of the plan */
    public function of(string $key, ?array $media, int $frame): ?Picture
    {
        if (($media['kind'] ?? null) === 'live') {
            // While it has no picture, what is to stand in.
            $picture = $this->live?->of($media);

            return $picture ??
                (is_array($media['standIn'] ?? null) ? $this->of("$key stand-in", $media['standIn'], $frame) : null);
        }
        [$last, $picture] = $this->kept[$key] ?? [-1, null];
        if ($last !== $frame) {
            $picture = $media === null ? null : $this->read($media, $frame);
            count($this->kept) >= self::KEPT && array_shift($this->kept);
            $this->kept[$key] = [$frame, $picture];
        }

        return $picture;
    }

    /** What was kept may be of another plan. */
    public function forget(): void
    {
        $this->kept = [];
        array_map(static fn (mixed $file): bool => is_resource($file) && fclose($file), $this->files);
        $this->files = [];
    }

    /** @param  array<string, mixed>  $media */
    private function read(array $media, int $frame): ?Picture
    {
        if ($media['kind'] === 'solid') {
            return Picture::solid(1, 1, $media['colour']);
        }
        if (isset($media['card'])) {
            return TestCard::picture($media['width'], $media['height'], $media['card']);
        }
        $raw = $media['raw'] ?? null;
        if (! is_array($raw)) {
            return null;
        }
        [$width, $height, $channels] = [(int) $raw['width'], (int) $raw['height'], (int) $raw['channels']];
        $path = "$this->folder/".basename((string) $raw['url']);
        $file = $this->files[$path] ??= @fopen($path, 'rb') ?: null;
        $size = $width * $height * $channels;
        if ($file === null || fseek($file, $frame * $size) !== 0) {
            return null;
        }
        $bytes = (string) fread($file, max(1, $size));
        if (strlen($bytes) !== $size) {
            return null;
        }

        return Picture::of($width, $height, $channels === 4 ? $bytes : implode("\xFF", str_split($bytes, 3))."\xFF");
    }
}
