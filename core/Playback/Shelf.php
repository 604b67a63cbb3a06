<?php

declare(strict_types=1);

namespace Core\Playback;

/**
 * The chunks that still matter, so that a window that comes late can be given them. Not a value: it is filled and
 * cleared as playback goes.
 */
final class Shelf
{
    /** @var list<array{bytes: string, plan: int, start: int, end: int, lanes: array<int, int>}> oldest first */
    private array $chunks = [];

    public function put(string $bytes): void
    {
        $head = Chunk::header($bytes);
        $this->chunks[] = ['bytes' => $bytes, 'plan' => $head['plan'], 'start' => $head['start'], 'end' => $head['end'], 'lanes' => Chunk::generations($bytes)];
    }

    /**
     * Lets go of what is past, of what newer generations cover altogether and, where a plan is named, of all others.
     */
    public function clear(int $now, ?int $onlyPlan = null): void
    {
        if ($onlyPlan !== null) {
            $this->chunks = array_values(array_filter($this->chunks, static fn (array $chunk): bool => $chunk['plan'] >= $onlyPlan));
        }
        $covered = [];
        $kept = [];
        foreach (array_reverse($this->chunks) as $chunk) {
            $needed = false;
            foreach ($chunk['lanes'] as $lane => $generation) {
                $by = $covered[$chunk['plan']][$lane] ?? null;
                if ($by === null || $by['generation'] <= $generation || $by['end'] < $chunk['end']) {
                    $needed = true;
                }
                if ($chunk['start'] <= $now && ($by === null || $generation > $by['generation'] || ($generation === $by['generation'] && $chunk['end'] > $by['end']))) {
                    $covered[$chunk['plan']][$lane] = ['generation' => $generation, 'end' => $chunk['end']];
                }
            }
            if ($needed && $chunk['end'] > $now) {
                $kept[] = $chunk;
            }
        }
        $this->chunks = array_reverse($kept);
    }

    public function empty(): void
    {
        $this->chunks = [];
    }

    /** @return list<string> oldest first */
    public function chunks(): array
    {
        return array_column($this->chunks, 'bytes');
    }
}
