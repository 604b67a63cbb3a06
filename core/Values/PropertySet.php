<?php

declare(strict_types=1);

namespace Core\Values;

use Core\Units\InvalidValue;

/** The values that a kind has, by name, in the order in which they are shown. */
final readonly class PropertySet
{
    /** @param  array<string, Property>  $properties */
    private function __construct(private string $kind, public array $properties)
    {
    }

    public static function of(string $kind, Property ...$properties): self
    {
        return new self($kind, array_column($properties, null, 'name'));
    }

    public static function none(): self
    {
        return new self('', []);
    }

    /** The whole output of a show: one level. */
    public static function ofMaster(): self
    {
        return self::of('master', Property::share('level', 'Master'));
    }

    /** @throws InvalidValue for a name that is not in the set */
    public function named(string $name): Property
    {
        return $this->properties[$name] ??
            throw InvalidValue::notOneOf('property', $name, array_keys($this->properties));
    }

    public function has(string $name): bool
    {
        return isset($this->properties[$name]);
    }

    /**
     * The values that are stored, checked; what is not stored rests at its default.
     *
     * @param  array<array-key, mixed>  $stored  by name
     * @return array<string, non-empty-list<float>> the numbers of those that are stored, by slot
     *
     * @throws InvalidValue for an unknown name, or a value out of its range
     */
    public function check(array $stored): array
    {
        $good = [];
        foreach ($stored as $name => $value) {
            $property =
                $this->properties[$name] ??
                throw InvalidValue::because(
                    "values.$name",
                    "A $this->kind has no value \"$name\"".
                        ($this->properties === []
                            ? '.'
                            : '; it has '.implode(', ', array_keys($this->properties)).'.'),
                );
            try {
                $good[$property->name] = $property->parseAll($value);
            } catch (InvalidValue $refused) {
                throw $refused->within('values');
            }
        }

        return $good;
    }
}
