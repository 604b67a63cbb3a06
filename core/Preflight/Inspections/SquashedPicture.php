<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Preflight\PlacedUse;
use Core\Preflight\Placements;
use Core\Show\ResultCache;
use Core\Show\Show;

/** Pictures whose shape is not kept on a surface. */
final readonly class SquashedPicture implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        foreach ($show->programme->layers() as $layer) {
            $placed = Placements::of($show, $layer, $cache);
            yield from $cache->get(
                "squashed $layer->id",
                [$placed],
                static fn (): array => self::squashed($layer->id, $placed),
            );
        }
    }

    /**
     * @param  list<PlacedUse>  $placed
     * @return list<Finding>
     */
    private static function squashed(string $layer, array $placed): array
    {
        $found = [];
        foreach ($placed as $use) {
            if ($use->isSquashed()) {
                $found[] = Finding::attention(
                    'routes',
                    'layer',
                    $layer,
                    "{$use->item->name} on {$use->surface->name}: ".lcfirst($use->remarks()[0]),
                );
            }
        }

        return $found;
    }
}
