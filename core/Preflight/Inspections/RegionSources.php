<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Output\Rect;
use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\ResultCache;
use Core\Show\Show;

/** Regions that take pixels which their surface does not have. */
final readonly class RegionSources implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        foreach ($show->delivery->outputs as $outputId => $output) {
            foreach ($show->delivery->regions[$outputId] as $id => $region) {
                $surface = $show->venue->surfaces[$region->surface];
                if (
                    $surface->width() > 0 &&
                    $surface->height() > 0 &&
                    ! Rect::of(0, 0, $surface->width(), $surface->height())->contains($region->source)
                ) {
                    yield Finding::attention(
                        'outputs',
                        'region',
                        (string) $id,
                        "A region of $output->name takes pixels that $surface->name ({$surface->width()} × {$surface->height()} px) does not have.",
                    );
                }
            }
        }
    }
}
