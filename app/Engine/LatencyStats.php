<?php

declare(strict_types=1);

namespace App\Engine;

/**
 * A measure taken at each tick, over the last ten seconds or so: how late it came, or how long the engine itself was
 * busy since the last.
 */
final class LatencyStats
{
    private const KEPT = 600;

    /** @var array<int, float> milliseconds, by place in the ring */
    private array $late = [];

    private int $next = 0;

    public function note(float $milliseconds): void
    {
        $this->late[$this->next % self::KEPT] = $milliseconds;
        $this->next++;
    }

    /** @return array{p50: float, p99: float, max: float, ticks: int} milliseconds */
    public function figures(): array
    {
        $sorted = $this->late;
        sort($sorted);
        $n = count($sorted);
        $at = static fn (float $share): float => $n === 0
            ? 0.0
            : round($sorted[min($n - 1, (int) floor($share * $n))], 3);

        return ['p50' => $at(0.5), 'p99' => $at(0.99), 'max' => $at(1.0), 'ticks' => $this->next];
    }
}
