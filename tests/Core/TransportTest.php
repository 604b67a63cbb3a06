<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Playback\CueSheet;
use Core\Playback\Transport;
use Core\Timeline\BeatGrid;
use Core\Timeline\Clip;
use Core\Timeline\MediaTrack;
use Core\Timeline\PastEnd;
use Core\Timeline\TransportMap;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use PHPUnit\Framework\TestCase;

final class TransportTest extends TestCase
{
    /** @param  array<int, bool>  $cues  whether it holds, by time */
    private static function sheet(int $duration, array $cues = [], bool $loops = false): CueSheet
    {
        return CueSheet::of(
            10,
            $duration,
            array_map(
                static fn (int $time, bool $holds): array => [
                    'id' => "c$time",
                    'time' => $time,
                    'number' => (string) $time,
                    'name' => "c$time",
                    'holds' => $holds,
                ],
                array_keys($cues),
                $cues,
            ),
            $loops,
        );
    }

    public function test_it_is_where_walking_there_tick_by_tick_leads(): void
    {
        mt_srand(7);
        for ($k = 0; $k < 120; $k++) {
            $duration = 10 * mt_rand(20, 80);
            $cues = [];
            for ($i = mt_rand(0, 5); $i > 0; $i--) {
                $cues[10 * mt_rand(0, intdiv($duration, 10) - 1)] = mt_rand(0, 1) === 1;
            }
            ksort($cues);
            $loops = mt_rand(0, 3) === 0;
            $sheet = self::sheet($duration, $cues, $loops);
            $from = 10 * mt_rand(0, intdiv($duration, 10) - 2);
            $range = mt_rand(0, 1) === 1 ? [$from, 10 * mt_rand(intdiv($from, 10) + 1, intdiv($duration, 10))] : null;
            $rate = [1.0, 2.0, -1.0, -2.0][mt_rand(0, 3)];
            $start = 10 * mt_rand(0, intdiv($duration, 10) - 1);
            $transport = Transport::heldAt(0, $start)
                ->at(0, $rate, $sheet)
                ->looped(0, $range, $sheet)
                ->play(1000, $sheet);
            $map = TransportMap::fromArray(
                (array) json_decode((string) json_encode($transport->map($sheet)->toArray()), true),
            );
            [$at, $runs, $passed] = [$rate < 0 && $start === 0 ? $duration : $start, true, []];
            $repeat = $range ?? ($loops ? [0, $duration] : null);
            $inside = $repeat !== null && $at < $repeat[1];
            if (isset($cues[$at]) && $rate > 0) {
                $passed[] = [1000, "c$at"];
            }
            for ($engine = 1000; $engine < 4000; $engine++) {
                self::assertSame(
                    [$at, $at],
                    [$transport->positionAt($engine, $sheet), $map->at($engine)],
                    "run $k at $engine",
                );
                self::assertSame($runs, $transport->runsAt($engine, $sheet), "run $k at $engine");
                for ($i = abs((int) $rate); $runs && $i > 0; $i--) {
                    $at += $rate <=> 0;
                    if ($rate > 0 && $inside && $at >= $repeat[1]) {
                        $at = $repeat[0];
                    }
                    if ($rate > 0 && isset($cues[$at]) && ! $cues[$at]) {
                        $passed[] = [$engine + 1, "c$at"];
                    }
                    $runs = $rate < 0 ? $at > 0 : ! ($cues[$at] ?? false) && $at < $duration;
                }
            }
            $found = [];
            for (
                $since = 1000;
                ($next = $transport->nextPassed($since, $sheet)) !== null && $next[1] < 4000;
                $since = $next[1] + 1
            ) {
                array_push($found, ...array_map(static fn (string $cue): array => [$next[1], $cue], $next[0]));
            }
            self::assertSame(
                $rate < 0 ? [] : array_values(array_filter($passed, static fn (array $p): bool => $p[0] < 4000)),
                $found,
                "run $k",
            );
        }
    }

