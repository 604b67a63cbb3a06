<?php

declare(strict_types=1);

namespace Core\Units;

/** Guards shared by the value objects. Each returns what it was given, or throws Refused naming the field. */
final class Check
{
    /** The longest side of an output or a raster that a pixel size may have. */
    public const MOST_PIXELS = 16384;

    public static function number(string $field, float $value, float $least, float $most, string $unit = ''): float
    {
        if (! is_finite($value)) {
            throw Refused::notANumber($field);
        }
        if ($value < $least || $value > $most) {
            throw Refused::outside($field, $value, $least, $most, $unit);
        }

        return $value;
    }

    public static function whole(string $field, int $value, int $least, int $most, string $unit = ''): int
    {
        if ($value < $least || $value > $most) {
            throw Refused::outside($field, $value, $least, $most, $unit);
        }

        return $value;
    }

    public static function pixels(string $field, int $value): int
    {
        return self::whole($field, $value, 1, self::MOST_PIXELS, 'px');
    }

    public static function name(string $field, string $value): string
    {
        if (trim($value) === '') {
            throw Refused::because($field, "$field must not be empty.");
        }
        if (mb_strlen($value) > 200) {
            throw Refused::because($field, "$field must not be longer than 200 characters.");
        }

        return $value;
    }
}
