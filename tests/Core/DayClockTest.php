<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Cues\ClockTime;
use Core\Cues\Cue;
use Core\Cues\DayClock;
use Core\Cues\Trigger;
use PHPUnit\Framework\TestCase;

final class DayClockTest extends TestCase
{
    /** Days since 1970 of 2026-03-29, a Sunday. */
    private const DAY = 20_541;

    /** @return array<string, Cue> by id */
    private static function cues(string ...$times): array
    {
        $cues = [];
        foreach ($times as $id => $time) {
            $cues[(string) $id] = new Cue(
                (string) $id,
                '1',
                "At $time",
                trigger: Trigger::Clock,
                clock: ClockTime::parse($time),
            );
        }

        return $cues;
    }

    private static function at(string $time, int $day = self::DAY): int
    {
        [$hour, $minute, $second] = [...array_map(intval(...), explode(':', $time)), 0];

        return 86_400 * $day + 3600 * $hour + 60 * $minute + $second;
    }

    /**
     * Reads a clock second by second.
     *
     * @param  array<string, Cue>  $cues
     * @return list<array{string, string}> cue and the reading at which it was fired
     */
    private static function fired(DayClock $clock, array $cues, int ...$readings): array
    {
        $fired = [];
        foreach ($readings as $reading) {
            [$clock, $due] = $clock->advance($reading, $cues);
            foreach ($due as $cue) {
                $fired[] = [$cue, gmdate('H:i:s', $reading)];
            }
        }

        return $fired;
    }

    public function test_each_occurrence_is_fired_once_in_its_order(): void
    {
        $cues = self::cues(
            b: '21:30:10',
            a: '21:30',
            later: '21:30',
            monday: '21:30 mon',
            dated: '2026-03-29 21:30:11',
        );
        $readings = range(self::at('21:29:55'), self::at('21:30:20'));
        self::assertSame(
            [['a', '21:30:00'], ['later', '21:30:00'], ['b', '21:30:10'], ['dated', '21:30:11']],
            self::fired(DayClock::unread(), $cues, ...$readings),
        );
        // A reading that comes late has all that lies between, still in order; the next day again, what is of every
        // day, and Monday's.
        self::assertSame(
            [['a', '21:31:00'], ['later', '21:31:00'], ['b', '21:31:00'], ['dated', '21:31:00']],
            self::fired(DayClock::unread(), $cues, self::at('21:29'), self::at('21:31')),
        );
        $clock = DayClock::unread()->advance(self::at('21:29'), $cues)[0]->advance(self::at('21:31'), $cues)[0];
        self::assertSame(
            ['a', 'later', 'monday', 'b'],
            $clock->at(self::at('21:00', self::DAY + 1))->advance(self::at('21:31', self::DAY + 1), $cues)[1],
        );
    }

    public function test_a_clock_that_is_set_back_fires_nothing_twice_and_what_was_not_fired_still(): void
    {
        $cues = self::cues(a: '21:30', b: '21:30:30');
        self::assertSame(
            [['a', '21:30:00'], ['b', '21:30:30']],
            self::fired(
                DayClock::unread(),
                $cues,
                ...range(self::at('21:29:58'), self::at('21:30:05')),
                ...range(self::at('21:29:55'), self::at('21:30:40')),
                ...range(self::at('21:20'), self::at('21:31')),
            ),
        );
        // Also through the journal.
        $clock = DayClock::unread()->advance(self::at('21:29'), $cues)[0]->advance(self::at('21:30:05'), $cues)[0];
        $restored = DayClock::restored(json_decode((string) json_encode($clock->fired), true));
        self::assertSame(['b'], $restored->at(self::at('21:29'))->advance(self::at('21:31'), $cues)[1]);
        // A clock that was a year wrong does not keep what was fired then from its right time.
        $wrong = DayClock::unread()
            ->advance(self::at('21:29', self::DAY + 365), $cues)[0]
            ->advance(self::at('21:31', self::DAY + 365), $cues)[0];
        self::assertSame(['a', 'b'], $wrong->at(self::at('21:29'))->advance(self::at('21:31'), $cues)[1]);
        // What is remembered does not grow with the days.
        for ($day = self::DAY; $day < self::DAY + 30; $day++) {
            [$clock] = $clock->at(self::at('21:29', $day))->advance(self::at('21:31', $day), $cues);
        }
        self::assertLessThanOrEqual(3, count($clock->fired['a']));
    }

    public function test_both_changes_of_the_hour(): void
    {
        $cues = self::cues(before: '1:59', within: '2:30', after: '3:00', late: '3:10');
        // Spring: from 1:59:59 to 3:00:00. What falls into the hour that is left out starts at its end.
        self::assertSame(
            [['before', '01:59:00'], ['within', '03:00:00'], ['after', '03:00:00'], ['late', '03:10:00']],
            self::fired(
                DayClock::unread(),
                $cues,
                ...range(self::at('1:58'), self::at('1:59:59')),
                ...range(self::at('3:00'), self::at('3:11')),
            ),
        );
        // Autumn: from 2:59:59 back to 2:00:00. What lies in the hour that comes twice starts at the first.
        self::assertSame(
            [['before', '01:59:00'], ['within', '02:30:00'], ['after', '03:00:00'], ['late', '03:10:00']],
            self::fired(
                DayClock::unread(),
                $cues,
                ...range(self::at('1:58'), self::at('2:59:59')),
                ...range(self::at('2:00'), self::at('3:11')),
            ),
        );
    }

    public function test_no_more_than_a_day_is_looked_back(): void
    {
        $cues = self::cues(a: '12:00', midnight: '0:00');
        self::assertSame(
            [['cue' => 'midnight', 'at' => self::at('0:00')], ['cue' => 'a', 'at' => self::at('12:00')]],
            DayClock::occurrences($cues, 0, self::at('23:00')),
        );
        self::assertSame([], DayClock::occurrences([], 0, self::at('23:00')));
        self::assertSame([], DayClock::occurrences($cues, self::at('12:00'), self::at('12:00')));
        self::assertSame(
            ['a'],
            array_column(DayClock::occurrences($cues, self::at('11:59:59'), self::at('12:00')), 'cue'),
        );
    }
}
