<?php

declare(strict_types=1);

namespace Core\Protocol;

/** Writes longitudinal timecode (SMPTE ST 12-1, clause 9) as samples. */
final class LtcEncoder
{
    /** Time from 10 to 90 % of an edge, in seconds: the standard's 40 µs. */
    private const RISE = 40e-6;

    /** Samples that were given, and the exact time at which the next frame begins. */
    private int $given = 0;

    private float $begins = 0.0;

    /** @var list<float> edges that later samples still feel: their times */
    private array $edges = [];

    /** What the line is at before the first of those. */
    private float $base = 1.0;

    /**
     * @param  float  $framesPerSecond  as played
     * @param  float  $volume  of its peaks, 0 to 1
     */
    public function __construct(
        private readonly int $sampleRate,
        private readonly float $framesPerSecond,
        private readonly float $volume = 0.5,
    ) {
    }

    /** The 80 bits of a frame, in their order on the line. */
    public static function bits(TimecodeFrame $frame, int $userBits = 0, int $nominal = 30): string
    {
        $group = static fn (int $number, int $length): string => strrev(sprintf("%0{$length}b", $number));
        $user = static fn (int $n): string => $group(($userBits >> (4 * ($n - 1))) & 0xF, 4);
        $bits =
            $group($frame->frames % 10, 4).
            $user(1).
            $group(intdiv($frame->frames, 10), 2).
            ($frame->drops ? '1' : '0').
            '0'.
            $user(2).
            $group($frame->seconds % 10, 4).
            $user(3).
            $group(intdiv($frame->seconds, 10), 3).
            '0'.
            $user(4).
            $group($frame->minutes % 10, 4).
            $user(5).
            $group(intdiv($frame->minutes, 10), 3).
            '0'.
            $user(6).
            $group($frame->hours % 10, 4).
            $user(7).
            $group(intdiv($frame->hours, 10), 2).
            '00'.
            $user(8).
            '0011111111111101';
        // The polarity bit makes the number of zeros even, so that each frame begins alike; at 25 frames it is bit 59.
        if (substr_count($bits, '0') % 2 === 1) {
            $bits[$nominal === 25 ? 59 : 27] = '1';
        }

        return $bits;
    }

    /** @return list<float> samples of one frame more */
    public function write(TimecodeFrame $frame, int $userBits = 0): array
    {
        $nominal = (int) round($this->framesPerSecond);
        $bit = $this->sampleRate / $this->framesPerSecond / 80;
        foreach (str_split(self::bits($frame, $userBits, $nominal)) as $i => $one) {
            $this->edges[] = $this->begins + $i * $bit;
            if ($one === '1') {
                $this->edges[] = $this->begins + ($i + 0.5) * $bit;
            }
        }
        $this->begins += 80 * $bit;
        $samples = [];
        // From 10 to 90 % of a raised cosine is 0.59 of its length. The next edge begins before the frame ends.
        $rise = max(1.0, (self::RISE * $this->sampleRate) / 0.59);
        $until = (int) floor($this->begins - $rise / 2);
        for (; $this->given < $until; $this->given++) {
            while ($this->edges !== [] && $this->given >= $this->edges[0] + $rise / 2) {
                array_shift($this->edges);
                $this->base = -$this->base;
            }
            $into = isset($this->edges[0]) ? ($this->given - $this->edges[0]) / $rise + 0.5 : 0.0;
            $level = $into > 0 ? $this->base * cos(M_PI * min(1.0, $into)) : $this->base;
            $samples[] = $level * $this->volume;
        }

        return $samples;
    }
}
