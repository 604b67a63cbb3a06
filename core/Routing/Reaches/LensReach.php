<?php

declare(strict_types=1);

namespace Core\Routing\Reaches;

use Core\Geometry\Mat4;
use Core\Routing\LensProjection;
use Core\Routing\Projection;
use Core\Routing\ReachPart;
use Core\Routing\Route;
use Core\Routing\VirtualLens;
use Core\Values\PropertySet;
use Core\Venue\Surface;

/** Thrown from virtual cameras onto the fronts of surfaces. */
final readonly class LensReach implements ReachStrategy
{
    use Thrown;

    public function usualPane(): ?array
    {
        return null;
    }

    public function properties(): PropertySet
    {
        return PropertySet::none();
    }

    public function parts(Route $route): array
    {
        return array_map(
            static fn (VirtualLens $lens): ReachPart => new ReachPart(
                'lens',
                $lens->id,
                $lens->name,
                $lens->stored,
                true,
                $lens->rig,
            ),
            $route->lenses,
        );
    }

    public function contribution(Route $route, Surface $surface, array $frames): array
    {
        $pane = $route->pane($surface);

        return [
            'lenses' => array_map(
                static fn (VirtualLens $lens): array => [
                    'id' => $lens->id,
                    'part' => $lens->rectangle($pane),
                    'frame' => $frames[$lens->id],
                ],
                $route->lenses,
            ),
        ];
    }

    public function drawn(array $part, \Closure $values): array
    {
        return array_map(
            static fn (array $lens): Projection => LensProjection::of(
                Mat4::of($lens['frame']),
                $lens['part'],
                $values("lens:$lens[id]"),
            ),
            array_values($part['lenses'] ?? []),
        );
    }

    public function projections(Route $route, Surface $surface, \Closure $frame): array
    {
        [$pane, $properties] = [$route->pane($surface), VirtualLens::properties()];

        return array_map(
            static fn (VirtualLens $lens, ReachPart $part): Projection => LensProjection::of(
                $frame($lens->rig),
                $lens->rectangle($pane),
                $part->value($properties),
            ),
            $route->lenses,
            $this->parts($route),
        );
    }

    public function dependencies(Route $route, string $surface): array
    {
        return $route->lenses;
    }
}
