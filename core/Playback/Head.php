<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Timeline\TransportMap;
use Core\Values\Track;

/** One timeline that is on: where it is, and how strongly. A jump with a fade has two for its length. */
final readonly class Head
{
    /** @param  Track  $weight  over engine time */
    public function __construct(public string $timeline, public TransportMap $map, public Track $weight)
    {
    }

    public static function of(string $timeline, TransportMap $map): self
    {
        return new self($timeline, $map, Track::constant(1.0));
    }

    /** @return array{timeline: string, map: array<mixed>, weight: list<int|float>} */
    public function toArray(): array
    {
        return ['timeline' => $this->timeline, 'map' => $this->map->toArray(), 'weight' => $this->weight->toList()];
    }

    /** @param  array<mixed>  $data  as toArray() gave it */
    public static function fromArray(array $data): self
    {
        return new self(
            (string) ($data['timeline'] ?? ''),
            TransportMap::fromArray((array) ($data['map'] ?? [])),
            Track::fromList((array) ($data['weight'] ?? [0, 1, 0, 0, 0])),
        );
    }
}
