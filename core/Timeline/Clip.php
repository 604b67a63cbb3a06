<?php

declare(strict_types=1);

namespace Core\Timeline;

use Core\Units\Check;
use Core\Units\Flicks;
use Core\Units\InvalidValue;

/**
 * One use of a media on a layer. Times in flicks; start on the timeline, in and out within the media. Its speed is a
 * factor of whole thousandths; backwards it begins at the out point and goes to the in point.
 */
final readonly class Clip
{
    public const MAX_SPEED = 16.0;

    /** The longest offset that counts, in flicks: 3 hours. */
    private const MAX_PHASE = 10_800 * Flicks::PER_SECOND;

    /** Speeds are counted in parts of one. */
    public const PARTS = 1000;

    /** @param  int  $speed  in thousandths, negative backwards */
    private function __construct(
        public int $start,
        public int $length,
        public int $in,
        public ?int $out,
        public PastEnd $pastEnd,
        private int $speed,
        public int $fadeIn,
        public int $fadeOut,
        public int $offset,
        public bool $ownClock,
        public int $cutBefore,
        public int $cutAfter,
    ) {
    }

    /**
     * @param  float  $speed  1 for that of the media; −16 to 16, but not 0
     * @param  int  $fadeIn  how long it takes to be there in full, from its start
     * @param  int  $fadeOut  how long it takes to leave, up to its end
     * @param  int  $offset  how much of its media has passed when it starts, as if it had begun earlier: into a
     *     repeat, too
     * @param  bool  $ownClock  whether its media runs on when the timeline holds, jumps within it or changes its rate
     * @param  int  $cutBefore  how much of the clip that it was cut from lies before its start: its fade in, and what
     *     it lies over, count from there
     * @param  int  $cutAfter  how much lies after its end: its fade out counts to there
     *
     * @throws InvalidValue
     */
    public static function of(
        int $start,
        int $length,
        int $in = 0,
        ?int $out = null,
        PastEnd $pastEnd = PastEnd::Hold,
        float $speed = 1.0,
        int $fadeIn = 0,
        int $fadeOut = 0,
        int $offset = 0,
        bool $ownClock = false,
        int $cutBefore = 0,
        int $cutAfter = 0,
    ): self {
        Check::whole('start', $start, 0, Flicks::MAX, 'flicks');
        Check::whole('length', $length, 1, Flicks::MAX, 'flicks');
        Check::whole('in', $in, 0, Flicks::MAX, 'flicks');
        if ($out !== null && $out <= $in) {
            throw InvalidValue::because('out', 'A clip\'s out point must come after its in point.');
        }

        $parts = (int) round(Check::number('speed', $speed, -self::MAX_SPEED, self::MAX_SPEED) * self::PARTS);
        if ($parts === 0) {
            throw InvalidValue::because(
                'speed',
                'A clip\'s speed is at least 0.001 forwards or backwards; let it hold past a very short part to stand still.',
            );
        }
        Check::whole('fadeIn', $fadeIn, 0, Flicks::MAX, 'flicks');
        Check::whole('fadeOut', $fadeOut, 0, Flicks::MAX, 'flicks');
        Check::whole('offset', $offset, 0, self::MAX_PHASE, 'flicks');
        Check::whole('cutBefore', $cutBefore, 0, Flicks::MAX, 'flicks');
        Check::whole('cutAfter', $cutAfter, 0, Flicks::MAX, 'flicks');

        return new self(
            $start,
            $length,
            $in,
            $out,
            $pastEnd,
            $parts,
            $fadeIn,
            $fadeOut,
            $offset,
            $ownClock,
            $cutBefore,
            $cutAfter,
        );
    }

    /** Where the clip that it was cut from began: by this it lies over others, and from here its fade in counts. */
    public function begin(): int
    {
        return $this->start - $this->cutBefore;
    }

    /** Where the clip that it was cut from ends: to here its fade out counts. */
    public function finish(): int
    {
        return $this->end() + $this->cutAfter;
    }

    /** Whether both were cut from one clip, so that neither lies over the other. */
    public function isCutFromSame(self $other): bool
    {
        return $this->begin() === $other->begin() &&
            $this->finish() === $other->finish() &&
            ($this->end() <= $other->start || $other->end() <= $this->start);
    }

    public function speed(): float
    {
        return $this->speed / self::PARTS;
    }

    public function isBackwards(): bool
    {
        return $this->speed < 0;
    }

    /** How much of its media passes in a time of the timeline, in flicks, rounded down. */
    public function within(int $time): int
    {
        return self::times($time, abs($this->speed), self::PARTS);
    }

    /** How much of the timeline a part of its media takes, in flicks, rounded down. */
    public function lasting(int $media): int
    {
        return self::times($media, self::PARTS, abs($this->speed));
    }

    /**
     * How fast frames pass: `(t − start) × frames + phase` divided by `flicks` and rounded down is how many have
     * passed at t.
     *
     * @return array{flicks: int, frames: int, phase: int}
     */
    public function pace(int $flicksPerFrame, int $frames): array
    {
        [$first, $count] = $this->range($flicksPerFrame, $frames);
        // What of the frame with which it begins is past already.
        $past = $this->isBackwards()
            ? ($this->out === null
                ? 0
                : max(0, ($first + $count) * $flicksPerFrame - $this->out))
            : $this->in % $flicksPerFrame;
        [$flicks, $rate, $phase] = [
            self::PARTS * $flicksPerFrame,
            abs($this->speed),
            ($past + $this->offset) * self::PARTS,
        ];
        $by = self::divisor(self::divisor($flicks, $rate), $phase);

        return ['flicks' => intdiv($flicks, $by), 'frames' => intdiv($rate, $by), 'phase' => intdiv($phase, $by)];
    }

    /**
     * How long one run of its media takes on the timeline, and how long after its start it has run out for the first
     * time, in flicks.
     *
     * @return array{pass: int, first: int}
     */
    public function passes(int $flicksPerFrame, int $frames): array
    {
        [, $count] = $this->range($flicksPerFrame, $frames);
        ['flicks' => $flicks, 'frames' => $rate, 'phase' => $phase] = $this->pace($flicksPerFrame, $frames);
        // Frames pass at frames / flicks a flick; the first n of them after (n × flicks − phase) / frames, rounded up.
        $after = static fn (int $n, int $past): int => max(0, (int) ceil(($n * $flicks - $past) / $rate));

        return [
            'pass' => $after($count, 0),
            'first' => $after($count, $this->pastEnd->repeats() ? $phase % max(1, $count * $flicks) : $phase),
        ];
    }

    /**
     * a · b / c with something added to the product, rounded down: in two steps, so that it stays within 64 bits for
     * years.
     */
    public static function times(int $a, int $b, int $c, int $add = 0): int
    {
        $whole = intdiv($a, $c) - ($a % $c < 0 ? 1 : 0);
        $rest = ($a - $whole * $c) * $b + $add;

        return $whole * $b + intdiv($rest, $c) - ($rest % $c < 0 ? 1 : 0);
    }

    /** The greatest common divisor. */
    public static function divisor(int $a, int $b): int
    {
        return $b === 0 ? $a : self::divisor($b, $a % $b);
    }

    /**
     * Its fades, as `strength` takes them.
     *
     * @param  int  $crossfade  how long it takes to come out of the clip below it, in flicks
     * @return array{int, int, int, int}
     */
    public function fade(int $crossfade): array
    {
        return [$this->begin(), max($crossfade, $this->fadeIn), $this->finish(), $this->fadeOut];
    }

    /**
     * How much of a clip is there at a time of the timeline, by its fades: 0 to 1, in straight lines.
     *
     * @param  array{int, int, int, int}  $fade  start, how long it takes to come, end, how long it takes to leave, in
     *     flicks
     */
    public static function strength(array $fade, int $time): float
    {
        [$start, $in, $end, $out] = $fade;

        return max(
            0.0,
            min(1.0, $in === 0 ? 1.0 : ($time - $start) / $in) * min(1.0, $out === 0 ? 1.0 : ($end - $time) / $out),
        );
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
     * Which frame of the media is up, counted from 0; null for none. A still has one frame.
     *
     * @param  int  $frames  how many frames the media has
     */
    public function mediaFrameAt(int $time, int $flicksPerFrame, int $frames): ?int
    {
        if ($frames <= 1) {
            return 0;
        }
        [$first, $count] = $this->range($flicksPerFrame, $frames);
        ['flicks' => $flicks, 'frames' => $rate, 'phase' => $phase] = $this->pace($flicksPerFrame, $frames);
        $at = $this->pastEnd->frame(self::times(max(0, $time - $this->start), $rate, $flicks, $phase), $count);

        return $at === null ? null : $first + ($this->isBackwards() ? $count - 1 - $at : $at);
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
