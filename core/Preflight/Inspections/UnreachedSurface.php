<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Preflight\Coverages;
use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\ResultCache;
use Core\Show\Show;

/** Surfaces that a thrown route is meant to reach and does not. */
final readonly class UnreachedSurface implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        foreach ($show->programme->routes as $id => $route) {
            foreach (Coverages::of($show, $route, $cache) as $surface => $coverage) {
                if ($coverage->reached <= 0) {
                    yield Finding::attention(
                        'routes',
                        'route',
                        (string) $id,
                        ($route->name === '' ? 'A route' : $route->name).
                            " throws nothing onto {$show->venue->surfaces[$surface]->name}: it is out of the picture, or turned away.",
                    );
                }
            }
        }
    }
}
