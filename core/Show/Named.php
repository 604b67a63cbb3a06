<?php

declare(strict_types=1);

namespace Core\Show;

/** What is no more than its name and its place: a rig, a seat. */
final readonly class Named
{
    public function __construct(public string $name)
    {
    }
}
