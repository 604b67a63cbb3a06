<?php

declare(strict_types=1);

namespace Core\Routing;

use Core\Values\PropertySet;

/** What of a route has values of its own: the route itself, a share or a lens. */
final readonly class ReachPart
{
    /**
     * @param  string  $kind  of its row
     * @param  array<string, non-empty-list<float>>  $stored  by property
     * @param  bool  $posed  whether it stands somewhere in the venue
     * @param  string|null  $rig  that carries it
     */
    public function __construct(
        public string $kind,
        public string $id,
        public string $name,
        public array $stored,
        public bool $posed = false,
        public ?string $rig = null,
    ) {
    }

    /**
     * @param  PropertySet  $properties  of its kind
     * @return \Closure(string): float its stored values, by name
     */
    public function value(PropertySet $properties): \Closure
    {
        return fn (string $name): float => (float) ($this->stored[$name][0] ?? $properties->named($name)->default);
    }
}