    public function test_at_any_rate_each_cue_is_passed_once_in_its_order_whenever_it_is_asked(): void
    {
        mt_srand(11);
        foreach ([0.1, 0.13, 0.5, 0.9, 1.0, 1.1, 3.7, 4.0] as $rate) {
            for ($run = 0; $run < 12; $run++) {
                // Two cues on one frame among them, and a hold point with another cue on its frame.
                $times = [30, 30, 70, 110, 110, 170];
                $cues = array_map(
                    static fn (int $i, int $time): array => [
                        'id' => "c$i",
                        'time' => $time,
                        'number' => "$i",
                        'name' => '',
                        'holds' => $run % 2 === 1 && $time === 110,
                    ],
                    array_keys($times),
                    $times,
                );
                $sheet = CueSheet::of(10, 200, $cues, $run % 3 === 0);
                $transport = Transport::heldAt(0, 20)->at(0, $rate, $sheet)->play(1000, $sheet);
                // As a walker passes them who looks at the map at each flick.
                $map = $transport->map($sheet);
                [$walked, $before] = [[], 19];
                for ($engine = 1000; $engine < 1000 + 700 / $rate; $engine++) {
                    $is = $map->at($engine);
                    $rests = ! $transport->runsAt($engine, $sheet) && $sheet->holdsAt($is);
                    foreach ($is >= $before ? [[$before, $is]] : [[$before, 199], [-1, $is]] as [$after, $upTo]) {
                        foreach ($cues as $cue) {
                            $cue['time'] > $after &&
                                $cue['time'] <= $upTo &&
                                ! ($rests && $cue['time'] === $is) &&
                                ($walked[] = [$cue['id'], $engine]);
                        }
                    }
                    $before = $is;
                }
                // Asked from one to the next, and asked at random moments, as beats of an engine do.
                $found = [];
                for (
                    $from = 1000;
                    ($next = $transport->nextPassed($from, $sheet)) !== null && $next[1] < 1000 + 700 / $rate;
                    $from = $next[1] + 1
                ) {
                    foreach ($next[0] as $cue) {
                        $found[] = [$cue, $next[1]];
                    }
                    $early = mt_rand(1000, $next[1]);
                    self::assertLessThanOrEqual($next[1], $transport->nextPassed($early, $sheet)[1] ?? PHP_INT_MAX);
                    self::assertSame($next, $transport->nextPassed($next[1], $sheet));
                }
                self::assertSame($walked, $found, "rate $rate, run $run");
            }
        }
    }

    public function test_who_goes_on_does_not_pass_twice_what_lies_where_it_is(): void
    {
        $sheet = self::sheet(1000, [300 => false, 310 => false, 500 => true]);
        $next = static fn (Transport $t, int $from): mixed => $t->nextPassed($from, $sheet);
        $running = Transport::heldAt(0, 0)->play(0, $sheet);
        // Passed at 300 and 310; then another rate, a loop or a hold within the same frame, and on.
        $slow = $running->at(301, 0.1, $sheet);
        self::assertSame([['c310'], 301 + 90], $next($slow, 301));
        $again = $slow->at(302, 0.1, $sheet)->looped(303, [0, 900], $sheet);
        self::assertSame([['c310'], 303 + 90], $next($again, 303));
        $held = $running->hold(305, $sheet);
        self::assertSame(300, $held->position);
        self::assertSame([['c310'], 410], $next($held->play(400, $sheet), 400));
        self::assertSame([['c310'], 410], $next($held->at(350, 1.0, $sheet)->play(400, $sheet), 400));
        // What lies at the very moment counts as of the next, since the one before was asked up to the flick before it.
        self::assertSame([['c300'], 300], $next($running->at(300, 0.1, $sheet), 300));
        // A jump there, and a play at a hold point that was played into, count; a hold there does not make it pass
        // twice.
        self::assertSame([['c300'], 305], $next($held->jump(303, 300, $sheet)->play(305, $sheet), 305));
        self::assertSame([['c500'], 900], $next($running->play(900, $sheet), 900));
        self::assertSame([['c500'], 900], $next($running->hold(800, $sheet)->play(900, $sheet), 900));
        self::assertNull($next($running->at(300, -1.0, $sheet), 300));
        // Through the journal.
        self::assertEquals(
            $held,
            Transport::fromArray((array) json_decode((string) json_encode($held->toArray()), true)),
        );
        // A clock from outside that is put right by a little: back, nothing twice; forth, nothing left out. Further
        // is a jump.
        $second = Flicks::PER_SECOND;
        $sheet = CueSheet::of(intdiv($second, 25), 100 * $second, [
            ['id' => 'a', 'time' => 10 * $second, 'number' => '1', 'name' => '', 'holds' => false],
            ['id' => 'b', 'time' => 11 * $second, 'number' => '2', 'name' => '', 'holds' => true],
        ]);
        $chasing = Transport::heldAt(0, 0)->chase(0, 5 * $second, 1.0, $sheet);
        $back = $chasing->chase((int) (5.2 * $second), (int) (9.9 * $second), 1.0, $sheet);
        self::assertSame(['b'], $back->nextPassed((int) (5.2 * $second), $sheet)[0] ?? null);
        $forth = $chasing->chase((int) (4.9 * $second), (int) (10.2 * $second), 1.0, $sheet);
        self::assertSame([['a'], (int) (4.9 * $second)], $forth->nextPassed((int) (4.9 * $second), $sheet));
        $far = $chasing->chase((int) (5.2 * $second), 2 * $second, 1.0, $sheet);
        self::assertSame(['a'], $far->nextPassed((int) (5.2 * $second), $sheet)[0] ?? null);
    }

