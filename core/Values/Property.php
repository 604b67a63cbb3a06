<?php

declare(strict_types=1);

namespace Core\Values;

use Core\Units\Check;

/** What a value is: its name, range, unit and where it rests. */
final readonly class Property
{
    private function __construct(
        public string $name,
        public string $label,
        public float $least,
        public float $most,
        public float $default,
        public string $unit,
    ) {
    }

    /**
     * The values of a layer, by name.
     *
     * @return array<string, self>
     */
    public static function ofLayer(): array
    {
        return [
            'opacity' => new self('opacity', 'Opacity', 0, 1, 1, '%'),
            'x' => new self('x', 'Position X', -65_536, 65_536, 0, 'px'),
            'y' => new self('y', 'Position Y', -65_536, 65_536, 0, 'px'),
        ];
    }

    public function check(float $value): float
    {
        return Check::number($this->name, $value, $this->least, $this->most, $this->unit === 'px' ? 'px' : '');
    }

    /** The nearest value within the range, for live controls that overshoot. */
    public function clamp(float $value): float
    {
        return is_nan($value) ? $this->default : max($this->least, min($this->most, $value));
    }
}
