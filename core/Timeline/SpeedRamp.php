<?php

declare(strict_types=1);

namespace Core\Timeline;

use Core\Values\Track;

/**
 * What passes of a clip's media while the speed of its layer moves: the area under the speed since the clip began,
 * times the clip's own. A clip with a clock of its own keeps to its own speed.
 */
final readonly class SpeedRamp
{
    /** How far sound may be off for being heard at one speed at a time, in flicks: half a millisecond. */
    private const HEARD = 352_800.0;

    /** Frames beyond which a media is taken as one without an end. */
    private const MANY = 1 << 24;

    /** Runs through a part that are followed, at most. */
    private const RUNS = 4096;

    /**
     * @param  Track  $speed  of its layer, over show time: a factor, negative backwards
     * @param  int  $grid  flicks per frame of the show
     */
    public function __construct(private Clip $clip, private Track $speed, private int $grid)
    {
    }

    /** That of a clip; null where it does not count: at a speed of 1, and by a clock of its own. */
    public static function of(Clip $clip, ?Track $speed, int $grid): ?self
    {
        $heeded = $speed === null || $clip->ownClock ? null : self::heeded($speed);

        return $heeded === null ? null : new self($clip, $heeded, $grid);
    }

    /** The speed of a layer, where it is there to be heeded: null for one that is always 1. */
    public static function heeded(Track $speed): ?Track
    {
        return $speed->isConstant() && $speed->at(0) === 1.0 ? null : $speed;
    }

    /**
     * How much of its media has passed between two show times, in flicks: rounded down, in the direction of the clip.
     */
    public function passed(int $from, int $to): int
    {
        $area = $from <= $to ? $this->speed->areas([$from, $to])[1] : -$this->speed->areas([$to, $from])[1];

        return (int) floor($area * abs($this->clip->speed()) + 1e-3);
    }

    /**
     * The clip as segments of a media track, each with one pace, that show the same frames on the show's grid as the
     * true course: as long as there is a whole number of thousandths that does.
     *
     * @return list<array{int, int, int, int, int, int, int, int, int, int}> as MediaTrack has them
     */
    public function segments(int $index, int $pastEnd, int $flicksPerFrame, int $frames): array
    {
        [$first, $count] = $this->clip->range($flicksPerFrame, $frames);
        ['flicks' => $flicks, 'frames' => $rate, 'phase' => $phase] = $this->clip->pace($flicksPerFrame, $frames);
        // Everything in thousandths of a flick of the media, so that whole thousandths of a speed are exact.
        $unit = Clip::PARTS * $flicksPerFrame;
        $parts = intdiv($unit, $flicks) * $rate;
        $passed = intdiv($unit, $flicks) * $phase;
        $segments = [];
        $add = function (int $start, int $passed, int $pace) use (
            &$segments,
            $index,
            $first,
            $count,
            $pastEnd,
            $unit,
        ): void {
            // A number without an end is counted down from where it is.
            [$of, $past] =
                $pace < 0 && $count > self::MANY
                    ? [max(1, self::down($passed, $unit) + 1), MediaTrack::HOLD]
                    : [$count, $pastEnd];
            // One that goes down is counted from the other end; one that stands, from its beginning.
            $turned = $pace < 0 || ($pace === 0 && $this->clip->isBackwards());
            [$phase, $backwards] = [
                $turned ? $of * $unit - 1 - $passed : $passed,
                $turned !== $this->clip->isBackwards(),
            ];
            $by = Clip::divisor(Clip::divisor($unit, abs($pace)), abs($phase));
            $segments[] = [
                $start,
                $start,
                $index,
                $first,
                $of,
                $past,
                intdiv($unit, $by),
                intdiv($backwards ? -abs($pace) : abs($pace), $by),
                intdiv($phase, $by),
                0,
            ];
        };
        $end = $this->clip->end();
        foreach ($this->speed->pieces($this->clip->start, $end) as [$from, $to, $constant]) {
            $pace = $constant === null ? 0.5 : $constant * $parts;
            if (abs($pace - round($pace)) < 1e-6) {
                $add($from, $passed, (int) round($pace));
                $passed += ($to - $from) * (int) round($pace);

                continue;
            }
            $times = [];
            for (
                $time = $from + (($this->grid - ($from % $this->grid)) % $this->grid);
                $time < $to;
                $time += $this->grid
            ) {
                $times[] = $time;
            }
            $areas = $this->speed->areas([$from, ...$times, $to]);
            $at = array_map(static fn (float $area): int => $passed + (int) floor($area * $parts + 0.5), $areas);
            for ($i = 0; $i < count($times); $i = $next) {
                [$low, $high, $next, $begin] = [-4_000_000, 4_000_000, $i + 1, $at[$i + 1]];
                for (; $next < count($times); $next++) {
                    $gone = $times[$next] - $times[$i];
                    $frame = self::down($at[$next + 1], $unit);
                    $least = max($low, -self::down($begin - $frame * $unit, $gone));
                    $most = min($high, -self::down($begin - ($frame + 1) * $unit, $gone) - 1);
                    if ($least > $most) {
                        break;
                    }
                    [$low, $high] = [$least, $most];
                }
                // Where only one moment is left, any pace does: that to the next.
                $add(
                    $times[$i],
                    $begin,
                    $next > $i + 1 ? intdiv($low + $high, 2) : intdiv($at[$next + 1] - $begin, $this->grid),
                );
            }
            $passed = $at[count($at) - 1];
        }

        return $segments;
    }

    /**
     * The speed of the layer while the clip is up, as straight stretches, close enough for being heard.
     *
     * @return list<array{int, int, float, float}> from and to (show time), the area under the speed since the clip
     *     began (flicks), the speed
     */
    public function stretches(): array
    {
        $cuts = $this->speed->cuts($this->clip->start, $this->clip->end(), self::HEARD);
        $areas = $this->speed->areas($cuts);
        $stretches = [];
        for ($i = 0; $i + 1 < count($cuts); $i++) {
            $stretches[] = [
                $cuts[$i],
                $cuts[$i + 1],
                $areas[$i],
                ($areas[$i + 1] - $areas[$i]) / ($cuts[$i + 1] - $cuts[$i]),
            ];
        }

        return $stretches;
    }

    /**
     * Where in its media the clip is, as straight stretches, those in which it stands or shows nothing left out: for
     * what is heard of another timeline that it shows.
     *
     * @return list<array{int, int, float, float}> from and to (show time), flicks from the beginning of the media,
     *     and how fast they pass, negative backwards
     */
    public function course(int $flicksPerFrame, int $frames): array
    {
        [$first, $count] = $this->clip->range($flicksPerFrame, $frames);
        $begin = $first * $flicksPerFrame;
        $length = $count * $flicksPerFrame;
        $phase =
            $this->clip->offset +
            ($this->clip->isBackwards()
                ? ($this->clip->out === null
                    ? 0
                    : max(0, $begin + $length - $this->clip->out))
                : max(0, $this->clip->in - $begin));
        $own = abs($this->clip->speed());
        $course = [];
        foreach ($this->stretches() as [$from, $to, $area, $rate]) {
            $pace = $rate * $own;
            if ($pace === 0.0) {
                continue;
            }
            $passed = $phase + $area * $own;
            // In each run through its part it goes one way; back from its end, both frames at the ends are up once.
            $ends = [$passed, $passed + ($to - $from) * $pace];
            $turns = $this->clip->pastEnd === PastEnd::Bounce && $count > 1;
            $round = $turns ? 2 * ($count - 1) * $flicksPerFrame : $length;
            [$low, $high] = $this->clip->pastEnd->repeats()
                ? [(int) floor(min($ends) / $round), (int) ceil(max($ends) / $round)]
                : [0, 1];
            for ($run = $low; $run < $high && count($course) < self::RUNS; $run++) {
                foreach (
                    $turns ? [[0, $length, false], [$length, $round, true]] : [[0, $length, false]] as [$least, $most, $back]
                ) {
                    $bounds = [
                        $from + ($run * $round + $least - $passed) / $pace,
                        $from + ($run * $round + $most - $passed) / $pace,
                    ];
                    [$a, $b] = [(int) ceil(max($from, min($bounds))), (int) ceil(min($to, max($bounds)))];
                    if ($a >= $b) {
                        continue;
                    }
                    $within = $passed + ($a - $from) * $pace - $run * $round;
                    [$at, $onward] = $back ? [$round + $flicksPerFrame - $within, -$pace] : [$within, $pace];
                    $course[] = $this->clip->isBackwards()
                        ? [$a, $b, $begin + $length - $at, -$onward]
                        : [$a, $b, $begin + $at, $onward];
                }
            }
        }
        usort($course, static fn (array $a, array $b): int => $a[0] <=> $b[0]);

        return $course;
    }

    /**
     * When its media has run out and begins anew, or turns, after the clip's start: the first times.
     *
     * @return list<int> flicks, ascending
     */
    public function turns(int $flicksPerFrame, int $frames, int $most): array
    {
        $turns = [];
        $course = $this->course($flicksPerFrame, $frames);
        foreach ($course as $i => [$from, $to, $at, $rate]) {
            $next = $course[$i + 1] ?? null;
            // Where one run ends, the next goes on elsewhere or the other way; a media that has run out leaves the
            // rest of the clip.
            $goesOn =
                $next !== null && $next[0] - $to <= 1 && abs($at + ($to - $from) * $rate - $next[2]) < $flicksPerFrame;
            if (! $goesOn && $to < $this->clip->end() - 1) {
                $turns[] = $to - $this->clip->start;
            }
            if (count($turns) >= $most) {
                break;
            }
        }

        return $turns;
    }

    private static function down(int $a, int $b): int
    {
        return intdiv($a, $b) - ($a % $b < 0 ? 1 : 0);
    }
}
