<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Timeline\Chase;
use Core\Timeline\ChaseState;
use Core\Timeline\ClockJump;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use PHPUnit\Framework\TestCase;

/** How a timeline follows a clock: what it believes, what it ignores, and what a jump does. */
final class ChaseTest extends TestCase
{
    private const S = Flicks::PER_SECOND;

    /** A frame at 25 a second. */
    private const F = 28_224_000;

    /**
     * Readings by the second, for a timeline that does what comes of them.
     *
     * @param  list<array{float, float}>  $readings  engine time and what the clock says, in seconds
     * @return list<string> after each: follows, holds, or goes on; and where the timeline is then
     */
    private static function played(Chase $rule, array $readings, float $duration = 600.0): array
    {
        [$state, $told] = [new ChaseState(), []];
        // Position and rate of the timeline since an engine time.
        [$at, $stands, $runs] = [0.0, 0.0, 0.0];
        foreach ($readings as $i => [$engine, $clock]) {
            $before = $readings[$i - 1] ?? null;
            $rate = $before !== null && abs($clock - $before[1] - ($engine - $before[0])) < 0.01 ? 1.0 : ($runs ?: 1.0);
            $rate = $before !== null && $clock === $before[1] ? 0.0 : $rate;
            $here = max(0.0, min($duration, $stands + ($engine - $at) * $runs));
            [$state, $does] = $state->heard(
                $rule,
                (int) ($engine * self::S),
                (int) round($clock * self::S),
                $rate,
                (int) round($here * self::S),
                $runs,
                self::F,
            );
            if ($does === true) {
                [$at, $stands, $runs] = [$engine, max(0.0, min($duration, $clock)), $clock < 0 ? 0.0 : $rate];
            } elseif ($does === false) {
                [$at, $stands, $runs] = [$engine, $here, 0.0];
            }
            $now = max(0.0, min($duration, $stands + ($engine - $at) * $runs));
            $told[] = ($does === null ? 'on' : ($does ? 'follow' : 'hold')).' '.round($now, 3);
        }

        return $told;
    }

    public function test_by_itself_a_clock_is_followed_at_once_wherever_it_goes(): void
    {
        self::assertSame(
            ['follow 10', 'follow 11', 'follow 500', 'follow 501'],
            self::played(new Chase(), [[0, 10], [1, 11], [2, 500], [3, 501]]),
        );
    }

    public function test_a_clock_has_to_run_on_before_it_is_believed_at_first_and_after_a_jump(): void
    {
        self::assertSame(
            ['on 0', 'on 0', 'follow 12', 'follow 13', 'on 14', 'on 15', 'follow 102', 'follow 103'],
            self::played(new Chase(believe: 2 * self::S), [
                [0, 10],
                [1, 11],
                [2, 12],
                [3, 13],
                [4, 100],
                [5, 101],
                [6, 102],
                [7, 103],
            ]),
        );
        // A single wrong reading moves nothing.
        self::assertSame(
            ['on 0', 'on 0', 'follow 12', 'on 13', 'follow 14', 'follow 15', 'follow 16'],
            self::played(new Chase(believe: 2 * self::S), [
                [0, 10],
                [1, 11],
                [2, 12],
                [3, 400],
                [4, 14],
                [5, 15],
                [6, 16],
            ]),
        );
    }

    public function test_a_jump_holds_where_that_is_wanted_until_somebody_takes_it_in_hand(): void
    {
        $rule = new Chase(ClockJump::Hold);
        self::assertSame(
            ['follow 10', 'follow 11', 'hold 12', 'on 12', 'on 12'],
            self::played($rule, [[0, 10], [1, 11], [2, 100], [3, 101], [4, 14]]),
        );
        $state = new ChaseState(false, true, [0, 0], true);
        self::assertNull($state->heard($rule, self::S, self::S, 1.0, 0, 0.0, self::F)[1]);
        [$next, $does] = $state->released()->heard($rule, self::S, 50 * self::S, 1.0, 0, 0.0, self::F);
        self::assertSame([true, true], [$does, $next->locked]);
        // A quarter of a second is no jump yet.
        self::assertSame(['follow 10', 'follow 11.24'], self::played($rule, [[0, 10], [1, 11.24]]));
        // A clock that waits before the beginning has not jumped.
        self::assertSame(
            ['follow 0', 'follow 0', 'follow 0', 'follow 1'],
            self::played($rule, [[0, -60], [1, -59], [60, 0], [61, 1]]),
        );
    }

    public function test_what_is_less_than_so_many_frames_off_is_ignored_while_it_runs(): void
    {
        // Five frames are a fifth of a second.
        self::assertSame(
            ['follow 10', 'on 11', 'on 12', 'on 13', 'follow 14.2'],
            self::played(new Chase(ignore: 5), [[0, 10], [1, 11], [2, 12.1], [3, 13.1], [4, 14.2]]),
        );
        // A clock that stops is not ignored.
        self::assertSame(
            ['follow 10', 'on 11', 'follow 11'],
            self::played(new Chase(ignore: 5), [[0, 10], [1, 11], [1.04, 11]]),
        );
    }

    public function test_who_comes_late_waits_where_that_is_wanted(): void
    {
        $rule = new Chase(waits: true);
        self::assertSame(['on 0', 'on 0'], self::played($rule, [[0, 10], [1, 11]]));
        self::assertSame(['follow 0', 'follow 0', 'follow 1'], self::played($rule, [[0, -1], [1, 0], [2, 1]]));
        // Exactly at its beginning is in time, and a frame after it still.
        self::assertSame(['follow 0'], self::played($rule, [[0, 0]]));
        self::assertSame(['follow 0.04'], self::played($rule, [[0, 0.04]]));
        self::assertSame(['on 0'], self::played($rule, [[0, 0.05]]));
    }

    public function test_rules_have_limits(): void
    {
        self::assertSame(
            ['clockJump' => 'hold', 'clockBelieve' => 7, 'clockIgnore' => 3, 'clockWaits' => true],
            Chase::fromRow([
                'clockJump' => 'hold',
                'clockBelieve' => 7,
                'clockIgnore' => 3,
                'clockWaits' => 1,
            ])->toArray(),
        );
        foreach (
            [
                ['clockJump' => 'leap'],
                ['clockBelieve' => -1],
                ['clockBelieve' => 10 * self::S + 1],
                ['clockIgnore' => 251],
            ] as $row
        ) {
            try {
                Chase::fromRow($row);
                self::fail((string) json_encode($row));
            } catch (InvalidValue $refused) {
                self::assertSame(array_key_first($row), $refused->field);
            }
        }
    }
}
