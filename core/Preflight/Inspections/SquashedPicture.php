<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Media\MediaItem;
use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Preflight\Placements;
use Core\Routing\Placement;
use Core\Show\Memo;
use Core\Show\Show;
use Core\Venue\Surface;

/** Pictures whose shape is not kept on a surface. */
final readonly class SquashedPicture implements Inspection
{
    public function inspect(Show $show, Memo $memo): iterable
    {
        foreach ($show->programme->layers() as $layer) {
            $placed = Placements::of($show, $layer, $memo);
            yield from $memo->get("squashed $layer->id", [$placed], static fn (): array => self::squashed($layer->id, $placed));
        }
    }

    /**
     * @param  list<array{MediaItem, Surface, Placement|null}>  $placed
     * @return list<Finding>
     */
    private static function squashed(string $layer, array $placed): array
    {
        $found = [];
        foreach ($placed as [$item, $surface, $placement]) {
            if ($placement !== null && abs($placement->squash - 1) > 0.01) {
                $found[] = Finding::attention('routes', 'layer', $layer, "$item->name on $surface->name: ".lcfirst($placement->remarks()[0]));
            }
        }

        return $found;
    }
}
