<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Bindings\Command;
use Core\Bindings\OscMessage;
use Core\Show\Schema;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use Core\Values\Address;
use Core\Values\Property;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class CommandTest extends TestCase
{
    private const S = Flicks::PER_SECOND;

    private const ID = '01hyyyyyyyyyyyyyyyyyyyyyyy';

    /** @return list<array<string, mixed>> */
    private static function osc(string $address, int|float|string|bool|null ...$arguments): array
    {
        return OscMessage::commands(
            $address,
            array_values($arguments),
            static fn (Address $of): Property => Schema::properties($of->kind)->named($of->property),
        );
    }

    /** @return array<string, array{string, list<int|float|string|bool|null>, list<array<string, mixed>>}> */
    public static function messages(): array
    {
        return [
            'play' => ['/kite/play', [], [['action' => 'play']]],
            'a button pressed' => ['/kite/play', [1.0], [['action' => 'play']]],
            'a button released' => ['/kite/play', [0.0], []],
            'the same as a whole number' => ['/kite/go', [0], []],
            'and as a switch' => ['/kite/go', [false], []],
            'true is a press' => ['/kite/advance', [true], [['action' => 'advance']]],
            'nothing at all is a press' => ['/kite/back', [null], [['action' => 'back']]],
            'a pad that sends a fifth' => ['/kite/hold', [0.2], [['action' => 'hold']]],
            'a timeline' => ['/kite/stop', ['Tower'], [['action' => 'stop', 'timeline' => 'Tower']]],
            'seconds' => ['/kite/jump', [12.5], [['action' => 'jump', 'time' => 8_820_000_000]]],
            'seconds of a timeline' => [
                '/kite/jump',
                [2, 'Tower'],
                [['action' => 'jump', 'time' => 2 * self::S, 'timeline' => 'Tower']],
            ],
            'a cue' => ['/kite/jump', ['Lanterns rise'], [['action' => 'jump', 'cue' => 'Lanterns rise']]],
            'a cue of a timeline, with a fade' => [
                '/kite/jump',
                ['Rise', 'Tower', 1.5],
                [['action' => 'jump', 'cue' => 'Rise', 'timeline' => 'Tower', 'fade' => 1_058_400_000]],
            ],
            'a time, no timeline, a fade' => [
                '/kite/jump',
                [2, 3],
                [['action' => 'jump', 'time' => 2 * self::S, 'fade' => 3 * self::S]],
            ],
            'the start' => ['/kite/jump', [0], [['action' => 'jump', 'time' => 0]]],
            'back by half a second' => ['/kite/nudge', [-0.5], [['action' => 'nudge', 'by' => -352_800_000]]],
            'a rate' => ['/kite/rate', [0.5, 'Tower'], [['action' => 'rate', 'rate' => 0.5, 'timeline' => 'Tower']]],
            'a loop' => ['/kite/loop', [1, 3], [['action' => 'loop', 'from' => self::S, 'to' => 3 * self::S]]],
            'no loop' => ['/kite/loop', [], [['action' => 'loop']]],
            'a cue by a number' => ['/kite/fire', [5], [['action' => 'fire', 'cue' => '5']]],
            'by a number of 32 bits' => ['/kite/fire', [1.2000000476837158], [['action' => 'fire', 'cue' => '1.2']]],
            'cue 0 is a cue' => ['/kite/fire', [0], [['action' => 'fire', 'cue' => '0']]],
            'by its name' => ['/kite/fire', ['b7'], [['action' => 'fire', 'cue' => 'b7']]],
            'all released' => ['/kite/release', [], [['action' => 'release']]],
            'one released' => [
                '/kite/release',
                ['b7', 2],
                [['action' => 'release', 'cue' => 'b7', 'fade' => 2 * self::S]],
            ],
            'panic' => ['/kite/panic', [], [['action' => 'panic']]],
            'panic by a button' => ['/kite/panic', [1], [['action' => 'panic', 'on' => true]]],
            'light back' => ['/kite/panic', [0], [['action' => 'panic', 'on' => false]]],
            'a clock' => [
                '/kite/clock',
                ['Desk', 61.04],
                [['action' => 'clock', 'source' => 'Desk', 'time' => 43_069_824_000]],
            ],
            'several by a pattern' => ['/kite/{play,hold}', [], [['action' => 'play'], ['action' => 'hold']]],
            'a value in its unit' => [
                '/kite/value/layer/'.self::ID.'/opacity',
                [25],
                [['action' => 'live', 'values' => ['layer:'.self::ID.'/opacity' => 0.25]]],
            ],
            'brought into its range' => [
                '/kite/value/layer/'.self::ID.'/opacity',
                [170.0],
                [['action' => 'live', 'values' => ['layer:'.self::ID.'/opacity' => 1.0]]],
            ],
            'a fader over its range' => [
                '/kite/fader/layer/'.self::ID.'/turn',
                [0.75],
                [['action' => 'live', 'values' => ['layer:'.self::ID.'/turn' => 18_000.0]]],
            ],
            'a slot' => [
                '/kite/value/layer/'.self::ID.'/gain/2',
                [50],
                [['action' => 'live', 'values' => ['layer:'.self::ID.'/gain#2' => 0.5]]],
            ],
            'a colour whole' => [
                '/kite/fader/layer/'.self::ID.'/gain',
                [1.0, 0.5, 0],
                [
                    [
                        'action' => 'live',
                        'values' => [
                            'layer:'.self::ID.'/gain' => 4.0,
                            'layer:'.self::ID.'/gain#1' => 2.0,
                            'layer:'.self::ID.'/gain#2' => 0.0,
                        ],
                    ],
                ],
            ],
            'an option by its name' => [
                '/kite/value/layer/'.self::ID.'/blend',
                ['add'],
                [['action' => 'live', 'values' => ['layer:'.self::ID.'/blend' => 1.0]]],
            ],
            'a value discarded' => [
                '/kite/value/layer/'.self::ID.'/opacity',
                [],
                [['action' => 'live', 'values' => ['layer:'.self::ID.'/opacity' => null]]],
            ],
            'the master' => [
                '/kite/fader/master/show/level',
                [0.5],
                [['action' => 'live', 'values' => ['master:show/level' => 0.5]]],
            ],
        ];
    }

    /**
     * @param  list<int|float|string|bool|null>  $arguments
     * @param  list<array<string, mixed>>  $commands
     */
    #[DataProvider('messages')]
    public function test_a_message_means_a_command(string $address, array $arguments, array $commands): void
    {
        self::assertSame($commands, self::osc($address, ...$arguments));
        foreach ($commands as $command) {
            self::assertSame($command['action'], Command::of($command)->value, 'a window might send it so');
        }
    }

    /** @return array<string, array{string, list<int|float|string|bool|null>, string}> */
    public static function refusals(): array
    {
        $layer = '/kite/value/layer/'.self::ID;

        return [
            'an unknown address' => ['/elsewhere', [], 'Nothing listens to /elsewhere.'],
            'one that only windows give' => ['/kite/live', [], 'Nothing listens to /kite/live.'],
            'one of our own' => ['/kite/bind', [], 'Nothing listens to /kite/bind.'],
            'nothing to jump to' => [
                '/kite/jump',
                [],
                '/kite/jump takes time (seconds) or cue (number or name of a cue), optionally timeline, by id or name (text), optionally fade (seconds).',
            ],
            'no number' => ['/kite/jump', [NAN], '/kite/jump takes'],
            'beyond all times' => ['/kite/jump', [1e30], '/kite/jump takes'],
            'too many' => ['/kite/jump', [1, 'Tower', 2, 3], '/kite/jump takes'],
            'a text to what takes none' => ['/kite/advance', ['x'], '/kite/advance takes no arguments.'],
            'a clock without a reading' => [
                '/kite/clock',
                ['Desk'],
                '/kite/clock takes name of the clock (text), reading (seconds).',
            ],
            'no rate' => ['/kite/rate', ['fast'], '/kite/rate takes rate (number)'],
            'no such property' => ["$layer/height", [1], 'height'],
            'no such kind' => ['/kite/value/hat/'.self::ID.'/size', [1], 'hat'],
            'no such slot' => ["$layer/opacity/1", [1], 'slots'],
            'one slot too many' => ["$layer/gain", [1, 2, 3, 4], '3 is none'],
            'a slot that is no number' => ["$layer/gain/red", [1], 'with a slot behind it'],
            'too long' => ["$layer/gain/1/2", [1], 'with a slot behind it'],
            'no property' => ['/kite/value/layer/'.self::ID, [1], 'address'],
            'no number for a fader' => ['/kite/fader/layer/'.self::ID.'/opacity', ['half'], 'finite number'],
            'not a number' => ["$layer/opacity", [INF], 'finite number'],
            'an option that there is not' => ["$layer/blend", ['glow'], 'glow'],
        ];
    }

    /** @param  list<int|float|string|bool|null>  $arguments */
    #[DataProvider('refusals')]
    public function test_what_means_nothing_is_refused_in_words(string $address, array $arguments, string $says): void
    {
        $this->expectException(InvalidValue::class);
        $this->expectExceptionMessageMatches('~'.preg_quote($says, '~').'~');
        self::osc($address, ...$arguments);
    }

    public function test_each_command_has_a_label_and_arguments_of_names_of_their_own(): void
    {
        $labels = [];
        foreach (Command::cases() as $command) {
            $labels[] = $command->label();
            $names = array_map(static fn ($argument): string => $argument->name, $command->arguments());
            self::assertSame(array_unique($names), $names);
            $required = true;
            foreach ($command->arguments() as $argument) {
                self::assertTrue($argument->insteadOf === null || in_array($argument->insteadOf, $names, true));
                // What may be left out stands behind what may not, or a control could not leave it out.
                self::assertTrue($required || ! $argument->required, $command->value);
                $required = $argument->required || $argument->insteadOf !== null;
                self::assertTrue(
                    ! $command->isForControls() || $argument->type->isOutside(),
                    "$command->value can be given by a control",
                );
            }
        }
        self::assertSame(array_unique($labels), $labels);
    }

    /** @return array<string, array{array<mixed>, string}> */
    public static function types(): array
    {
        return [
            'no name' => [[], 'There is no command of this name; there are play, hold'],
            'an unknown one' => [['action' => 'explode'], 'no command of this name'],
            'a name that is none' => [['action' => ['play']], 'no command of this name'],
            'text for a time' => [['action' => 'jump', 'time' => 'now'], '`time` of jump is a number (of flicks).'],
            'a list for an object' => [['action' => 'live', 'values' => [1, 2]], '`values` of live is an object.'],
            'a number for a switch' => [['action' => 'panic', 'on' => 1], '`on` of panic is a switch (true or false).'],
            'a number for a cue' => [
                ['action' => 'fire', 'cue' => 5],
                '`cue` of fire is a text (id, number or name of a cue).',
            ],
        ];
    }

    /** @param  array<mixed>  $given */
    #[DataProvider('types')]
    public function test_a_command_of_a_window_is_checked_by_its_declaration(array $given, string $says): void
    {
        $this->expectExceptionMessageMatches('~'.preg_quote($says, '~').'~');
        Command::of($given);
    }

    public function test_what_is_null_is_not_given(): void
    {
        self::assertSame(
            Command::Loop,
            Command::of(['action' => 'loop', 'from' => null, 'to' => null, 'timeline' => null]),
        );
    }

    public function test_a_fader_gives_each_step_an_equal_part_of_its_way(): void
    {
        $switch = Property::switch('mute', 'Mute');
        $choice = Property::choice('order', 'Order', ['a', 'b', 'c']);
        self::assertSame([0.0, 0.0, 1.0, 1.0], array_map($switch->fromFader(...), [0.0, 0.4999, 0.5, 1.0]));
        self::assertSame(
            [0.0, 0.0, 1.0, 1.0, 2.0, 2.0],
            array_map($choice->fromFader(...), [0.0, 0.333, 0.334, 0.666, 0.667, 1.0]),
        );
        $angle = Property::angle('tilt', 'Tilt', -90, 30, 0);
        self::assertSame(
            [-90.0, -30.0, 30.0, 30.0, -90.0, -90.0],
            array_map($angle->fromFader(...), [0.0, 0.5, 1.0, 7.0, -3.0, NAN]),
        );
        self::assertSame(30.0, $angle->fromShown(45));
        self::assertSame(0.125, Property::share('level', 'Level')->fromShown(12.5));
    }
}
