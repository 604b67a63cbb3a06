<?php

declare(strict_types=1);

namespace Core\Routing\Reaches;

use Core\Geometry\Mat3;
use Core\Routing\ReachPart;
use Core\Routing\Route;
use Core\Routing\Share;
use Core\Venue\Surface;

/** Each surface takes a share of one large pane. */
final readonly class CanvasReach implements ReachStrategy
{
    use OnRasters;

    public function usualPane(): ?array
    {
        return null;
    }

    public function mayBeWithoutPane(): bool
    {
        return false;
    }

    public function surfaces(Route $route): array
    {
        return array_map(static fn (Share $share): string => $share->surface, $route->shares);
    }

    public function parts(Route $route): array
    {
        // One that follows another is drawn by the values of that.
        $own = array_values(array_filter($route->shares, static fn (Share $share): bool => $share->led === null));

        return array_map(
            static fn (Share $share): ReachPart => new ReachPart('share', $share->id, '', $share->stored),
            $own,
        );
    }

    public function onto(Route $route, Surface $surface): ?Mat3
    {
        return $route->share($surface->id)?->stored($surface->width(), $surface->height());
    }

    public function contribution(Route $route, Surface $surface, array $frames): array
    {
        return ['share' => $route->share($surface->id)?->valuesOf()];
    }

    public function dependencies(Route $route, string $surface): array
    {
        return [$route->share($surface)];
    }
}
