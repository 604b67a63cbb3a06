<?php

declare(strict_types=1);

namespace Core\Values;

use Core\Units\InvalidValue;

/**
 * Where a value is: a property of something, and a slot where there are several of it. As text `layer:01h…/opacity`,
 * with a slot `effect:01h…/amount#2`. Text is parsed where it comes in; inside, an Address is passed on.
 */
final readonly class Address implements \Stringable
{
    private const TEXT = '~^([a-z]{1,24}):([0-9a-z]{1,26})/([a-zA-Z][a-zA-Z0-9]{0,39})(?:#([1-9][0-9]{0,2}))?$~D';

    private function __construct(public string $kind, public string $id, public string $property, public int $slot)
    {
    }

    /** @param  int  $slot  0 where there is only one */
    public static function of(string $kind, string $id, string $property, int $slot = 0): self
    {
        return new self($kind, $id, $property, $slot);
    }

    /** What dims everything that leaves the building. */
    public static function master(): self
    {
        return new self('master', 'show', 'level', 0);
    }

    /** @throws InvalidValue when this is no address */
    public static function parse(string $text): self
    {
        if (preg_match(self::TEXT, $text, $m) !== 1) {
            throw InvalidValue::because(
                'address',
                '"'.mb_strimwidth(mb_scrub($text), 0, 80, '…').'" is no address; write kind:id/property.',
            );
        }

        return new self($m[1], $m[2], $m[3], (int) ($m[4] ?? 0));
    }

    /** Which value of its owner it is: the property, with the slot where it is not the first, as in `gain#1`. */
    public function value(): string
    {
        return self::valueOf($this->property, $this->slot);
    }

    public static function valueOf(string $property, int $slot): string
    {
        return $slot === 0 ? $property : "$property#$slot";
    }

    public function __toString(): string
    {
        return "$this->kind:$this->id/".$this->value();
    }
}
