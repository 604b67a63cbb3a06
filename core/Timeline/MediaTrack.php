<?php

declare(strict_types=1);

namespace Core\Timeline;

use Core\Values\MediaRun;
use Core\Values\Track;

/**
 * Which clip of a layer is up, and which frame of its media, over show time, as segments: a loop of an hour is one.
 * All is whole numbers, so every frame number is exact. Between clips stands a segment with clip −1.
 */
final readonly class MediaTrack
{
    public const HOLD = 0;

    public const LOOP = 1;

    public const BOUNCE = 2;

    public const DARK = 3;

    /** By their numbers. */
    private const PAST_ENDS = [
        self::HOLD => PastEnd::Hold,
        self::LOOP => PastEnd::Loop,
        self::BOUNCE => PastEnd::Bounce,
        self::DARK => PastEnd::Dark,
    ];

    /**
     * Numbers in a segment: start, origin, clip, first, count, past end, flicks, frames, phase, end of an own clock.
     */
    public const COLUMNS = 10;

    /**
     * @param  list<array{int, int, int, int, int, int, int, int, int, int}>  $segments  start (show time from which
     *     on it holds),
     *   origin (show time from which frames are counted), clip (index, −1 for none), first frame, count of frames,
     *   past end (HOLD, LOOP, BOUNCE or DARK), the speed as flicks per so many frames, negative backwards, the phase:
     *   what
     *   is past of the frame with which it begins, in flicks times frames, and, of a clip with a clock of its own,
     *   where it ends; else 0
     */
    private function __construct(public array $segments)
    {
    }

    /** @param  list<array{int, int, int, int, int, int, int, int, int, int}>  $segments  ascending in start */
    public static function of(array $segments): self
    {
        return new self($segments);
    }

    /**
     * Of clips that overlap, the one that started last is up (cut ones: where all of it started); of two that start
     * together, the later in the list.
     *
     * @param  list<array{Clip, int, int}>  $clips  in order of start: clip, flicks per frame of its media, frames
     *     that it has
     * @param  int  $depth  how far below the one that is up: those below count while all that lie over them come out
     *     of them or go
     *   back into them
     * @param  Track|null  $speed  of the layer over show time; null for 1
     * @param  int  $grid  flicks per frame of the show, on which a speed that moves is followed
     */
    public static function ofClips(array $clips, int $depth = 0, ?Track $speed = null, int $grid = 1): self
    {
        $paced =
            $speed === null
                ? []
                : array_map(
                    static fn (array $clip, int $i): ?array => $clip[2] <= 1
                        ? null
                        : SpeedRamp::of($clip[0], $speed, $grid)?->segments(
                            $i,
                            self::numberOf($clip[0]->pastEnd),
                            $clip[1],
                            $clip[2],
                        ),
                    $clips,
                    array_keys($clips),
                );
        $fades = $depth > 0 ? self::crossfades(array_column($clips, 0)) : [];
        $times = [];
        foreach ($clips as $i => [$clip]) {
            $times[$clip->start] = $times[$clip->end()] = true;
            if ($depth > 0) {
                $fades[$i] = max($fades[$i], $clip->fadeIn);
                $times[max($clip->start, min($clip->end(), $clip->begin() + $fades[$i]))] = $times[
                    min($clip->end(), max($clip->start, $clip->finish() - $clip->fadeOut))
                ] = true;
            }
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
            $up = array_values(array_filter($up, static fn (int $i): bool => $clips[$i][0]->end() > $time));
            // One that was cut lies where all of it lay.
            usort($up, static fn (int $a, int $b): int => [$clips[$a][0]->begin(), $a] <=> [$clips[$b][0]->begin(), $b]);
            $top = count($up) - 1;
            $on = $up[$top - $depth] ?? -1;
            for ($over = $top; $on >= 0 && $over > $top - $depth; $over--) {
                $clip = $clips[$up[$over]][0];
                if ($time >= $clip->begin() + $fades[$up[$over]] && $time < $clip->finish() - $clip->fadeOut) {
                    $on = -1;
                }
            }
            if ($on !== $before) {
                $segments[] =
                    $on < 0
                        ? [$time, $time, -1, 0, 1, self::HOLD, 1, 1, 0, 0]
                        : self::segment($time, $on, ...$clips[$on]);
                $before = $on;
            }
        }
        if ($paced !== []) {
            $segments = self::spread($segments, $paced);
        }

        return new self($segments);
    }

    /**
     * How many clips are drawn at once at most: one, and those below while it comes out of them.
     *
     * @param  list<Clip>  $clips  in order of start
     */
    public static function deepest(array $clips): int
    {
        [$most, $up] = [0, []];
        foreach ($clips as $clip) {
            $up = array_filter($up, static fn (Clip $c): bool => $c->end() > $clip->start);
            $up[] = $clip;
            $most = max($most, count($up));
        }

        return $most;
    }

    /** By what name the clips that far below the one that is up are in a plan, after `layer:ID/`. */
    public static function nameAt(int $depth): string
    {
        return match ($depth) {
            0 => 'media',
            1 => 'under',
            default => "under$depth",
        };
    }

    /**
     * How long each clip takes to come out of the one below it: as long as that still is up, where it ends before
     * this one does.
     *
     * @param  list<Clip>  $clips  in order of start
     * @return list<int> flicks, 0 where there is none
     */
    public static function crossfades(array $clips): array
    {
        $fades = [];
        $order = array_keys($clips);
        usort($order, static fn (int $a, int $b): int => [$clips[$a]->begin(), $a] <=> [$clips[$b]->begin(), $b]);
        // What was cut counts as one while its parts are there.
        $parts = [];
        foreach ($clips as $clip) {
            $parts["{$clip->begin()} {$clip->finish()}"][] = $clip;
        }
        $isUp = static function (Clip $of, int $time) use ($parts): bool {
            foreach ($parts["{$of->begin()} {$of->finish()}"] as $part) {
                if ($part->start <= $time && $part->end() > $time) {
                    return true;
                }
            }

            return false;
        };
        $up = [];
        foreach ($order as $i) {
            $clip = $clips[$i];
            $begin = $clip->begin();
            $up = array_values(array_filter($up, static fn (Clip $c): bool => $c->finish() > $begin));
            $others = array_values(
                array_filter($up, static fn (Clip $c): bool => ! $c->isCutFromSame($clip) && $isUp($c, $begin)),
            );
            $below = $others[count($others) - 1] ?? null;
            $comesOut =
                $below !== null &&
                $below->begin() < $begin &&
                $below->finish() <= $clip->finish() &&
                $isUp($below, $below->finish() - 1);
            $fades[$i] = $comesOut ? $below->finish() - $begin : 0;
            $up[] = $clip;
        }
        ksort($fades);

        return array_values($fades);
    }

    /**
     * Segments of clips whose speed moves, in place of the one that stands for each of them.
     *
     * @param  list<array{int, int, int, int, int, int, int, int, int, int}>  $segments
     * @param  list<list<array{int, int, int, int, int, int, int, int, int, int}>|null>  $paced  by clip
     * @return list<array{int, int, int, int, int, int, int, int, int, int}>
     */
    private static function spread(array $segments, array $paced): array
    {
        $spread = [];
        foreach ($segments as $i => $segment) {
            $own = $paced[$segment[2]] ?? null;
            if ($own === null) {
                $spread[] = $segment;

                continue;
            }
            $until = $segments[$i + 1][0] ?? PHP_INT_MAX;
            foreach ($own as $k => $one) {
                if ($one[0] < $until && ($own[$k + 1][0] ?? PHP_INT_MAX) > $segment[0]) {
                    $spread[] = [max($one[0], $segment[0])] + $one;
                }
            }
        }

        return $spread;
    }

    private static function numberOf(PastEnd $pastEnd): int
    {
        return (int) array_search($pastEnd, self::PAST_ENDS, true);
    }

    /** @return array{int, int, int, int, int, int, int, int, int, int} */
    private static function segment(int $time, int $index, Clip $clip, int $flicksPerFrame, int $frames): array
    {
        if ($frames <= 1) {
            return [$time, $clip->start, $index, 0, 1, self::HOLD, 1, 1, 0, 0];
        }
        [$first, $count] = $clip->range($flicksPerFrame, $frames);
        ['flicks' => $flicks, 'frames' => $rate, 'phase' => $phase] = $clip->pace($flicksPerFrame, $frames);

        return [
            $time,
            $clip->start,
            $index,
            $first,
            $count,
            self::numberOf($clip->pastEnd),
            $flicks,
            $clip->isBackwards() ? -$rate : $rate,
            $phase,
            $clip->ownClock ? $clip->end() : 0,
        ];
    }

    /**
     * What is up at a show time; frames change on the show's frame grid.
     *
     * @param  int  $grid  flicks per frame of the show
     * @param  (\Closure(int, int): int)|null  $running  of a clip with a clock of its own, by its beginning and its
     *     end: for how long
     *   it has been up, in flicks; null has it run as the others
     * @return array{int, int} clip, −1 for none, and frame
     */
    public function at(int $time, int $grid, ?\Closure $running = null): array
    {
        $time = intdiv($time - ($time < 0 ? $grid - 1 : 0), $grid) * $grid;
        [$low, $high] = [-1, count($this->segments) - 1];
        while ($low < $high) {
            $middle = ($low + $high + 1) >> 1;
            $this->segments[$middle][0] <= $time ? ($low = $middle) : ($high = $middle - 1);
        }
        if ($low < 0 || $this->segments[$low][2] < 0) {
            return [-1, 0];
        }
        [, $origin, $clip, $first, $count, $pastEnd, $flicks, $frames, $phase, $end] = $this->segments[$low];
        if ($end > 0 && $running !== null) {
            $gone = $running($origin, $end);
            $time = $origin + $gone - ($gone % $grid);
        }
        $at = self::PAST_ENDS[$pastEnd]->frame(
            Clip::times($time - $origin, abs($frames), $flicks, $phase),
            max(1, $count),
        );

        return $at === null ? [-1, 0] : [$clip, $first + ($frames < 0 ? $count - 1 - $at : $at)];
    }

    /**
     * Which frame of a media that is called is up so long after it was told how to run: counted from 0.
     *
     * @param  int  $flicks  per frame of the media
     */
    public static function called(MediaRun $run, int $gone, int $flicks, int $frames): ?int
    {
        $first = min($frames - 1, (int) floor($run->in * $frames));
        $count = max(1, (int) floor($run->out * $frames) - $first);
        $at = (int) floor(($run->offset + $gone * $run->rate) / $flicks) + ($run->fromEnd ? $count - 1 : 0);
        $frame = self::PAST_ENDS[$run->past]->frame($at, $count);

        return $frame === null ? null : $first + $frame;
    }

    /** All numbers as 64-bit floats, little-endian: they are whole and below 2⁵³. */
    public function toBytes(): string
    {
        return $this->segments === [] ? '' : pack('e*', ...array_merge(...$this->segments));
    }

    public static function fromBytes(string $bytes): self
    {
        /** @var list<array{int, int, int, int, int, int, int, int, int, int}> $segments */
        $segments =
            $bytes === ''
                ? []
                : array_chunk(array_map(intval(...), array_values(unpack('e*', $bytes) ?: [])), self::COLUMNS);

        return new self($segments);
    }
}
