<?php

declare(strict_types=1);

namespace Core\Units;

/** Guards shared by the value objects. Each returns what it was given, or throws InvalidValue naming the field. */
final class Check
{
    /** The longest side of an output or a raster that a pixel size may have. */
    public const MAX_PIXELS = 16384;

    public static function number(string $field, float $value, float $min, float $max, string $unit = ''): float
    {
        if (! is_finite($value)) {
            throw InvalidValue::notANumber($field);
        }
        if ($value < $min || $value > $max) {
            throw InvalidValue::outside($field, $value, $min, $max, $unit);
        }

        return $value;
    }

    public static function whole(string $field, int $value, int $min, int $max, string $unit = ''): int
    {
        if ($value < $min || $value > $max) {
            throw InvalidValue::outside($field, $value, $min, $max, $unit);
        }

        return $value;
    }

    public static function pixels(string $field, int $value): int
    {
        return self::whole($field, $value, 1, self::MAX_PIXELS, 'px');
    }

    /** @param  list<string>  $allowed */
    public static function oneOf(string $field, string $value, array $allowed): string
    {
        return in_array($value, $allowed, true) ? $value : throw InvalidValue::notOneOf($field, $value, $allowed);
    }

    public static function name(string $field, string $value): string
    {
        if (trim($value) === '') {
            throw InvalidValue::because($field, "$field must not be empty.");
        }
        if (mb_strlen($value) > 200) {
            throw InvalidValue::because($field, "$field must not be longer than 200 characters.");
        }

        return $value;
    }

    /**
     * The case of an enumeration that a text names.
     *
     * @template T of \BackedEnum
     *
     * @param  class-string<T>  $enum
     * @return T
     *
     * @throws InvalidValue with all that there are
     */
    public static function choice(string $enum, string $field, string $value): \BackedEnum
    {
        return $enum::tryFrom($value) ??
            throw InvalidValue::notOneOf($field, $value, array_map(strval(...), array_column($enum::cases(), 'value')));
    }
}
