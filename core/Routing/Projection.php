<?php

declare(strict_types=1);

namespace Core\Routing;

/** Carries places in the venue to the pane, and says how strongly the pane reaches them. */
interface Projection
{
    /**
     * @param  float  $x  metres, in the venue
     * @return array{float, float, float}|null pane pixels across and down, and the weight, 0 to 1; null where the
     *     pane is not before the place at all
     */
    public function at(float $x, float $y, float $z): ?array;

    /** Pane pixels of a whole turn, where the pane goes round; 0 where it does not. */
    public function around(): float;

    /**
     * @return array{float, float, float}|null the place, in the venue, from which what stands in the way hides what
     *     is behind it; null where nothing does
     */
    public function hiddenFrom(): ?array;

    /** Whether a front that faces along a normal is lit at a place. */
    public function lights(float $x, float $y, float $z, float $nx, float $ny, float $nz): bool;
}
