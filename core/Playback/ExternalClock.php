<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Units\Flicks;

/**
 * A clock from outside, as its readings tell it: where it is, how fast it runs, and whether it is still heard.
 * Readings come late by what the line takes and never early, so the least late of the last ones is believed. A leap
 * is taken at once.
 */
final readonly class ExternalClock
{
    /** How long it is run on without a reading, in flicks: 1 s. */
    public const FREEWHEEL = Flicks::PER_SECOND;

    /** How far back readings count, in flicks: 2 s. */
    private const WINDOW = 2 * Flicks::PER_SECOND;

    /** The most of them. */
    private const MOST = 128;

    /** A reading this far from where it was thought to be is a leap, in flicks: 0.25 s. */
    private const LEAP = 176_400_000;

    /** What a line may be late by more at one time than at another, in flicks: 15 ms. A rate within that of 1 is 1. */
    private const JITTER = 10_584_000;

    /** So many equal readings in a row, and it stands. */
    private const STANDS = 3;

    /**
     * @param  list<array{int, int}>  $readings  engine time at which each came, and the time that it said; flicks,
     *     the oldest first
     * @param  float  $rate  0 where it stands, negative backwards
     */
    private function __construct(public array $readings, public float $rate)
    {
    }

    public static function silent(): self
    {
        return new self([], 0.0);
    }

    /** One that was followed before, as if it had said at an engine time where it was thought to be. */
    public static function resumed(int $engine, int $time, float $rate): self
    {
        return new self([[$engine, $time]], $rate);
    }

    public function heard(int $engine, int $time): self
    {
        if (! $this->isHeardAt($engine)) {
            return new self([[$engine, $time]], 0.0);
        }
        if ($engine <= $this->readings[count($this->readings) - 1][0]) {
            // Of two at one moment, the later is right.
            return new self(
                [...array_slice($this->readings, 0, -1), [$this->readings[count($this->readings) - 1][0], $time]],
                $this->rate,
            );
        }
        $last = $this->readings[count($this->readings) - 1];
        if ($this->rate === 0.0 && $time !== $last[1] && abs($time - $last[1]) < self::LEAP) {
            // It begins to move: what it said while it stood says nothing of how fast.
            return self::through([$last, [$engine, $time]]);
        }
        if (abs($time - $this->at($engine)) >= self::LEAP) {
            return new self([[$engine, $time]], $this->rate);
        }
        $kept = array_filter(
            [...$this->readings, [$engine, $time]],
            static fn (array $reading): bool => $reading[0] > $engine - self::WINDOW,
        );
        $equal = array_slice($kept, -self::STANDS);

        return self::through(
            count($equal) === self::STANDS && count(array_unique(array_column($equal, 1))) === 1
                ? $equal
                : (array_values(array_slice($kept, -self::MOST)) ?: [[$engine, $time]]),
        );
    }

    /** @param  non-empty-list<array{int, int}>  $readings */
    private static function through(array $readings): self
    {
        [$first, $last] = [$readings[0], $readings[count($readings) - 1]];
        $span = $last[0] - $first[0];
        $rate = $span > 0 ? ($last[1] - $first[1]) / $span : 0.0;

        return new self(
            $readings,
            $span > 0 && abs(abs($rate) - 1) <= 0.002 + self::JITTER / $span ? (float) ($rate <=> 0.0) : $rate,
        );
    }

    /** Whether a reading came within the time, in flicks, for which it is run on without. */
    public function isHeardAt(int $engine, int $freewheel = self::FREEWHEEL): bool
    {
        return $this->readings !== [] && $engine - $this->readings[count($this->readings) - 1][0] < $freewheel;
    }

    /** Where it is at an engine time; 0 before it was ever heard. */
    public function at(int $engine): int
    {
        if ($this->readings === []) {
            return 0;
        }
        $times = array_map(
            fn (array $reading): int => $reading[1] + (int) round(($engine - $reading[0]) * $this->rate),
            $this->readings,
        );

        return match (true) {
            $this->rate > 0 => max($times),
            $this->rate < 0 => min($times),
            default => $times[count($times) - 1],
        };
    }
}
