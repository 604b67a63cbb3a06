<?php

declare(strict_types=1);

namespace Core\Protocol;

/** A frame of longitudinal timecode in a recording. */
final readonly class LtcFrame
{
    /**
     * @param  int  $userBits  32 bits, user group 8 highest
     * @param  float  $start  sample at which it begins, as it is played; $end that at which it is over
     * @param  bool  $isReversed  whether the line is played backwards
     */
    public function __construct(
        public TimecodeFrame $timecode,
        public int $userBits,
        public float $start,
        public float $end,
        public bool $isReversed,
    ) {
    }
}
