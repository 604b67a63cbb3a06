<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Routing\LensOverlap;
use Core\Show\ResultCache;
use Core\Show\Show;

/** Feathers of stitched lenses that are wider than what the lenses have in common. */
final readonly class LensFeathers implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        foreach ($show->programme->routes as $id => $route) {
            foreach (
                count($route->lenses) < 2 ? [] : LensOverlap::of($route->lenses, [$route->width, $route->height]) as $overlap
            ) {
                if ($overlap->isDark()) {
                    yield Finding::attention(
                        'routes',
                        'route',
                        (string) $id,
                        sprintf(
                            '%s and %s overlap by %.1f°, and their feathers take %.1f° and %.1f°: a dark band lies between them. Make the feathers narrower, or the lenses wider.',
                            $overlap->first->name,
                            $overlap->second->name,
                            $overlap->degrees,
                            $overlap->firstFeather,
                            $overlap->secondFeather,
                        ),
                    );
                }
            }
        }
    }
}
