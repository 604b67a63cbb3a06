<?php

declare(strict_types=1);

namespace Core\Protocol;

/** A packet that can't be understood, and why. */
final class Malformed extends \UnexpectedValueException
{
    public static function because(string $reason): self
    {
        return new self("The packet is malformed: $reason.");
    }
}
