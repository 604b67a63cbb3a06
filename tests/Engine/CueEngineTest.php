<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\CuePlayer;
use App\Engine\Decks;
use App\Engine\HeldValues;
use App\Engine\Performance;
use App\Engine\Wire;
use Core\Cues\ClockTime;
use Core\Cues\Cue;
use Core\Cues\CueValue;
use Core\Cues\OnStop;
use Core\Cues\Scope;
use Core\Cues\Trigger;
use Core\Playback\CueSheet;
use Core\Protocol\Osc;
use Core\Units\Flicks;
use Core\Values\Address;
use Core\Values\HeldValue;
use Core\Values\Track;

/** Cues in the engine: fired, followed, given way to and released, in process and over real sockets. */
final class CueEngineTest extends ConductorCase
{
    private const S = Flicks::PER_SECOND;

    /**
     * Cues as the sheet of a timeline has them.
     *
     * @param  list<array{string, int, bool}>  $cues  id, time in seconds, whether it holds
     * @return list<array{id: string, time: int, number: string, name: string, holds: bool}>
     */
    private static function points(array $cues): array
    {
        return array_map(
            static fn (array $c): array => [
                'id' => $c[0],
                'time' => $c[1] * self::S,
                'number' => $c[0],
                'name' => $c[0],
                'holds' => $c[2],
            ],
            $cues,
        );
    }

    /** A cue that stands on a timeline, in seconds. */
    private static function placed(string $id, ?int $time, string $line = 'main'): Cue
    {
        return new Cue(
            $id,
            $id,
            $id,
            timeline: $time === null ? null : $line,
            time: $time === null ? null : $time * self::S,
        );
    }

    /** @param  array<string, float>  $values  of the layer 01, by property */
    private static function cue(
        string $id,
        array $values,
        int $fade = 0,
        ?string $group = null,
        OnStop $onStop = OnStop::Returns,
        Trigger $trigger = Trigger::Go,
        int $wait = 0,
        Scope $scope = Scope::Chosen,
        ?ClockTime $clock = null,
    ): Cue {
        return new Cue(
            $id,
            $id,
            "Cue $id",
            scope: $scope,
            values: array_map(
                static fn (string $property, float $value): CueValue => new CueValue("layer:01/$property", $value),
                array_keys($values),
                $values,
            ),
            fade: $fade,
            onStop: $onStop,
            group: $group,
            trigger: $trigger,
            wait: $wait,
            clock: $clock,
        );
    }

    /**
     * @param  list<Cue>  $cues
     * @return array<string, Cue>
     */
    private static function byId(array $cues): array
    {
        $found = [];
        foreach ($cues as $cue) {
            $found[$cue->id] = $cue;
        }

        return $found;
    }

    /** @param  list<Cue>  $cues */
    private static function player(HeldValues $held, array $cues): CuePlayer
    {
        $player = new CuePlayer($held);
        $player->setCues(self::byId($cues));

        return $player;
    }

    private static function value(HeldValues $held, string $address, int $at, float $below = 0.0): float
    {
        return HeldValue::over($below, array_map(HeldValue::fromArray(...), $held->all($at)[$address] ?? []), $at);
    }

    public function test_a_group_yields_and_what_is_stopped_returns_or_stays(): void
    {
        $held = new HeldValues();
        $player = self::player($held, [
            self::cue('1', ['x' => 10], self::S, 'g'),
            self::cue('2', ['y' => 5], self::S, 'g'),
            self::cue('3', ['scale' => 2], self::S, 'g', OnStop::Stays),
            self::cue('4', ['turn' => 90], 0, 'other'),
        ]);
        foreach (['1', '4', '3'] as $i => $id) {
            $player->fire($id, $i * 10 * self::S, 'me');
        }
        // Of the group, the one before gives way; another group goes on.
        self::assertEqualsWithDelta(
            [10, 5, 0, 2, 90],
            [
                self::value($held, 'layer:01/x', 20 * self::S),
                self::value($held, 'layer:01/x', 20 * self::S + intdiv(self::S, 2)),
                self::value($held, 'layer:01/x', 21 * self::S),
                self::value($held, 'layer:01/scale', 21 * self::S, 1),
                self::value($held, 'layer:01/turn', 99 * self::S),
            ],
            1e-9,
        );
        $player->fire('2', 30 * self::S, 'me');
        // The third froze where it was; it is off, and its value is nobody's.
        self::assertEqualsWithDelta(2, self::value($held, 'layer:01/scale', 99 * self::S, 1), 1e-9);
        self::assertSame(['4', '2'], array_map(strval(...), array_keys((array) $player->payload()['on'])));
        self::assertTrue($player->release('2', 40 * self::S));
        self::assertFalse($player->release('2', 41 * self::S));
        self::assertEqualsWithDelta(
            [5, 2.5, 0],
            array_map(static fn (float $t): float => self::value($held, 'layer:01/y', (int) ($t * self::S)), [
                40,
                40.5,
                41,
            ]),
            1e-9,
        );
        $player->releaseAll(50 * self::S, 0);
        self::assertSame([], (array) $player->payload()['on']);
        $held->settle(60 * self::S);
        self::assertSame(['layer:01/scale'], array_keys($held->all(60 * self::S)));
        // Released once more, where none is on, what was left goes as well.
        $player->releaseAll(70 * self::S, self::S);
        self::assertEqualsWithDelta(
            [2, 1.5, 1],
            array_map(static fn (float $t): float => self::value($held, 'layer:01/scale', (int) ($t * self::S), 1), [
                70,
                70.5,
                71,
            ]),
            1e-9,
        );
        $held->settle(72 * self::S);
        self::assertSame([], $held->all(72 * self::S));
    }

