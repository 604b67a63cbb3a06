<?php

declare(strict_types=1);

namespace Core\Routing\Reaches;

use Core\Geometry\Mat4;
use Core\Routing\GlobeProjection;
use Core\Routing\ReachPart;
use Core\Routing\Route;
use Core\Values\PropertySet;
use Core\Venue\Surface;

/** Wrapped on a sphere, or a part of one, round a centre. */
final readonly class GlobeReach implements ReachStrategy
{
    use Thrown;

    /** One pixel to each twelfth of a degree and less. */
    public function usualPane(): array
    {
        return [4096, 2048];
    }

    public function properties(): PropertySet
    {
        return GlobeProjection::properties();
    }

    public function parts(Route $route): array
    {
        return [
            new ReachPart(
                'route',
                $route->id,
                $route->name === '' ? 'Globe' : $route->name,
                $route->stored,
                true,
                $route->rig,
            ),
        ];
    }

    public function contribution(Route $route, Surface $surface, array $frames): array
    {
        return ['globe' => ['id' => $route->id, 'pane' => $route->pane($surface), 'frame' => $frames[$route->id]]];
    }

    public function drawn(array $part, \Closure $values): array
    {
        return ! isset($part['globe'])
            ? []
            : [
                GlobeProjection::of(
                    Mat4::of($part['globe']['frame']),
                    $part['globe']['pane'],
                    $values("route:{$part['globe']['id']}"),
                ),
            ];
    }

    public function projections(Route $route, Surface $surface, \Closure $frame): array
    {
        [$part] = $this->parts($route);

        return [GlobeProjection::of($frame($part->rig), $route->pane($surface), $part->value($this->properties()))];
    }

    public function degreesPerPixel(Route $route, array $pane): array
    {
        $value = $this->parts($route)[0]->value($this->properties());

        return [$value('arc') / $pane[0], max(0.01, abs($value('top') - $value('bottom'))) / $pane[1]];
    }

    public function dependencies(Route $route, string $surface): array
    {
        return [];
    }
}
