<?php

declare(strict_types=1);

namespace Core\Media;

use Core\Units\InvalidValue;

/**
 * Where each frame of a playback form lies in its file. As bytes, twelve a frame, little-endian: offset as a 64-bit
 * float, size as 32 bits of which the highest tells a key frame.
 */
final readonly class SampleTable
{
    /**
     * @param  list<int>  $offsets
     * @param  list<int>  $sizes
     * @param  list<bool>  $keys
     */
    private function __construct(public array $offsets, public array $sizes, private array $keys)
    {
    }

    /**
     * @param  list<array<string, mixed>>  $packets  the prober's packets of one video stream
     *
     * @throws InvalidValue when there is none, or the first is no key frame
     */
    public static function fromPackets(array $packets): self
    {
        if ($packets === []) {
            throw InvalidValue::because('packets', 'This file contains no frames.');
        }
        usort($packets, static fn (array $a, array $b): int => (int) $a['pts'] <=> (int) $b['pts']);
        [$offsets, $sizes, $keys] = [[], [], []];
        foreach ($packets as $packet) {
            $offsets[] = (int) $packet['pos'];
            $sizes[] = (int) $packet['size'];
            $keys[] = str_contains((string) $packet['flags'], 'K');
        }
        if (! $keys[0]) {
            throw InvalidValue::because('packets', 'The first frame of this file can\'t be decoded by itself.');
        }

        return new self($offsets, $sizes, $keys);
    }

    public static function fromBytes(string $bytes): self
    {
        if ($bytes === '' || strlen($bytes) % 12 !== 0) {
            throw InvalidValue::because('table', 'A sample table is twelve bytes a frame.');
        }
        [$offsets, $sizes, $keys] = [[], [], []];
        for ($at = 0; $at < strlen($bytes); $at += 12) {
            $entry = unpack('eoffset/Vsize', $bytes, $at) ?: [];
            $offsets[] = (int) $entry['offset'];
            $sizes[] = $entry['size'] & 0x7FFFFFFF;
            $keys[] = ($entry['size'] & 0x80000000) !== 0;
        }

        return new self($offsets, $sizes, $keys);
    }

    public function toBytes(): string
    {
        $bytes = '';
        foreach ($this->offsets as $i => $offset) {
            $bytes .= pack('eV', $offset, $this->sizes[$i] | ($this->keys[$i] ? 0x80000000 : 0));
        }

        return $bytes;
    }

    public function frames(): int
    {
        return count($this->offsets);
    }

    public function isKey(int $frame): bool
    {
        return $this->keys[$frame];
    }

    /** The frame from which decoding has to start to show this one. */
    public function keyBefore(int $frame): int
    {
        while (! $this->keys[$frame]) {
            $frame--;
        }

        return $frame;
    }
}
