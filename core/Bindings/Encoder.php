<?php

declare(strict_types=1);

namespace Core\Bindings;

/** What a control says of its way: where it stands, or by how many clicks it was turned. */
enum Encoder: string
{
    case Absolute = 'absolute';
    /** 1, 2, … forward; 127, 126, … backward. */
    case TwosComplement = 'twos';
    /** 65, 66, … forward; 63, 62, … backward. */
    case Offset = 'offset';
    /** 1, 2, … forward; 65, 66, … backward. */
    case SignBit = 'sign';

    /** Clicks that a number of 0 to 127 says, forward positive. */
    public function clicks(float $raw): int
    {
        $raw = (int) max(0, min(127, $raw));

        return match ($this) {
            self::Absolute => 0,
            self::TwosComplement => $raw < 64 ? $raw : $raw - 128,
            self::Offset => $raw - 64,
            self::SignBit => $raw < 64 ? $raw : 64 - $raw,
        };
    }
}