    public function test_a_rate_or_a_loop_that_begins_goes_on_from_where_it_is(): void
    {
        $sheet = self::sheet(1000, [500 => true]);
        $running = Transport::heldAt(0, 0)->play(0, $sheet);
        $half = $running->at(100, 0.5, $sheet);
        self::assertSame(
            [100, 150, 500, 900],
            [
                $half->positionAt(100, $sheet),
                $half->positionAt(200, $sheet),
                $half->positionAt(5000, $sheet),
                $half->restsAt($sheet),
            ],
        );
        self::assertSame(
            [true, 0.5],
            [$half->hold(200, $sheet)->play(300, $sheet)->runsAt(301, $sheet), $half->hold(200, $sheet)->rate],
        );
        // A loop that lies behind is not gone back into; without it, the hold point counts again.
        self::assertSame(
            [200, 500],
            [
                $running->looped(100, [0, 50], $sheet)->positionAt(200, $sheet),
                $running->looped(100, [0, 50], $sheet)->positionAt(9000, $sheet),
            ],
        );
        self::assertNull($running->looped(100, [0, 200], $sheet)->restsAt($sheet));
        self::assertSame(
            500,
            $running
                ->looped(100, [0, 200], $sheet)
                ->looped(350, null, $sheet)
                ->positionAt(9000, $sheet),
        );
        foreach ([0.0, 0.09, 4.1, -0.05, NAN, INF] as $bad) {
            try {
                $running->at(0, $bad, $sheet);
                self::fail((string) $bad);
            } catch (InvalidValue $refused) {
                self::assertSame('rate', $refused->field);
            }
        }
        $this->expectException(InvalidValue::class);
        $running->looped(0, [300, 304], $sheet);
    }

    public function test_a_map_that_ends_a_loop_still_says_where_it_was_before(): void
    {
        $loop = TransportMap::of([[0, 100, 1.0]], [100, 200]);
        $after = $loop->then(TransportMap::of([[5030, 900, 1.0]], [850, 1000]));
        foreach ([5029, 5001, 5000, 4999, 4900] as $engine) {
            self::assertSame($loop->at($engine), $after->at($engine), (string) $engine);
        }
        self::assertSame(
            [900, 999, 850, 851],
            [$after->at(5030), $after->at(5129), $after->at(5130), $after->at(5131)],
        );
    }

