<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\ResultCache;
use Core\Show\Show;
use Core\Venue\WallSheet;

/** What is said of the circuits, ports and joints of walls. */
final readonly class WallFeeding implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        foreach ($show->venue->surfaces as $id => $surface) {
            $wall = $surface->wall();
            $remarks =
                $wall === null
                    ? []
                    : $cache->get(
                        "wall $id",
                        [$surface],
                        static fn (): array => WallSheet::of($wall, $surface->feeding)->remarks,
                    );
            foreach ($remarks as $remark) {
                yield Finding::attention('venue', 'surface', $id, "$surface->name: $remark");
            }
        }
    }
}
