<?php

declare(strict_types=1);

namespace Core\Routing;

use Core\Routing\Reaches\CanvasReach;
use Core\Routing\Reaches\GlobeReach;
use Core\Routing\Reaches\LensReach;
use Core\Routing\Reaches\ReachStrategy;
use Core\Routing\Reaches\SkinReach;
use Core\Values\PropertySet;

/** The rule that carries pane pixels to surfaces. */
enum Reach: string
{
    /** Over each surface's own UV; the pane is its raster, or one of the route's own that is fitted to each. */
    case Skin = 'skin';

    /** Each surface takes a share of one large pane. */
    case Canvas = 'canvas';

    /** Thrown from virtual cameras onto the fronts of surfaces. */
    case Lens = 'lens';

    /** Wrapped on a sphere, or a part of one, round a centre. */
    case Globe = 'globe';

    /** All that depends on which it is. */
    public function strategy(): ReachStrategy
    {
        return match ($this) {
            self::Skin => new SkinReach(),
            self::Canvas => new CanvasReach(),
            self::Lens => new LensReach(),
            self::Globe => new GlobeReach(),
        };
    }

    /** Whether what reaches a place of a surface depends on where in the venue it is. */
    public function isThrown(): bool
    {
        return $this->strategy()->isThrown();
    }

    /** @return list<ReachStrategy> those that are thrown, made once: each step of drawing asks them */
    public static function thrown(): array
    {
        static $thrown = null;

        return $thrown ??= array_values(
            array_map(
                static fn (self $reach): ReachStrategy => $reach->strategy(),
                array_filter(self::cases(), static fn (self $reach): bool => $reach->isThrown()),
            ),
        );
    }

    /** Values that a row of a route has, for whatever reach. */
    public static function properties(): PropertySet
    {
        return PropertySet::of(
            'route',
            ...array_merge(
                [],
                ...array_map(
                    static fn (self $reach): array => array_values($reach->strategy()->properties()->properties),
                    self::cases(),
                ),
            ),
        );
    }
}
