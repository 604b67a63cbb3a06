<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Units\Check;
use Core\Units\InvalidValue;

/** A machine that outputs leave. */
final readonly class Server
{
    public const ROLES = ['main', 'backup', 'desk'];

    private function __construct(public string $name, public string $role)
    {
    }

    public static function of(string $name, string $role): self
    {
        return new self(
            Check::name('name', $name),
            in_array($role, self::ROLES, true) ? $role : throw InvalidValue::notOneOf('role', $role, self::ROLES),
        );
    }
}
