<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Units\Check;
use Core\Units\InvalidValue;

/**
 * One data port of an LED processor: its rate, the share that pictures may take, the bits of a pixel as carried, the
 * refresh.
 */
final readonly class DataLink
{
    public const BITS = [24, 30, 32, 48];

    private function __construct(
        public float $bitsPerSecond,
        public float $usableShare,
        public int $bitsPerPixel,
        public float $refresh,
    ) {
    }

    public static function of(
        float $bitsPerSecond = 1e9,
        float $usableShare = 0.95,
        int $bitsPerPixel = 24,
        float $refresh = 60,
    ): self {
        if (! in_array($bitsPerPixel, self::BITS, true)) {
            throw InvalidValue::notOneOf('bitsPerPixel', (string) $bitsPerPixel, array_map(strval(...), self::BITS));
        }

        return new self(
            Check::number('bitsPerSecond', $bitsPerSecond, 1e6, 1e12, 'bit/s'),
            Check::number('usableShare', $usableShare, 0.1, 1),
            $bitsPerPixel,
            Check::number('refresh', $refresh, 1, 480, 'Hz'),
        );
    }

    /** Pixels that one port carries. */
    public function pixels(): int
    {
        return (int) floor(($this->bitsPerSecond * $this->usableShare) / ($this->bitsPerPixel * $this->refresh) + 1e-9);
    }
}