    public function test_what_gives_way_is_dropped_only_once_it_is_covered_and_is_on_again_where_its_coverer_goes(): void
    {
        $cues = [
            self::cue('1', ['opacity' => 0.2], 0, 'g'),
            self::cue('2', ['opacity' => 0.6], 4 * self::S, 'g'),
            self::cue('3', ['opacity' => 0.9], 4 * self::S, scope: Scope::Everything),
        ];
        $opacity = static fn (HeldValues $held, float $t): float => HeldValue::over(
            1.0,
            array_map(HeldValue::fromArray(...), [
                ...$held->all((int) ($t * self::S))['layer:01/opacity'] ?? [],
                ...$held->all((int) ($t * self::S))['layer:all/opacity'] ?? [],
            ]),
            (int) ($t * self::S),
        );
        foreach (
            [
                'released' => static fn (CuePlayer $p) => $p->release('2', 22 * self::S),
                'fired again, then released' => static fn (CuePlayer $p): array => [
                    $p->fire('2', 22 * self::S, ''),
                    $p->release('2', 22 * self::S),
                ],
            ] as $what => $press
        ) {
            $player = self::player($held = new HeldValues(), $cues);
            $player->fire('1', 0, '');
            $player->fire('2', 20 * self::S, '');
            self::assertSame(['2'], array_map(strval(...), array_keys((array) $player->payload()['on'])));
            $press($player);
            // Half way, 0.4; from there back to 0.2 in the same four seconds, and on again as it was.
            self::assertEqualsWithDelta(
                [0.4, 0.3, 0.3, 0.2, 0.2],
                array_map(static fn (float $t): float => $opacity($held, $t), [22, 24, 24.000001, 26, 90]),
                1e-6,
                $what,
            );
            self::assertSame(['1'], array_map(strval(...), array_keys((array) $player->payload()['on'])), $what);
            $player->release('1', 100 * self::S, 0);
            $player->settle(101 * self::S);
            self::assertSame([], $held->all(101 * self::S), $what);
        }
        // Covered wholly, it is gone for good.
        $player = self::player($held = new HeldValues(), $cues);
        $player->fire('1', 0, '');
        $player->fire('2', 20 * self::S, '');
        $player->release('2', 25 * self::S);
        self::assertSame([], (array) $player->payload()['on']);
        self::assertEqualsWithDelta(
            [0.6, 0.8, 1.0],
            array_map(static fn (float $t): float => $opacity($held, $t), [25, 27, 29]),
            1e-9,
        );
        // One of everything, released half way.
        $player = self::player($held = new HeldValues(), $cues);
        $player->fire('1', 0, '');
        $player->fire('3', 20 * self::S, '');
        $player->release('3', 22 * self::S);
        self::assertEqualsWithDelta($opacity($held, 22 - 1e-8), $opacity($held, 22), 1e-6);
        self::assertEqualsWithDelta([0.2, 0.2], [$opacity($held, 26), $opacity($held, 90)], 1e-9);
        self::assertSame(['1'], array_map(strval(...), array_keys((array) $player->payload()['on'])));
        // Fired again while one of everything has it half dark: up from there, not over it.
        $player = self::player($held = new HeldValues(), [
            ...$cues,
            new Cue('5', '5', '5', values: [new CueValue('layer:01/opacity', 0.8)], fade: 2 * self::S),
            new Cue('6', '6', '6', fade: 4 * self::S, scope: Scope::Everything),
        ]);
        $player->fire('5', 0, '');
        $player->fire('6', 20 * self::S, '');
        $player->fire('5', 22 * self::S, '');
        // Half of 0.8; then the rest of the way to the dark below and the way to 0.8 above go on together.
        self::assertEqualsWithDelta(
            [0.4, 0.2 + (0.8 - 0.2) * 0.5, 0.8],
            array_map(static fn (float $t): float => $opacity($held, $t), [22, 23, 24]),
            1e-9,
        );
        // A delay changes nothing before it is over.
        $player = self::player($held = new HeldValues(), [
            self::cue('1', ['x' => 10], 4 * self::S, 'g'),
            new Cue(
                '2',
                '2',
                '2',
                values: [new CueValue('layer:01/y', 1)],
                fade: self::S,
                delay: 2 * self::S,
                group: 'g',
            ),
        ]);
        $player->fire('1', 0, '');
        $player->fire('2', self::S, '');
        self::assertEqualsWithDelta(
            [2.5, 5, 7.5, 3.75, 0],
            array_map(static fn (float $t): float => self::value($held, 'layer:01/x', (int) ($t * self::S)), [
                1,
                2,
                3,
                3.5,
                4,
            ]),
            1e-9,
        );
    }

    public function test_a_cue_that_is_fired_at_a_level_lies_so_far_between_what_is_below_and_what_it_holds(): void
    {
        $player = self::player($held = new HeldValues(), [
            new Cue('1', '1', '1', values: [new CueValue('layer:01/x', 10)], fade: self::S),
            new Cue('2', '2', '2', values: [new CueValue('layer:01/x', 20)], fade: self::S),
        ]);
        $at = static fn (float $seconds): float => self::value($held, 'layer:01/x', (int) ($seconds * self::S));
        // Below it is 0: 0.4 of the way to 10, over its fade; again at full, from there.
        $player->fire('1', 0, '', null, 0.4);
        self::assertEqualsWithDelta([0, 2, 4, 4], [$at(0), $at(0.5), $at(1), $at(5)], 1e-9);
        $player->fire('1', 6 * self::S, '', null, 0.9);
        self::assertEqualsWithDelta([4, 6.5, 9], [$at(6), $at(6.5), $at(7)], 1e-9);
        // Another half over it: 9 + 0.5 (20 - 9); released, what is below comes through.
        $player->fire('2', 8 * self::S, '', null, 0.5);
        self::assertEqualsWithDelta([9, 14.5], [$at(8), $at(9)], 1e-9);
        $player->release('2', 10 * self::S);
        self::assertEqualsWithDelta(9.0, $at(12), 1e-9);
        $player->fire('2', 13 * self::S, '', null, 0.0);
        self::assertEqualsWithDelta(9.0, $at(15), 1e-9);
    }

    public function test_a_storm_of_presses_never_makes_a_step(): void
    {
        $addresses = ['layer:01/opacity', 'layer:01/x', 'layer:02/opacity'];
        $below = ['layer:01/opacity' => 1.0, 'layer:01/x' => 3.0, 'layer:02/opacity' => 0.7];
        $presses = 0;
        for ($run = 0; $run < 60; $run++) {
            mt_srand($run);
            $cues = [];
            for ($i = 0; $i < 12; $i++) {
                $values = [];
                foreach (
                    ['layer:01/opacity' => 1.0, 'layer:01/x' => 20.0, 'layer:02/opacity' => 1.0] as $address => $most
                ) {
                    $moving = mt_rand(0, 5) === 0 ? Track::ramp(0.0, 0, self::S, $most) : null;
                    mt_rand(0, 2) > 0 &&
                        ($values[] = new CueValue(
                            $address,
                            ($most * mt_rand(0, 10)) / 10,
                            mt_rand(0, 1) === 0 ? mt_rand(1, 40) * intdiv(self::S, 10) : null,
                            mt_rand(0, 3) === 0 ? mt_rand(0, 20) * intdiv(self::S, 10) : null,
                            null,
                            $moving,
                        ));
                }
                $cues[] = new Cue(
                    "c$i",
                    "$i",
                    "$i",
                    values: $values,
                    fade: mt_rand(1, 40) * intdiv(self::S, 10),
                    delay: mt_rand(0, 2) === 0 ? mt_rand(0, 20) * intdiv(self::S, 10) : 0,
                    onStop: mt_rand(0, 4) === 0 ? OnStop::Stays : OnStop::Returns,
                    group: [null, 'g', 'h'][mt_rand(0, 2)],
                    scope: mt_rand(0, 3) === 0 ? Scope::Everything : Scope::Chosen,
                );
            }
            $player = self::player($held = new HeldValues(), $cues);
            $at = 0;
            $value = static function (string $address, int $time) use (&$held, $below): float {
                $all = $held->saved();
                $lists = [
                    ...$all[$address] ?? [],
                    ...str_ends_with($address, 'opacity') ? $all['layer:all/opacity'] ?? [] : [],
                ];

                return HeldValue::over($below[$address], array_map(HeldValue::fromArray(...), $lists), $time);
            };
            for ($press = 0; $press < 60; $press++) {
                $at += mt_rand(1, 15) * intdiv(self::S, 10);
                $before = array_map(static fn (string $address): float => $value($address, $at), $addresses);
                $cue = 'c'.mt_rand(0, 11);
                $by = ['layer:01/opacity' => mt_rand(0, 10) / 10, 'layer:01/x' => mt_rand(0, 20)];
                $fade = mt_rand(1, 30) * intdiv(self::S, 10);
                $what = mt_rand(0, 13);
                match ($what) {
                    0 => $player->release($cue, $at),
                    1 => $player->release($cue, $at, $fade),
                    2 => mt_rand(0, 5) === 0 ? $player->releaseAll($at, $fade) : null,
                    3 => $held->set($by, $at, $fade),
                    4 => $held->set(array_map(static fn (): mixed => null, $by), $at, $fade),
                    5 => $player->settle($at),
                    6 => [
                        ($held = HeldValues::restored(
                            (array) json_decode(
                                (string) json_encode($held->saved(), JSON_PRESERVE_ZERO_FRACTION),
                                true,
                            ),
                        )),
                        ($player = self::restored($held, $player, $cues)),
                    ],
                    // As strongly as it is pressed, at times.
                    12 => $player->fire($cue, $at, '', null, mt_rand(0, 10) / 10),
                    default => $player->fire($cue, $at, ''),
                };
                $presses++;
                // At the press it is where it was; and nowhere after it does it leap either.
                $after = array_map(static fn (string $address): float => $value($address, $at), $addresses);
                self::assertEqualsWithDelta($before, $after, 1e-6, "run $run, press $press of kind $what on $cue");
                $times = [];
                foreach ($held->saved() as $list) {
                    foreach ($list as $one) {
                        array_push(
                            $times,
                            ...array_column(array_chunk($one['v'], 5), 0),
                            ...array_column(array_chunk($one['w'], 5), 0),
                        );
                    }
                }
                foreach (array_unique(array_filter($times, static fn (int $time): bool => $time > $at)) as $time) {
                    foreach ($addresses as $address) {
                        self::assertEqualsWithDelta(
                            $value($address, $time - 2),
                            $value($address, $time + 2),
                            1e-6,
                            "run $run, press $press of kind $what: $address at $time",
                        );
                    }
                }
                foreach ($held->saved() as $address => $list) {
                    self::assertLessThanOrEqual($address === 'layer:all/opacity' ? 64 : 60, count($list), $address);
                }
            }
            // All released, nothing stays.
            $held->set(array_map(static fn (): mixed => null, $below), $at, 0);
            $player->releaseAll($at, 0);
            $player->releaseAll($at, 0);
            $player->settle($at + 100 * self::S);
            self::assertSame([], array_filter($held->all($at + 100 * self::S)), "run $run");
        }
        self::assertSame(3600, $presses);
    }

