<?php

declare(strict_types=1);

namespace Core\Timeline;

/**
 * Which clip of a layer is up, and which frame of its media, over show time, as segments: a loop of an hour is one. All is
 * whole numbers, so every frame number is exact. Between clips stands a segment with clip −1.
 */
final readonly class MediaTrack
{
    public const HOLD = 0;

    public const LOOP = 1;

    /** Numbers in a segment: start, origin, clip, first, count, past end, flicks, frames. */
    public const COLUMNS = 8;

    /**
     * @param  list<array{int, int, int, int, int, int, int, int}>  $segments  start (show time from which on it holds),
     *   origin (show time at which the first frame begins), clip (index, −1 for none), first frame, count of frames,
     *   past end (HOLD or LOOP), and the speed as flicks per so many frames, negative backwards
     */
    private function __construct(public array $segments)
    {
    }

    /** @param  list<array{int, int, int, int, int, int, int, int}>  $segments  ascending in start */
    public static function of(array $segments): self
    {
        return new self($segments);
    }

    /**
     * Of clips that overlap, the one that started last is up; of two that start together, the later in the list.
     *
     * @param  list<array{Clip, int, int}>  $clips  in order of start: clip, flicks per frame of its media, frames that it has
     */
    public static function ofClips(array $clips): self
    {
        $times = [];
        foreach ($clips as [$clip]) {
            $times[$clip->start] = $times[$clip->end()] = true;
        }
        ksort($times);
        $segments = [];
        $up = [];
        $next = 0;
        $before = -1;
        foreach (array_keys($times) as $time) {
            while ($next < count($clips) && $clips[$next][0]->start <= $time) {
                $up[] = $next++;
            }
            // Long clips go on under short ones that came later; those that have ended leave from the top.
            while ($up !== [] && $clips[$up[count($up) - 1]][0]->end() <= $time) {
                array_pop($up);
            }
            $on = $up === [] ? -1 : $up[count($up) - 1];
            if ($on !== $before) {
                $segments[] = $on < 0 ? [$time, $time, -1, 0, 1, self::HOLD, 1, 1] : self::segment($time, $on, ...$clips[$on]);
                $before = $on;
            }
        }

        return new self($segments);
    }

    /** @return array{int, int, int, int, int, int, int, int} */
    private static function segment(int $time, int $index, Clip $clip, int $flicksPerFrame, int $frames): array
    {
        if ($frames <= 1) {
            return [$time, $clip->start, $index, 0, 1, self::HOLD, 1, 1];
        }
        [$first, $count] = $clip->range($flicksPerFrame, $frames);

        return [$time, $clip->start - $clip->in % $flicksPerFrame, $index, $first, $count, $clip->pastEnd === PastEnd::Loop ? self::LOOP : self::HOLD, $flicksPerFrame, 1];
    }

    /**
     * What is up at a show time; frames change on the show's frame grid.
     *
     * @param  int  $grid  flicks per frame of the show
     * @return array{int, int} clip, −1 for none, and frame
     */
    public function at(int $time, int $grid): array
    {
        $time = intdiv($time - ($time < 0 ? $grid - 1 : 0), $grid) * $grid;
        [$low, $high] = [-1, count($this->segments) - 1];
        while ($low < $high) {
            $middle = ($low + $high + 1) >> 1;
            $this->segments[$middle][0] <= $time ? $low = $middle : $high = $middle - 1;
        }
        if ($low < 0 || $this->segments[$low][2] < 0) {
            return [-1, 0];
        }
        [, $origin, $clip, $first, $count, $pastEnd, $flicks, $frames] = $this->segments[$low];
        $n = self::floor(($time - $origin) * $frames, $flicks);

        return [$clip, $first + ($pastEnd === self::LOOP ? ($n % $count + $count) % $count : max(0, min($count - 1, $n)))];
    }

    /** Division that rounds down, also for negative numbers. */
    private static function floor(int $a, int $b): int
    {
        $q = intdiv($a, $b);

        return $a % $b !== 0 && ($a < 0) !== ($b < 0) ? $q - 1 : $q;
    }

    /** All numbers as 64-bit floats, little-endian: they are whole and below 2⁵³. */
    public function toBytes(): string
    {
        return $this->segments === [] ? '' : pack('e*', ...array_merge(...$this->segments));
    }

    public static function fromBytes(string $bytes): self
    {
        /** @var list<array{int, int, int, int, int, int, int, int}> $segments */
        $segments = $bytes === '' ? [] : array_chunk(array_map(intval(...), array_values(unpack('e*', $bytes) ?: [])), self::COLUMNS);

        return new self($segments);
    }
}
