<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Routing\Fit;
use Core\Routing\Fitting;
use Core\Units\Check;
use Core\Units\InvalidValue;
use Core\Values\Track;
use Core\Values\TrackCompiler;

/**
 * One row of a timeline: its clips in order of start, the route that it takes, how it fits, its values and their
 * curves.
 */
final readonly class Layer
{
    /**
     * @param  string|null  $route  id, null when it is aimed at nothing
     * @param  string|null  $part  id of the share or lens whose part of the pane it is fitted into; null for the
     *     whole pane
     * @param  array<string, non-empty-list<float>>  $stored  by property and slot; what is not stored rests at its
     *     default
     * @param  list<ClipUse>  $clips
     * @param  array<string, StoredCurve>  $curves  by property, with its slot where it has several, as in `gain#1`
     * @param  list<string>  $stock  ids of media that may be called in place of its clips
     */
    private function __construct(
        public string $id,
        public string $timeline,
        public string $name,
        public int $order,
        public ?string $route,
        public ?string $part,
        public Fit $fit,
        public array $stored,
        public array $clips,
        public array $curves,
        public array $stock = [],
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
            (string) $row['id'],
            (string) ($row['timeline'] ?? ''),
            Check::name('name', (string) $row['name']),
            Check::whole('order', (int) $row['order'], -1_000_000, 1_000_000),
            isset($row['route']) ? (string) $row['route'] : null,
            isset($row['part']) ? (string) $row['part'] : null,
            new Fit(
                Fitting::tryFrom((string) ($row['fitting'] ?? 'cover')) ??
                    throw InvalidValue::notOneOf(
                        'fitting',
                        (string) $row['fitting'],
                        array_column(Fitting::cases(), 'value'),
                    ),
                Check::number('anchorX', (float) ($row['anchorX'] ?? 0.5), 0, 1),
                Check::number('anchorY', (float) ($row['anchorY'] ?? 0.5), 0, 1),
            ),
            $stored,
            [],
            [],
            array_values(array_map(strval(...), (array) ($row['stock'] ?? []))),
        );
    }

    /** The speed at which its clips run, over show time; where its row holds no curve, the value that is stored. */
    public function speed(): Track
    {
        $property = Schema::properties('layer')->named('speed');
        try {
            return isset($this->curves['speed'])
                ? (new TrackCompiler())->compile($this->curves['speed']->curve(), $property)
                : Track::constant($this->stored['speed'][0] ?? $property->default);
        } catch (InvalidValue) {
            return Track::constant($this->stored['speed'][0] ?? $property->default);
        }
    }

    /**
     * @param  list<ClipUse>  $clips
     * @param  array<string, StoredCurve>  $curves
     */
    public function with(array $clips, array $curves): self
    {
        usort(
            $clips,
            static fn (ClipUse $a, ClipUse $b): int => [$a->clip->start, $a->id] <=> [$b->clip->start, $b->id],
        );

        return new self(
            $this->id,
            $this->timeline,
            $this->name,
            $this->order,
            $this->route,
            $this->part,
            $this->fit,
            $this->stored,
            $clips,
            $curves,
            $this->stock,
        );
    }
}
