<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\Projections;
use Core\Show\ResultCache;
use Core\Show\Show;
use Core\Units\InvalidValue;

/** Regions whose warp was computed from a venue that is another now. */
final readonly class WarpOutOfDate implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        foreach ($show->delivery->regions as $outputId => $regions) {
            foreach ($regions as $id => $region) {
                // One that came from elsewhere is of nothing that is known here.
                if ($region->model === '' || $region->modelOf === '') {
                    continue;
                }
                [$of, $level, $limit] = [...explode(' ', $region->modelOf), '', '', ''];
                $now = $cache->get(
                    "warp $region->surface $level $limit",
                    [$show->venue, $show->delivery],
                    static function () use ($show, $region, $level, $limit): string {
                        try {
                            return Projections::of($show, $region->surface)->key($level === '1', (float) $limit);
                        } catch (InvalidValue) {
                            return '';
                        }
                    },
                );
                if ($now !== $of) {
                    $name = $show->venue->surfaces[$region->surface]->name;
                    yield Finding::attention(
                        'outputs',
                        'region',
                        (string) $id,
                        "The warp of $name on {$show->delivery->outputs[$outputId]->name} was computed before something of the venue, the projectors or the region was changed: compute it again.",
                    );
                }
            }
        }
    }
}
