<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Timeline\AtEnd;
use Core\Timeline\BeatGrid;
use Core\Timeline\Chase;
use Core\Timeline\CuePoint;
use Core\Timeline\Marker;
use Core\Units\Check;
use Core\Units\Flicks;
use Core\Units\InvalidValue;

/**
 * Layers from the bottom up, markers and cue points in order of time. A show has several timelines; those with a
 * higher order lie on top.
 */
final readonly class Timeline
{
    /** How long it runs on without a reading of its clock where nothing else is said, in flicks: 1 s. */
    public const FREEWHEEL = Flicks::PER_SECOND;

    /** The longest: 10 s. */
    private const MAX_FREEWHEEL = 10 * Flicks::PER_SECOND;

    /**
     * @param  int  $duration  flicks
     * @param  string|null  $then  id of the timeline that plays after it, where it says so
     * @param  BeatGrid|null  $grid  null where it has no tempo
     * @param  string  $clock  the clock from outside that it follows; empty for none
     * @param  int  $clockStart  what that says at the beginning of the timeline, flicks
     * @param  int  $freewheel  how long it runs on when its clock falls silent, flicks
     * @param  Chase  $chase  how it follows its clock
     * @param  array<string, non-empty-list<float>>  $stored  by property and slot
     * @param  list<Layer>  $layers
     * @param  array<string, Marker>  $markers
     * @param  array<string, CuePoint>  $cues
     * @param  array<string, StoredCurve>  $curves  by property, with its slot where it has several, as in `gain#1`
     */
    private function __construct(
        public string $id,
        public string $name,
        public int $order,
        public int $duration,
        public array $stored,
        public array $layers,
        public array $markers,
        public array $cues,
        public array $curves,
        public AtEnd $end = AtEnd::Hold,
        public ?string $then = null,
        public ?BeatGrid $grid = null,
        public string $clock = '',
        public int $clockStart = 0,
        public int $freewheel = self::FREEWHEEL,
        public Chase $chase = new Chase(),
    ) {
    }

    /**
     * @param  array<string, mixed>  $row
     * @param  array<string, non-empty-list<float>>  $stored
     *
     * @throws InvalidValue
     */
    public static function fromRow(array $row, array $stored = []): self
    {
        return new self(
            (string) ($row['id'] ?? ''),
            Check::name('name', (string) $row['name']),
            Check::whole('order', (int) ($row['order'] ?? 0), -1_000_000, 1_000_000),
            Check::whole('duration', (int) $row['duration'], 1, Flicks::MAX, 'flicks'),
            $stored,
            [],
            [],
            [],
            [],
            AtEnd::tryFrom((string) ($row['end'] ?? 'hold')) ??
                throw InvalidValue::notOneOf('end', (string) $row['end'], array_column(AtEnd::cases(), 'value')),
            isset($row['then']) ? (string) $row['then'] : null,
            BeatGrid::fromRow($row),
            self::clock((string) ($row['clock'] ?? '')),
            Check::whole('clockStart', (int) ($row['clockStart'] ?? 0), 0, Flicks::MAX, 'flicks'),
            Check::whole('freewheel', (int) ($row['freewheel'] ?? self::FREEWHEEL), 0, self::MAX_FREEWHEEL, 'flicks'),
            Chase::fromRow($row),
        );
    }

    /**
     * @param  list<Layer>  $layers
     * @param  array<string, Marker>  $markers
     * @param  array<string, CuePoint>  $cues
     * @param  array<string, StoredCurve>  $curves
     */
    public function with(array $layers, array $markers, array $cues, array $curves): self
    {
        return new self(
            $this->id,
            $this->name,
            $this->order,
            $this->duration,
            $this->stored,
            $layers,
            $markers,
            $cues,
            $curves,
            $this->end,
            $this->then,
            $this->grid,
            $this->clock,
            $this->clockStart,
            $this->freewheel,
            $this->chase,
        );
    }

    /** @throws InvalidValue */
    private static function clock(string $name): string
    {
        return mb_strlen($name) <= 40 && trim($name) === $name
            ? $name
            : throw InvalidValue::because(
                'clock',
                'The name of a clock has up to 40 characters, no space at its ends.',
            );
    }
}
