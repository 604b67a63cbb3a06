<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Cues\ClockTime;
use Core\Cues\Cue;
use Core\Cues\CueList;
use Core\Cues\CueMix;
use Core\Cues\CueNumber;
use Core\Cues\CueValue;
use Core\Cues\FadeCurve;
use Core\Cues\OnStop;
use Core\Cues\Scope;
use Core\Cues\Trigger;
use Core\Preflight\Finding;
use Core\Preflight\Inspections\BrokenCues;
use Core\Show\Document;
use Core\Show\ResultCache;
use Core\Show\Schema;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use Core\Values\HeldValue;
use Core\Values\Stratum;
use Core\Values\Track;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class CueTest extends TestCase
{
    private const S = Flicks::PER_SECOND;

    private const AT = 100 * self::S;

    private const OPACITY = 'layer:01/opacity';

    private static function cue(
        string $id,
        float $value,
        float $fade = 0,
        float $delay = 0,
        FadeCurve $curve = FadeCurve::Linear,
    ): Cue {
        return new Cue(
            $id,
            $id,
            $id,
            values: [new CueValue(self::OPACITY, $value)],
            fade: (int) ($fade * self::S),
            delay: (int) ($delay * self::S),
            curve: $curve,
        );
    }

    /**
     * @param  list<HeldValue>  $held
     * @return list<HeldValue>
     */
    private static function fire(array $held, Cue $cue, int $sequence, float $at): array
    {
        return CueMix::fired($held, $cue, $cue->values[0], $sequence, (int) (self::AT + $at * self::S));
    }

    /** @param  list<HeldValue>  $held */
    private static function at(array $held, float $seconds, float $below = 0.0): float
    {
        return HeldValue::over($below, $held, (int) (self::AT + $seconds * self::S));
    }

    public function test_a_fade_runs_along_its_curve(): void
    {
        $closed = [
            'linear' => static fn (float $s): float => $s,
            'smooth' => static fn (float $s): float => 3 * $s ** 2 - 2 * $s ** 3,
            'ease-in' => static fn (float $s): float => $s ** 2,
            'ease-out' => static fn (float $s): float => 1 - (1 - $s) ** 2,
        ];
        foreach (FadeCurve::cases() as $curve) {
            $held = self::fire([], self::cue('a', 0.8, 4, 1, $curve), 1, 0);
            $last = 0.2;
            for ($t = 0.0; $t <= 6; $t += 0.125) {
                $share = max(0, min(1, ($t - 1) / 4));
                $is = self::at($held, $t, 0.2);
                self::assertEqualsWithDelta(
                    0.2 + 0.6 * $closed[$curve->value]($share),
                    $is,
                    1e-12,
                    "$curve->value at $t",
                );
                self::assertEqualsWithDelta($closed[$curve->value]($share), $curve->at($share), 1e-12);
                // Never back, never beyond.
                self::assertGreaterThanOrEqual($last - 1e-12, $is);
                self::assertLessThanOrEqual(0.8 + 1e-12, $is);
                $last = $is;
            }
        }
        self::assertSame(
            [0.2, 0.8],
            [
                self::at(self::fire([], self::cue('a', 0.8), 1, 0), -0.001, 0.2),
                self::at(self::fire([], self::cue('a', 0.8), 1, 0), 0, 0.2),
            ],
        );
    }

    public function test_a_fade_that_begins_in_a_fade_begins_where_the_value_is(): void
    {
        mt_srand(3);
        for ($run = 0; $run < 200; $run++) {
            $held = [];
            $time = 0.0;
            $below = mt_rand(0, 100) / 100;
            for ($i = 0; $i < 60; $i++) {
                $time += mt_rand(0, 60) / 100;
                $cue = self::cue(
                    ['a', 'b', 'c', 'd'][mt_rand(0, 3)],
                    mt_rand(0, 100) / 100,
                    mt_rand(1, 300) / 100,
                    mt_rand(0, 3) === 0 ? 0.2 : 0,
                    FadeCurve::cases()[mt_rand(0, 3)],
                );
                $before = self::at($held, $time, $below);
                $held = match (mt_rand(0, 5)) {
                    0 => CueMix::release($held, $cue->id, (int) (self::AT + $time * self::S), self::S),
                    1 => CueMix::freeze($held, $cue->id, (int) (self::AT + $time * self::S)),
                    default => self::fire($held, $cue, $i + 1, $time),
                };
                self::assertEqualsWithDelta($before, self::at($held, $time, $below), 1e-9, "run $run, step $i");
                self::assertLessThanOrEqual(CueMix::DEPTH, count($held));
            }
        }
    }

    public function test_fired_fifty_times_a_second_it_stays_small_and_comes_to_its_value(): void
    {
        $held = [];
        for ($i = 0; $i < 500; $i++) {
            $held = self::fire($held, self::cue(['a', 'b'][$i % 2], [0.2, 0.9][$i % 2], 2), $i + 1, $i / 50);
        }
        self::assertLessThanOrEqual(CueMix::DEPTH, count($held));
        self::assertEqualsWithDelta(0.9, self::at($held, 9.98 + 2, 0.5), 1e-9);
        // The same one again and again is one.
        $again = [];
        for ($i = 0; $i < 500; $i++) {
            $again = self::fire($again, self::cue('a', 0.7, 2), $i + 1, $i / 50);
        }
        self::assertCount(1, $again);
        self::assertEqualsWithDelta(0.7, self::at($again, 9.98 + 2, 0), 1e-12);
    }

    public function test_what_a_stopped_cue_leaves_behind(): void
    {
        // Over what moves: it fades back to where that is by then.
        $held = self::fire([], self::cue('a', 1.0, 2), 1, 0);
        $back = CueMix::release($held, 'a', self::AT + 5 * self::S, 4 * self::S);
        self::assertEqualsWithDelta(
            [1.0, 0.75, 0.5, 0.2],
            [self::at($back, 5, 0.3), self::at($back, 7, 0.5), self::at($back, 7, 0.0), self::at($back, 9, 0.2)],
            1e-12,
        );
        self::assertSame([], CueMix::prune($back, self::AT + 9 * self::S));
        // Halfway in, it stays halfway, and is nobody's.
        $stays = CueMix::freeze($held, 'a', self::AT + self::S);
        self::assertEqualsWithDelta([0.5, 0.6], [self::at($stays, 50, 0), self::at($stays, 50, 0.2)], 1e-12);
        self::assertSame([''], array_map(static fn (HeldValue $one): string => $one->source, $stays));
        // What is frozen goes once another one covers it.
        $over = self::fire($stays, self::cue('b', 0.1), 2, 60);
        self::assertSame(
            ['b'],
            array_map(static fn (HeldValue $one): string => $one->source, CueMix::prune($over, self::AT + 61 * self::S)),
        );
    }

    /**
     * @return array<string, array{float, list<array{Stratum, int, float, float}>, float}> below; stratum, sequence,
     *     value, weight; result
     */
    public static function winners(): array
    {
        return [
            'nobody' => [0.4, [], 0.4],
            'a cue over the timeline' => [0.4, [[Stratum::Cue, 1, 0.9, 1]], 0.9],
            'half a cue' => [0.4, [[Stratum::Cue, 1, 0.8, 0.5]], 0.6],
            'the newer cue' => [0.4, [[Stratum::Cue, 2, 0.1, 1], [Stratum::Cue, 1, 0.9, 1]], 0.1],
            'a control over a newer cue' => [0.4, [[Stratum::Cue, 9, 0.1, 1], [Stratum::Bound, 1, 0.7, 1]], 0.7],
            'the hand over all' => [
                0.4,
                [[Stratum::Loose, 1, 0.3, 1], [Stratum::Bound, 8, 0.7, 1], [Stratum::Cue, 9, 0.1, 1]],
                0.3,
            ],
            'the hand lets go halfway over a cue' => [
                0.4,
                [[Stratum::Loose, 3, 0.0, 0.5], [Stratum::Cue, 2, 1.0, 1]],
                0.5,
            ],
            'panic over the hand' => [0.4, [[Stratum::Panic, 1, 0.0, 1], [Stratum::Loose, 9, 1.0, 1]], 0.0],
        ];
    }

    /** @param  list<array{Stratum, int, float, float}>  $held */
    #[DataProvider('winners')]
    public function test_who_wins(float $below, array $held, float $result): void
    {
        $all = array_map(
            static fn (array $h): HeldValue => HeldValue::of(
                $h[0],
                $h[1],
                'x',
                Track::constant($h[2]),
                Track::constant($h[3]),
            ),
            $held,
        );
        self::assertEqualsWithDelta($result, HeldValue::over($below, $all, self::AT), 1e-12);
        self::assertEqualsWithDelta(
            $result,
            HeldValue::over(
                $below,
                array_map(
                    static fn (HeldValue $one): HeldValue => HeldValue::fromArray(
                        (array) json_decode((string) json_encode($one->toArray()), true),
                    ),
                    array_reverse($all),
                ),
                self::AT,
            ),
            1e-12,
        );
    }

    public function test_a_moving_value_repeats_at_its_rate(): void
    {
        // Up in one second, down in the next, at double the rate: every second there and back.
        $rows = [
            'cue' => [
                [
                    'id' => 'q',
                    'number' => '1',
                    'name' => 'Q',
                    'loop' => 2 * self::S,
                    'rate' => 2,
                    'held' => [
                        [
                            'a' => 'layer:'.str_repeat('0', 26).'/opacity',
                            'v' => 0,
                            'keys' => [
                                ['t' => 0, 'v' => 0],
                                ['t' => self::S, 'v' => 1],
                                ['t' => 2 * self::S, 'v' => 0],
                            ],
                        ],
                    ],
                ],
            ],
        ];
        $cue = Document::of(['id' => 's', 'name' => 'S', 'frameRate' => '25'], $rows)->show->programme->cues['q'];
        $held = CueMix::fired(
            [],
            Cue::fromArray('q', (array) json_decode((string) json_encode($cue->toArray()), true)),
            $cue->values[0],
            1,
            self::AT,
        );
        foreach ([0, 0.1, 0.25, 0.5, 0.75, 1, 1.25, 3600.75] as $t) {
            $share = fmod($t, 1);
            self::assertEqualsWithDelta(
                $share < 0.5 ? 2 * $share : 2 - 2 * $share,
                self::at($held, $t, 0.123),
                1e-6,
                (string) $t,
            );
        }
        // To beats: 90 a minute, the rise takes one of them.
        $rows['cue'][0] = ['bpm' => 90, 'rate' => 1, 'loop' => 0] + $rows['cue'][0];
        $beats = Document::of(['id' => 's', 'name' => 'S', 'frameRate' => '25'], $rows)->show->programme->cues['q'];
        self::assertEqualsWithDelta(
            [0.5, 1.0],
            [
                self::at(CueMix::fired([], $beats, $beats->values[0], 1, self::AT), 60 / 90 / 2),
                self::at(CueMix::fired([], $beats, $beats->values[0], 1, self::AT), 60 / 90),
            ],
            1e-6,
        );
    }

    public function test_the_list_knows_what_comes_next_and_what_follows(): void
    {
        $cue = static fn (
            string $number,
            Trigger $trigger = Trigger::Go,
            float $fade = 0,
            float $wait = 0,
            bool $listed = true,
        ): Cue => new Cue(
            "q$number",
            $number,
            $number,
            values: [new CueValue(self::OPACITY, 1, (int) ($fade * self::S))],
            trigger: $trigger,
            wait: (int) ($wait * self::S),
            listed: $listed,
        );
        $list = CueList::of([
            $cue('10'),
            $cue('2'),
            $cue('1', fade: 3),
            $cue('1.5', Trigger::Follow),
            $cue('1.25', Trigger::Wait, wait: 4),
            $cue('99', listed: false),
        ]);
        self::assertSame(
            ['1', '1.25', '1.5', '2', '10'],
            array_map(static fn (Cue $c): string => $c->number, $list->cues),
        );
        self::assertSame(
            ['q1', 'q2', 'q2', 'q10', null],
            array_map(static fn (?string $after): ?string => $list->next($after)?->id, [
                null,
                'q1',
                'q1.5',
                'q2',
                'q10',
            ]),
        );
        self::assertNull($list->next('q99'));
        self::assertSame(
            ['q2', 'q1', 'q1', 'q10'],
            array_map(static fn (?string $of): ?string => $list->previous($of)?->id, ['q10', 'q2', 'q1', null]),
        );
        self::assertSame(
            [['q1.25', 4 * self::S], ['q1.5', 0], null, null],
            array_map(
                static function (string $of) use ($list): ?array {
                    $then = $list->following($of);

                    return $then === null ? null : [$then[0]->id, $then[1]];
                },
                ['q1', 'q1.25', 'q1.5', 'q10'],
            ),
        );
        self::assertSame(['q1.25' => '2', 'q1.5' => '3', 'q2' => '4', 'q10' => '5'], $list->renumbered());
        self::assertSame(
            ['q1' => '10', 'q1.25' => '10.5', 'q1.5' => '11', 'q2' => '11.5', 'q10' => '12'],
            $list->renumbered(10, 0.5),
        );
        self::assertSame(
            [[], null, null],
            [CueList::of([])->cues, CueList::of([])->next(null), CueList::of([])->previous(null)],
        );
    }

    public function test_numbers_are_free_and_in_order(): void
    {
        self::assertSame(
            ['1', '6', '1.1', '1.11', '1.3', '3'],
            [
                CueNumber::after('', []),
                CueNumber::after('5', ['1', '5']),
                CueNumber::after('1', ['1', '2']),
                CueNumber::after('1.1', ['1', '1.1', '1.2']),
                CueNumber::after('1.2', ['1.2', '2']),
                CueNumber::after('2b', ['2', '2b', '4']),
            ],
        );
        $numbers = ['10', '9', '1.5', '1.25', '1.10', 'b', 'a', '2b', '2'];
        usort($numbers, CueNumber::compare(...));
        self::assertSame(['1.10', '1.25', '1.5', '2', '2b', '9', '10', 'a', 'b'], $numbers);
    }

    public function test_times_of_day(): void
    {
        // 2026-12-25 is a Friday, 20,812 days after 1970-01-01.
        self::assertSame(
            [true, false, true, true],
            [
                ClockTime::parse('21:30')->isOn(20_812),
                ClockTime::parse('21:30 mon tue')->isOn(20_812),
                ClockTime::parse('21:30:15 Fri, sat')->isOn(20_812),
                ClockTime::parse('21:30 sun')->isOn(20_814),
            ],
        );
        self::assertSame(
            [true, false],
            [ClockTime::parse('2026-12-25 18:00')->isOn(20_812), ClockTime::parse('2026-12-24 18:00')->isOn(20_812)],
        );
        self::assertSame(
            [77_400, 77_415, 0],
            [ClockTime::parse('21:30')->second, ClockTime::parse('21:30:15')->second, ClockTime::parse('0:00')->second],
        );
        foreach (
            ['', '25:00', '21:60', '21:30 foo', '2026-02-30 18:00', '2026-12-24 18:00 fri', '21', 'noon'] as $bad
        ) {
            try {
                ClockTime::parse($bad);
                self::fail($bad);
            } catch (InvalidValue $refused) {
                self::assertSame('clock', $refused->field);
            }
        }
    }

    private static function point(string $id, ?float $time, bool $listed = true, string $line = 'main'): Cue
    {
        return new Cue(
            $id,
            $id,
            $id,
            timeline: $time === null ? null : $line,
            time: $time === null ? null : (int) ($time * self::S),
            listed: $listed,
        );
    }

    /** @param  list<Cue>  $cues */
    private static function order(array $cues, ?string $driven = 'main'): string
    {
        return implode(' ', array_column(CueList::of($cues, $driven)->cues, 'id'));
    }

    public function test_what_stands_on_the_driven_timeline_has_its_place_in_the_list(): void
    {
        $cues = [
            self::point('4', null),
            self::point('3', 20),
            self::point('1', null),
            self::point('2', 10),
            self::point('b', 15, false),
            self::point('a', 10, false),
            self::point('c', 99, false),
            self::point('z', 5, false),
            self::point('o', 12, false, 'other'),
        ];
        self::assertSame('1 z 2 a b 3 c 4', self::order($cues));
        self::assertSame('1 2 3 4', self::order($cues, null), 'Without a timeline, only what is listed.');
        self::assertSame('1 2 3 4 o', self::order($cues, 'other'), 'With none of its own in the list, behind it.');
        self::assertSame('x y', self::order([self::point('y', 2, false), self::point('x', 1, false)]));
        // By numbers, a later one may stand first: what has no number goes behind the latest before it.
        self::assertSame('1 2 m', self::order([self::point('1', 30), self::point('2', 10), self::point('m', 20, false)]));
        self::assertSame('1 n 2', self::order([self::point('1', 30), self::point('2', 10), self::point('n', 30, false)]));
    }

    public function test_go_plays_on_from_a_hold_point_or_fires_what_is_next(): void
    {
        $list = CueList::of([self::point('1', null), self::point('2', 10), self::point('3', 20)], 'main');
        $go = static fn (mixed ...$state): array => array_values($list->go(...$state));
        self::assertSame(['1', false], $go(null));
        self::assertSame(['2', false], $go('1'));
        self::assertSame([null, false], $go('3'), 'Behind the last one is nothing.');
        self::assertSame(['2', true], $go('1', waiting: '2'));
        self::assertSame(['2', true], $go('3', waiting: '2'), 'Where it waits goes before where the list stands.');
        self::assertSame(['3', false], $go('2', true, '2'), 'What somebody pointed to goes before both.');
        self::assertSame([null, false], array_values(CueList::of([])->go(null)));
        self::assertSame([null, false], $go('gone'));
    }

    public function test_the_list_goes_along_where_the_driven_timeline_is_taken(): void
    {
        $list = CueList::of(
            [self::point('1', null), self::point('2', 10), self::point('3', 20), self::point('4', null)],
            'main',
        );
        $next = static function (float $time) use ($list): ?string {
            $to = $list->soughtTo('main', (int) ($time * self::S));

            return $to === null ? 'as it was' : $list->next($to[0])?->id;
        };
        self::assertSame(['2', '2', '3', '3', '4'], array_map($next, [0.0, 10.0, 10.001, 20.0, 20.001]));
        self::assertNull($list->soughtTo('other', 0), 'A timeline without cues leaves it.');
        self::assertSame([null], CueList::of([self::point('1', 5)], 'main')->soughtTo('main', 0));
        self::assertSame(['1'], CueList::of([self::point('1', 5)], 'main')->soughtTo('main', 6 * self::S));
    }

    public function test_a_cue_travels_whole(): void
    {
        $cue = new Cue(
            'q',
            '1.5',
            'Name',
            '',
            't',
            5 * self::S,
            true,
            Scope::Everything,
            [
                new CueValue(self::OPACITY, 0.25, 3, 4, FadeCurve::Smooth, Track::ramp(0, 0, self::S, 1)),
                new CueValue('layer:02/x', -7.5),
            ],
            100,
            20,
            FadeCurve::EaseIn,
            OnStop::Stays,
            50,
            2.5,
            'g',
            Trigger::Clock,
            9,
            ClockTime::parse('21:30'),
            'u',
            false,
        );
        $back = Cue::fromArray('q', (array) json_decode((string) json_encode($cue->toArray()), true));
        // Whether playback holds there, the timeline knows.
        self::assertEquals(
            new Cue(
                'q',
                '1.5',
                'Name',
                '',
                't',
                5 * self::S,
                false,
                Scope::Everything,
                $back->values,
                100,
                20,
                FadeCurve::EaseIn,
                OnStop::Stays,
                50,
                2.5,
                'g',
                Trigger::Clock,
                9,
                ClockTime::parse('21:30'),
                'u',
                false,
            ),
            $back,
        );
        self::assertEquals(
            [0.25, 3, 4, FadeCurve::Smooth, -7.5],
            [
                $back->values[0]->value,
                $back->values[0]->fade,
                $back->values[0]->delay,
                $back->values[0]->curve,
                $back->values[1]->value,
            ],
        );
        self::assertSame([0.5, 120], [$back->values[0]->moving?->at(intdiv(self::S, 2)), $cue->lasts()]);
        self::assertEquals(new Cue('q', '1', 'N'), Cue::fromArray('q', (new Cue('q', '1', 'N'))->toArray()));
    }

    public function test_cues_of_what_is_gone_are_findings(): void
    {
        $id = str_repeat('0', 26);
        $show = Document::of(
            ['id' => 's', 'name' => 'S', 'frameRate' => '25'],
            [
                'timeline' => [['id' => 't', 'name' => 'T', 'duration' => self::S]],
                'layer' => [['id' => $id, 'timeline' => 't', 'name' => 'L', 'order' => 0]],
                'cue' => [
                    [
                        'id' => 'a',
                        'number' => '1',
                        'name' => 'Good',
                        'held' => [['a' => "layer:$id/x", 'v' => 1]],
                        'starts' => 't',
                    ],
                    [
                        'id' => 'b',
                        'number' => '2',
                        'name' => 'Gone',
                        'held' => [
                            ['a' => 'layer:01/x', 'v' => 1],
                            ['a' => 'route:02/x', 'v' => 1],
                            ['a' => "layer:$id/y", 'v' => 1],
                        ],
                        'starts' => 'u',
                    ],
                    ['id' => 'c', 'number' => '1', 'name' => 'Again'],
                ],
            ],
        )->show;
        self::assertSame(
            [
                'Cue 2 "Gone" holds 2 values of what was removed.',
                'Cue 2 "Gone" starts a timeline that was removed.',
                'There are two cues 1; an outside call fires "Good".',
            ],
            array_map(
                static fn (Finding $f): string => $f->message,
                iterator_to_array((new BrokenCues())->inspect($show, new ResultCache()), false),
            ),
        );
    }

    /** @return array<string, array{array<string, mixed>, string}> */
    public static function bad(): array
    {
        $id = str_repeat('0', 26);

        return [
            'a scope' => [['scope' => 'some'], 'scope'],
            'a curve' => [['curve' => 'wild'], 'curve'],
            'an end' => [['onStop' => 'x'], 'onStop'],
            'a trigger' => [['trigger' => 'x'], 'trigger'],
            'a clock without a time' => [['trigger' => 'clock'], 'clock'],
            'a fade before it begins' => [['fade' => -1], 'fade'],
            'a rate' => [['rate' => 0], 'rate'],
            'no address' => [['held' => [['v' => 1]]], 'held.0.address'],
            'no value' => [['held' => [['a' => "layer:$id/opacity"]]], 'held.0.v'],
            'a property that there is not' => [['held' => [['a' => "layer:$id/height", 'v' => 1]]], 'held.0.property'],
            'twice the same' => [
                ['held' => [['a' => "layer:$id/x", 'v' => 1], ['a' => "layer:$id/x", 'v' => 2]]],
                'held.1.a',
            ],
            'no keyframes' => [['held' => [['a' => "layer:$id/x", 'v' => 1, 'keys' => []]]], 'held.0.keys'],
            'a colour' => [['colour' => 'red'], 'colour'],
            'a tile' => [['column' => 32], 'column'],
        ];
    }

    /** @param  array<string, mixed>  $fields */
    #[DataProvider('bad')]
    public function test_what_is_no_cue_is_refused_by_its_field(array $fields, string $field): void
    {
        try {
            Schema::named('cue')->build($fields + ['id' => 'q', 'number' => '1', 'name' => 'Q'], []);
            self::fail('It was taken.');
        } catch (InvalidValue $refused) {
            self::assertSame($field, $refused->field);
        }
    }

    public function test_a_stack_is_as_deep_as_it_may_be_and_no_deeper(): void
    {
        $held = [];
        for ($n = 1; $n <= 40; $n++) {
            $before = self::at($held, $n, 0.1);
            $held = self::fire($held, self::cue("c$n", (($n * 7) % 10) / 10, 30), $n, $n);
            self::assertCount(min($n, 16), $held);
            self::assertEqualsWithDelta($before, self::at($held, $n, 0.1), 1e-9, 'without a step');
        }
        $all = [];
        for ($n = 1; $n <= 80; $n++) {
            $cue = self::cue("c$n", 0.0, 100);
            $value = new CueValue(CueMix::ALL_LAYERS_OPACITY, 0.0);
            $all = CueMix::fired($all, $cue, $value, $n, self::AT + $n * self::S);
            self::assertCount(min($n, 64), $all);
        }
    }
}
