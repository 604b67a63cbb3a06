<?php

declare(strict_types=1);

namespace Core\PixelMap;

use Core\Units\InvalidValue;

/**
 * How protocols count universes. Ours count from 1, as sACN does; Art-Net's port-address is one less, and is written
 * as net, sub-net and universe of 7, 4 and 4 bits; in a DDP device universe u begins at byte 512 (u − 1);
 * a serial interface is one universe.
 */
final class Universes
{
    public const PROTOCOLS = ['artnet', 'sacn', 'ddp', 'serial'];

    /** The last of sACN; Art-Net ends at 32,768 of ours, DDP at 8,388,608. */
    public const LAST = 63_999;

    /** Protocols as people call them. */
    public const NAMES = ['artnet' => 'Art-Net', 'sacn' => 'sACN', 'ddp' => 'DDP', 'serial' => 'Serial DMX'];

    public static function last(string $protocol): int
    {
        return match ($protocol) {
            'artnet' => 32_768,
            // A serial interface has one line.
            'serial' => 1,
            default => self::LAST,
        };
    }

    /** What people call the first of a protocol: Art-Net counts from 0, DDP has bytes and is counted as ours. */
    public static function first(string $protocol): int
    {
        return $protocol === 'artnet' ? 0 : 1;
    }

    /** The number by which a protocol calls it. */
    public static function number(string $protocol, int $universe): int
    {
        return match ($protocol) {
            'artnet' => $universe - 1,
            'ddp' => 512 * ($universe - 1),
            'sacn', 'serial' => $universe,
            default => throw InvalidValue::notOneOf('protocol', $protocol, self::PROTOCOLS),
        };
    }

    /** As a person reads it, with its mapping stated. */
    public static function inWords(string $protocol, int $universe): string
    {
        $n = self::number($protocol, $universe);

        return match ($protocol) {
            'artnet' => sprintf('Art-Net %d (%d:%d:%d)', $n, $n >> 8, ($n >> 4) & 15, $n & 15),
            'ddp' => "DDP byte $n",
            'serial' => "Serial DMX $n",
            default => "sACN $n",
        };
    }
}