    public function test_since_when_a_range_is_up_is_what_walking_back_from_there_finds(): void
    {
        mt_srand(11);
        $asked = 0;
        for ($k = 0; $k < 200; $k++) {
            [$pieces, $engine] = [[], 100];
            for ($i = mt_rand(1, 4); $i > 0; $i--) {
                $pieces[] = [$engine, mt_rand(0, 300), [0.0, 1.0, 1.0, 0.5, 2.5, -1.0, -0.3][mt_rand(0, 6)]];
                $engine += mt_rand(1, 200);
            }
            $loop = mt_rand(0, 1) === 0 ? null : [($first = mt_rand(0, 200)), $first + mt_rand(1, 150)];
            // As the engine has it: a loop is of the last way, which it begins before its end.
            if ($loop !== null) {
                $last = count($pieces) - 1;
                $pieces[$last][1] = mt_rand(0, $loop[1] - 1);
                $pieces[$last][2] = [1.0, 0.5, 2.0, 0.7][mt_rand(0, 3)];
                $before = array_slice($pieces, 0, $last);
                $map = TransportMap::of([$pieces[$last]], $loop);
                $map = $before === [] ? $map : TransportMap::of($before)->then($map);
            } else {
                $map = TransportMap::of($pieces);
            }
            $map = TransportMap::fromArray(
                (array) json_decode((string) json_encode($map->toArray(), JSON_PRESERVE_ZERO_FRACTION), true),
            );
            $began = $map->pieces[0][0];
            for ($r = 0; $r < 12; $r++) {
                $from = mt_rand(0, 300);
                $to = $from + mt_rand(1, 250);
                $now = mt_rand($began, $began + 1200);
                // Nor where no tick of the walk falls into what the loop has of outside the range.
                $missed =
                    $map->loop !== null &&
                    (in_array($map->loop[1] - $to, [1, 2], true) || in_array($from - $map->loop[0], [1, 2], true));
                if ($missed || $map->at($now) < $from || $map->at($now) >= $to) {
                    continue;
                }
                for (
                    $since = $now;
                    $since > $began && $map->at($since - 1) >= $from && $map->at($since - 1) < $to;
                    $since--
                );
                self::assertSame(
                    $since,
                    $map->since($from, $to, $now),
                    "run $k, $from to $to at $now of ".json_encode($map->toArray()),
                );
                // What was up before its first piece is remembered.
                self::assertSame(
                    $since === $began ? 7 : $since,
                    $map->clocked([[0, 1, 3], [$from, $to, 7]])->since($from, $to, $now),
                );
                $asked++;
            }
        }
        self::assertGreaterThan(400, $asked);
        self::assertSame(
            50,
            TransportMap::standing(0, 10)->since(20, 30, 50),
            'Where it is not, it has been for no time.',
        );
    }

    public function test_a_frame_by_a_clock_of_its_own_counts_from_when_its_clip_came_up(): void
    {
        // Ten frames of 10 flicks, again and again, from 100 to 400 of the timeline; a plain one after it.
        $track = MediaTrack::fromBytes(
            MediaTrack::ofClips([
                [Clip::of(100, 300, 0, null, PastEnd::Loop, ownClock: true), 10, 10],
                [Clip::of(400, 100), 10, 10],
            ])->toBytes(),
        );
        $asked = [];
        $running = static function (int $from, int $to) use (&$asked): int {
            $asked[] = [$from, $to];

            return 137;
        };
        self::assertSame(
            [0, 3],
            $track->at(250, 10, $running),
            '137 are thirteen frames: the fourth of the second time round.',
        );
        self::assertSame([1, 5], $track->at(450, 10, $running));
        self::assertSame([-1, 0], $track->at(99, 10, $running));
        self::assertSame([[100, 400]], $asked);
        // With nobody who knows, it runs as the others do; on the show's grid, of 25 here, five quarters of a hundred
        // are 125.
        self::assertSame([0, 5], $track->at(250, 10));
        self::assertSame([0, 2], $track->at(250, 25, $running));
    }

