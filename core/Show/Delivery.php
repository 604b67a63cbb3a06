<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Output\Output;
use Core\Output\Region;

/** Which pixels leave through which connector. */
final readonly class Delivery
{
    public const KINDS = ['output', 'region'];

    /**
     * @param  array<string, Output>  $outputs
     * @param  array<string, array<string, Region>>  $regions  by output, then by id, in drawing order
     * @param  list<Broken>  $broken
     */
    private function __construct(public array $outputs, public array $regions, public array $broken)
    {
    }

    /**
     * @param  array<string, Output>  $outputs
     * @param  array<string, Region>  $regions
     * @param  array<string, string>  $of  output of each region
     */
    public static function of(array $outputs, array $regions, array $of, Venue $venue): self
    {
        [$sorted, $broken] = [array_fill_keys(array_keys($outputs), []), []];
        foreach ($regions as $id => $region) {
            if (! isset($outputs[$of[$id]])) {
                $broken[] = new Broken('region', $id, 'The output of this region was removed.');
            } elseif (! isset($venue->surfaces[$region->surface])) {
                $broken[] = new Broken('region', $id, 'The surface of this region was removed.');
            } else {
                $sorted[$of[$id]][$id] = $region;
            }
        }

        return new self($outputs, $sorted, $broken);
    }
}
