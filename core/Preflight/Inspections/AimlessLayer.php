<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Routing\Route;
use Core\Show\ClipUse;
use Core\Show\ResultCache;
use Core\Show\Show;

/** Layers with clips that reach nothing. */
final readonly class AimlessLayer implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        foreach ($show->programme->layers() as $layer) {
            $seen = array_filter(
                $layer->clips,
                static fn (ClipUse $use): bool => ! $show->library->media[$use->media]->isSound() &&
                    $show->library->media[$use->media]->timeline === null,
            );
            if (
                $seen !== [] &&
                array_filter(
                    $show->programme->ways($layer),
                    static fn (Route $route): bool => $route->surfaces() !== [],
                ) === []
            ) {
                yield Finding::attention(
                    'routes',
                    'layer',
                    $layer->id,
                    "$layer->name has clips, but is aimed at nothing.",
                );
            }
        }
    }
}