    /** @param  list<Cue>  $cues */
    private static function restored(HeldValues $held, CuePlayer $player, array $cues): CuePlayer
    {
        $again = CuePlayer::restored($held, (array) json_decode((string) json_encode($player->saved()), true));
        $again->setCues(array_combine(array_map(static fn (Cue $cue): string => $cue->id, $cues), $cues));

        return $again;
    }

    public function test_a_hand_that_comes_again_while_it_lets_go_makes_no_step_and_a_choice_steps_once(): void
    {
        $held = new HeldValues();
        $held->set(['layer:01/opacity' => 1.0], 0);
        $held->set(['layer:01/opacity' => null], 10 * self::S, 4 * self::S);
        // Half let go of over 0.2, that is 0.6; set to 0 again in two seconds, in which what is left of the first
        // fades on.
        $held->set(['layer:01/opacity' => 0.0], 12 * self::S, 2 * self::S);
        self::assertEqualsWithDelta(
            [0.6, (0.2 + 0.8 * 0.25) * 0.5, 0.0],
            array_map(static fn (int $t): float => self::value($held, 'layer:01/opacity', $t * self::S, 0.2), [
                12,
                13,
                14,
            ]),
            1e-9,
        );
        $held->settle(15 * self::S);
        self::assertCount(1, $held->all(15 * self::S)['layer:01/opacity']);
        // A hundred times a second for a minute, each with a long fade: it stays small.
        for ($i = 0; $i < 6000; $i++) {
            $held->set(
                ['layer:01/opacity' => $i % 2 === 0 ? null : 0.5],
                20 * self::S + $i * intdiv(self::S, 100),
                60 * self::S,
            );
        }
        self::assertLessThanOrEqual(18, count($held->all(80 * self::S)['layer:01/opacity']));
        // A choice: from the first to the fourth at half, and nothing between.
        $modes = new HeldValues();
        $modes->set(['layer:01/blend' => 0], 0);
        $modes->set(['layer:01/blend' => 4], 10 * self::S, 4 * self::S);
        $seen = array_map(
            static fn (float $t): float => HeldValue::uppermost(
                9.0,
                array_map(HeldValue::fromArray(...), $modes->saved()['layer:01/blend']),
                (int) ($t * self::S),
            ),
            [5, 10, 10.5, 11, 11.5, 11.99, 12, 13, 14, 20],
        );
        self::assertSame([0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 4.0, 4.0, 4.0, 4.0], $seen);
    }

    public function test_forty_cues_deep_and_all_released_nothing_stays(): void
    {
        $cues = array_map(
            static fn (int $i): Cue => self::cue("q$i", ['opacity' => ($i % 10) / 10], 10 * self::S),
            range(1, 40),
        );
        $player = self::player($held = new HeldValues(), $cues);
        foreach ($cues as $i => $cue) {
            $player->fire($cue->id, $i * intdiv(self::S, 10), '');
        }
        self::assertCount(16, $held->all(4 * self::S)['layer:01/opacity']);
        foreach ($cues as $i => $cue) {
            $before = self::value($held, 'layer:01/opacity', 5 * self::S + $i, 1);
            self::assertTrue($player->release($cue->id, 5 * self::S + $i, 2 * self::S));
            self::assertEqualsWithDelta($before, self::value($held, 'layer:01/opacity', 5 * self::S + $i, 1), 1e-6);
        }
        $player->settle(20 * self::S);
        self::assertSame([], $held->all(20 * self::S));
    }

    public function test_cues_of_a_group_that_hold_the_same_value_cross_over_without_what_is_below(): void
    {
        $held = new HeldValues();
        $player = self::player($held, [
            self::cue('1', ['opacity' => 1.0, 'x' => 8]),
            self::cue('2', ['opacity' => 1.0, 'y' => 3], 2 * self::S, 'g'),
            self::cue('3', ['opacity' => 0.5], 4 * self::S, 'g'),
        ]);
        $player->fire('2', 0, 'me');
        $player->fire('3', 10 * self::S, 'me');
        // From 1 to 0.5 in a straight line, whatever is below; what only the first held goes back at once with it.
        self::assertEqualsWithDelta(
            [1.0, 0.875, 0.75, 0.5, 0.5],
            array_map(static fn (int $t): float => self::value($held, 'layer:01/opacity', $t * self::S), [
                10,
                11,
                12,
                14,
                20,
            ]),
            1e-9,
        );
        self::assertEqualsWithDelta(
            [3, 1.5, 0],
            array_map(static fn (int $t): float => self::value($held, 'layer:01/y', $t * self::S), [10, 12, 14]),
            1e-9,
        );
        $held->settle(15 * self::S);
        self::assertCount(1, $held->all(15 * self::S)['layer:01/opacity']);
    }

