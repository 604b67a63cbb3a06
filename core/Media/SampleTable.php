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
    /** Of each frame. */
    public const BYTES = 12;

    /**
     * @param  list<int>  $offsets
     * @param  list<int>  $sizes
     * @param  list<bool>  $keys
     */
    private function __construct(public array $offsets, public array $sizes, private array $keys)
    {
    }

    /**
     * The table as bytes, packet by packet as the prober names them, so that a long file takes no room.
     *
     * @param  iterable<array{int, int, int, bool}>  $packets  of one video stream: time, offset, size, whether it is
     *     a key frame
     *
     * @throws InvalidValue when there is none, the first is no key frame, or they are not in the order of their times
     */
    public static function pack(iterable $packets): string
    {
        [$bytes, $last] = ['', PHP_INT_MIN];
        foreach ($packets as [$time, $offset, $size, $key]) {
            if ($bytes === '' && ! $key) {
                throw InvalidValue::because('packets', 'The first frame of this file can\'t be decoded by itself.');
            }
            if ($time <= $last) {
                throw InvalidValue::because(
                    'packets',
                    'The frames of this file are not in the order in which they are shown.',
                );
            }
            $bytes .= pack('eV', $offset, $size | ($key ? 0x80000000 : 0));
            $last = $time;
        }

        return $bytes !== '' ? $bytes : throw InvalidValue::because('packets', 'This file contains no frames.');
    }

    public static function fromBytes(string $bytes): self
    {
        if ($bytes === '' || strlen($bytes) % self::BYTES !== 0) {
            throw InvalidValue::because('table', 'A sample table is twelve bytes a frame.');
        }
        [$offsets, $sizes, $keys] = [[], [], []];
        for ($at = 0; $at < strlen($bytes); $at += self::BYTES) {
            $entry = unpack('eoffset/Vsize', $bytes, $at) ?: [];
            $offsets[] = (int) $entry['offset'];
            $sizes[] = $entry['size'] & 0x7FFFFFFF;
            $keys[] = ($entry['size'] & 0x80000000) !== 0;
        }

        return new self($offsets, $sizes, $keys);
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
