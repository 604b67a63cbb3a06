<?php

declare(strict_types=1);

namespace Core\Protocol;

/**
 * Reads longitudinal timecode (SMPTE ST 12-1, clause 9) out of samples: biphase mark, 80 bits a frame, the least
 * significant bit of each group first, the sync word last. At any speed from a half to twice, in both directions,
 * either way up.
 *
 * Edges are found around a middle and a level that are followed; an edge lies where the line crossed the middle, and
 * counts once the line has gone beyond it. The length of half a bit is followed as well.
 */
final class LtcDecoder
{
    private const SYNC = '0011111111111101';

    private const BITS = 80;

    /** Seconds over which the level is followed down. */
    private const FOLLOWS = 0.03;

    /** The least level that is taken for a signal: half of the way from the lowest to the highest, −60 dBFS. */
    private const FLOOR = 0.001;

    /** Share of the level by which the line has to go beyond its middle for an edge. */
    private const BEYOND = 0.35;

    /** Samples by which the level is told at the beginning. */
    private const LOOKS = 256;

    /** Edges from which the length of half a bit is first told: more than a frame of zeros has, so that a sync word is among them. */
    private const FIRST = 100;

    private const FOLLOW_BIT = 0.12;

    private float $high = 0.0;

    private float $low = 0.0;

    private int $level = 0;

    private float $before = 0.0;

    private int $sample = 0;

    private ?float $crossedFirst = null;

    private float $crossedLast = 0.0;

    private ?float $edge = null;

    /** Samples of half a bit; 0 while that is not known. */
    private float $half = 0.0;

    /** @var list<array{float, float}> from and to, while the length of half a bit is not known */
    private array $intervals = [];

    /** Where the first half of a bit began that is a 1; null between bits. */
    private ?float $pending = null;

    private int $odd = 0;

    private string $bits = '';

    /** @var list<float> where each of them begins */
    private array $starts = [];

    public function __construct(private readonly int $sampleRate)
    {
    }

    /**
     * @param  array<int, float>  $samples  −1 to 1, that follow on what was read before
     * @return list<LtcFrame> frames that are whole now
     */
    public function read(array $samples): array
    {
        $frames = [];
        if ($this->sample === 0 && $samples !== []) {
            // Where its middle is has to be known from the very first edge on.
            $first = array_slice($samples, 0, self::LOOKS) ?: [0.0];
            [$this->high, $this->low] = [max($first), min($first)];
        }
        $sinks = 1 / (self::FOLLOWS * $this->sampleRate);
        [$high, $low, $level, $before, $n] = [$this->high, $this->low, $this->level, $this->before, $this->sample];
        foreach ($samples as $x) {
            $sink = ($high - $low) * $sinks;
            $high = $x > $high - $sink ? $x : $high - $sink;
            $low = $x < $low + $sink ? $x : $low + $sink;
            $middle = ($high + $low) / 2;
            $beyond = ($high - $low) * (self::BEYOND / 2);
            $is = $x - $middle;
            $was = $before - $middle;
            // Where it crosses toward the other side; of several crossings in noise, the middle of them.
            if ($level > 0 ? $was >= 0 && $is < 0 : $level < 0 && $was <= 0 && $is > 0) {
                $at = $n - 1 + $was / ($was - $is);
                $this->crossedFirst ??= $at;
                $this->crossedLast = $at;
            }
            if ($high - $low < 2 * self::FLOOR) {
                $level = 0;
                $this->crossedFirst = null;
            } elseif ($level === 0) {
                $level = $is > $beyond ? 1 : ($is < -$beyond ? -1 : 0);
                // Where a line begins, so does a bit.
                $this->edge = $level === 0 ? null : (float) max(0, $n - 1);
            } elseif ($level > 0 ? $is < -$beyond : $is > $beyond) {
                $level = -$level;
                $at = $this->crossedFirst === null ? (float) $n : ($this->crossedFirst + $this->crossedLast) / 2;
                $this->crossedFirst = null;
                if ($this->edge !== null && ($frame = $this->interval($this->edge, $at)) !== null) {
                    $frames[] = $frame;
                }
                $this->edge = $at;
            } elseif ($this->crossedFirst !== null && ($level > 0 ? $is > $beyond : $is < -$beyond)) {
                // It came back: that was noise.
                $this->crossedFirst = null;
            }
            $before = $x;
            $n++;
        }
        [$this->high, $this->low, $this->level, $this->before, $this->sample] = [$high, $low, $level, $before, $n];

        return $frames;
    }

