<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Units\InvalidValue;

/**
 * What one control channel of a pixel light drives: an emitter of some colour (a white has its colour temperature), a
 * dimmer, a value that is always sent, or nothing. Written as a word each ("red, green, blue, white 5600, fixed 255,
 * unused") or as letters ("RGBW").
 */
final readonly class FixtureChannel
{
    public const EMITTERS = ['red', 'green', 'blue', 'white', 'amber', 'lime', 'uv'];

    public const KINDS = [...self::EMITTERS, 'dimmer', 'fixed', 'unused'];

    private const LETTERS = [
        'R' => 'red',
        'G' => 'green',
        'B' => 'blue',
        'W' => 'white',
        'A' => 'amber',
        'L' => 'lime',
        'U' => 'uv',
        'D' => 'dimmer',
        '-' => 'unused',
    ];

    /** Colour temperature of a white that says none, in kelvin. */
    public const KELVIN = 6500;

    /**
     * @param  int  $kelvin  of a white; 0 of any other
     * @param  int  $value  that is always sent, 0 to 255
     */
    private function __construct(public string $kind, public int $kelvin = 0, public int $value = 0)
    {
    }

    public function isUnused(): bool
    {
        return $this->kind === 'unused';
    }

    public function __toString(): string
    {
        return match ($this->kind) {
            'white' => "white $this->kelvin",
            'fixed' => "fixed $this->value",
            default => $this->kind,
        };
    }

    /**
     * @return list<self> in the order in which they are sent
     *
     * @throws InvalidValue naming the field
     */
    public static function list(string $field, string $text, int $most): array
    {
        $text = trim($text);
        if ($text === '') {
            return [];
        }
        $words =
            preg_match('/^[RGBWALUD-]+$/Di', $text) === 1
                ? array_map(static fn (string $letter): string => self::LETTERS[$letter], str_split(strtoupper($text)))
                : array_map(trim(...), explode(',', mb_strtolower($text)));
        if (count($words) > $most) {
            throw InvalidValue::because($field, "There are at most $most channels; there were ".count($words).'.');
        }

        return array_map(static fn (string $word): self => self::of($field, $word), $words);
    }

    private static function of(string $field, string $word): self
    {
        if (preg_match('/^(white|fixed)(?:\s+(\d{1,6})\s*k?)?$/D', $word, $found) === 1) {
            $number = isset($found[2]) ? (int) $found[2] : null;
            if ($found[1] === 'white') {
                return $number === null || ($number >= 1000 && $number <= 20_000)
                    ? new self('white', $number ?? self::KELVIN)
                    : throw InvalidValue::because($field, "A white has 1,000 to 20,000 K, not $number.");
            }

            return $number !== null && $number <= 255
                ? new self('fixed', 0, $number)
                : throw InvalidValue::because($field, 'What is always sent is a value of 0 to 255, as in "fixed 255".');
        }

        return in_array($word, self::KINDS, true)
            ? new self($word)
            : throw InvalidValue::because(
                $field,
                "\"$word\" is no channel: there are ".implode(', ', self::KINDS).'; or letters as in RGBW.',
            );
    }
}
