<?php

declare(strict_types=1);

namespace Core\Light;

/**
 * The lattice of a face without its places: how many cells there are, and the square metres of those that have
 * surface.
 */
final readonly class FaceCells
{
    /** @param  array<int, float>  $areas  by cell (row · columns + column) */
    public function __construct(public int $columns, public int $rows, public array $areas)
    {
    }
}
