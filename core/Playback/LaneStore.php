<?php

declare(strict_types=1);

namespace Core\Playback;

/** Looks values up in received chunks exactly as a player does: newest generation that has begun, then straight between samples. */
final class LaneStore
{
    /** @var array<int, list<array{start: int, end: int, step: int, generation: int, kind: int, values: non-empty-list<float|int>}>> */
    private array $lanes = [];

    public function add(Chunk $chunk): void
    {
        foreach ($chunk->lanes as $number => $lane) {
            $this->lanes[$number][] = ['start' => $chunk->start, 'end' => $chunk->end, 'step' => $chunk->step] + $lane;
        }
    }

    /** @return array{value: float, generation: int}|null null before anything was received */
    public function at(int $lane, int $engine): ?array
    {
        $best = null;
        foreach ($this->lanes[$lane] ?? [] as $piece) {
            if ($piece['start'] <= $engine && ($best === null || [$piece['generation'], $piece['start']] >= [$best['generation'], $best['start']])) {
                $best = $piece;
            }
        }
        if ($best === null) {
            return null;
        }
        $values = $best['values'];
        $last = count($values) - 1;
        $share = $best['step'] > 0 ? (min($engine, $best['end']) - $best['start']) / $best['step'] : 0.0;
        $i = min($last, (int) floor($share));
        $value = match (true) {
            $best['kind'] === Chunk::CONSTANT => $values[0],
            $best['kind'] === Chunk::STEP || $i === $last => $values[$i],
            default => $values[$i] + ($values[$i + 1] - $values[$i]) * ($share - $i),
        };

        return ['value' => (float) $value, 'generation' => $best['generation']];
    }
}
