<?php

declare(strict_types=1);

namespace Core\Preflight;

use Core\Media\MediaItem;
use Core\Routing\Placement;
use Core\Show\Layer;
use Core\Show\Memo;
use Core\Show\Show;
use Core\Venue\Surface;

/** Where everything that a layer shows lands. */
final class Placements
{
    /** @return list<array{MediaItem, Surface, Placement|null}> each media on each surface once; null where it has no picture yet */
    public static function of(Show $show, Layer $layer, Memo $memo): array
    {
        return $memo->get("placements $layer->id", [$layer, $show->programme->route($layer), $show->library, $show->venue], static fn (): array => self::made($show, $layer, $memo));
    }

    /** @return list<array{MediaItem, Surface, Placement|null}> */
    private static function made(Show $show, Layer $layer, Memo $memo): array
    {
        $route = $show->programme->route($layer);
        if ($route === null) {
            return [];
        }
        $placed = [];
        foreach ($show->programme->uses($layer, $show->library, $show->venue) as [$item, $surface]) {
            $placed[] = [$item, $surface, $memo->get("placement $layer->id $item->id $surface->id", [$route->reach, $item, $surface, $layer->fitting, $layer->anchorX, $layer->anchorY], static fn (): ?Placement => $route->place($item, $surface, $layer->fitting, $layer->anchorX, $layer->anchorY))];
        }

        return $placed;
    }
}
