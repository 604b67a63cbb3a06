<?php

declare(strict_types=1);

namespace Core\Timeline;

use Core\Units\Check;
use Core\Units\Flicks;
use Core\Units\InvalidValue;

/** Beats of a steady tempo: a first one, and from there on one after another, so many to a bar. */
final readonly class BeatGrid
{
    public const MIN_BPM = 20.0;

    public const MAX_BPM = 400.0;

    /** Taps further apart than this, in flicks, begin anew: 3 s. */
    private const PAUSE = 3 * Flicks::PER_SECOND;

    /**
     * @param  float  $bpm  beats a minute
     * @param  int  $first  show time of the first beat of a bar, flicks
     * @param  int  $beats  of a bar
     */
    private function __construct(public float $bpm, public int $first, public int $beats)
    {
    }

    /** @throws InvalidValue */
    public static function of(float $bpm, int $first = 0, int $beats = 4): self
    {
        return new self(
            Check::number('bpm', $bpm, self::MIN_BPM, self::MAX_BPM),
            Check::whole('firstBeat', $first, 0, Flicks::MAX, 'flicks'),
            Check::whole('beats', $beats, 1, 32),
        );
    }

    /**
     * @param  array<string, mixed>  $row  of a timeline; a bpm of 0 stands for none
     *
     * @throws InvalidValue
     */
    public static function fromRow(array $row): ?self
    {
        $bpm = (float) ($row['bpm'] ?? 0);
        $grid = self::of($bpm === 0.0 ? 120 : $bpm, (int) ($row['firstBeat'] ?? 0), (int) ($row['beats'] ?? 4));

        return $bpm === 0.0 ? null : $grid;
    }

    /**
     * The tempo that taps mean: the line of least squares through their times. Of taps with a pause between them,
     * those after the last pause count.
     *
     * @param  list<int>  $taps  show times, flicks, in the order in which they came
     * @return self|null null for fewer than two, or when they are too fast or too slow
     */
    public static function ofTaps(array $taps, int $beats = 4): ?self
    {
        $run = [];
        foreach ($taps as $i => $tap) {
            $run = $i > 0 && ($tap - $taps[$i - 1] > self::PAUSE || $tap <= $taps[$i - 1]) ? [$tap] : [...$run, $tap];
        }
        $n = count($run);
        if ($n < 2) {
            return null;
        }
        // From the first tap on, so that the numbers stay small.
        $at = array_map(static fn (int $tap): float => (float) ($tap - $run[0]), $run);
        $middle = ($n - 1) / 2;
        $mean = array_sum($at) / $n;
        [$up, $down] = [0.0, 0.0];
        foreach ($at as $i => $time) {
            $up += ($i - $middle) * ($time - $mean);
            $down += ($i - $middle) ** 2;
        }
        $beat = $up / $down;
        $bpm = (60 * Flicks::PER_SECOND) / $beat;
        if ($bpm < self::MIN_BPM || $bpm > self::MAX_BPM) {
            return null;
        }
        // To a tenth, as people write tempi, then the first beat anew with that.
        $bpm = round($bpm, 1);
        $beat = (60 * Flicks::PER_SECOND) / $bpm;
        $first = (int) round($run[0] + $mean - $middle * $beat);
        while ($first < 0) {
            $first += (int) round($beats * $beat);
        }

        return self::of($bpm, $first, $beats);
    }

    /** Show time of a beat, counted from the first; below 0 before it. */
    public function beat(int $n): int
    {
        return $this->first + (int) round(($n * 60 * Flicks::PER_SECOND) / $this->bpm);
    }

    /** The nearest beat to a show time. */
    public function nearest(int $time): int
    {
        return (int) round((($time - $this->first) * $this->bpm) / (60 * Flicks::PER_SECOND));
    }

    /** How long a bar is, flicks. */
    public function bar(): int
    {
        return (int) round(($this->beats * 60 * Flicks::PER_SECOND) / $this->bpm);
    }
}
