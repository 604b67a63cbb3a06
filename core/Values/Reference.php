<?php

declare(strict_types=1);

namespace Core\Values;

/**
 * A row that a value names, as a number: 45 bits of chance at the end of its id, which also is how it is written; 0
 * for none. Whole numbers of that size are exact in tracks, in JSON and in every window.
 */
final class Reference
{
    /** Characters of an id that are written, in the alphabet of Crockford's base 32. */
    public const LENGTH = 9;

    private const ALPHABET = '0123456789abcdefghjkmnpqrstvwxyz';

    /** The greatest number. */
    public const MAX = 32 ** self::LENGTH;

    /** @return int|null of an id, or of its last nine characters; null when it is neither */
    public static function number(string $id): ?int
    {
        if (preg_match('/^(?:[0-9a-hjkmnp-tv-z]{17})?([0-9a-hjkmnp-tv-z]{9})$/D', $id, $m) !== 1) {
            return null;
        }
        $number = 0;
        foreach (str_split($m[1]) as $character) {
            $number = 32 * $number + (int) strpos(self::ALPHABET, $character);
        }

        return $number + 1;
    }

    /** The last nine characters of the id; empty for none. */
    public static function written(float $number): string
    {
        $left = (int) round($number) - 1;
        if ($left < 0) {
            return '';
        }
        $text = '';
        for ($i = 0; $i < self::LENGTH; $i++) {
            $text = self::ALPHABET[$left % 32].$text;
            $left = intdiv($left, 32);
        }

        return $text;
    }
}
