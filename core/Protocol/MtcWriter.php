<?php

declare(strict_types=1);

namespace Core\Protocol;

use Core\Units\FrameRate;

/**
 * MIDI time code of a clock: eight quarter frames say the time of the first of them, over two frames; a whole frame is
 * said where it stands or has leapt. It knows 24, 25, 29.97 (dropping numbers) and 30 frames a second: a clock of
 * another rate is said in the one that has half of its frames, or the nearest.
 */
final readonly class MtcWriter
{
    private const OF = [
        '23.976' => '24',
        '48' => '24',
        '50' => '25',
        '100' => '25',
        '59.94' => '29.97',
        '119.88' => '29.97',
        '60' => '30',
        '120' => '30',
    ];

    public FrameRate $rate;

    public function __construct(FrameRate $clock)
    {
        $this->rate = FrameRate::of(self::OF[$clock->name] ?? $clock->name);
    }

    /** The frame that is shown at a time, by the rate that it is said in. */
    public function frameAt(int $flicks): TimecodeFrame
    {
        return TimecodeFrame::shownAt($flicks, $this->rate);
    }

    /** Flicks of a quarter frame. */
    public function quarter(): int
    {
        return intdiv($this->rate->flicksPerFrame, 4);
    }

    /** The message of the quarter frame that begins at a time, or began before it. */
    public function quarterAt(int $flicks): string
    {
        $number = intdiv(max(0, $flicks), $this->quarter());
        // Pairs of frames begin at even ones.
        $pair = intdiv($number, 8) * 2 * $this->rate->flicksPerFrame;

        return MtcReader::quarters(TimecodeFrame::shownAt($pair, $this->rate), $this->rate->name)[$number % 8];
    }

    /** The message that says where it is, whole. */
    public function wholeAt(int $flicks): string
    {
        $frame = $this->frameAt($flicks);
        $bits = (int) array_search($this->rate->name, MtcReader::RATES, true) << 5;

        return pack(
            'C10',
            0xF0,
            0x7F,
            0x7F,
            1,
            1,
            $bits | $frame->hours,
            $frame->minutes,
            $frame->seconds,
            $frame->frames,
            0xF7,
        );
    }
}
