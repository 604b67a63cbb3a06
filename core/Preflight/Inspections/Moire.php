<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Preflight\Shots;
use Core\Show\ResultCache;
use Core\Show\Show;
use Core\Venue\Shot;

/** Sharp pictures of walls whose raster beats with the sensor's. */
final readonly class Moire implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        foreach ($show->venue->cameras as $id => $camera) {
            $walls = array_filter(
                Shots::of($show, (string) $id, $cache),
                static fn (Shot $shot): bool => $shot->moire && $shot->sharp,
            );
            if ($walls !== []) {
                $worst = reset($walls);
                yield Finding::attention(
                    'venue',
                    'camera',
                    (string) $id,
                    sprintf(
                        '%s may show moiré on %s: a pitch of its panels is %.2f sensor pixels at %.1f m.',
                        $camera->name,
                        implode(', ', array_map(static fn (Shot $s): string => $s->name, array_slice($walls, 0, 5))),
                        $worst->pitchPixels,
                        $worst->distance,
                    ),
                );
            }
        }
    }
}
