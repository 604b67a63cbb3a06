<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Output\Region;
use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\ResultCache;
use Core\Show\Show;

/** Regions of LED walls that are not one pixel for one, and gaps of a single pixel between regions of one output. */
final readonly class RegionShapes implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        foreach ($show->delivery->outputs as $outputId => $output) {
            $regions = $show->delivery->regions[$outputId];
            $name = static fn (string $id): string => $show->venue->surfaces[$regions[$id]->surface]->name;
            foreach ($regions as $id => $region) {
                if ($show->venue->surfaces[$region->surface]->wall() !== null && ! $region->isOneToOne()) {
                    yield Finding::attention(
                        'outputs',
                        'region',
                        (string) $id,
                        sprintf(
                            '%s is scaled from %d × %d to %d × %d px on %s: pixels of an LED wall are shown one for one.',
                            $name((string) $id),
                            $region->source->width,
                            $region->source->height,
                            $region->place->width,
                            $region->place->height,
                            $output->name,
                        ),
                    );
                }
            }
            foreach (
                $cache->get("gaps $outputId", [$regions], static fn (): array => self::gaps($regions)) as [$a, $b]
            ) {
                yield Finding::attention(
                    'outputs',
                    'region',
                    $b,
                    sprintf(
                        '%s and %s on %s are one pixel apart: a dark line, or one that is scaled away.',
                        $name($a),
                        $name($b),
                        $output->name,
                    ),
                );
            }
        }
    }

    /**
     * @param  array<string, Region>  $regions
     * @return list<array{string, string}>
     */
    private static function gaps(array $regions): array
    {
        // By their left and top edges, so that only what begins a pixel after another ends is looked at.
        [$left, $top, $found] = [[], [], []];
        foreach ($regions as $id => $region) {
            $left[$region->place->x][] = (string) $id;
            $top[$region->place->y][] = (string) $id;
        }
        foreach ($regions as $id => $region) {
            $place = $region->place;
            foreach ($left[$place->x + $place->width + 1] ?? [] as $other) {
                $next = $regions[$other]->place;
                if (min($place->y + $place->height, $next->y + $next->height) > max($place->y, $next->y)) {
                    $found[] = [(string) $id, $other];
                }
            }
            foreach ($top[$place->y + $place->height + 1] ?? [] as $other) {
                $next = $regions[$other]->place;
                if (min($place->x + $place->width, $next->x + $next->width) > max($place->x, $next->x)) {
                    $found[] = [(string) $id, $other];
                }
            }
        }

        return $found;
    }
}
