<?php

declare(strict_types=1);

namespace Core\Light;

/** How one face is lit: maps over the cells of its lattice, and what they come to. */
final readonly class FaceLight
{
    public const MAPS = ['count', 'lux', 'nits', 'angle', 'across', 'down', 'focus'];

    /**
     * @param  array<string, list<float>>  $maps  by name, row by row from the top; -1 where there is no face, and, but for count, lux and nits, where no light is. count: projectors; lux; nits: cd/m²; angle of incidence in degrees, across and down in pixels per metre and focus (distance along the axis against the focused one, 1 where sharp): of the projector that gives most
     * @param  array{none: float, one: float, more: float, area: float, luxLeast: float, luxMost: float, luxMean: float, nitsMean: float, even: float, angleMean: float, angleMost: float, densityLeast: float, densityMean: float}  $figures  shares of the area; lux over the lit part; even: least over mean
     * @param  array<string, float>  $lumens  that stay on it, by projector
     */
    public function __construct(public string $id, public string $name, public int $columns, public int $rows, public array $maps, public array $figures, public array $lumens)
    {
    }
}
