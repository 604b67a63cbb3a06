<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Timeline\CuePoint;
use Core\Timeline\Marker;
use Core\Units\Check;
use Core\Units\Flicks;
use Core\Units\InvalidValue;

/** Layers from the bottom up, markers and cue points in order of time. A show has several timelines; those with a higher order lie on top. */
final readonly class Timeline
{
    /**
     * @param  int  $duration  flicks
     * @param  array<string, non-empty-list<float>>  $stored  by property and slot
     * @param  list<Layer>  $layers
     * @param  array<string, Marker>  $markers
     * @param  array<string, CuePoint>  $cues
     * @param  array<string, StoredCurve>  $curves  by property, with its slot where it has several, as in `gain#1`
     */
    private function __construct(public string $id, public string $name, public int $order, public int $duration, public array $stored, public array $layers, public array $markers, public array $cues, public array $curves)
    {
    }

    /**
     * @param  array<string, mixed>  $row
     * @param  array<string, non-empty-list<float>>  $stored
     *
     * @throws InvalidValue
     */
    public static function fromRow(array $row, array $stored = []): self
    {
        return new self((string) ($row['id'] ?? ''), Check::name('name', (string) $row['name']), Check::whole('order', (int) ($row['order'] ?? 0), -1_000_000, 1_000_000), Check::whole('duration', (int) $row['duration'], 1, Flicks::MAX, 'flicks'), $stored, [], [], [], []);
    }

    /**
     * @param  list<Layer>  $layers
     * @param  array<string, Marker>  $markers
     * @param  array<string, CuePoint>  $cues
     * @param  array<string, StoredCurve>  $curves
     */
    public function with(array $layers, array $markers, array $cues, array $curves): self
    {
        return new self($this->id, $this->name, $this->order, $this->duration, $this->stored, $layers, $markers, $cues, $curves);
    }
}
