<?php

declare(strict_types=1);

namespace Core\Media;

/** Numbers that look like chance and are always the same, by whole numbers of 32 bits, as shaders have them. */
final class Chance
{
    /** A number of 0 to 1 (1 is not reached) for three numbers and a seed. */
    public static function of(int $x, int $y, int $z, int $seed): float
    {
        $n =
            (self::times($x & 0xFFFFFFFF, 374_761_393) +
                self::times($y & 0xFFFFFFFF, 668_265_263) +
                self::times($z & 0xFFFFFFFF, 2_246_822_519) +
                self::times($seed & 0xFFFFFFFF, 3_266_489_917)) &
            0xFFFFFFFF;
        $n = self::times($n ^ ($n >> 13), 1_274_126_177);
        $n = self::times($n ^ ($n >> 15), 2_246_822_519);

        return (($n ^ ($n >> 16)) >> 8) / 16_777_216;
    }

    /** The lower 32 bits of a product. */
    private static function times(int $a, int $b): int
    {
        return (($a & 0xFFFF) * $b + (((($a >> 16) * $b) & 0xFFFF) << 16)) & 0xFFFFFFFF;
    }
}