    /** The frame that ended with the recording: the edge after its last bit is not in it. */
    public function finish(): ?LtcFrame
    {
        $frame = $this->half === 0.0 || $this->edge === null ? null : $this->last($this->edge, (float) $this->sample);
        [$this->pending, $this->bits, $this->starts] = [null, '', []];

        return $frame;
    }

    /** Before a gap, a last bit ends without an edge. */
    private function last(float $from, float $to): ?LtcFrame
    {
        $length = $this->pending === null ? 2 * $this->half : $this->half;
        if ($to - $from < 0.6 * $length) {
            return null;
        }

        return $this->bit($this->pending === null ? '0' : '1', $this->pending ?? $from, $from + $length);
    }

    private function interval(float $from, float $to): ?LtcFrame
    {
        $length = $to - $from;
        if ($this->half === 0.0) {
            $this->intervals[] = [$from, $to];
            if (count($this->intervals) < self::FIRST) {
                return null;
            }

            return $this->learn();
        }
        if ($length > 2.7 * $this->half) {
            $frame = $this->last($from, $to);
            $this->lose($length);

            return $frame;
        }
        if ($length < 0.6 * $this->half) {
            $this->lose($length);

            return null;
        }
        $this->odd = 0;
        if ($length < 1.5 * $this->half) {
            $this->half += self::FOLLOW_BIT * ($length - $this->half);
            if ($this->pending === null) {
                $this->pending = $from;

                return null;
            }
            [$began, $this->pending] = [$this->pending, null];

            return $this->bit('1', $began, $to);
        }
        $this->half += self::FOLLOW_BIT * ($length / 2 - $this->half);
        if ($this->pending !== null) {
            // Half a 1 and then a 0 there is not: what was taken for a beginning was a middle.
            [$this->pending, $this->bits, $this->starts] = [null, '', []];
        }

        return $this->bit('0', $from, $to);
    }

    /** Tells the length of half a bit from the shorter ones: a sync word alone has 24 of them. Then reads them. */
    private function learn(): ?LtcFrame
    {
        [$intervals, $this->intervals] = [$this->intervals, []];
        $lengths = array_map(static fn (array $one): float => $one[1] - $one[0], $intervals);
        sort($lengths);
        $short = $lengths[intdiv(count($lengths), 10)];
        $near = array_filter($lengths, static fn (float $one): bool => abs($one - $short) < 0.4 * $short);
        $this->half = max(0.5, array_sum($near) / count($near));
        $frame = null;
        foreach ($intervals as [$from, $to]) {
            if ($this->half > 0) {
                $frame = $this->interval($from, $to) ?? $frame;
            }
        }

        return $frame;
    }

    /** What comes is no half and no whole bit. */
    private function lose(float $length): void
    {
        [$this->pending, $this->bits, $this->starts] = [null, '', []];
        // Where all were zeros, a whole bit was taken for a half; after a gap, nothing is known.
        if ($length < 0.6 * $this->half && $length > 0.4 * $this->half) {
            $this->half = $length;
            $this->odd = 0;
        } elseif (++$this->odd >= 4) {
            [$this->half, $this->odd, $this->intervals] = [0.0, 0, []];
        }
    }

    private function bit(string $bit, float $from, float $to): ?LtcFrame
    {
        $this->bits .= $bit;
        $this->starts[] = $from;
        if (strlen($this->bits) > self::BITS) {
            $this->bits = substr($this->bits, 1);
            array_shift($this->starts);
        }
        if (strlen($this->bits) < self::BITS) {
            return null;
        }
        if (str_ends_with($this->bits, self::SYNC)) {
            return $this->frame($this->bits, $to, false);
        }
        // Backwards, the sync word comes first, from its end.
        if (str_starts_with($this->bits, strrev(self::SYNC))) {
            return $this->frame(strrev($this->bits), $to, true);
        }

        return null;
    }

    private function frame(string $bits, float $end, bool $isReversed): ?LtcFrame
    {
        $number = static fn (int $at, int $length): int => (int) bindec(strrev(substr($bits, $at, $length)));
        $digits = [$number(0, 4), $number(16, 4), $number(32, 4), $number(48, 4)];
        if (max($digits) > 9) {
            return null;
        }
        $timecode = new TimecodeFrame(
            10 * $number(56, 2) + $digits[3],
            10 * $number(40, 3) + $digits[2],
            10 * $number(24, 3) + $digits[1],
            10 * $number(8, 2) + $digits[0],
            $bits[10] === '1',
        );
        if (! $timecode->isValid()) {
            return null;
        }
        $user = 0;
        for ($group = 7; $group >= 0; $group--) {
            $user = ($user << 4) | $number(4 + 8 * $group, 4);
        }

        return new LtcFrame($timecode, $user, $this->starts[0], $end, $isReversed);
    }
}
