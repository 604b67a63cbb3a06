<?php

declare(strict_types=1);

namespace Core\Preflight;

use Core\Plan\SurfaceMesh;
use Core\Playback\Occlusion;
use Core\Playback\RasterPlaces;
use Core\Routing\ReachPart;
use Core\Routing\Route;
use Core\Routing\VirtualLens;
use Core\Show\ResultCache;
use Core\Show\Show;
use Core\Venue\Surface;

/** What thrown routes reach, computed once for all who ask. */
final class Coverages
{
    /** @return array<string, Coverage> by surface; none where the route is not thrown */
    public static function of(Show $show, Route $route, ResultCache $cache): array
    {
        $surfaces = array_intersect_key(
            $show->venue->surfaces,
            array_fill_keys($route->reach->isThrown() ? $route->surfaces() : [], true),
        );
        $found = $cache->get(
            "coverages $route->id",
            [$route, $surfaces === [] ? null : $show->venue],
            static fn (): array => array_map(
                static fn (Surface $surface): Coverage => self::one($show, $route, $surface, $cache),
                $surfaces,
            ),
        );
        $cache->keep('solids');
        foreach (array_keys($found) as $id) {
            $cache->keep("coverage $route->id $id");
            $cache->keep("places $id");
        }

        return $found;
    }

    private static function one(Show $show, Route $route, Surface $surface, ResultCache $cache): Coverage
    {
        $rigs = array_filter(
            array_map(static fn (ReachPart $part): ?string => $part->rig, $route->parts()),
            static fn (?string $rig): bool => $rig !== null && isset($show->venue->rigs[$rig]),
        );
        $places = array_map(static fn (string $rig): array => $show->venue->world($rig)->m, array_values($rigs));
        $world = $show->venue->world($surface->id);
        $raster = $cache->get(
            "places $surface->id",
            [$surface, $world->m],
            static fn (): RasterPlaces => new RasterPlaces(
                SurfaceMesh::of($surface, $world),
                SurfaceMesh::round($surface)?->moved($world)->toArray(),
            ),
        );

        $hidden = array_filter($route->lenses, static fn (VirtualLens $lens): bool => $lens->isOccluded()) !== [];
        $solids = $hidden
            ? $cache->get(
                'solids',
                [$show->venue],
                static fn (): Occlusion => Occlusion::of(SurfaceMesh::solids($show->venue->solids())),
            )
            : null;

        return $cache->get(
            "coverage $route->id $surface->id",
            [$route, $surface, $world->m, $places, $solids],
            static fn (): Coverage => Coverage::of($route, $surface, $show->venue, $raster, $solids),
        );
    }
}
