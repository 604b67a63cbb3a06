<?php

declare(strict_types=1);

namespace Core\Preflight;

use Core\Geometry\Mat4;
use Core\Playback\Occlusion;
use Core\Playback\RasterPlaces;
use Core\Routing\Projection;
use Core\Routing\Route;
use Core\Show\Venue;
use Core\Venue\Surface;

/**
 * What of a surface a thrown route reaches, and how densely, by the stored values: looked at in the middles of up to
 * 24 × 24 squares of its raster, of fewer where a route reaches many surfaces.
 */
final readonly class Coverage
{
    private const SQUARES = 24;

    /** About how many places of all surfaces of a route are looked at. */
    private const PLACES = 2_000;

    /**
     * @param  float  $reached  share of the surface, 0 to 1
     * @param  float  $densityMin  pane pixels for one of the surface, where it is reached: the lesser of both
     *     directions, at its least
     * @param  float  $densityMax  the greater of both directions, at its most
     * @param  float|null  $perDegree  of a globe: pixels of the pane for a degree that the surface asks for where it
     *     asks for the most; else null
     * @param  array{float, float, float, float}|null  $pane  left, top, right, bottom of the pane's pixels that land
     *     there; null for none
     */
    private function __construct(
        public float $reached,
        public float $densityMin,
        public float $densityMax,
        public ?array $pane,
        public ?float $perDegree = null,
    ) {
    }

    /**
     * @param  RasterPlaces  $places  of the surface
     * @param  Occlusion|null  $solids  what may stand in the way
     */
    public static function of(
        Route $route,
        Surface $surface,
        Venue $venue,
        RasterPlaces $places,
        ?Occlusion $solids = null,
    ): self {
        $projections = self::projections($route, $surface, $venue);
        $squares = max(4, min(self::SQUARES, (int) sqrt(self::PLACES / max(1, count($route->surfaces())))));
        [$columns, $rows] = [min($squares, $surface->width()), min($squares, $surface->height())];
        [$there, $lit, $min, $max, $pane, $least] = [0, 0, INF, 0.0, null, INF];
        $degrees = $route->reach->strategy()->degreesPerPixel($route, $route->pane($surface));
        for ($j = 0; $j < $rows; $j++) {
            for ($i = 0; $i < $columns; $i++) {
                $found = $places->at(
                    (($i + 0.5) * $surface->width()) / $columns,
                    (($j + 0.5) * $surface->height()) / $rows,
                );
                if ($found === null) {
                    continue;
                }
                $there++;
                [$place, $normal, $right, $down, $flat] = $found;
                $reached = false;
                foreach ($projections as $projection) {
                    $at = $projection->at(...$place);
                    if (
                        $at === null ||
                        $at[2] <= 0 ||
                        ! $projection->lights(...$place, ...$normal) ||
                        (($eye = $projection->hiddenFrom()) !== null && $solids?->hides($eye, $flat) === true)
                    ) {
                        continue;
                    }
                    $reached = true;
                    $steps = [
                        self::step($projection, $at, $place, $right),
                        self::step($projection, $at, $place, $down),
                    ];
                    $densities = array_map(static fn (array $by): float => hypot(...$by), $steps);
                    $least =
                        $degrees === null
                            ? $least
                            : min([
                                $least,
                                ...array_filter(
                                    array_map(
                                        static fn (array $by): float => hypot(
                                            $by[0] * $degrees[0],
                                            $by[1] * $degrees[1],
                                        ),
                                        $steps,
                                    ),
                                ),
                            ]);
                    [$min, $max] = [min($min, ...$densities), max($max, ...$densities)];
                    $pane =
                        $pane === null
                            ? [$at[0], $at[1], $at[0], $at[1]]
                            : [
                                min($pane[0], $at[0]),
                                min($pane[1], $at[1]),
                                max($pane[2], $at[0]),
                                max($pane[3], $at[1]),
                            ];
                }
                $lit += $reached ? 1 : 0;
            }
        }

        return new self(
            $there === 0 ? 0.0 : $lit / $there,
            is_finite($min) ? $min : 0.0,
            $max,
            $pane,
            is_finite($least) && $least > 0 ? 1 / $least : null,
        );
    }

    /** @return list<Projection> */
    private static function projections(Route $route, Surface $surface, Venue $venue): array
    {
        $frame = static fn (?string $rig): Mat4 => $rig === null || ! isset($venue->rigs[$rig])
            ? Mat4::identity()
            : $venue->world($rig)->rigidInverse();

        return $route->reach->strategy()->projections($route, $surface, $frame);
    }

    /**
     * Pane pixels that a step on the surface goes over, across and down.
     *
     * @param  array{float, float, float}  $at
     * @param  array{float, float, float}  $place
     * @param  array{float, float, float}  $step  metres
     * @return array{float, float}
     */
    private static function step(Projection $projection, array $at, array $place, array $step): array
    {
        $next = $projection->at($place[0] + $step[0], $place[1] + $step[1], $place[2] + $step[2]);
        if ($next === null) {
            return [0.0, 0.0];
        }
        $by = $next[0] - $at[0];
        $turn = $projection->around();
        $by -= $turn > 0 ? $turn * round($by / $turn) : 0;

        return [$by, $next[1] - $at[1]];
    }
}