    public function test_taps_mean_a_tempo(): void
    {
        $second = Flicks::PER_SECOND;
        // Half a second apart: 120 a minute, from the first on; a hand that is off by up to 20 ms means the same.
        $even = BeatGrid::ofTaps(
            array_map(static fn (int $i): int => 3 * $second + intdiv($i * $second, 2), range(0, 7)),
        );
        self::assertSame([120.0, 3 * $second, 4], [$even?->bpm, $even?->first, $even?->beats]);
        $unsure = BeatGrid::ofTaps(
            array_map(
                static fn (int $i): int => 3 * $second +
                    intdiv($i * $second, 2) +
                    intdiv([0, 14, -14, 7, -7, 14, -14, 0][$i] * $second, 1000),
                range(0, 7),
            ),
        );
        self::assertEqualsWithDelta(120, $unsure?->bpm, 1.0);
        self::assertEqualsWithDelta(3 * $second, $unsure?->first, 0.02 * $second);
        // A pause begins anew; one tap, or a tempo that nobody plays, is none.
        self::assertSame(60.0, BeatGrid::ofTaps([0, 300 * $second, 301 * $second, 302 * $second])?->bpm);
        self::assertSame(
            [null, null, null],
            [
                BeatGrid::ofTaps([]),
                BeatGrid::ofTaps([5]),
                BeatGrid::ofTaps([0, intdiv($second, 20), intdiv($second, 10)]),
            ],
        );
        $grid = BeatGrid::of(90, $second);
        self::assertSame(
            [$second, $second + 3 * intdiv(60 * $second, 90), 3, -1, 4 * intdiv(60 * $second, 90)],
            [
                $grid->beat(0),
                $grid->beat(3),
                $grid->nearest($second + 2 * $second),
                $grid->nearest(intdiv($second, 3)),
                $grid->bar(),
            ],
        );
    }

    public function test_what_is_repeated_from_the_playhead_on_is_a_bar_or_four_seconds_up_to_the_end(): void
    {
        $frame = 28_224_000;
        $sheet = static fn (int $bar, int $seconds = 60): CueSheet => CueSheet::of(
            $frame,
            $seconds * Flicks::PER_SECOND,
            bar: $bar,
        );
        // 120 beats a minute, four to the bar: two seconds.
        $bar = BeatGrid::of(120)->bar();
        self::assertSame(1_411_200_000, $bar);
        self::assertSame(1_058_400_000, BeatGrid::of(120, 0, 3)->bar());
        self::assertSame([0, 1_411_200_000], $sheet($bar)->loopFrom(0));
        self::assertSame(
            [10 * $frame, 10 * $frame + 1_411_200_000],
            $sheet($bar)->loopFrom(11 * $frame - 1),
            'from the frame that is seen',
        );
        self::assertSame([$frame, $frame + 4 * Flicks::PER_SECOND], $sheet(0)->loopFrom($frame));
        self::assertSame(
            [58 * Flicks::PER_SECOND, 60 * Flicks::PER_SECOND],
            $sheet(0)->loopFrom(58 * Flicks::PER_SECOND),
        );
        self::assertSame(
            [60 * Flicks::PER_SECOND - $frame, 60 * Flicks::PER_SECOND],
            $sheet(0)->loopFrom(60 * Flicks::PER_SECOND),
            'at the end, the last frame',
        );
        self::assertSame([0, $frame], CueSheet::of($frame, $frame, bar: 5)->loopFrom(0), 'no shorter than a frame');
        self::assertSame($sheet($bar)->toArray(), CueSheet::fromArray($sheet($bar)->toArray())->toArray());
    }

    public function test_a_clock_is_chased_at_four_times_at_most_within_the_timeline(): void
    {
        $sheet = self::sheet(1000);
        $at = static fn (int $position, float $rate): Transport => Transport::heldAt(0, 0)->chase(
            0,
            $position,
            $rate,
            $sheet,
        );
        self::assertSame([4.0, -4.0], [$at(500, 9.5)->rate, $at(500, -9.5)->rate]);
        self::assertSame([1000, 0], [$at(1234, 1.0)->position, $at(-7, -1.0)->position]);
        // Before the beginning it waits for a clock that comes, and does not for one that goes.
        self::assertFalse($at(-500, 1.0)->playing);
        self::assertTrue($at(-500, -1.0)->playing);
        $one = $at(500, 1.0);
        self::assertSame($one, $one->chase(100, 610, 1.001, $sheet), 'within a frame, at nearly the same rate');
        self::assertNotSame($one, $one->chase(100, 611, 1.0, $sheet));
        self::assertSame(1.1, $one->chase(100, 600, 1.1, $sheet)->rate);
        // Put right by a second, it goes on passing each cue once; by more, it has jumped.
        $long = self::sheet(10 * Flicks::PER_SECOND);
        $runs = Transport::heldAt(0, 0)->chase(0, 0, 1.0, $long);
        $second = Flicks::PER_SECOND;
        self::assertNotNull($runs->chase($second, 2 * $second, 1.0, $long)->past);
        self::assertNull($runs->chase($second, 2 * $second + 1, 1.0, $long)->past);
    }

