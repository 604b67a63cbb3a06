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
            $number +=
                intdiv($number, $perTen) * 9 * $drop + ($rest < $drop ? 0 : $drop * intdiv($rest - $drop, $perMinute));
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
     * Reads "h:m:s:f" (leading fields may be missing, so "12:05" is 12 s and 5 frames) or plain seconds with a
     * decimal point.
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
            throw InvalidValue::because(
                'timecode',
                "\"$text\": at $rate->name frames a second, frames run from 0 to ".($nominal - 1).'.',
            );
        }
        $number = (($hours * 60 + $minutes) * 60 + $seconds) * $nominal + $frames;
        if ($rate->dropsFrames()) {
            $drop = intdiv($nominal, 15);
            if ($seconds === 0 && $frames < $drop && $minutes % 10 !== 0) {
                throw InvalidValue::because(
                    'timecode',
                    "\"$text\" is one of the numbers that drop-frame timecode leaves out.",
                );
            }
            $total = $hours * 60 + $minutes;
            $number -= $drop * ($total - intdiv($total, 10));
        }

        return ($m[1] === '-' ? -1 : 1) * $number * $rate->flicksPerFrame;
    }

    /** Seconds of a unit that a time may have. */
    private const UNITS = ['ms' => 0.001, 's' => 1.0, 'min' => 60.0, 'h' => 3600.0];

    /**
     * Reads a time as people type it: timecode, times with a unit (`2s`, `250ms`, `2min`, `1h`), sums of both
     * (`01:00:00:00 + 2s`), and their multiples (`3 * 2s`). Where there is a present time, a leading + or − adds to
     * it, * and / multiply and divide it, and = or nothing takes its place.
     *
     * @param  int|null  $present  flicks
     * @return int flicks
     *
     * @throws InvalidValue
     */
    public static function evaluate(string $text, FrameRate $rate, ?int $present = null): int
    {
        if (mb_strlen($text) > 200) {
            throw InvalidValue::because('timecode', 'This is longer than 200 characters.');
        }
        $text = trim(strtr($text, ['×' => '*', '·' => '*', '÷' => '/', '−' => '-', '–' => '-', "\u{a0}" => ' ']));
        $first = $text[0] ?? '';
        $rest = trim(substr($text, 1));
        if ($present === null || ! in_array($first, ['+', '-', '*', '/', '='], true)) {
            return self::sum($text, $rate);
        }

        return self::inRange(
            match ($first) {
                '=' => self::sum($rest, $rate),
                '+' => $present + self::sum($rest, $rate),
                '-' => $present - self::sum($rest, $rate),
                '*' => $present * self::factor($rest),
                default => $present / self::divisor($rest),
            },
            $text,
        );
    }

    private static function sum(string $text, FrameRate $rate): int
    {
        $terms = preg_split('/\s*([+-])\s*/', $text, -1, PREG_SPLIT_DELIM_CAPTURE) ?: [''];
        $total = 0.0;
        $sign = 1;
        foreach ($terms as $i => $term) {
            if ($i % 2 === 1) {
                $sign = $term === '-' ? -1 : 1;
            } elseif ($term !== '' || $i > 0) {
                $total += $sign * self::product($term, $rate);
            } elseif (count($terms) === 1) {
                throw InvalidValue::because('timecode', '"" is no timecode; write hours:minutes:seconds:frames.');
            }
        }

        return self::inRange($total, $text);
    }

    /** A time and factors, in any order. */
    private static function product(string $text, FrameRate $rate): float
    {
        $parts = preg_split('/\s*([*\/])\s*/', $text, -1, PREG_SPLIT_DELIM_CAPTURE) ?: [''];
        // A factor may stand before its time: `3 * 2s`.
        $plain = static fn (string $part): bool => preg_match('/^\d+(\.\d+)?$/', $part) === 1;
        if (count($parts) === 3 && $parts[1] === '*' && $plain($parts[0]) && ! $plain($parts[2])) {
            $parts = [$parts[2], '*', $parts[0]];
        }
        $value = (float) self::term($parts[0], $rate);
        for ($i = 1; isset($parts[$i + 1]); $i += 2) {
            $value =
                $parts[$i] === '*' ? $value * self::factor($parts[$i + 1]) : $value / self::divisor($parts[$i + 1]);
        }

        return $value;
    }

    private static function term(string $text, FrameRate $rate): int
    {
        if (preg_match('/^(\d+(?:\.\d*)?|\.\d+)\s*(ms|s|min|h)$/', $text, $m) === 1) {
            return self::inRange((float) $m[1] * self::UNITS[$m[2]] * Flicks::PER_SECOND, $text);
        }

        return self::parse($text, $rate);
    }

    private static function factor(string $text): float
    {
        return preg_match('/^(\d+(?:\.\d*)?|\.\d+)(?:\s*\/\s*(\d+(?:\.\d*)?))?$/', $text, $m) === 1
            ? (float) $m[1] / (isset($m[2]) ? self::divisor($m[2]) : 1.0)
            : throw InvalidValue::because('timecode', "\"$text\" is no number to multiply or divide a time by.");
    }

    private static function divisor(string $text): float
    {
        $by = self::factor($text);

        return $by !== 0.0 ? $by : throw InvalidValue::because('timecode', 'A time can\'t be divided by zero.');
    }

    private static function inRange(float|int $flicks, string $text): int
    {
        return abs($flicks) <= Flicks::MAX
            ? (int) round($flicks)
            : throw InvalidValue::because('timecode', "\"$text\" is longer than a time may be.");
    }
}
