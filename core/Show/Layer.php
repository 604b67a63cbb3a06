<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Routing\Fitting;
use Core\Timeline\Clip;
use Core\Units\Check;
use Core\Units\Refused;
use Core\Values\Curve;
use Core\Values\Property;

/** One row of a timeline: its clips in order of start, where it is aimed, how it fits, its values and their curves. */
final readonly class Layer
{
    /**
     * @param  list<string>  $aims  surface ids
     * @param  array<string, float>  $stored  by property
     * @param  list<array{id: string, media: string, clip: Clip}>  $clips
     * @param  array<string, Curve>  $curves  by property
     */
    private function __construct(
        public string $id,
        public string $name,
        public int $order,
        public array $aims,
        public Fitting $fitting,
        public float $anchorX,
        public float $anchorY,
        public array $stored,
        public array $clips,
        public array $curves,
    ) {
    }

    /**
     * @param  array<string, mixed>  $row
     * @param  list<array{id: string, media: string, clip: Clip}>  $clips
     * @param  array<string, Curve>  $curves
     */
    public static function fromRow(array $row, array $clips = [], array $curves = []): self
    {
        $fitting = Fitting::tryFrom((string) ($row['fitting'] ?? 'cover'))
            ?? throw Refused::notOneOf('fitting', (string) $row['fitting'], array_column(Fitting::cases(), 'value'));
        $stored = [];
        foreach (Property::ofLayer() as $name => $property) {
            $stored[$name] = $property->check((float) ($row[$name] ?? $property->default));
        }
        usort($clips, static fn (array $a, array $b): int => $a['clip']->start <=> $b['clip']->start);

        return new self(
            (string) $row['id'],
            Check::name('name', (string) $row['name']),
            Check::whole('order', (int) $row['order'], -1_000_000, 1_000_000),
            array_values(array_unique(array_map(strval(...), (array) ($row['aims'] ?? [])))),
            $fitting,
            Check::number('anchorX', (float) ($row['anchorX'] ?? 0.5), 0, 1),
            Check::number('anchorY', (float) ($row['anchorY'] ?? 0.5), 0, 1),
            $stored,
            $clips,
            $curves,
        );
    }

    /** Index of the clip that is up: of those that overlap, the one that started last; -1 for none. */
    public function clipAt(int $time): int
    {
        [$low, $high] = [-1, count($this->clips) - 1];
        while ($low < $high) {
            $middle = ($low + $high + 1) >> 1;
            $this->clips[$middle]['clip']->start <= $time ? $low = $middle : $high = $middle - 1;
        }
        // A long clip may go on under shorter ones that came after it; they are few.
        for ($i = $low; $i >= 0; $i--) {
            if ($this->clips[$i]['clip']->isUpAt($time)) {
                return $i;
            }
        }

        return -1;
    }
}
