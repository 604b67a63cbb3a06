<?php

declare(strict_types=1);

namespace Core\Venue;

/** What most carriers are: lit by projectors, fed through an output, and as flat as their mesh. */
trait FlatCarrier
{
    public function shines(): bool
    {
        return false;
    }

    public function fixture(): ?FixtureType
    {
        return null;
    }

    public function oversampling(): int
    {
        return 1;
    }

    public function trouble(): ?string
    {
        return null;
    }

    public function shape(): ?\Closure
    {
        return null;
    }

    public function roundness(): ?Round
    {
        return null;
    }

    public function breaks(): array
    {
        return [];
    }
}
