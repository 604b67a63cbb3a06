<?php

declare(strict_types=1);

namespace Core\Effects;

use Core\Values\Address;

/** An effect as it is at one moment. */
final readonly class EffectPass
{
    /**
     * @param  float  $mix  how much of it there is over what it was made of, 0 to 1
     * @param  array<string, float>  $values  by name and slot, as in an address ("front#1")
     * @param  float  $time  seconds of its timeline
     */
    private function __construct(public Effect $effect, public float $mix, public array $values, public float $time)
    {
    }

    /**
     * @param  \Closure(string): float  $value  by name and slot
     * @param  float  $time  seconds of its timeline
     * @return self|null null where it changes nothing: none is chosen, it is off, or none of it is mixed in
     */
    public static function of(\Closure $value, float $time): ?self
    {
        $effect = Effect::numbered($value('effect'));
        if ($effect === null || $value('on') < 0.5) {
            return null;
        }
        $mix = $value('mix');
        $values = [];
        foreach ($mix > 0 ? $effect->numbers() : [] as [$property, $slot]) {
            $name = Address::valueOf($property->name, $slot);
            $values[$name] = $value($name);
        }

        return $mix > 0 ? new self($effect, $mix, $values, isset($values['speed']) ? $time : 0.0) : null;
    }

    /** The same for all that look the same. */
    public function key(): string
    {
        return $this->effect->value.pack('e*', $this->mix, $this->time, ...array_values($this->values));
    }

    /** Turns, or times, since the beginning of its timeline, without the whole ones. */
    public function phase(float $by = 1): float
    {
        $turns = $this->time * $this->values['speed'] * $by;

        return $turns - floor($turns);
    }

    public function angle(): float
    {
        return deg2rad(fmod($this->values['angle'], 360));
    }

    /** @return array{float, float, float} */
    public function colour(string $name): array
    {
        return [$this->values[$name], $this->values["$name#1"], $this->values["$name#2"]];
    }
}
