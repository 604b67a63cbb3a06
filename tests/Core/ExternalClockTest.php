<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Playback\CueSheet;
use Core\Playback\ExternalClock;
use Core\Playback\Transport;
use Core\Units\Flicks;
use PHPUnit\Framework\TestCase;

final class ExternalClockTest extends TestCase
{
    private const S = Flicks::PER_SECOND;

    private const FRAME = self::S / 25;

    /**
     * A clock that runs at a rate from a time on, read once a frame, each reading late by up to some milliseconds.
     *
     * @return array{ExternalClock, int} and the engine time of the last reading
     */
    private static function readings(
        float $rate,
        int $from,
        int $frames,
        int $late = 0,
        int $begin = 1000 * self::S,
        ?ExternalClock $clock = null,
    ): array {
        mt_srand(5);
        $clock ??= ExternalClock::silent();
        $engine = $begin;
        for ($n = 0; $n < $frames; $n++) {
            $engine = $begin + $n * self::FRAME + mt_rand(0, $late * 705_600);
            $clock = $clock->heard($engine, $from + (int) round($n * self::FRAME * $rate));
        }

        return [$clock, $engine];
    }

    public function test_a_clock_that_runs_evenly_is_known_to_the_flick(): void
    {
        [$clock] = self::readings(1, 3600 * self::S, 50);
        self::assertSame(
            [1.0, 3600 * self::S + 100 * self::FRAME],
            [$clock->rate, $clock->at(1000 * self::S + 100 * self::FRAME)],
        );
        [$back] = self::readings(-1, 60 * self::S, 50);
        self::assertSame([-1.0, 50 * self::S], [$back->rate, $back->at(1010 * self::S)]);
        self::assertSame([0.0, 0], [ExternalClock::silent()->rate, ExternalClock::silent()->at(5)]);
        self::assertFalse(ExternalClock::silent()->isHeardAt(0));
    }

    public function test_of_readings_that_come_late_the_least_late_is_believed(): void
    {
        [$clock, $last] = self::readings(1, 0, 100, 12);
        self::assertSame(1.0, $clock->rate);
        // Of fifty readings late by 0 to 12 ms, one is late by less than a millisecond.
        self::assertEqualsWithDelta($last - 1000 * self::S, $clock->at($last), 705_600);
        [$back, $last] = self::readings(-1, 90 * self::S, 100, 12);
        self::assertEqualsWithDelta(90 * self::S - ($last - 1000 * self::S), $back->at($last), 705_600);
    }

    public function test_other_rates_are_measured_and_small_differences_are_the_line(): void
    {
        foreach ([0.5, 2.0, 3.7, -0.25, 1.1] as $rate) {
            [$clock, $last] = self::readings($rate, 500 * self::S, 60);
            self::assertEqualsWithDelta($rate, $clock->rate, 1e-6);
            self::assertEqualsWithDelta(500 * self::S + ($last - 1000 * self::S) * $rate, $clock->at($last), 50);
        }
        self::assertSame(1.0, self::readings(1.005, 0, 60)[0]->rate);
    }

    public function test_one_reading_stands_and_the_second_says_how_fast_it_runs(): void
    {
        $one = ExternalClock::silent()->heard(0, 5 * self::S);
        self::assertSame([0.0, 5 * self::S], [$one->rate, $one->at(3 * self::S)]);
        $two = $one->heard(self::FRAME, 5 * self::S + self::FRAME);
        self::assertSame([1.0, 8 * self::S], [$two->rate, $two->at(3 * self::S)]);
        // Two at one moment: the later is right; one of an earlier moment changes nothing of when it was heard.
        self::assertSame(6 * self::S, $one->heard(0, 6 * self::S)->at(0));
    }

    public function test_three_equal_readings_stand_and_the_next_one_that_moves_runs_at_once(): void
    {
        [$clock, $last] = self::readings(1, 0, 50);
        $there = 49 * self::FRAME;
        foreach ([1, 2] as $n) {
            $clock = $clock->heard($last + $n * self::FRAME, $there);
        }
        self::assertSame([0.0, $there], [$clock->rate, $clock->at($last + 20 * self::S)]);
        $clock = $clock->heard($last + 3 * self::FRAME, $there + self::FRAME);
        self::assertSame([1.0, $there + 2 * self::FRAME], [$clock->rate, $clock->at($last + 4 * self::FRAME)]);
    }

    public function test_a_leap_is_taken_at_once_and_what_is_silent_too_long_is_lost(): void
    {
        [$clock, $last] = self::readings(1, 0, 50);
        $leapt = $clock->heard($last + self::FRAME, 100 * self::S);
        self::assertSame([1.0, 100 * self::S + self::S], [$leapt->rate, $leapt->at($last + self::FRAME + self::S)]);
        self::assertTrue($clock->isHeardAt($last + ExternalClock::FREEWHEEL - 1));
        self::assertFalse($clock->isHeardAt($last + ExternalClock::FREEWHEEL));
        // After a silence it is as new.
        self::assertSame(0.0, $clock->heard($last + 5 * self::S, 7 * self::S)->rate);
        self::assertSame(50, count(self::readings(1, 0, 200)[0]->readings), 'Two seconds of readings count.');
    }

    public function test_a_transport_that_chases_passes_over_hold_points_and_waits_at_both_ends(): void
    {
        $sheet = CueSheet::of(
            self::FRAME,
            60 * self::S,
            [['id' => 'h', 'time' => 10 * self::S, 'number' => '1', 'name' => 'Hold', 'holds' => true]],
            true,
        );
        $runs = Transport::heldAt(0, 0)
            ->looped(0, [0, 5 * self::S], $sheet)
            ->chase(0, 9 * self::S, 1.0, $sheet);
        self::assertSame(
            [11 * self::S, 60 * self::S],
            array_map(static fn (int $s): int => $runs->positionAt($s * self::S, $sheet), [2, 90]),
        );
        // Within a frame of it, nothing is done; further off, it goes there.
        self::assertSame($runs, $runs->chase(2 * self::S, 11 * self::S + self::FRAME, 1.0, $sheet));
        self::assertSame($runs, $runs->chase(2 * self::S, 11 * self::S, 1.001, $sheet));
        $off = $runs->chase(2 * self::S, 11 * self::S + self::FRAME + 1, 1.0, $sheet);
        self::assertSame(11 * self::S + self::FRAME + 1, $off->positionAt(2 * self::S, $sheet));
        $slow = $runs->chase(2 * self::S, 11 * self::S, 0.5, $sheet);
        self::assertSame(12 * self::S, $slow->positionAt(4 * self::S, $sheet));
        self::assertEquals(
            $slow,
            Transport::fromArray((array) json_decode((string) json_encode($slow->toArray()), true)),
        );
        // Before the beginning it stands there, past the end as well; a clock that stands has it stand on a frame.
        self::assertSame(
            [false, 0],
            [$runs->chase(0, -self::S, 1.0, $sheet)->playing, $runs->chase(0, -self::S, 1.0, $sheet)->position],
        );
        self::assertSame(60 * self::S, $runs->chase(0, 99 * self::S, 1.0, $sheet)->positionAt(5, $sheet));
        $stands = $runs->chase(0, 3 * self::S + 7, 0.0, $sheet);
        self::assertSame([false, 3 * self::S], [$stands->playing, $stands->position]);
        self::assertSame($stands, $stands->chase(5, 3 * self::S + 9, 0.0, $sheet));
        // Played by hand afterwards, it meets its hold point again.
        self::assertSame(10 * self::S, $stands->play(0, $sheet)->positionAt(30 * self::S, $sheet));
    }
}