    public function test_one_of_everything_darkens_what_it_does_not_name_and_takes_the_place_of_all(): void
    {
        $held = new HeldValues();
        $player = self::player($held, [
            self::cue('1', ['x' => 10, 'opacity' => 0.5]),
            self::cue('2', ['opacity' => 1.0], 2 * self::S, scope: Scope::Everything),
            self::cue('3', ['opacity' => 0.25]),
        ]);
        $player->fire('1', 0, 'me');
        $player->fire('2', 10 * self::S, 'me');
        $opacity = static fn (string $layer, float $t): float => HeldValue::over(
            0.8,
            array_map(HeldValue::fromArray(...), [
                ...$held->all((int) ($t * self::S))["layer:$layer/opacity"] ?? [],
                ...$held->all((int) ($t * self::S))['layer:all/opacity'] ?? [],
            ]),
            (int) ($t * self::S),
        );
        // A layer that it names goes to its value, any other one dark, and what the first held of it goes.
        self::assertEqualsWithDelta(
            [1.0, 0.4, 0.0, 0.0],
            [$opacity('01', 12), $opacity('02', 11), $opacity('02', 12), $opacity('03', 99)],
            1e-9,
        );
        self::assertEqualsWithDelta(
            [10, 5, 0],
            array_map(static fn (int $t): float => self::value($held, 'layer:01/x', $t * self::S), [10, 11, 12]),
            1e-9,
        );
        self::assertSame(['2'], array_map(strval(...), array_keys((array) $player->payload()['on'])));
        $player->fire('3', 20 * self::S, 'me');
        self::assertEqualsWithDelta([0.25, 0.0], [$opacity('01', 20), $opacity('02', 20)], 1e-9);
        $player->release('2', 30 * self::S, 0);
        self::assertEqualsWithDelta([0.25, 0.8], [$opacity('01', 31), $opacity('02', 31)], 1e-9);
    }

    public function test_the_list_goes_on_by_itself_and_back(): void
    {
        $show = Performance::of('s');
        $show->cues->setCues(
            self::byId([
                self::cue('1', ['x' => 1], 2 * self::S),
                self::cue('2', ['x' => 2], trigger: Trigger::Follow),
                self::cue('3', ['x' => 3], trigger: Trigger::Wait, wait: 5 * self::S),
                self::cue('4', ['x' => 4]),
            ]),
        );
        self::assertSame('1', $show->cues->go()['cue']);
        $show->fire('1', 0, 'me');
        self::assertSame([2 * self::S, '4'], [$show->nextEvent(1), $show->cues->go()['cue']]);
        $show->advance(1, 2 * self::S - 1);
        self::assertSame(['1'], array_map(strval(...), array_keys((array) $show->cues->payload()['on'])));
        // Late, it still does all that was due, each at its own time.
        $show->advance(2 * self::S, 20 * self::S);
        self::assertSame([0, 2 * self::S, 7 * self::S], array_column((array) $show->cues->payload()['on'], 'at'));
        self::assertSame(
            [3.0, null, '4', '1'],
            [
                self::value($show->held, 'layer:01/x', 8 * self::S),
                $show->nextEvent(20 * self::S),
                $show->cues->go()['cue'],
                $show->cues->previous(),
            ],
        );
        $show->cues->point('1');
        self::assertSame('1', $show->cues->go()['cue']);
        self::assertSame('There is no cue of this id, number or name.', $show->fire('9', 0, 'me'));
    }

    public function test_a_timeline_fires_what_it_passes_once_and_starts_what_follows_it(): void
    {
        $show = Performance::of('s');
        $sheet = static fn (array $cues, ?string $then = null): CueSheet => CueSheet::of(
            intdiv(self::S, 25),
            10 * self::S,
            array_map(
                static fn (string $id, array $c): array => [
                    'id' => $id,
                    'time' => $c[0] * self::S,
                    'number' => $id,
                    'name' => $id,
                    'holds' => $c[1],
                ],
                array_map(strval(...), array_keys($cues)),
                $cues,
            ),
            false,
            $then,
        );
        $show->decks->setTimelines(
            [
                'main' => [
                    'name' => 'Main',
                    'sheet' => $sheet(['1' => [2, false], '2' => [4, true], '3' => [6, false]], 'next'),
                ],
                'next' => ['name' => 'Next', 'sheet' => $sheet([])],
            ],
            0,
        );
        $place = static fn (string $id, int $time): Cue => new Cue(
            $id,
            $id,
            $id,
            timeline: 'main',
            time: $time * self::S,
            values: [new CueValue('layer:01/x', (float) $id)],
        );
        $show->cues->setCues(self::byId([$place('1', 2), $place('2', 4), $place('3', 6)]));
        $show->decks->command(['action' => 'play', 'timeline' => 'main'], 0);
        self::assertSame(2 * self::S, $show->nextEvent(0));
        $show->advance(0, 3 * self::S);
        self::assertSame(
            [2 * self::S, 1.0],
            [$show->cues->since('1'), self::value($show->held, 'layer:01/x', 3 * self::S)],
        );
        // At the hold point it waits, and its cue with it; Go starts both.
        $show->advance(3 * self::S + 1, 20 * self::S);
        self::assertNull($show->cues->since('2'));
        $show->decks->command(['action' => 'go', 'timeline' => 'main'], 30 * self::S);
        $show->advance(30 * self::S, 31 * self::S);
        self::assertSame(30 * self::S, $show->cues->since('2'));
        // One that is fired by hand takes its timeline along, and is not fired again by it.
        $show->fire('3', 40 * self::S, 'me');
        $show->advance(40 * self::S, 41 * self::S);
        self::assertSame(
            [40 * self::S, 7 * self::S],
            [$show->cues->since('3'), $show->decks->now(41 * self::S)['main']['position']],
        );
        // At its end, the other one plays, from that very moment.
        $show->advance(41 * self::S + 1, 46 * self::S);
        self::assertSame(
            [true, 2 * self::S],
            [$show->decks->now(46 * self::S)['next']['running'], $show->decks->now(46 * self::S)['next']['position']],
        );
    }

    public function test_there_is_one_go_for_the_list_and_the_driven_timeline(): void
    {
        $show = Performance::of('s');
        $sheet = static fn (array $cues): CueSheet => CueSheet::of(
            intdiv(self::S, 50),
            60 * self::S,
            self::points($cues),
        );
        $show->decks->setTimelines(
            [
                'main' => ['name' => 'Main', 'sheet' => $sheet([['2', 10, false], ['3', 20, true], ['4', 30, false]])],
                'beside' => ['name' => 'Beside', 'sheet' => $sheet([['7', 5, false]])],
            ],
            0,
        );
        $show->cues->setCues(
            self::byId([
                self::placed('1', null),
                self::placed('2', 10),
                self::placed('3', 20),
                self::placed('4', 30),
                self::placed('6', null),
                self::placed('7', 5, 'beside'),
            ]),
            $show->decks->driven(),
        );
        $is = static fn (int $at): array => [
            ...array_values($show->next($at * self::S)),
            $show->decks->now($at * self::S)['main']['position'] / self::S,
        ];
        self::assertSame(['1', false, 'main', 0], $is(0));
        self::assertNull($show->go(0, 'me'));
        self::assertSame(['2', false, 'main', 0], $is(0), 'A cue without a place moves no timeline.');
        $show->go(self::S, 'me');
        self::assertSame(['3', false, 'main', 11], $is(2), 'One with a place plays from there.');
        $show->advance(self::S, 40 * self::S);
        self::assertSame(['3', true, 'main', 20], $is(40), 'At the hold point it waits.');
        self::assertNull($show->cues->since('3'));
        $show->go(41 * self::S, 'me');
        $show->advance(41 * self::S, 42 * self::S);
        self::assertSame(['4', false, 'main', 21], $is(42), 'Go plays on, and fires what waited.');
        self::assertSame(41 * self::S, $show->cues->since('3'));
        // What another one passes beside moves nothing; what a hand fires does.
        $show->transport(['action' => 'play', 'timeline' => 'beside'], 43 * self::S);
        $show->advance(43 * self::S, 49 * self::S);
        self::assertSame([48 * self::S, '4'], [$show->cues->since('7'), $is(49)[0]]);
        // Taken elsewhere by hand, the list goes along; pointed to, it is that.
        $show->transport(['action' => 'jump', 'time' => 5 * self::S], 49 * self::S);
        self::assertSame('2', $is(49)[0]);
        $show->transport(['action' => 'hold', 'time' => 0], 50 * self::S);
        $show->cues->point('6');
        self::assertSame('6', $is(50)[0]);
        $show->go(50 * self::S, 'me');
        // At the end of the list, Go plays what stands, and then says so.
        $show->fire('7', 51 * self::S, 'me');
        self::assertSame([null, false], array_slice($is(51), 0, 2));
        self::assertNull($show->go(51 * self::S, 'me'));
        self::assertTrue($show->decks->drivenRuns(52 * self::S));
        self::assertSame('The list is at its end.', $show->go(52 * self::S, 'me'));
        // Another one is driven, and stays so for the next engine.
        self::assertSame('There is no timeline of this id or name.', $show->drive('nowhere'));
        self::assertNull($show->drive('Beside'));
        self::assertSame('beside', $show->next(53 * self::S)['driven']);
        $show->transport(['action' => 'stop'], 53 * self::S);
        self::assertSame(['7', 0], [$is(53)[0], $show->decks->now(53 * self::S)['beside']['position']]);
        $saved = (array) json_decode((string) json_encode($show->decks->takeUnsaved(53 * self::S)), true);
        self::assertSame('beside', Decks::restored($saved)->driven());
    }

