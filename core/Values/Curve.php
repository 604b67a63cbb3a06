<?php

declare(strict_types=1);

namespace Core\Values;

use Core\Units\Refused;

/** Keyframes in order of time. Before the first and after the last, the value stands. */
final readonly class Curve
{
    public const MOST_KEYFRAMES = 20_000;

    /**
     * @param  non-empty-list<Keyframe>  $keyframes
     * @param  non-empty-list<int>  $times
     */
    private function __construct(public array $keyframes, private array $times)
    {
    }

    /**
     * @param  list<Keyframe>  $keyframes  in any order
     *
     * @throws Refused when there is none, too many, or two at one time
     */
    public static function of(array $keyframes): self
    {
        if ($keyframes === []) {
            throw Refused::because('keyframes', 'A curve needs at least one keyframe.');
        }
        if (count($keyframes) > self::MOST_KEYFRAMES) {
            throw Refused::because('keyframes', 'A curve holds at most '.self::MOST_KEYFRAMES.' keyframes.');
        }
        usort($keyframes, static fn (Keyframe $a, Keyframe $b): int => $a->time <=> $b->time);
        $times = [];
        foreach ($keyframes as $i => $keyframe) {
            if ($i > 0 && $times[$i - 1] === $keyframe->time) {
                throw Refused::because('keyframes', 'Two keyframes of one value stand at the same time.');
            }
            $times[] = $keyframe->time;
        }

        return new self($keyframes, $times);
    }

    public function at(int $time): float
    {
        return $this->valueIn($this->segment($time), $time);
    }

    /**
     * The value at $count times, $step flicks apart, walked segment by segment.
     *
     * @param  positive-int  $count
     * @return non-empty-list<float>
     */
    public function samples(int $from, int $step, int $count): array
    {
        $segment = $this->segment($from);
        $last = count($this->times) - 1;
        $out = [$this->valueIn($segment, $from)];
        for ($i = 1, $time = $from + $step; $i < $count; $i++, $time += $step) {
            while ($segment < $last && $this->times[$segment + 1] <= $time) {
                $segment++;
            }
            $out[] = $this->valueIn($segment, $time);
        }

        return $out;
    }

    /** Whether the value stands still at all times from a start up to and including an end. */
    public function standsBetween(int $from, int $to): bool
    {
        if ($to < $this->times[0] || $from >= $this->times[count($this->times) - 1]) {
            return true;
        }
        $segment = $this->segment($from);

        return $segment >= 0 && $to < $this->times[$segment + 1]
            && ($this->keyframes[$segment]->interpolation === Interpolation::Step || $this->keyframes[$segment]->value === $this->keyframes[$segment + 1]->value);
    }

    /** Index of the last keyframe at or before a time, -1 before all. */
    private function segment(int $time): int
    {
        [$low, $high] = [-1, count($this->times) - 1];
        while ($low < $high) {
            $middle = ($low + $high + 1) >> 1;
            $this->times[$middle] <= $time ? $low = $middle : $high = $middle - 1;
        }

        return $low;
    }

    private function valueIn(int $segment, int $time): float
    {
        if ($segment < 0) {
            return $this->keyframes[0]->value;
        }
        $next = $this->keyframes[$segment + 1] ?? null;
        if ($next === null) {
            return $this->keyframes[$segment]->value;
        }

        return $this->keyframes[$segment]->toward($next, ($time - $this->times[$segment]) / ($next->time - $this->times[$segment]));
    }
}
