<?php

declare(strict_types=1);

namespace Core\Units;

/** What is wrong with typed arithmetic, and at which character (counted from 0). */
final class ArithmeticError extends \DomainException
{
    private function __construct(public readonly int $at, string $message)
    {
        parent::__construct($message);
    }

    public static function at(int $at, string $message): self
    {
        return new self($at, $message);
    }
}
