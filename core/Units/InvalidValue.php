<?php

declare(strict_types=1);

namespace Core\Units;

/** A value that is not physical or not allowed: which field, what is wrong with it, and the limit. */
final class InvalidValue extends \DomainException
{
    private function __construct(public readonly string $field, string $message)
    {
        parent::__construct($message);
    }

    public static function because(string $field, string $message): self
    {
        return new self($field, $message);
    }

    public static function notANumber(string $field): self
    {
        return new self($field, "$field must be a finite number.");
    }

    public static function outside(
        string $field,
        float|int $given,
        float|int $min,
        float|int $max,
        string $unit = '',
    ): self {
        $unit = $unit === '' ? '' : " $unit";

        return new self($field, "$field must be between $min and $max$unit; it was $given.");
    }

    /** @param  list<string>  $allowed */
    public static function notOneOf(string $field, string $given, array $allowed): self
    {
        return new self($field, "$field must be one of ".implode(', ', $allowed)."; it was \"$given\".");
    }

    /** The same refusal, told of a field further up ("cells" becomes "wall.cells"). */
    public function within(string $parent): self
    {
        return new self("$parent.$this->field", $this->getMessage());
    }
}