    public function test_a_clock_that_takes_the_driven_timeline_elsewhere_takes_the_list_along(): void
    {
        $show = Performance::of('s');
        $points = ['desk' => [['2', 10, false], ['3', 20, false], ['4', 30, false]], 'band' => []];
        $sheet = static fn (string $clock): CueSheet => CueSheet::of(
            intdiv(self::S, 25),
            60 * self::S,
            self::points($points[$clock]),
            clock: $clock,
            clockStart: 100 * self::S,
        );
        $show->decks->setTimelines(
            [
                'main' => ['name' => 'Main', 'sheet' => $sheet('desk')],
                'beside' => ['name' => 'Beside', 'sheet' => $sheet('band')],
            ],
            0,
        );
        $show->cues->setCues(
            self::byId([self::placed('1', null), self::placed('2', 10), self::placed('3', 20), self::placed('4', 30)]),
            'main',
        );
        $hear = static function (string $clock, float $says, float $from, float $to) use ($show): void {
            for ($t = $from; $t < $to; $t += 0.04) {
                $show->hear(
                    ['source' => $clock, 'time' => (int) (($says + $t - $from) * self::S)],
                    (int) ($t * self::S),
                    (int) (($t + 0.025) * self::S),
                );
                $show->advance((int) (($t - 0.04) * self::S), (int) ($t * self::S));
            }
        };
        $next = static fn (int $at): ?string => $show->next($at * self::S)['next'];
        self::assertSame('1', $next(0));
        $hear('desk', 115, 1, 3);
        self::assertSame('3', $next(3), 'It begins in the middle.');
        $hear('desk', 117, 3, 7);
        self::assertSame('4', $next(7), 'What it passes, the list passes.');
        $show->cues->point('1');
        $hear('desk', 121, 7, 8);
        self::assertSame('1', $next(8), 'While the clock runs on, what was pointed to stays.');
        $hear('band', 125, 8, 9);
        self::assertSame('1', $next(9), 'Another timeline moves nothing.');
        $hear('desk', 105, 9, 10);
        self::assertSame('2', $next(10), 'Back before the first.');
        $hear('desk', 158, 10, 11);
        self::assertNull($next(11), 'Behind the last.');
    }

    public function test_a_jump_with_a_fade_has_two_places_whose_weights_sum_to_one(): void
    {
        $show = Performance::of('s');
        $show->decks->setTimelines(
            ['main' => ['name' => 'Main', 'sheet' => CueSheet::of(intdiv(self::S, 25), 60 * self::S)]],
            0,
        );
        $show->decks->command(['action' => 'play'], 0);
        foreach ([[10, 30, 4], [11, 50, 2], [12, 5, 6]] as [$at, $to, $fade]) {
            self::assertNull(
                $show->decks->command(
                    ['action' => 'jump', 'time' => $to * self::S, 'fade' => $fade * self::S],
                    $at * self::S,
                ),
            );
            foreach ([0, 0.3, 0.7, 0.999] as $share) {
                $engine = (int) (($at + $share) * self::S);
                self::assertEqualsWithDelta(
                    1.0,
                    array_sum(
                        array_map(static fn ($head): float => $head->weight->at($engine), $show->decks->heads($engine)),
                    ),
                    1e-9,
                    "$at $share",
                );
            }
        }
        $engine = 13 * self::S;
        self::assertEqualsWithDelta(
            [13, 32, 51, 6],
            array_map(
                static fn ($head): float => $head->map->at($engine) / self::S,
                array_values(array_filter($show->decks->heads($engine))),
            ),
            1.1,
        );
        self::assertCount(1, $show->decks->heads(18 * self::S));
        self::assertSame(3, $show->decks->payload('main', 18 * self::S)['number']);
        // At once, without a fade, what was fading is gone.
        $show->decks->command(['action' => 'jump', 'time' => 40 * self::S, 'fade' => 4 * self::S], 20 * self::S);
        $show->decks->command(['action' => 'jump', 'time' => 10 * self::S], 21 * self::S);
        self::assertSame(
            [10 * self::S],
            array_map(static fn ($head): int => $head->map->at(21 * self::S), $show->decks->heads(21 * self::S)),
        );
        foreach (
            [
                ['action' => 'jump', 'time' => 5, 'fade' => -1],
                ['action' => 'jump', 'time' => 5, 'fade' => 1e15],
                ['action' => 'rate', 'rate' => 9],
                ['action' => 'rate'],
                ['action' => 'loop', 'from' => 5],
                ['action' => 'loop', 'from' => 9, 'to' => 9],
                ['action' => 'nudge'],
            ] as $bad
        ) {
            self::assertIsString($show->decks->command($bad, 22 * self::S), (string) json_encode($bad));
        }
    }

    public function test_however_many_places_a_timeline_jumps_away_from_their_weights_sum_to_one(): void
    {
        $decks = new Decks();
        $decks->setTimelines(
            ['main' => ['name' => 'Main', 'sheet' => CueSheet::of(intdiv(self::S, 25), 1000 * self::S)]],
            0,
        );
        $decks->command(['action' => 'play'], 0);
        $sum = static fn (int $at): float => array_sum(
            array_map(static fn ($head): float => $head->weight->at($at), $decks->heads($at)),
        );
        for ($i = 1; $i <= 40; $i++) {
            $at = self::S + $i * intdiv(self::S, 10);
            $decks->command(['action' => 'jump', 'time' => $i * 20 * self::S, 'fade' => 4 * self::S], $at);
            self::assertLessThanOrEqual(9, count($decks->heads($at)));
            foreach ([0, 1, intdiv(self::S, 20), 2 * self::S, 5 * self::S] as $later) {
                self::assertEqualsWithDelta(1.0, $sum($at + $later), 1e-9, "after $i jumps");
            }
        }
        // Taken off over a time in the middle of it: all of them fade together.
        $at = 6 * self::S;
        $decks->command(['action' => 'off', 'fade' => 2 * self::S], $at);
        self::assertEqualsWithDelta([1.0, 0.5, 0.0], [$sum($at), $sum($at + self::S), $sum($at + 2 * self::S)], 1e-9);
    }

