<?php

declare(strict_types=1);

namespace Core\Bindings;

/** One argument of a command. */
final readonly class Argument
{
    /**
     * @param  string  $name  its field in JSON
     * @param  string  $says  what it is, in few words
     * @param  string|null  $insteadOf  the argument whose place it takes
     */
    private function __construct(
        public string $name,
        public ArgumentType $type,
        public string $says,
        public bool $required,
        public ?string $insteadOf,
    ) {
    }

    public static function required(string $name, ArgumentType $type, string $says): self
    {
        return new self($name, $type, $says, true, null);
    }

    public static function optional(string $name, ArgumentType $type, string $says): self
    {
        return new self($name, $type, $says, false, null);
    }

    /** Given in place of another one. */
    public function insteadOf(string $name): self
    {
        return new self($this->name, $this->type, $this->says, false, $name);
    }
}
