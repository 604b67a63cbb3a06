<?php

declare(strict_types=1);

namespace Core\Values;

use Core\Units\Check;

/**
 * A value that a kind of thing has: its name, range, unit, where it rests and how it is shown, and how exact its track has
 * to be. A kind's room declares its properties once, in a PropertySet; nothing else lists them.
 */
final readonly class Property
{
    /**
     * @param  float  $scale  what is shown is the value times this (100 for per cent)
     * @param  float  $step  of an arrow key, as shown
     * @param  int  $digits  after the point, as shown
     * @param  float  $tolerance  the most that a track may differ from its curve
     * @param  bool  $wide  whether 32-bit numbers are too coarse for its range
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
    ) {
    }

    /** A share of 0 to 1, shown in per cent; exact to half a step of ten bits. */
    public static function share(string $name, string $label, float $default = 1): self
    {
        return new self($name, $label, 0, 1, $default, '%', 100, 1, 1, 1 / 2048, false);
    }

    /** Pixels, exact to a 64th. */
    public static function pixels(string $name, string $label, float $default = 0): self
    {
        return new self($name, $label, -65_536, 65_536, $default, 'px', 1, 1, 2, 1 / 64, true);
    }

    /** A factor, shown in per cent; exact enough that a side of 16,384 px stays within a quarter of a pixel. */
    public static function factor(string $name, string $label, float $min, float $max, float $default = 1): self
    {
        return new self($name, $label, $min, $max, $default, '%', 100, 1, 1, 1 / 65_536, true);
    }

    /** Degrees, any number of turns; exact enough that the end of 16,384 px stays within a quarter of a pixel. */
    public static function degrees(string $name, string $label, float $default = 0): self
    {
        return new self($name, $label, -36_000, 36_000, $default, 'deg', 1, 1, 2, 1 / 2048, true);
    }

    public function check(float $value): float
    {
        return Check::number($this->name, $value, $this->min, $this->max, in_array($this->unit, ['px', 'deg'], true) ? $this->unit : '');
    }

    /** The nearest value within the range, for live controls that overshoot. */
    public function clamp(float $value): float
    {
        return is_nan($value) ? $this->default : max($this->min, min($this->max, $value));
    }
}
