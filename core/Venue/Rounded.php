<?php

declare(strict_types=1);

namespace Core\Venue;

/** A carrier that knows its true shape, which its flat triangles only come near. */
interface Rounded
{
    /**
     * @return (\Closure(float, float): ?array{float, float, float})|null where a place of the raster (0 to 1, from
     *     the top left) is in its own place, in metres; null where it has nothing there. Null for one that is as flat
     *     as its mesh
     */
    public function shape(): ?\Closure;

    /** Its true shape in a form that can be interpolated; null for one that is as flat as its mesh. */
    public function roundness(): ?Round;

    /** @return list<float> v at which the shape jumps, from the top */
    public function breaks(): array;
}
