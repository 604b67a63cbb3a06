<?php

declare(strict_types=1);

namespace Core\Units;

/** What is wrong with typed arithmetic, and at which character (counted from 0). */
final class ArithmeticError extends \DomainException
{
    private function __construct(public readonly int $at, string $sentence)
    {
        parent::__construct($sentence);
    }

    public static function at(int $at, string $sentence): self
    {
        return new self($at, $sentence);
    }
}
