<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Timeline\CuePoint;
use Core\Timeline\Marker;

/** Layers from the bottom up, markers and cue points in order of time. */
final readonly class Timeline
{
    /**
     * @param  int  $duration  flicks
     * @param  list<Layer>  $layers
     * @param  array<string, Marker>  $markers
     * @param  array<string, CuePoint>  $cues
     */
    public function __construct(public string $id, public string $name, public int $duration, public array $layers, public array $markers, public array $cues)
    {
    }
}
