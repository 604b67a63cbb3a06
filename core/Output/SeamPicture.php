<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Light\Scene;
use Core\Light\SurfaceChart;

/** The light along a line across a surface: of each projector, and of all together. */
final readonly class SeamPicture
{
    /**
     * @param  list<float>  $along  metres from the beginning of the line
     * @param  array<string, list<float>>  $lux  by region
     * @param  list<float>  $sum
     * @param  float  $off  by how much the sum leaves its mean at most, as a share of it, where there is light
     */
    private function __construct(public array $along, public array $lux, public array $sum, public float $off)
    {
    }

    /**
     * @param  list<ProjectedRegion>  $regions
     * @param  array<string, BlendMap>  $maps  by region; one without has what is set by hand
     * @param  array<string, float>  $gains  share of the light that each region's output gives, by region
     * @param  array{float, float}  $from  0 to 1 over the raster
     * @param  array{float, float}  $to
     */
    public static function of(
        Scene $scene,
        SurfaceChart $chart,
        array $regions,
        array $maps,
        array $gains,
        array $from,
        array $to,
        int $steps = 200,
        float $limit = 90,
    ): self {
        [$along, $lux, $sum, $before, $length] = [
            [],
            array_fill_keys(array_map(static fn (ProjectedRegion $r): string => $r->id, $regions), []),
            [],
            null,
            0.0,
        ];
        for ($k = 0; $k <= $steps; $k++) {
            [$u, $v] = [$from[0] + (($to[0] - $from[0]) * $k) / $steps, $from[1] + (($to[1] - $from[1]) * $k) / $steps];
            [$place, $normal] = [$chart->place($u, $v), $chart->normal($u, $v)];
            if ($place !== null && $before !== null) {
                $length += sqrt(
                    ($place[0] - $before[0]) ** 2 + ($place[1] - $before[1]) ** 2 + ($place[2] - $before[2]) ** 2,
                );
            }
            $before = $place ?? $before;
            $along[] = $length;
            $all = 0.0;
            foreach ($regions as $region) {
                $own = 0.0;
                $at = $place === null ? null : $region->pixel(...$place);
                if ($place !== null && $normal !== null && $at !== null) {
                    $light = $region->lux($scene, $place, $normal, $limit, true);
                    $own =
                        $light <= 0
                            ? 0.0
                            : $light *
                                ($gains[$region->id] ?? 1.0) *
                                self::share($region, $maps[$region->id] ?? null, $at[0] / $at[2], $at[1] / $at[2]);
                }
                $lux[$region->id][] = $own;
                $all += $own;
            }
            $sum[] = $all;
        }
        $lit = array_values(array_filter($sum, static fn (float $v): bool => $v > 0));
        $mean = $lit === [] ? 0.0 : array_sum($lit) / count($lit);

        return new self(
            $along,
            $lux,
            $sum,
            $mean > 0 && $lit !== [] ? max(max($lit) - $mean, $mean - min($lit)) / $mean : 0.0,
        );
    }

    private static function share(ProjectedRegion $region, ?BlendMap $map, float $x, float $y): float
    {
        if ($map !== null) {
            return $map->at(...$region->region->unpinned()->point($x, $y));
        }
        $place = $region->region->place;
        $back = $region->region->pinned()->inverse();
        [$u, $v] = $back?->point($x, $y) ?? [($x - $place->x) / $place->width, ($y - $place->y) / $place->height];
        $source = $region->region->source;
        [$sx, $sy] = $region->region->unit()->inverse()?->point($u, $v) ?? [0.0, 0.0];

        return $u < 0 || $v < 0 || $u > 1 || $v > 1
            ? 0.0
            : $region->region->blend->share($sx - $source->x, $sy - $source->y, $source->width, $source->height);
    }
}
