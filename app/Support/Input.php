<?php

declare(strict_types=1);

namespace App\Support;

use Core\Units\Check;
use Core\Units\InvalidValue;
use Illuminate\Http\Request;

/** Reads fields of a body or an address, each of one type; what is of another is refused by name. */
final readonly class Input
{
    /** @param  array<array-key, mixed>  $fields */
    private function __construct(private array $fields)
    {
    }

    /** The members of the JSON body. */
    public static function body(Request $request): self
    {
        return new self($request->json()->all());
    }

    /** Query string parameters. */
    public static function query(Request $request): self
    {
        return new self($request->query->all());
    }

    /** @param  array<array-key, mixed>  $fields */
    public static function of(array $fields): self
    {
        return new self($fields);
    }

    public function has(string $name): bool
    {
        return isset($this->fields[$name]);
    }

    public function text(string $name, ?string $default = null): string
    {
        $value = $this->fields[$name] ?? $default;
        if (! is_string($value)) {
            throw Problem::refused($name, $value === null ? "$name is missing." : "$name has to be text.");
        }

        return $value;
    }

    /**
     * Bytes that are written as base64.
     *
     * @param  int  $max  how many
     * @param  string  $what  as a message begins, "The file"
     */
    public function bytes(string $name, int $max, string $what): string
    {
        $bytes = base64_decode($this->text($name), true);

        return $bytes !== false && $bytes !== '' && strlen($bytes) <= $max
            ? $bytes
            : throw Problem::refused($name, "$what has to be base64 of 1 byte to ".($max >> 20).' MB.');
    }

    public function number(string $name, ?float $default = null): float
    {
        $value = $this->fields[$name] ?? $default;
        if ((! is_int($value) && ! is_float($value)) || ! is_finite((float) $value)) {
            throw InvalidValue::notANumber($name);
        }

        return (float) $value;
    }

    /** A value of something: a number, true or false, or a name. */
    public function scalar(string $name): int|float|bool|string
    {
        $value = $this->fields[$name] ?? null;

        return is_scalar($value) && (! is_float($value) || is_finite($value))
            ? $value
            : throw Problem::refused($name, "$name has to be a number, true or false, or a name.");
    }

    public function whole(string $name, int $min, int $max, ?int $default = null): int
    {
        $value = $this->fields[$name] ?? $default;
        if (is_float($value) && floor($value) === $value && abs($value) < 9e15) {
            $value = (int) $value;
        }
        if (is_int($value) && $value >= $min && $value <= $max) {
            return $value;
        }
        throw Problem::refused(
            $name,
            "$name has to be a whole number between ".number_format($min).' and '.number_format($max).'.',
        );
    }

    /** A whole number that is written in an address. */
    public function digits(string $name, int $max = PHP_INT_MAX, ?int $default = null): int
    {
        $text = $this->fields[$name] ?? ($default === null ? null : (string) $default);
        if (! is_string($text) || preg_match('/^\d{1,18}$/', $text) !== 1 || (int) $text > $max) {
            throw Problem::refused(
                $name,
                "$name has to be a whole number".
                    ($max === PHP_INT_MAX ? '.' : ' of at most '.number_format($max).'.'),
            );
        }

        return (int) $text;
    }

    public function flag(string $name, bool $default = false): bool
    {
        $value = $this->fields[$name] ?? $default;

        return is_bool($value) ? $value : throw Problem::refused($name, "$name has to be true or false.");
    }

    /** @return list<string> */
    public function texts(string $name, int $max): array
    {
        $list = $this->fields[$name] ?? null;
        if (
            ! is_array($list) ||
            ! array_is_list($list) ||
            count($list) > $max ||
            array_filter($list, is_string(...)) !== $list
        ) {
            throw Problem::refused($name, "$name has to be a list of at most ".number_format($max).' texts.');
        }

        return $list;
    }

    /** @return list<float> */
    public function numbers(string $name, int $max): array
    {
        $list = $this->fields[$name] ?? null;
        $isNumber = static fn (mixed $one): bool => is_int($one) || (is_float($one) && is_finite($one));
        if (
            ! is_array($list) ||
            ! array_is_list($list) ||
            count($list) > $max ||
            array_filter($list, $isNumber) !== $list
        ) {
            throw Problem::refused($name, "$name has to be a list of at most ".number_format($max).' numbers.');
        }

        return array_map(floatval(...), $list);
    }

    /**
     * Three numbers in metres.
     *
     * @return array{float, float, float}
     */
    public function vector(string $name, float $max): array
    {
        $v = $this->fields[$name] ?? null;
        if (! is_array($v) || ! array_is_list($v) || count($v) !== 3) {
            throw Problem::refused($name, "$name has to be three numbers, in metres.");
        }
        $at = self::of($v);

        return array_map(
            static function (int $i) use ($at, $name, $max): float {
                try {
                    return Check::number((string) $i, $at->number((string) $i), -$max, $max, 'm');
                } catch (InvalidValue $refused) {
                    throw $refused->within($name);
                }
            },
            [0, 1, 2],
        );
    }

    /** @return array<array-key, mixed> */
    public function object(string $name): array
    {
        $value = $this->fields[$name] ?? null;

        return is_array($value) ? $value : throw Problem::refused($name, "$name has to be an object.");
    }
}
