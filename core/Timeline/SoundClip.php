<?php

declare(strict_types=1);

namespace Core\Timeline;

use Core\Units\Flicks;

/**
 * A sound that is heard at one speed for a while: which sample of it is heard when. Samples are counted at 48 kHz;
 * one that runs backwards is heard so, from its last sample down.
 */
final readonly class SoundClip
{
    public const SAMPLE_RATE = 48_000;

    /** Flicks of a sample: a whole number. */
    public const FLICKS = Flicks::PER_SECOND / self::SAMPLE_RATE;

    /**
     * @param  int  $start  show time from which on it is heard
     * @param  int  $end  until when
     * @param  int  $from  the first sample of its part
     * @param  float  $count  how many there are: with a picture as long as its frames last, which need be no whole
     *     number of samples
     * @param  float  $offset  samples that have passed when it starts
     * @param  float  $speed  of the clip and of the sound together, negative backwards
     * @param  bool  $loops  whether it begins anew when it has run out
     * @param  bool  $ownClock  whether it runs on when the timeline holds
     */
    private function __construct(
        public int $start,
        public int $end,
        public int $from,
        public float $count,
        public float $offset,
        public float $speed,
        public bool $loops,
        public bool $ownClock,
    ) {
    }

    /**
     * @param  int  $samples  of the whole sound
     * @param  float|null  $rate  of a sound that goes with a picture that is made: it is heard again and again, so
     *     much faster; null for one that is played
     * @param  array{int, int}|null  $picture  flicks per frame of the picture that it goes with, and frames: it
     *     repeats as that does; null for none
     */
    public static function of(Clip $clip, int $samples, ?float $rate = null, ?array $picture = null): self
    {
        if ($rate !== null) {
            // What goes with a picture that is made backwards is not heard.
            return new self(
                $clip->start,
                $clip->end(),
                0,
                $clip->isBackwards() ? 0 : $samples,
                fmod((($clip->in + $clip->offset) / self::FLICKS) * $rate, $samples),
                $clip->speed() * $rate,
                true,
                $clip->ownClock,
            );
        }
        if ($picture !== null && $picture[1] > 1 && $samples > 0) {
            [$first, $frames] = $clip->range(...$picture);

            return new self(
                $clip->start,
                $clip->end(),
                intdiv($first * $picture[0], self::FLICKS),
                ($frames * $picture[0]) / self::FLICKS,
                $clip->offset / self::FLICKS,
                $clip->speed(),
                $clip->pastEnd === PastEnd::Loop,
                $clip->ownClock,
            );
        }
        $from = min($samples, intdiv($clip->in, self::FLICKS));
        $to = $clip->out === null ? $samples : min($samples, intdiv($clip->out, self::FLICKS));

        return new self(
            $clip->start,
            $clip->end(),
            $from,
            max(0, $to - $from),
            $clip->offset / self::FLICKS,
            $clip->speed(),
            $clip->pastEnd === PastEnd::Loop,
            $clip->ownClock,
        );
    }

    /**
     * The same sound where its time runs another way: of each stretch, what is heard of it. Stretches in which it is
     * silent are left out.
     *
     * @param  list<array{int, int, float, float}>  $stretches  from and to, in the time in which it is heard then;
     *     its own time by then; how fast that goes on
     * @return list<self>
     */
    public function along(array $stretches): array
    {
        $heard = [];
        foreach ($stretches as [$from, $to, $at, $rate]) {
            if ($rate === 0.0 || $this->count === 0.0 || $this->speed === 0.0) {
                continue;
            }
            // When its own time comes to its start and to its end.
            [$in, $out] = [$from + ($this->start - $at) / $rate, $from + ($this->end - $at) / $rate];
            [$begin, $end] = [(int) ceil(max($from, min($in, $out))), (int) ceil(min($to, max($in, $out)))];
            if ($begin >= $end) {
                continue;
            }
            $passed =
                $this->offset + (($at + ($begin - $from) * $rate - $this->start) * abs($this->speed)) / self::FLICKS;
            $one = self::heard($begin, $end, $this->from, $this->count, $passed, $this->speed, $rate, $this->loops);
            $one === null || ($heard[] = $one);
        }

        return $heard;
    }

    /**
     * The sound of a clip on a layer whose speed moves.
     *
     * @return list<self>
     */
    public function ramped(SpeedRamp $ramp): array
    {
        $heard = [];
        foreach ($this->count === 0.0 ? [] : $ramp->stretches() as [$from, $to, $area, $rate]) {
            $one =
                $rate === 0.0
                    ? null
                    : self::heard(
                        $from,
                        $to,
                        $this->from,
                        $this->count,
                        $this->offset + ($area * abs($this->speed)) / self::FLICKS,
                        $this->speed,
                        $rate,
                        $this->loops,
                    );
            $one === null || ($heard[] = $one);
        }

        return $heard;
    }

    /**
     * Of a part that has passed so far at its begin and goes on with a rate, backwards too; null where nothing of it
     * is heard.
     */
    private static function heard(
        int $begin,
        int $end,
        int $from,
        float $count,
        float $passed,
        float $speed,
        float $rate,
        bool $loops,
    ): ?self {
        // The other way, what is left counts in place of what has passed.
        $offset = $rate > 0 ? $passed : $count - $passed;
        $pace = $speed * $rate;
        if ($loops) {
            $offset = fmod(fmod($offset, $count) + $count, $count);
        } elseif ($offset < 0) {
            // It is silent until it comes to where there is something.
            $begin += (int) ceil((-$offset * self::FLICKS) / abs($pace));
            $offset = 0.0;
        }

        return $begin >= $end || (! $loops && $offset >= $count)
            ? null
            : new self($begin, $end, $from, $count, $offset, $pace, $loops, false);
    }

    /**
     * The sample that is heard at a show time, with its fraction; backwards, the one that was just passed. Null for
     * silence.
     */
    public function sampleAt(int $time): ?float
    {
        if ($time < $this->start || $time >= $this->end || $this->count === 0.0) {
            return null;
        }
        $passed = $this->offset + (($time - $this->start) * abs($this->speed)) / self::FLICKS;
        if ($passed >= $this->count && ! $this->loops) {
            return null;
        }

        $within = fmod($passed, $this->count);

        return $this->from + ($this->speed < 0 ? $this->count - $within : $within);
    }

    /**
     * @return array{start: int, end: int, from: int, count: float, offset: float, speed: float, loop: bool, own?: true} for
     *     those who play it
     */
    public function toArray(): array
    {
        return [
            'start' => $this->start,
            'end' => $this->end,
            'from' => $this->from,
            'count' => $this->count,
            'offset' => $this->offset,
            'speed' => $this->speed,
            'loop' => $this->loops,
        ] + ($this->ownClock ? ['own' => true] : []);
    }
}