    public function test_a_clock_from_outside_is_followed_through_a_new_engine(): void
    {
        $line = [
            'main' => [
                'name' => 'Main',
                'sheet' => CueSheet::of(intdiv(self::S, 25), 1000 * self::S, clock: 'desk', clockStart: 100 * self::S),
            ],
        ];
        $hear = static function (Decks $decks, float $from, float $to): void {
            for ($t = $from; $t < $to; $t += 0.04) {
                $decks->hear(
                    ['source' => 'desk', 'time' => (int) ((200 + $t) * self::S)],
                    (int) ($t * self::S),
                    (int) (($t + 0.025) * self::S),
                );
            }
        };
        $followed = static function () use ($line, $hear): array {
            $decks = new Decks();
            $decks->setTimelines($line, 0);
            $hear($decks, 0.0, 3.0);

            return (array) json_decode((string) json_encode(['main' => $decks->toArray('main', 3 * self::S)]), true);
        };
        // Killed, and back 0.4 s later; the clock goes on: so does the timeline, on the frame, with no new map.
        $again = Decks::restored($followed(), null, (int) (3.4 * self::S));
        $again->setTimelines($line, (int) (3.4 * self::S));
        self::assertFalse($again->freewheel((int) (3.5 * self::S), (int) (3.5 * self::S)));
        $hear($again, 3.6, 4.0);
        self::assertSame('locked', $again->payload('main', 4 * self::S)['clock'] ?? '');
        self::assertEqualsWithDelta(104.0, $again->heads(4 * self::S)[0]->map->at(4 * self::S) / self::S, 0.041);
        self::assertSame([], $again->takeChanged());
        self::assertStringContainsString(
            'follows the clock',
            (string) $again->command(['action' => 'play'], 4 * self::S),
        );
        // The clock stays silent: after its second the timeline holds.
        $silent = Decks::restored($followed(), null, (int) (3.4 * self::S));
        $silent->setTimelines($line, (int) (3.4 * self::S));
        self::assertFalse($silent->freewheel((int) (4.3 * self::S), (int) (4.3 * self::S)));
        self::assertTrue($silent->freewheel((int) (4.5 * self::S), (int) (4.5 * self::S)));
        self::assertFalse($silent->runs(5 * self::S));
        self::assertSame('lost', $silent->payload('main', 5 * self::S)['clock'] ?? '');
        // After a start of the machine none is followed.
        self::assertSame('lost', Decks::restored($followed(), 0)->payload('main', 0)['clock'] ?? '');
    }

    public function test_what_the_clock_starts_is_found_in_its_order(): void
    {
        $player = self::player(new HeldValues(), [
            self::cue('1', [], clock: ClockTime::parse('21:30')),
            self::cue('2', [], clock: ClockTime::parse('21:29:59')),
            self::cue('3', [], clock: ClockTime::parse('21:30 mon')),
        ]);
        $at = static fn (string $time): int => (int) strtotime("$time UTC");
        $player->setDay($player->day()->at($at('2026-12-25 21:20')));
        self::assertSame(
            [['2', '1'], []],
            [$player->due($at('2026-12-25 21:40')), $player->due($at('2026-12-25 22:13'))],
        );
        $player->setDay($player->day()->at($at('2026-12-28 21:29:59')));
        self::assertSame(['1', '3'], $player->due($at('2026-12-28 21:30')));
        // What was fired is in the journal.
        $again = CuePlayer::restored(
            new HeldValues(),
            (array) json_decode((string) json_encode($player->saved()), true),
        );
        self::assertSame($player->day()->fired, $again->day()->fired);
    }

