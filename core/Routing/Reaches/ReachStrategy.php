<?php

declare(strict_types=1);

namespace Core\Routing\Reaches;

use Core\Geometry\Mat3;
use Core\Geometry\Mat4;
use Core\Routing\Projection;
use Core\Routing\ReachPart;
use Core\Routing\Route;
use Core\Values\PropertySet;
use Core\Venue\Surface;

/**
 * What one reach does: everything that depends on which it is. A new reach is a case of Reach, one of these, and a
 * function of the players.
 */
interface ReachStrategy
{
    /** Whether what reaches a place of a surface depends on where in the venue it is. */
    public function isThrown(): bool;

    /**
     * The pane that a route gets with it, in pixels, where it has none: nothing for one as large as the largest
     * raster, 0 × 0 for the raster of each surface.
     *
     * @return array{int, int}|null
     */
    public function usualPane(): ?array;

    /** Whether a route may have no pane of its own, but the raster of each surface. */
    public function mayBeWithoutPane(): bool;

    /** @return list<string> ids of the surfaces that a route reaches */
    public function surfaces(Route $route): array;

    /** Values that a row of a route has for it. */
    public function properties(): PropertySet;

    /** @return list<ReachPart> what of a route has values and may ride on a rig */
    public function parts(Route $route): array;

    /**
     * The pane's pixels onto those of a surface's raster, by the stored values; null where they do not land there, or
     * it depends on where in the venue they are.
     */
    public function onto(Route $route, Surface $surface): ?Mat3;

    /**
     * How the pane gets to a surface, as a contribution of the plan has it.
     *
     * @param  array<string, list<float>>  $frames  the venue into what poses are given in, by part
     * @return array<string, mixed>
     */
    public function contribution(Route $route, Surface $surface, array $frames): array;

    /**
     * By which a contribution of the plan is drawn; none where that is of another reach, or not thrown.
     *
     * @param  array<string, mixed>  $part  as contribution() made it
     * @param  \Closure(string): (\Closure(string): float)  $values  of something, as kind:id, by name
     * @return list<Projection>
     */
    public function drawn(array $part, \Closure $values): array;

    /**
     * The same by the stored values.
     *
     * @param  \Closure(?string): Mat4  $frame  the venue into the place of a rig
     * @return list<Projection>
     */
    public function projections(Route $route, Surface $surface, \Closure $frame): array;

    /**
     * How many degrees of azimuth and of elevation a pixel of the pane takes, by the stored values; null where a pane is
     * not laid out in degrees.
     *
     * @param  array{int, int}  $pane
     * @return array{float, float}|null
     */
    public function degreesPerPixel(Route $route, array $pane): ?array;

    /**
     * All besides the route's own fields that the way to one surface depends on.
     *
     * @return list<mixed>
     */
    public function dependencies(Route $route, string $surface): array;
}
