<?php

declare(strict_types=1);

namespace Core\Units;

/**
 * Timecode text. At 29.97 and 59.94 it is drop-frame (SMPTE ST 12-1): the numbers ;00 and ;01 (;00 to ;03 at 59.94)
 * are left out at each minute that is not a tenth; the separator before the frames is then a semicolon.
 */
final class Timecode
{
    /** "01:02:03:04", with a minus sign before zero; hours run on past 24. */
    public static function format(int $flicks, FrameRate $rate): string
    {
        $frame = $rate->frameAt($flicks);
        $sign = $frame < 0 ? '-' : '';
        $number = abs($frame);
        $nominal = $rate->nominal();
        if ($rate->dropsFrames()) {
            $drop = intdiv($nominal, 15);
            $perTen = $nominal * 600 - 9 * $drop;
            $perMinute = $nominal * 60 - $drop;
            $rest = $number % $perTen;
            $number += intdiv($number, $perTen) * 9 * $drop + ($rest < $drop ? 0 : $drop * intdiv($rest - $drop, $perMinute));
        }

        return sprintf(
            $nominal > 100 ? '%s%02d:%02d:%02d%s%03d' : '%s%02d:%02d:%02d%s%02d',
            $sign,
            intdiv($number, $nominal * 3600),
            intdiv($number, $nominal * 60) % 60,
            intdiv($number, $nominal) % 60,
            $rate->dropsFrames() ? ';' : ':',
            $number % $nominal,
        );
    }

    /**
     * Reads "h:m:s:f" (leading fields may be missing, so "12:05" is 12 s and 5 frames) or plain seconds with a decimal point.
     *
     * @return int flicks
     *
     * @throws InvalidValue for text that is no timecode of this rate
     */
    public static function parse(string $text, FrameRate $rate): int
    {
        $text = trim($text);
        if (preg_match('/^(-?)(\d{1,9})\.(\d{1,9})\s*s?$|^(-?)(\d{1,9})\s*s$/', $text) === 1) {
            return Flicks::fromSeconds((float) $text);
        }
        if (preg_match('/^(-?)(?:(?:(?:(\d{1,4}):)?(\d{1,2}):)?(\d{1,2})[:;])?(\d{1,3})$/', $text, $m) !== 1) {
            throw InvalidValue::because('timecode', "\"$text\" is no timecode; write hours:minutes:seconds:frames.");
        }
        [$hours, $minutes, $seconds, $frames] = [(int) $m[2], (int) $m[3], (int) $m[4], (int) $m[5]];
        $nominal = $rate->nominal();
        if ($minutes > 59 || $seconds > 59) {
            throw InvalidValue::because('timecode', "\"$text\" has more than 59 minutes or seconds.");
        }
        if ($frames >= $nominal) {
            throw InvalidValue::because('timecode', "\"$text\": at $rate->name frames a second, frames run from 0 to ".($nominal - 1).'.');
        }
        $number = (($hours * 60 + $minutes) * 60 + $seconds) * $nominal + $frames;
        if ($rate->dropsFrames()) {
            $drop = intdiv($nominal, 15);
            if ($seconds === 0 && $frames < $drop && $minutes % 10 !== 0) {
                throw InvalidValue::because('timecode', "\"$text\" is one of the numbers that drop-frame timecode leaves out.");
            }
            $total = $hours * 60 + $minutes;
            $number -= $drop * ($total - intdiv($total, 10));
        }

        return ($m[1] === '-' ? -1 : 1) * $number * $rate->flicksPerFrame;
    }
}