    /** A show with cues, on air. */
    private function showOnAir(int $values = 1): array
    {
        [$show, $ids] = $this->fadingShow();
        $layers = [];
        $changes = [];
        for ($i = 0; $i < intdiv($values, 10); $i++) {
            $layers[] = $id = $this->id();
            $changes[] = $this->created('layer', $id, [
                'timeline' => $ids['line'],
                'name' => "L $i",
                'order' => 10 + $i,
            ]);
        }
        $held = [['a' => "layer:$ids[layer]/opacity", 'v' => 0.25]];
        foreach ($layers as $id) {
            foreach (
                ['opacity', 'x', 'y', 'scale', 'turn', 'cropLeft', 'cropRight', 'cropTop', 'cropBottom', 'gain'] as $property
            ) {
                $held[] = ['a' => "layer:$id/$property", 'v' => 0.5];
            }
        }
        $ids['cue'] = $this->id();
        $ids['late'] = $this->id();
        $ids['all'] = $this->id();
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Cues',
            'changes' => [
                ...$changes,
                $this->created('cue', $ids['cue'], ['number' => '1', 'name' => 'Quarter', 'held' => $held]),
                $this->created('cue', $ids['late'], [
                    'number' => '2',
                    'name' => 'Slow',
                    'held' => [['a' => "layer:$ids[layer]/x", 'v' => 40]],
                    'fade' => self::S / 5,
                    'trigger' => 'wait',
                    'wait' => self::S / 4,
                ]),
                $this->created('cue', $ids['all'], ['number' => '3', 'name' => 'Dark', 'scope' => 'everything']),
            ],
        ])->assertCreated();
        $this->start();
        $this->until('the cues', fn (): bool => ($this->live('state')['compiler']['revision'] ?? null) === 2);

        return [$show, $ids];
    }

    public function test_a_cue_of_three_hundred_values_is_one_message_at_one_time_and_what_follows_comes_at_its_own(): void
    {
        [, $ids] = $this->showOnAir(300);
        $next = $this->stream();
        $next('all that is held', self::frame(Wire::HELD, static fn (array $d): bool => isset($d['all'])));
        self::assertSame(200, $this->told('command', ['action' => 'fire', 'cue' => '1']));
        $held = $next(
            'what the cue holds',
            self::frame(Wire::HELD, static fn (array $d): bool => isset($d['set']) && $d['set'] !== []),
        );
        self::assertCount(301, $held['set']);
        $times = array_map(static fn (array $stack): int => (int) $stack[0]['t'], $held['set']);
        self::assertCount(1, array_unique($times));
        $at = (int) reset($times);
        $on = $next(
            'that it is on',
            self::frame(Wire::CUES, static fn (array $d): bool => isset($d['on'][$ids['cue']])),
        );
        self::assertSame(
            [$at, 'somebody', ['cue' => $ids['late'], 'at' => $at + self::S / 4]],
            [$on['on'][$ids['cue']]['at'], $on['on'][$ids['cue']]['by'], $on['pending']],
        );
        // What waits for it is told ahead of its time, and takes effect at it.
        $late = $next(
            'the cue that waits',
            self::frame(Wire::HELD, static fn (array $d): bool => isset($d['set']["layer:$ids[layer]/x"])),
        );
        self::assertSame($at + self::S / 4, $late['set']["layer:$ids[layer]/x"][0]['t']);
        $followed = $next(
            'that it is on',
            self::frame(Wire::CUES, static fn (array $d): bool => isset($d['on'][$ids['late']])),
        );
        self::assertSame(['follow', $ids['all']], [$followed['on'][$ids['late']]['by'], $followed['next']]);
    }

    public function test_go_pressed_fifty_times_a_second_with_edits_between_and_a_kill_loses_nothing(): void
    {
        [$show, $ids] = $this->showOnAir();
        for ($i = 0; $i < 150; $i++) {
            $status = $this->told(
                'command',
                [
                    ['action' => 'fire', 'cue' => '1'],
                    ['action' => 'advance'],
                    ['action' => 'fire', 'cue' => 'Dark'],
                    ['action' => 'back'],
                    ['action' => 'release', 'cue' => '1'],
                ][$i % 5],
            );
            self::assertContains($status, [200, 422]);
            if ($i % 30 === 29) {
                $this->ask('POST', "shows/$show/edits", [
                    'name' => 'Longer',
                    'changes' => [
                        $this->updated('cue', $ids['late'], [
                            'fade' => [$i === 29 ? self::S / 5 : self::S + $i - 30, self::S + $i],
                        ]),
                    ],
                ])->assertCreated();
            }
            usleep(5_000);
        }
        $this->told('command', ['action' => 'release']);
        self::assertSame(200, $this->told('command', ['action' => 'fire', 'cue' => $ids['all']]));
        self::assertSame(200, $this->told('command', ['action' => 'panic', 'fade' => 0]));
        $before = $this->until(
            'it to be on',
            fn (): mixed => isset(($s = $this->live('state'))['cues']['on'][$ids['all']]) && $s['cues']['panic']
                ? $s
                : null,
        );
        self::assertSame([0, 0], [$before['guard']['caught'], $before['journal']['lost']]);
        $this->conductor?->signal(SIGKILL);
        $this->until('it to be gone', fn (): bool => $this->conductor?->isRunning() === false);
        $this->start();
        $after = $this->until(
            'the cues again',
            fn (): mixed => ($this->live('state')['compiler']['ready'] ?? false) === true ? $this->live('state') : null,
        );
        self::assertEquals($before['cues']['on'], $after['cues']['on']);
        self::assertTrue($after['cues']['panic']);
        self::assertSame(array_keys($before['held']), array_keys($after['held']));
        self::assertSame(200, $this->told('command', ['action' => 'panic', 'on' => false, 'fade' => 0]));
        $this->until(
            'the light back',
            fn (): bool => $this->live('state')['cues']['panic'] === false &&
                ! isset($this->live('state')['held'][(string) Address::master()]),
        );
    }

    public function test_the_clock_starts_cues_also_those_that_a_machine_slept_through(): void
    {
        [$show, $ids] = $this->fadingShow();
        [$missed, $older, $soon] = [$this->id(), $this->id(), $this->id()];
        $at = static fn (int $seconds): string => date('H:i:s', time() + $seconds);
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Cues',
            'changes' => [
                $this->created('cue', $older, [
                    'number' => '1',
                    'name' => 'Older',
                    'trigger' => 'clock',
                    'clock' => $at(-120),
                ]),
                $this->created('cue', $missed, [
                    'number' => '2',
                    'name' => 'Missed',
                    'trigger' => 'clock',
                    'clock' => $at(-60),
                    'held' => [['a' => "layer:$ids[layer]/x", 'v' => 5]],
                ]),
            ],
        ])->assertCreated();
        $this->start();
        // Of those of the day before, the last; it does not move the list along.
        $cues = $this->until(
            'the one that was missed',
            fn (): mixed => isset(($c = $this->live('state')['cues'] ?? [])['on'][$missed]) ? $c : null,
        );
        self::assertSame(
            ['clock', [$missed], null],
            [$cues['on'][$missed]['by'], array_keys($cues['on']), $cues['last']],
        );
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Soon',
            'changes' => [
                $this->created('cue', $soon, [
                    'number' => '3',
                    'name' => 'Soon',
                    'trigger' => 'clock',
                    'clock' => $at(3),
                ]),
            ],
        ])->assertCreated();
        $this->until('the next one', fn (): bool => isset($this->live('state')['cues']['on'][$soon]));
        self::assertArrayNotHasKey($older, $this->live('state')['cues']['on']);
    }

    public function test_a_cue_that_its_timeline_passes_while_the_conductor_is_dead_is_fired_at_its_time(): void
    {
        [$show, $ids] = $this->fadingShow();
        $cue = $this->id();
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Cue',
            'changes' => [
                $this->created('cue', $cue, [
                    'number' => '1',
                    'name' => 'Passed',
                    'timeline' => $ids['line'],
                    'time' => 3 * self::S,
                    'held' => [['a' => "layer:$ids[layer]/x", 'v' => 5]],
                ]),
            ],
        ])->assertCreated();
        $this->start();
        $this->until('the cues', fn (): bool => ($this->live('state')['compiler']['ready'] ?? false) === true);
        $this->told('command', ['action' => 'jump', 'time' => 2 * self::S]);
        $this->told('command', ['action' => 'play']);
        $began = $this->until(
            'it to play',
            fn (): mixed => ($d = $this->live('state')['decks'][$ids['line']])['running'] ? $d['transport'] : null,
        );
        $this->until(
            'a moment before the cue',
            fn (): bool => $this->live('state')['decks'][$ids['line']]['position'] > 2.6 * self::S,
        );
        $this->conductor?->signal(SIGKILL);
        $this->until('it to be gone', fn (): bool => $this->conductor?->isRunning() === false);
        // The show plays on past its cue.
        $past = microtime(true) + 0.6;
        $this->until('the cue to be past', static fn (): bool => microtime(true) > $past);
        $this->start();
        $on = $this->until('the cue', fn (): mixed => $this->live('state')['cues']['on'][$cue] ?? null);
        self::assertSame([$began['engine'] + 3 * self::S - $began['position'], 'timeline'], [$on['at'], $on['by']]);
    }

    public function test_a_media_that_is_called_by_hand_crosses_over_within_its_time(): void
    {
        $held = new HeldValues();
        self::assertNull($held->set(['layer:01/source' => 5], 0));
        self::assertNull($held->set(['layer:01/source' => 9], 10 * self::S, 4 * self::S));
        $shares = static function (int $at) use ($held): array {
            [$shares, $left] = [[], 1.0];
            $all = array_map(HeldValue::fromArray(...), $held->all($at)['layer:01/source'] ?? []);
            usort($all, HeldValue::inOrder(...));
            foreach (array_reverse($all) as $one) {
                $part = $left * $one->weight->at($at);
                $left -= $part;
                $part > 0 && ($shares[(int) $one->valueAt($at)] = round($part, 6));
            }

            return $shares + ['left' => round($left, 6)];
        };
        self::assertSame(
            [[5 => 1.0, 'left' => 0.0], [9 => 0.25, 5 => 0.75, 'left' => 0.0], [9 => 1.0, 'left' => 0.0]],
            [$shares(9 * self::S), $shares(11 * self::S), $shares(14 * self::S)],
        );
    }

    public function test_a_cue_is_previewed_and_nothing_of_it_is_on(): void
    {
        [$show, $ids] = $this->showOnAir();
        $before = $this->live('state');
        $seen = $this->live('preview', ['show' => $show, 'cue' => '2']);
        self::assertSame($ids['late'], $seen['cue']);
        // What it holds, once its fifth of a second is over.
        $held = array_map(HeldValue::fromArray(...), $seen['held']["layer:$ids[layer]/x"]);
        self::assertEqualsWithDelta(40, HeldValue::over(0, $held, $seen['engine']), 1e-9);
        self::assertGreaterThanOrEqual(intdiv(self::S, 5), $seen['engine'] - $before['engine']);
        self::assertSame([$ids['line'], $ids['bell']], array_column($seen['decks'], 'timeline'));
        // The next of the list, without a name; what is on is as it was.
        self::assertSame($ids['cue'], $this->live('preview', ['show' => $show])['cue']);
        $after = $this->live('state');
        self::assertSame(
            [$before['cues'], $before['live'], []],
            [$after['cues'], $after['live'], $after['held'] ?? []],
        );
        foreach ([['show' => $show, 'cue' => 'none'], ['show' => 'x'], [], ['show' => [], 'cue' => 1]] as $bad) {
            self::assertStringContainsString('names a cue', $this->live('preview', $bad)['detail'] ?? '');
        }
    }

    public function test_in_a_show_that_is_only_looked_at_what_follows_starts_by_itself(): void
    {
        [$show, $ids] = $this->showOnAir();
        [$other] = $this->fadingShow();
        $this->ask('POST', "shows/$other/engage")->assertOk();
        $this->until('the other one on air', fn (): bool => $this->live('state')['show'] === $other);
        $window = $this->stream();
        $stream = $window('hello', self::frame(Wire::HELLO))['stream'];
        $this->live('look', ['stream' => $stream, 'shows' => [$show]]);
        $window('its pack', self::frame(Wire::BASE, static fn (array $data): bool => $data['show'] === $show));
        $on = static fn (string $cue): \Closure => self::frame(
            Wire::CUES,
            static fn (array $data): bool => $data['show'] === $show && isset($data['on'][$cue]),
        );
        self::assertSame(
            [],
            array_diff_key(
                $this->live('command', [
                    'action' => 'fire',
                    'cue' => $ids['cue'],
                    'show' => $show,
                    'stream' => $stream,
                ]),
                ['engine' => 0],
            ),
        );
        $first = $window('the first', $on($ids['cue']));
        $second = $window('what waits a quarter of a second after it', $on($ids['late']));
        self::assertSame(
            ['follow', intdiv(self::S, 4)],
            [$second['on'][$ids['late']]['by'], $second['on'][$ids['late']]['at'] - $first['on'][$ids['cue']]['at']],
        );
        self::assertSame([], $this->live('state')['cues']['on'], 'On air, nothing of it is on.');
    }

    public function test_a_timeline_follows_a_clock_that_comes_over_osc_and_holds_when_it_ends(): void
    {
        [$show, $ids] = $this->fadingShow();
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Follow',
            'changes' => [
                [
                    'kind' => 'timeline',
                    'id' => $ids['line'],
                    'op' => 'update',
                    'fields' => [
                        'clock' => ['before' => '', 'after' => 'desk'],
                        'clockStart' => ['before' => 0, 'after' => 3600 * self::S],
                    ],
                ],
            ],
        ])->assertCreated();
        $this->ask('POST', "shows/$show/engage")->assertOk();
        $this->start();
        $this->until(
            'the show',
            fn (): bool => ($this->live('state')['decks'][$ids['line']]['duration'] ?? 0) === 60 * self::S,
        );
        $osc = stream_socket_client('udp://127.0.0.1:'.(TEST_PORTS + 32)) ?: self::fail('No OSC.');
        $began = hrtime(true);
        // Ten frames past the beginning, at its pace.
        $say = static function () use ($osc, &$began): void {
            fwrite($osc, Osc::encode('/kite/clock', ['desk', 3600.4 + (hrtime(true) - $began) / 1e9]));
        };
        $deck = fn (): array => $this->live('state')['decks'][$ids['line']];
        $state = $this->until('it to run', function () use ($say, $deck): ?array {
            $say();
            usleep(30_000);
            $is = $deck();

            return $is['running'] && $is['position'] > 2 * self::S ? $is : null;
        });
        $passed = (hrtime(true) - $began) / 1e9;
        // What is read of it comes over HTTP, some milliseconds before this line.
        self::assertEqualsWithDelta(0.4 + $passed, $state['position'] / self::S, 0.09);
        self::assertStringContainsString(
            'follows the clock desk',
            $this->live('command', ['action' => 'jump', 'time' => 0])['detail'] ?? '',
        );
        // It leaps, and the timeline with it.
        $began -= 20 * 1_000_000_000;
        $this->until('the leap', function () use ($say, $deck): bool {
            $say();

            return $deck()['position'] > 20 * self::S;
        });
        $this->until('it to hold', fn (): bool => ! $deck()['running']);
        self::assertGreaterThan(21 * self::S, $deck()['position'], 'It ran on for a second.');
        self::assertSame(
            [],
            array_diff_key($this->live('command', ['action' => 'jump', 'time' => 0]), ['engine' => 0]),
        );
        fwrite($osc, Osc::encode('/kite/clock', ['desk']));
        $this->until(
            'the fault',
            fn (): bool => str_contains(
                (string) ($this->live('state')['osc']['last'][0]['fault'] ?? ''),
                '/kite/clock takes name of the clock',
            ),
        );
    }

    public function test_cues_are_fired_by_osc_and_asked_for_what_they_hide(): void
    {
        [$show, $ids] = $this->showOnAir();
        $this->told('command', ['action' => 'live', 'values' => ["layer:$ids[layer]/opacity" => 0.9]]);
        $osc = stream_socket_client('udp://127.0.0.1:'.(TEST_PORTS + 32)) ?: self::fail('No OSC.');
        fwrite($osc, Osc::encode('/kite/fire', [1.0]));
        $on = $this->until('the cue to be on', fn (): mixed => $this->live('state')['cues']['on'][$ids['cue']] ?? null);
        self::assertSame(['OSC', 1], [$on['by'], $on['masked']]);
        // Why it is what it is: keyframes, the cue, the hand above both.
        $stack = $this->ask('GET', "shows/$show/why?addresses=layer:$ids[layer]/opacity")
            ->assertOk()
            ->json('stacks')["layer:$ids[layer]/opacity"];
        self::assertSame(
            [['timeline', 'cue', 'hand'], [0, 0.25, 0.9], [$ids['line'], $ids['cue'], 'hand']],
            [
                array_column($stack, 'stratum'),
                array_map(static fn (float|int $v): float|int => $v == 0 ? 0 : $v, array_column($stack, 'result')),
                array_column($stack, 'source'),
            ],
        );
        fwrite($osc, Osc::encode('/kite/panic', [true]));
        $this->until('panic', fn (): bool => $this->live('state')['cues']['panic'] === true);
        fwrite($osc, Osc::encode('/kite/panic', [false]));
        fwrite($osc, Osc::encode('/kite/release', ['1']));
        $this->until('the release', fn (): bool => ! isset($this->live('state')['cues']['on'][$ids['cue']]));
        foreach (
            [
                ['action' => 'fire', 'cue' => '99'],
                ['action' => 'fire'],
                ['action' => 'release', 'cue' => '3'],
                ['action' => 'panic', 'fade' => -1],
                ['action' => 'back', 'fade' => 'long'],
                ['action' => 'pointer', 'cue' => 'x'],
            ] as $bad
        ) {
            self::assertSame(422, $this->told('command', $bad), (string) json_encode($bad));
        }
        // What is on can be taken into a cue.
        $made = $this->ask('POST', "shows/$show/cues", ['action' => 'record', 'discard' => true])
            ->assertCreated()
            ->json('createdId');
        self::assertSame(
            [['a' => "layer:$ids[layer]/opacity", 'v' => 0.9]],
            array_column($this->ask('GET', "shows/$show")->json('rows.cue'), null, 'id')[$made]['held'],
        );
        $this->until('it to be let go', fn (): bool => ($this->live('state')['live'] ?? []) === []);
    }
}
