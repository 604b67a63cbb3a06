<?php

declare(strict_types=1);

namespace Core\Media;

/**
 * The outline of a sound for drawing: the lowest and highest sample of each bin, over all channels, at several zooms.
 * As bytes, little-endian: count of levels as 32 bits; then for each its samples a bin and its count of bins as 32
 * bits; then for each level, the finest first, two signed bytes a bin.
 */
final class Peaks
{
    /** Samples in a bin of the finest level; each further one has so many times as many as the one before. */
    public const FINEST = 256;

    public const STEP = 4;

    public const LEVELS = 6;

    private string $bins = '';

    private string $left = '';

    private readonly int $bytes;

    public function __construct(int $channels)
    {
        $this->bytes = self::FINEST * $channels * 4;
    }

    /** @param  string  $samples  the next, as 32-bit floats, channels interleaved */
    public function take(string $samples): void
    {
        $this->left .= $samples;
        $whole = strlen($this->left) - (strlen($this->left) % $this->bytes);
        for ($at = 0; $at < $whole; $at += $this->bytes) {
            $this->bins .= self::bin(substr($this->left, $at, $this->bytes));
        }
        $this->left = substr($this->left, $whole);
    }

    public function toBytes(): string
    {
        $levels = [$this->bins.($this->left === '' ? '' : self::bin($this->left))];
        while (count($levels) < self::LEVELS) {
            $finer = $levels[count($levels) - 1];
            $coarser = '';
            for ($at = 0; $at < strlen($finer); $at += 2 * self::STEP) {
                $numbers = array_values(unpack('c*', substr($finer, $at, 2 * self::STEP)) ?: [0]);
                $coarser .= pack('c2', min($numbers), max($numbers));
            }
            $levels[] = $coarser;
        }
        $head = pack('V', count($levels));
        foreach ($levels as $i => $level) {
            $head .= pack('V2', self::FINEST * self::STEP ** $i, intdiv(strlen($level), 2));
        }

        return $head.implode('', $levels);
    }

    private static function bin(string $floats): string
    {
        $numbers = unpack('g*', $floats) ?: [0.0];

        return pack('c2', self::byte(floor(127 * min($numbers))), self::byte(ceil(127 * max($numbers))));
    }

    private static function byte(float $level): int
    {
        return is_nan($level) ? 0 : (int) max(-127.0, min(127.0, $level));
    }
}
