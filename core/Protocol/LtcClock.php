<?php

declare(strict_types=1);

namespace Core\Protocol;

use Core\Units\FrameRate;

/**
 * Which time a line of longitudinal timecode says, and at which rate: the numbers of its frames tell how many a second
 * has, and how long they are whether it runs at 1000/1001 of that.
 */
final class LtcClock
{
    /** Frames over which their length is taken. */
    private const FRAMES = 50;

    /** How far the length may be from 1001/1000, and still be that. */
    private const NEAR = 0.0004;

    /** The highest number of a frame that was seen. */
    private int $highest = 0;

    /** @var list<float> where the last frames in a row began */
    private array $starts = [];

    private ?LtcFrame $last = null;

    public function __construct(private readonly int $sampleRate)
    {
    }

    /** @return array{rate: FrameRate, time: int, end: float} the time, in flicks, that it is at the end of a frame, and that sample */
    public function read(LtcFrame $frame): array
    {
        $isNext = $this->last !== null && abs($this->last->end - $frame->start) < 0.1 * ($frame->end - $frame->start);
        $this->starts = [...$isNext ? array_slice($this->starts, -self::FRAMES) : [], $frame->start];
        $this->last = $frame;
        $this->highest = max($isNext ? $this->highest : 0, $frame->timecode->frames);
        $rate = $this->rate($frame);

        return [
            'rate' => $rate,
            'time' => $frame->timecode->at($rate) + ($frame->isReversed ? 0 : $rate->flicksPerFrame),
            'end' => $frame->end,
        ];
    }

    private function rate(LtcFrame $frame): FrameRate
    {
        $count = count($this->starts) - 1;
        $seconds =
            ($count > 0 ? ($this->starts[$count] - $this->starts[0]) / $count : $frame->end - $frame->start) /
            $this->sampleRate;
        $nominal = match (true) {
            $this->highest >= 25 || $frame->timecode->drops => 30,
            $this->highest === 24 => 25,
            // Until its numbers have said so, as it runs.
            default => array_reduce(
                [24, 25, 30],
                static fn (int $best, int $one): int => abs(1 / $seconds - $one) < abs(1 / $seconds - $best)
                    ? $one
                    : $best,
                24,
            ),
        };
        $isSlow = abs($seconds * $nominal - 1.001) < self::NEAR;

        return FrameRate::of(
            match (true) {
                $nominal === 30 && ($frame->timecode->drops || ($isSlow && $count >= 10)) => '29.97',
                $nominal === 24 && $isSlow && $count >= 10 => '23.976',
                default => (string) $nominal,
            },
        );
    }
}
