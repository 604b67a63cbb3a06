<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Units\Check;
use Core\Units\InvalidValue;

/** The free-form settings of a row, read with their usual value and their limits. */
final readonly class Settings
{
    /** @param  array<string, mixed>  $values */
    public function __construct(private array $values)
    {
    }

    public function number(string $name, float $usual, float $min, float $max, string $unit = ''): float
    {
        $value = $this->values[$name] ?? $usual;

        return Check::number(
            $name,
            is_int($value) || is_float($value) ? (float) $value : throw InvalidValue::notANumber($name),
            $min,
            $max,
            $unit,
        );
    }

    public function whole(string $name, int $usual, int $min, int $max, string $unit = ''): int
    {
        return (int) round($this->number($name, $usual, $min, $max, $unit));
    }

    public function text(string $name, string $usual = ''): string
    {
        $value = $this->values[$name] ?? $usual;

        return is_string($value) ? $value : throw InvalidValue::because($name, "$name has to be text.");
    }

    /** @param  non-empty-list<string>  $allowed the first is the usual one */
    public function choice(string $name, array $allowed): string
    {
        $value = $this->text($name, $allowed[0]);

        return in_array($value, $allowed, true) ? $value : throw InvalidValue::notOneOf($name, $value, $allowed);
    }

    public function flag(string $name, bool $usual = false): bool
    {
        return (bool) ($this->values[$name] ?? $usual);
    }
}
