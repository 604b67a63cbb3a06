<?php

declare(strict_types=1);

namespace Core\Values;

use Core\Units\Check;
use Core\Units\InvalidValue;

/**
 * A value that a kind of thing has: its name, type, range, unit, where it rests and how it is shown, and how exact
 * its track has to be. Within, each is one number for each of its slots, whatever its type; parse() and format()
 * carry it in and out. A kind's room declares its properties once, in a PropertySet; nothing else lists them.
 */
final readonly class Property
{
    /**
     * @param  float  $scale  what is shown is the value times this (100 for per cent)
     * @param  float  $step  of an arrow key, as shown
     * @param  int  $digits  after the point, as shown
     * @param  float  $tolerance  the most that a track may differ from its curve
     * @param  bool  $wide  whether 32-bit numbers are too coarse for its range
     * @param  list<string>  $options  of a choice; of a reference, the kind of row that it names
     * @param  non-empty-list<string>  $slots  the label of each number that it is made of; of one, that of the property
     * @param  bool  $held  whether hands, cues and controls may hold it over its timeline
     */
    private function __construct(
        public string $name,
        public string $label,
        public float $min,
        public float $max,
        public float $default,
        public string $unit,
        public float $scale,
        public float $step,
        public int $digits,
        public float $tolerance,
        public bool $wide,
        public PropertyType $type,
        public array $options,
        public array $slots,
        public bool $held = true,
    ) {
    }

    private static function number(
        string $name,
        string $label,
        float $min,
        float $max,
        float $default,
        string $unit,
        float $scale,
        int $digits,
        float $tolerance,
        bool $wide,
    ): self {
        return new self(
            $name,
            $label,
            $min,
            $max,
            $default,
            $unit,
            $scale,
            1,
            $digits,
            $tolerance,
            $wide,
            PropertyType::Number,
            [],
            [$label],
        );
    }

    /** A share of 0 to 1, shown in per cent; exact to a 16,384th, a quarter of a step of twelve bits. */
    public static function share(string $name, string $label, float $default = 1): self
    {
        return self::number($name, $label, 0, 1, $default, '%', 100, 1, 1 / 16_384, false);
    }

    /** Pixels, exact to a 64th. */
    public static function pixels(string $name, string $label, float $default = 0): self
    {
        return self::number($name, $label, -65_536, 65_536, $default, 'px', 1, 2, 1 / 64, true);
    }

    /** A length in pixels, at least one, exact to a 64th. */
    public static function size(string $name, string $label, float $default): self
    {
        return self::number($name, $label, 1, 65_536, $default, 'px', 1, 2, 1 / 64, true);
    }

    /** Metres, exact to a twentieth of a millimetre. */
    public static function metres(string $name, string $label, float $default = 0): self
    {
        return self::number($name, $label, -1_000, 1_000, $default, 'm', 1, 3, 1 / 20_000, true);
    }

    /** Degrees within a range, as exact as those without one. */
    public static function angle(string $name, string $label, float $min, float $max, float $default): self
    {
        return self::number($name, $label, $min, $max, $default, 'deg', 1, 2, 1 / 2048, true);
    }

    /** A share of something that may also be negative or above one, shown in per cent. */
    public static function portion(string $name, string $label, float $min, float $max, float $default = 0): self
    {
        return self::number($name, $label, $min, $max, $default, '%', 100, 2, 1 / 65_536, true);
    }

    /** Seconds within a range. */
    public static function seconds(string $name, string $label, float $min, float $max, float $default): self
    {
        return self::number($name, $label, $min, $max, $default, 's', 1, 2, 1e-4, true);
    }

    /** A plain number of a formula. */
    public static function coefficient(string $name, string $label, float $min, float $max, float $default = 0): self
    {
        return new self(
            $name,
            $label,
            $min,
            $max,
            $default,
            '',
            1,
            0.01,
            4,
            1e-6,
            true,
            PropertyType::Number,
            [],
            [$label],
        );
    }

    /** How many of something. */
    public static function count(string $name, string $label, int $min, int $max, int $default): self
    {
        return self::number($name, $label, $min, $max, $default, '', 1, 0, 1 / 64, false);
    }

    /** A factor, shown in per cent; exact enough that a side of 16,384 px stays within a quarter of a pixel. */
    public static function factor(string $name, string $label, float $min, float $max, float $default = 1): self
    {
        return self::number($name, $label, $min, $max, $default, '%', 100, 1, 1 / 65_536, true);
    }

    /** Degrees, any number of turns; exact enough that the end of 16,384 px stays within a quarter of a pixel. */
    public static function degrees(string $name, string $label, float $default = 0): self
    {
        return self::number($name, $label, -36_000, 36_000, $default, 'deg', 1, 2, 1 / 2048, true);
    }

    /** Red, green and blue by which a picture is multiplied, each 0 to 4, unity at 100 %. */
    public static function colourGain(string $name, string $label): self
    {
        return new self(
            $name,
            $label,
            0,
            4,
            1,
            '%',
            100,
            1,
            1,
            1 / 4096,
            false,
            PropertyType::Colour,
            [],
            ["$label red", "$label green", "$label blue"],
        );
    }

    /** Red, green and blue, display-encoded, each 0 to 1. */
    public static function colour(string $name, string $label, float $default): self
    {
        return new self(
            $name,
            $label,
            0,
            1,
            $default,
            '%',
            100,
            1,
            1,
            1 / 4096,
            false,
            PropertyType::Colour,
            [],
            ["$label red", "$label green", "$label blue"],
        );
    }

    public static function switch(string $name, string $label, bool $default = false): self
    {
        return new self(
            $name,
            $label,
            0,
            1,
            $default ? 1 : 0,
            '',
            1,
            1,
            0,
            0,
            false,
            PropertyType::Switch,
            [],
            [$label],
        );
    }

    /** @param  non-empty-list<string>  $options  the first is the default; new ones are put at the end */
    public static function choice(string $name, string $label, array $options): self
    {
        return new self(
            $name,
            $label,
            0,
            count($options) - 1,
            0,
            '',
            1,
            1,
            0,
            0,
            false,
            PropertyType::Choice,
            $options,
            [$label],
        );
    }

    /** A row of a kind, or none: where there is none, what is stored elsewhere holds. */
    public static function reference(string $name, string $label, string $kind): self
    {
        return new self(
            $name,
            $label,
            0,
            Reference::MAX,
            0,
            '',
            1,
            1,
            0,
            0,
            true,
            PropertyType::Reference,
            [$kind],
            [$label],
        );
    }

    /**
     * The same, but set on its timeline only: what it does adds up over the time before, so that holding it for a
     * while would leave a trace for good.
     */
    public function onTimelineOnly(): self
    {
        return new self(
            $this->name,
            $this->label,
            $this->min,
            $this->max,
            $this->default,
            $this->unit,
            $this->scale,
            $this->step,
            $this->digits,
            $this->tolerance,
            $this->wide,
            $this->type,
            $this->options,
            $this->slots,
            false,
        );
    }

    /**
     * @throws InvalidValue for one that can't be held
     */
    public function checkHeld(): self
    {
        return $this->held
            ? $this
            : throw InvalidValue::because(
                $this->name,
                "$this->label is set on the timeline only, as a value or by keyframes; it can't be held over it.",
            );
    }

    /** How a keyframe of it leaves for the next, where nothing else is asked for. */
    public function interpolation(): Interpolation
    {
        return $this->type->mixes() ? Interpolation::Linear : Interpolation::Step;
    }

    /**
     * @param  string  $field  as it is named in a refusal
     *
     * @throws InvalidValue for a slot that it does not have
     */
    public function checkSlot(int $slot, string $field = 'slot'): int
    {
        return $slot >= 0 && $slot < count($this->slots)
            ? $slot
            : throw InvalidValue::because(
                $field,
                count($this->slots) === 1
                    ? "$this->label has no slots; write it without one."
                    : "$this->label has slots 0 to ".(count($this->slots) - 1)."; $slot is none.",
            );
    }

    public function check(float $value): float
    {
        return Check::number(
            $this->name,
            $value,
            $this->min,
            $this->max,
            in_array($this->unit, ['px', 'deg', 'm'], true) ? $this->unit : '',
        );
    }

    /**
     * One of its numbers as it comes in: a number within its range, true or false for a switch, a name for a choice,
     * an id (or its last nine characters, or nothing) for a reference.
     *
     * @throws InvalidValue
     */
    public function parse(mixed $given): float
    {
        if ($this->type === PropertyType::Switch) {
            return is_bool($given)
                ? (float) $given
                : throw InvalidValue::because($this->name, "$this->name is true or false.");
        }
        if ($this->type === PropertyType::Choice) {
            $at = is_string($given) ? array_search($given, $this->options, true) : false;

            return $at === false
                ? throw InvalidValue::notOneOf(
                    $this->name,
                    is_scalar($given) ? mb_strimwidth(mb_scrub((string) $given), 0, 40, '…') : gettype($given),
                    $this->options,
                )
                : (float) $at;
        }

        if ($this->type === PropertyType::Reference) {
            $number = $given === '' ? 0 : (is_string($given) ? Reference::number($given) : null);

            return $number === null
                ? throw InvalidValue::because(
                    $this->name,
                    "$this->name is the id of a {$this->options[0]}, its last nine characters, or empty.",
                )
                : (float) $number;
        }

        return is_int($given) || is_float($given)
            ? $this->check((float) $given)
            : throw InvalidValue::notANumber($this->name);
    }

    /** One of its numbers as it goes out; parse() reads it back. */
    public function format(float $value): float|bool|string
    {
        return match ($this->type) {
            PropertyType::Switch => $value >= 0.5,
            PropertyType::Choice => $this->options[(int) round($this->clamp($value))],
            PropertyType::Reference => Reference::written($this->clamp($value)),
            default => $value,
        };
    }

    /**
     * All of it as a row stores it: as parse() takes it, or a list of three numbers for a colour.
     *
     * @return non-empty-list<float> by slot
     *
     * @throws InvalidValue
     */
    public function parseAll(mixed $stored): array
    {
        if ($this->type !== PropertyType::Colour) {
            return [$this->parse($stored)];
        }
        if (! is_array($stored) || ! array_is_list($stored) || count($stored) !== count($this->slots)) {
            throw InvalidValue::because(
                $this->name,
                "$this->name is a list of ".count($this->slots).' numbers: '.implode(', ', $this->slots).'.',
            );
        }

        return array_values(array_map($this->parse(...), $stored));
    }

    /**
     * @param  non-empty-list<float>  $numbers  by slot
     * @return float|bool|string|list<float|bool|string>
     */
    public function formatAll(array $numbers): float|bool|string|array
    {
        return $this->type === PropertyType::Colour
            ? array_map($this->format(...), $numbers)
            : $this->format($numbers[0]);
    }

    /** @return non-empty-list<float> where it rests, by slot */
    public function rest(): array
    {
        return array_map(fn (): float => $this->default, $this->slots);
    }

    /**
     * What a live control says, brought into the range: a number, or what parse() takes.
     *
     * @throws InvalidValue for what is neither
     */
    public function live(mixed $given): float
    {
        return is_int($given) || (is_float($given) && is_finite($given))
            ? $this->clamp((float) $given)
            : $this->parse($given);
    }

    /**
     * A value as it is shown and typed, in its unit: per cent of a share, metres, the name or number of an option.
     *
     * @throws InvalidValue
     */
    public function fromShown(int|float|bool|string $given): float
    {
        return is_string($given) ? $this->parse($given) : $this->live((float) $given / $this->scale);
    }

    /**
     * The value at a place of a fader that goes over the whole range: 0 to 1; of what changes in steps, each takes an
     * equal part of the way.
     */
    public function fromFader(float $place): float
    {
        $place = is_nan($place) ? 0.0 : max(0.0, min(1.0, $place));
        if ($this->type->mixes()) {
            return $this->clamp($this->min + $place * ($this->max - $this->min));
        }

        return $this->clamp($this->min + min($this->max - $this->min, floor($place * ($this->max - $this->min + 1))));
    }

    /**
     * The nearest value within the range, for live controls that overshoot; of what changes in steps, the nearest
     * step.
     */
    public function clamp(float $value): float
    {
        $within = is_nan($value) ? $this->default : max($this->min, min($this->max, $value));

        return $this->type->mixes() ? $within : round($within);
    }
}
