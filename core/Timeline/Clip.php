<?php

declare(strict_types=1);

namespace Core\Timeline;

use Core\Units\Check;
use Core\Units\Flicks;
use Core\Units\InvalidValue;

/** One use of a media on a layer. Times in flicks; start on the timeline, in and out within the media. */
final readonly class Clip
{
    private function __construct(
        public int $start,
        public int $length,
        public int $in,
        public ?int $out,
        public PastEnd $pastEnd,
    ) {
    }

    public static function of(int $start, int $length, int $in = 0, ?int $out = null, PastEnd $pastEnd = PastEnd::Hold): self
    {
        Check::whole('start', $start, 0, Flicks::MAX, 'flicks');
        Check::whole('length', $length, 1, Flicks::MAX, 'flicks');
        Check::whole('in', $in, 0, Flicks::MAX, 'flicks');
        if ($out !== null && $out <= $in) {
            throw InvalidValue::because('out', 'A clip\'s out point must come after its in point.');
        }

        return new self($start, $length, $in, $out, $pastEnd);
    }

    public function end(): int
    {
        return $this->start + $this->length;
    }

    public function isUpAt(int $time): bool
    {
        return $time >= $this->start && $time < $this->start + $this->length;
    }

    /**
     * Which frame of the media is up, counted from 0. A still has one frame.
     *
     * @param  int  $frames  how many frames the media has
     */
    public function mediaFrameAt(int $time, int $flicksPerFrame, int $frames): int
    {
        if ($frames <= 1) {
            return 0;
        }
        [$first, $count] = $this->range($flicksPerFrame, $frames);
        $n = intdiv(max(0, $time - $this->start) + $this->in % $flicksPerFrame, $flicksPerFrame);

        return $this->pastEnd === PastEnd::Loop ? $first + $n % $count : $first + min($count - 1, $n);
    }

    /**
     * The frames of the media that it shows: the first, and how many.
     *
     * @return array{int, positive-int}
     */
    public function range(int $flicksPerFrame, int $frames): array
    {
        $first = min($frames - 1, intdiv($this->in, $flicksPerFrame));
        $end = min($frames, $this->out === null ? $frames : intdiv($this->out + $flicksPerFrame - 1, $flicksPerFrame));

        return [$first, max(1, $end - $first)];
    }
}
