<?php

declare(strict_types=1);

namespace Core\Cues;

use Core\Units\InvalidValue;

/**
 * A time of day at which something starts by itself, on some days of the week or on one day of the calendar: `21:30`,
 * `21:30:15`, `21:30 fri sat`, `2026-12-24 18:00`. In the local time of the machine, which the caller knows.
 */
final readonly class ClockTime
{
    private const DAYS = ['sun', 'mon', 'tue', 'wed', 'thu', 'fri', 'sat'];

    /**
     * @param  int  $second  of the day
     * @param  list<int>  $days  of the week, 0 for Sunday; none for every day
     * @param  string|null  $date  as 2026-12-24
     */
    private function __construct(public string $text, public int $second, public array $days, public ?string $date)
    {
    }

    /** @throws InvalidValue */
    public static function parse(string $text): self
    {
        $wrong = static fn (): InvalidValue => InvalidValue::because(
            'clock',
            'A time of day is written 21:30, with seconds 21:30:15, with days of the week 21:30 fri sat, or with a date 2026-12-24 18:00.',
        );
        if (
            preg_match(
                '/^\s*(?:(\d{4})-(\d{2})-(\d{2})\s+)?(\d{1,2}):(\d{2})(?::(\d{2}))?((?:[\s,]+[a-z]{3})*)\s*$/iD',
                $text,
                $m,
            ) !== 1
        ) {
            throw $wrong();
        }
        [$hour, $minute, $second] = [(int) $m[4], (int) $m[5], (int) $m[6]];
        $named = preg_split('/[\s,]+/', strtolower(trim($m[7], " ,\t")), -1, PREG_SPLIT_NO_EMPTY) ?: [];
        $days = array_map(
            static fn (string $day): int => is_int($at = array_search($day, self::DAYS, true)) ? $at : throw $wrong(),
            $named,
        );
        $dated = $m[1] !== '';
        if (
            $hour > 23 ||
            $minute > 59 ||
            $second > 59 ||
            ($dated && (! checkdate((int) $m[2], (int) $m[3], (int) $m[1]) || $days !== []))
        ) {
            throw $wrong();
        }
        sort($days);

        return new self(
            trim($text),
            3600 * $hour + 60 * $minute + $second,
            array_values(array_unique($days)),
            $dated ? "$m[1]-$m[2]-$m[3]" : null,
        );
    }

    /** @param  int  $day  days since 1970-01-01 of the local date */
    public function isOn(int $day): bool
    {
        // 1970-01-01 was a Thursday.
        return ($this->date === null || $this->date === gmdate('Y-m-d', 86_400 * $day)) &&
            ($this->days === [] || in_array(($day + 4) % 7, $this->days, true));
    }
}