    public function test_a_jump_stays_within_the_timeline(): void
    {
        $sheet = self::sheet(1000);
        self::assertSame(0, Transport::heldAt(0, 500)->jump(0, -1, $sheet)->position);
        self::assertSame(1000, Transport::heldAt(0, 500)->jump(0, 1100, $sheet)->position);
    }

    public function test_edges_of_a_loop(): void
    {
        // A hold point at its very start is met when it comes round.
        $sheet = self::sheet(1000, [100 => true]);
        $round = Transport::heldAt(0, 150)
            ->looped(0, [100, 300], $sheet)
            ->play(0, $sheet);
        self::assertSame([150, 100], [$round->restsAt($sheet), $round->restsOn($sheet)]);
        // From its very end it runs on.
        $on = Transport::heldAt(0, 300)
            ->looped(0, [100, 300], $sheet)
            ->play(0, $sheet);
        self::assertSame([700, 1000], [$on->restsAt($sheet), $on->restsOn($sheet)]);
        // A cue at its very end is never come to; one at its start is, each time.
        $sheet = self::sheet(1000, [100 => false, 300 => false]);
        $round = Transport::heldAt(0, 150)
            ->looped(0, [100, 300], $sheet)
            ->play(0, $sheet);
        self::assertSame([['c100'], 150], $round->nextPassed(0, $sheet));
        self::assertSame([['c100'], 350], $round->nextPassed(151, $sheet));
    }

    public function test_a_cue_at_the_very_end_is_passed_as_playback_comes_to_rest(): void
    {
        $sheet = self::sheet(1000, [1000 => false]);
        $plays = Transport::heldAt(0, 900)->play(0, $sheet);
        self::assertSame([['c1000'], 100], $plays->nextPassed(0, $sheet));
        self::assertNull($plays->nextPassed(101, $sheet));
        // From there it starts over.
        self::assertSame(0, $plays->play(200, $sheet)->position);
    }

    public function test_a_cue_is_passed_at_the_least_time_at_which_it_is_reached(): void
    {
        foreach ([0.1, 0.3, 0.7, 1.1, 1.5, 2.3, 3.7, 4.0] as $rate) {
            for ($time = 1; $time < 400; $time += 3) {
                $cue = ['id' => "c$time", 'time' => $time, 'number' => '1', 'name' => 'C', 'holds' => false];
                $sheet = CueSheet::of(1, 100_000, [$cue]);
                $plays = Transport::heldAt(0, 0)->at(0, $rate, $sheet)->play(0, $sheet);
                // Tick by tick.
                for ($n = 0; (int) floor($n * $rate) < $time; $n++);
                self::assertSame([["c$time"], $n], $plays->nextPassed(0, $sheet), "$time at $rate");
            }
        }
    }

    public function test_what_was_passed_stays_passed_when_a_clock_is_put_back(): void
    {
        $sheet = self::sheet(100 * Flicks::PER_SECOND, [500 => false]);
        $first = Transport::heldAt(0, 0)->chase(0, 400, 1.0, $sheet);
        self::assertSame([['c500'], 100], $first->nextPassed(0, $sheet));
        // Put back to before the cue, twice, with a little played between.
        $back = $first->chase(150, 480, 1.0, $sheet);
        self::assertNull($back->nextPassed(0, $sheet));
        $again = $back->chase(160, 470, 1.0, $sheet);
        self::assertSame(470, $again->position);
        self::assertNull($again->nextPassed(0, $sheet));
        // When a loop has turned, cues count again.
        $loop = self::sheet(1000, [100 => false]);
        $held = Transport::heldAt(0, 250)
            ->looped(0, [100, 300], $loop)
            ->play(0, $loop)
            ->hold(40, $loop);
        $on = $held->play(50, $loop);
        self::assertSame([['c100'], 60], $on->nextPassed(0, $loop));
        // Held a tick after it came round to the cue, that is passed.
        self::assertSame(100, $on->hold(61, $loop)->past);
    }
}
