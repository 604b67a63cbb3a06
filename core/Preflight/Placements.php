<?php

declare(strict_types=1);

namespace Core\Preflight;

use Core\Routing\Route;
use Core\Show\Layer;
use Core\Show\Programme;
use Core\Show\ResultCache;
use Core\Show\Show;

/** Where everything that a layer shows lands. */
final class Placements
{
    /** @return list<PlacedUse> each media on each surface once, for each way in which it is fitted */
    public static function of(Show $show, Layer $layer, ResultCache $cache): array
    {
        return $cache->get(
            "placements $layer->id",
            [$layer, $show->programme->ways($layer), $show->library, $show->venue],
            static fn (): array => self::made($show, $layer, $cache),
        );
    }

    /** @return list<PlacedUse> */
    private static function made(Show $show, Layer $layer, ResultCache $cache): array
    {
        $placed = [];
        foreach ($show->programme->ways($layer) as $number => $route) {
            array_push($placed, ...self::by($show, $layer, $route, $number, $cache));
        }

        return $placed;
    }

    /** @return list<PlacedUse> */
    private static function by(Show $show, Layer $layer, Route $route, int $number, ResultCache $cache): array
    {
        $placed = [];
        foreach (Programme::uses($layer, $route, $show->library, $show->venue) as [$item, $surface, $fit]) {
            $placed[] = $cache->get(
                "placement $layer->id $number $item->id $surface->id {$fit->fitting->value} $fit->anchorX $fit->anchorY",
                [...$route->toward($surface->id, $layer->part), $item, $surface],
                static fn (): PlacedUse => PlacedUse::of($route, $item, $surface, $fit, $layer->part),
            );
        }

        return $placed;
    }
}
