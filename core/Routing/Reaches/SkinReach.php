<?php

declare(strict_types=1);

namespace Core\Routing\Reaches;

use Core\Geometry\Mat3;
use Core\Routing\Fitting;
use Core\Routing\Placement;
use Core\Routing\Route;
use Core\Venue\Surface;

/** Over each surface's own UV; the pane is its raster, or one of the route's own that is fitted to each. */
final readonly class SkinReach implements ReachStrategy
{
    use OnRasters;

    public function usualPane(): array
    {
        return [0, 0];
    }

    public function mayBeWithoutPane(): bool
    {
        return true;
    }

    public function surfaces(Route $route): array
    {
        return $route->aimed;
    }

    public function parts(Route $route): array
    {
        return [];
    }

    /** How the pane meets a surface's raster; null where the two are the same. */
    private static function fitted(Route $route, Surface $surface): ?Placement
    {
        return ! $route->hasPane()
            ? null
            : Placement::of(
                $route->width,
                $route->height,
                1.0,
                $surface->width(),
                $surface->height(),
                $route->fittings[$surface->id] ?? Fitting::Stretch,
            );
    }

    public function onto(Route $route, Surface $surface): Mat3
    {
        $fitted = self::fitted($route, $surface);
        if ($fitted === null) {
            return Mat3::identity();
        }
        [$x, $y, $width, $height] = $fitted->rectangle;

        return Mat3::of([$width / $route->width, 0.0, $x, 0.0, $height / $route->height, $y, 0.0, 0.0, 1.0]);
    }

    public function contribution(Route $route, Surface $surface, array $frames): array
    {
        $fitted = self::fitted($route, $surface);
        if ($fitted === null) {
            return [];
        }
        [$left, $top, $width, $height] = $fitted->seen;

        return ['onto' => $this->onto($route, $surface)->m, 'clip' => [$left, $top, $left + $width, $top + $height]];
    }

    public function dependencies(Route $route, string $surface): array
    {
        return [];
    }
}
