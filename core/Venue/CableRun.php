<?php

declare(strict_types=1);

namespace Core\Venue;

/**
 * One cable from panel to panel: its number from 1, its cells in order, what they load it with against what it bears,
 * and its metres from the middle of the first panel to that of the last.
 */
final readonly class CableRun
{
    /** @param  non-empty-list<array{int, int}>  $cells row and column */
    public function __construct(
        public int $number,
        public array $cells,
        public float $load,
        public float $limit,
        public float $metres = 0.0,
    ) {
    }

    public function share(): float
    {
        return $this->load / $this->limit;
    }
}
