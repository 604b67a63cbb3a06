<?php

declare(strict_types=1);

namespace Core\Timeline;

use Core\Units\Flicks;

/** The sound of a clip: which sample of it is heard when. Samples are counted at 48 kHz; one that runs backwards is heard so, from its last sample down. */
final readonly class SoundClip
{
    public const SAMPLE_RATE = 48_000;

    /** Flicks of a sample: a whole number. */
    public const FLICKS = Flicks::PER_SECOND / self::SAMPLE_RATE;

    /**
     * @param  int  $from  the first sample of its part
     * @param  int  $count  how many there are
     * @param  float  $offset  samples that have passed when it starts
     * @param  float  $speed  of the clip and of the sound together, negative backwards
     * @param  bool  $loops  whether it begins anew when it has run out
     */
    private function __construct(public Clip $clip, public int $from, public int $count, public float $offset, public float $speed, public bool $loops)
    {
    }

    /**
     * @param  int  $samples  of the whole sound
     * @param  float|null  $rate  of a sound that goes with a picture that is made: it is heard again and again, so much faster; null for one that is played
     */
    public static function of(Clip $clip, int $samples, ?float $rate = null): self
    {
        if ($rate !== null) {
            // What goes with a picture that is made backwards is not heard.
            return new self($clip, 0, $clip->isBackwards() ? 0 : $samples, fmod(($clip->in + $clip->offset) / self::FLICKS * $rate, $samples), $clip->speed() * $rate, true);
        }
        $from = min($samples, intdiv($clip->in, self::FLICKS));
        $to = $clip->out === null ? $samples : min($samples, intdiv($clip->out, self::FLICKS));

        return new self($clip, $from, max(0, $to - $from), $clip->offset / self::FLICKS, $clip->speed(), $clip->pastEnd === PastEnd::Loop);
    }

    /** The sample that is heard at a show time, with its fraction; backwards, the one that was just passed. Null for silence. */
    public function sampleAt(int $time): ?float
    {
        if (! $this->clip->isUpAt($time) || $this->count === 0) {
            return null;
        }
        $passed = $this->offset + ($time - $this->clip->start) * abs($this->speed) / self::FLICKS;
        if ($passed >= $this->count && ! $this->loops) {
            return null;
        }

        $within = fmod($passed, $this->count);

        return $this->from + ($this->speed < 0 ? $this->count - $within : $within);
    }

    /** @return array{start: int, end: int, from: int, count: int, offset: float, speed: float, loop: bool, own?: true} for those who play it */
    public function toArray(): array
    {
        return ['start' => $this->clip->start, 'end' => $this->clip->end(), 'from' => $this->from, 'count' => $this->count, 'offset' => $this->offset, 'speed' => $this->speed, 'loop' => $this->loops] + ($this->clip->ownClock ? ['own' => true] : []);
    }
}
