<?php

declare(strict_types=1);

namespace Core\Protocol;

use Core\Units\FrameRate;
use Core\Units\InvalidValue;
use Core\Units\Timecode;

/** The numbers of one frame of timecode (SMPTE ST 12-1), as a line carries them. */
final readonly class TimecodeFrame
{
    /** @param  bool  $drops  whether its flag says that numbers are left out */
    public function __construct(
        public int $hours,
        public int $minutes,
        public int $seconds,
        public int $frames,
        public bool $drops = false,
    ) {
    }

    /**
     * The frame that is shown at a time of a clock that runs at a rate; after a day it begins anew.
     *
     * @param  int  $flicks  0 or more
     */
    public static function shownAt(int $flicks, FrameRate $rate): self
    {
        $numbers = array_map(intval(...), preg_split('/[:;]/', Timecode::format(max(0, $flicks), $rate)) ?: []);

        return new self(
            ($numbers[0] ?? 0) % 24,
            $numbers[1] ?? 0,
            $numbers[2] ?? 0,
            $numbers[3] ?? 0,
            $rate->dropsFrames(),
        );
    }

    /** HH:MM:SS:FF, with a semicolon before the frames where numbers are left out. */
    public function text(): string
    {
        return sprintf(
            '%02d:%02d:%02d%s%02d',
            $this->hours,
            $this->minutes,
            $this->seconds,
            $this->drops ? ';' : ':',
            $this->frames,
        );
    }

    /** Whether a clock can show it at a nominal rate: 24, 25 or 30. */
    public function isValid(int $nominal = 30): bool
    {
        return $this->hours < 24 &&
            $this->minutes < 60 &&
            $this->seconds < 60 &&
            $this->frames < $nominal &&
            ! ($this->drops && $this->seconds === 0 && $this->frames < 2 && $this->minutes % 10 !== 0);
    }

    /** The next frame at a nominal rate, by its own flag; after the last of a day the first. */
    public function next(int $nominal): self
    {
        [$h, $m, $s, $f] = [$this->hours, $this->minutes, $this->seconds, $this->frames + 1];
        if ($f >= $nominal) {
            [$s, $f] = [$s + 1, 0];
        }
        if ($s >= 60) {
            [$m, $s] = [$m + 1, 0];
        }
        if ($m >= 60) {
            [$h, $m] = [$h + 1, 0];
        }
        if ($this->drops && $s === 0 && $f === 0 && $m % 10 !== 0) {
            $f = 2;
        }

        return new self($h % 24, $m, $s, $f, $this->drops);
    }

    /**
     * Where it is on a clock that runs at a rate, in flicks; where numbers are left out, by its own flag: at 29.97
     * frames a second there are both.
     *
     * @throws InvalidValue for numbers that this rate does not have
     */
    public function at(FrameRate $rate): int
    {
        $nominal = $rate->nominal();
        if ($this->frames >= $nominal) {
            throw InvalidValue::because(
                'timecode',
                "{$this->text()}: at $rate->name, frames run from 0 to ".($nominal - 1).'.',
            );
        }
        $minutes = $this->hours * 60 + $this->minutes;
        $number = ($minutes * 60 + $this->seconds) * $nominal + $this->frames;
        if ($this->drops && $nominal === 30) {
            $number -= 2 * ($minutes - intdiv($minutes, 10));
        }

        return $number * $rate->flicksPerFrame;
    }
}
