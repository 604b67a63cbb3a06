<?php

declare(strict_types=1);

namespace Core\Routing;

/** How a content meets the room that it is given: its fitting, and which of its sides stay where. */
final readonly class Fit
{
    /**
     * @param  float  $anchorX  0 keeps the left edges together, 1 the right ones
     * @param  float  $anchorY  0 keeps the top edges together, 1 the bottom ones
     */
    public function __construct(public Fitting $fitting, public float $anchorX = 0.5, public float $anchorY = 0.5)
    {
    }

    public function with(?Fitting $fitting, ?float $anchorX = null, ?float $anchorY = null): self
    {
        return $fitting === null && $anchorX === null && $anchorY === null
            ? $this
            : new self($fitting ?? $this->fitting, $anchorX ?? $this->anchorX, $anchorY ?? $this->anchorY);
    }
}
