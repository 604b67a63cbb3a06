<?php

declare(strict_types=1);

namespace Core\Bindings;

use Core\Cues\CueNumber;
use Core\Units\Flicks;

/** What an argument of a command is: as JSON from windows, and as people and controls give it. */
enum ArgumentType: string
{
    /** A moment or a length: flicks in JSON, seconds outside. */
    case Time = 'time';
    case Number = 'number';
    case Whole = 'whole';
    case Switch = 'switch';
    case Text = 'text';
    /** A cue by its id, number or name: text in JSON, a number outside, too. */
    case Cue = 'cue';
    /** A short text that may be written as a whole number. */
    case Code = 'code';
    case List = 'list';
    case Object = 'object';

    /** Whether a value of JSON has this type. */
    public function fits(mixed $value): bool
    {
        return match ($this) {
            self::Text, self::Cue, self::Code => is_string($value),
            self::Time, self::Number => is_int($value) || is_float($value),
            self::Whole => is_int($value),
            self::Switch => is_bool($value),
            self::List => is_array($value) && array_is_list($value),
            // An empty object and an empty list are read alike.
            self::Object => is_array($value) && ($value === [] || ! array_is_list($value)),
        };
    }

    /** What it is called in a message: with an article, of JSON. */
    public function named(): string
    {
        return match ($this) {
            self::Whole => 'a whole number',
            self::Switch => 'a switch (true or false)',
            self::Time => 'a number (of flicks)',
            self::Object => 'an object',
            self::Cue => 'a text (id, number or name of a cue)',
            self::Code => 'a text',
            default => "a $this->value",
        };
    }

    /** What it is called where it is written by hand. */
    public function outside(): string
    {
        return match ($this) {
            self::Time => 'seconds',
            self::Switch => '1 or 0',
            self::Cue => 'number or name of a cue',
            self::Code => 'text or whole number',
            default => $this->value,
        };
    }

    /** Whether a control can send it. */
    public function isOutside(): bool
    {
        return $this !== self::List && $this !== self::Object;
    }

    /**
     * What a control sends, as JSON from a window would be; null where it is no such thing.
     */
    public function read(int|float|string|bool|null $given): int|float|string|bool|null
    {
        $number = (is_int($given) || is_float($given)) && is_finite((float) $given) ? $given : null;

        return match ($this) {
            self::Text => is_string($given) ? $given : null,
            self::Code => is_string($given)
                ? $given
                : ($number !== null && $number >= 0 && (float) $number === floor((float) $number) && $number < 1e6
                    ? (string) (int) $number
                    : null),
            self::Cue => is_string($given)
                ? $given
                : ($number === null || $number < 0 || $number > 1e9
                    ? null
                    : CueNumber::written(round((float) $number, 6))),
            self::Time => $number === null || abs($number) > Flicks::MAX / Flicks::PER_SECOND
                ? null
                : Flicks::fromSeconds((float) $number),
            self::Number => $number,
            self::Whole => $number !== null && (float) $number === floor((float) $number) ? (int) $number : null,
            self::Switch => is_bool($given) ? $given : ($number === null ? null : $number >= 0.5),
            default => null,
        };
    }
}
