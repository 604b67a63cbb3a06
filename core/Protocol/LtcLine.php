<?php

declare(strict_types=1);

namespace Core\Protocol;

use Core\Units\Flicks;
use Core\Units\FrameRate;

/** The line of a clock as longitudinal timecode, any part of it: as if it had been recorded from midnight on. */
final readonly class LtcLine
{
    /** Samples a second. */
    public const RATE = 48_000;

    /** Rates that no timecode is written in, and the one that has half of their frames, or fewer. */
    private const OF = [
        '48' => '24',
        '50' => '25',
        '100' => '25',
        '59.94' => '29.97',
        '119.88' => '29.97',
        '60' => '30',
        '120' => '30',
    ];

    /** Frames after which each rate begins on a whole sample. */
    private const WHOLE = 5;

    private FrameRate $rate;

    /** @param  int  $start  what the clock says at the first sample, flicks */
    public function __construct(FrameRate $clock, private int $start)
    {
        $this->rate = FrameRate::of(self::OF[$clock->name] ?? $clock->name);
    }

    /**
     * @param  int  $from  the first sample, from 0
     * @return list<float> -1 to 1
     */
    public function samples(int $from, int $count): array
    {
        $sample = intdiv(Flicks::PER_SECOND, self::RATE);
        $frame = $this->rate->flicksPerFrame;
        $at = $this->start + $from * $sample;
        $number = max(0, intdiv($at, $frame) - 1);
        $number -= $number % self::WHOLE;
        $encoder = new LtcEncoder(self::RATE, Flicks::PER_SECOND / $frame);
        // Where the encoder begins, before what is asked for; between samples, the nearest.
        $before = (int) round(($at - $number * $frame) / $sample);
        $samples = [];
        $given = 0;
        while ($given < $before + $count) {
            foreach ($encoder->write(TimecodeFrame::shownAt($number * $frame, $this->rate)) as $value) {
                if ($given >= $before && $given < $before + $count) {
                    $samples[] = $value;
                }
                $given++;
            }
            $number++;
        }

        return $samples;
    }
}
