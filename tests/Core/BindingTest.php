<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Bindings\Action;
use Core\Bindings\Binding;
use Core\Bindings\BindingState;
use Core\Bindings\Control;
use Core\Bindings\Encoder;
use Core\Bindings\LearnedControl;
use Core\Bindings\Meaning;
use Core\Bindings\Shape;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class BindingTest extends TestCase
{
    private const S = Flicks::PER_SECOND;

    private const TARGET = 'layer:01/opacity';

    private static function fader(array $more = []): Binding
    {
        return Binding::fromRow(
            $more + [
                'control' => 'cc:1:7',
                'meaning' => 'value',
                'gesture' => 'move',
                'target' => self::TARGET,
                'takeover' => 'jump',
            ],
        );
    }

    private static function button(array $more): Binding
    {
        return Binding::fromRow($more + ['control' => 'note:1:60', 'meaning' => 'action', 'target' => 'go']);
    }

    /**
     * What a row of events comes to.
     *
     * @param  list<array{0: int|float|null, 1?: float, 2?: float}>  $events  what is sent (null: asked again), at how
     *     many seconds, what the value is; without, what was set last
     * @return list<float|string|null> value that is set, action that is given, or null
     */
    private static function played(Binding $binding, array $events, ?float $reading = null): array
    {
        [$state, $found] = [new BindingState(), []];
        foreach ($events as $i => $event) {
            $is = $event[2] ?? $reading;
            $reaction = $binding->react(
                $state,
                $event[0] === null ? null : [$event[0]],
                (int) (($event[1] ?? $i) * self::S),
                $is,
            );
            $state = $reaction->state;
            $command = $reaction->command;
            $value = $command['values'][self::TARGET] ?? null;
            $reading = $value ?? $is;
            $found[] = is_float($value) ? round($value, 6) : $command['action'] ?? null;
        }

        return $found;
    }

    #[DataProvider('faders')]
    public function test_a_value_goes_along_by_its_ranges(array $row, array $sent, array $values): void
    {
        self::assertSame($values, self::played(self::fader($row), array_map(static fn ($raw): array => [$raw], $sent)));
    }

    public static function faders(): array
    {
        return [
            '0 to 127 is 0 to 1' => [[], [0, 127, 127 * 0.25], [0.0, 1.0, 0.25]],
            'the range of the value' => [['low' => -2, 'high' => 4], [0, 63.5, 127], [-2.0, 1.0, 4.0]],
            'downward' => [['low' => 1, 'high' => 0], [0, 127], [1.0, 0.0]],
            'inverted is the same' => [['invert' => true], [0, 127], [1.0, 0.0]],
            'learnt ends, and what lies beyond' => [
                ['from' => 10, 'to' => 110],
                [10, 60, 110, 5, 127],
                [0.0, 0.5, 1.0, 0.0, 1.0],
            ],
            'a control that stands on its head' => [['from' => 100, 'to' => 0], [100, 25, 0], [0.0, 0.75, 1.0]],
            'three steps' => [['steps' => 3], [0, 31, 32, 95, 96], [0.0, 0.0, 0.5, 0.5, 1.0]],
            'a tenth at each end' => [
                ['deadBand' => 0.1, 'to' => 100],
                [0, 10, 50, 90, 100, 30],
                [0.0, 0.0, 0.5, 1.0, 1.0, 0.25],
            ],
            'the square' => [['shape' => 'slow', 'to' => 100], [50, 10], [0.25, 0.01]],
            'from its end' => [['shape' => 'fast', 'to' => 100], [50, 90], [0.75, 0.99]],
            'both ends' => [['shape' => 'smooth', 'to' => 4], [1, 2, 3], [0.15625, 0.5, 0.84375]],
            'fourteen bits' => [['control' => 'cc14:1:7'], [16_383, 8191.5], [1.0, 0.5]],
            'OSC of 0 to 1' => [['control' => '/1/fader1'], [0.3], [0.3]],
        ];
    }

    public function test_shapes_have_inverses(): void
    {
        foreach (Shape::cases() as $shape) {
            for ($i = 0; $i <= 100; $i++) {
                self::assertEqualsWithDelta($i / 100, $shape->inverse($shape->at($i / 100)), 1e-7, "$shape->value $i");
            }
        }
        // And a motor is sent to where the fader would have said so.
        foreach (
            [
                [],
                ['invert' => true],
                ['from' => 100, 'to' => 3],
                ['shape' => 'smooth', 'low' => 5, 'high' => -1],
                ['deadBand' => 0.1],
            ] as $row
        ) {
            $fader = self::fader($row);
            for ($raw = 20; $raw < 100; $raw++) {
                self::assertSame((float) $raw, $fader->rawAt($fader->valueAt($raw)));
            }
        }
    }

    public function test_what_meets_waits_until_it_passes_the_value(): void
    {
        $fader = self::fader(['takeover' => 'meet', 'to' => 100]);
        // The value is 0.5; the fader comes from below.
        self::assertSame([null, null, 0.6, 0.2], self::played($fader, [[0], [40], [60], [20]], 0.5));
        self::assertSame([null, 0.5], self::played($fader, [[100], [50]], 0.5), 'From above, exactly.');
        self::assertSame(
            [0.51],
            self::played($fader, [[51]], 0.5),
            'It stands there already, but for one of its steps.',
        );
        self::assertSame([null], self::played($fader, [[52]], 0.5));
        // A cue takes the value elsewhere: it has to meet anew.
        self::assertSame(
            [0.5, 0.6, null, null, 0.1],
            self::played($fader, [[50], [60], [61, 2, 0.2], [40], [10]], 0.5),
        );
        self::assertSame([null, null], self::played($fader, [[0], [100]], 1.5), 'It never jumps to what is beyond it.');
        $reaction = $fader->react(new BindingState(), [20], 0, 0.5);
        self::assertSame(['value' => 0.5, 'above' => true], $reaction->meets);
        $down = self::fader(['takeover' => 'meet', 'invert' => true]);
        self::assertFalse($down->react(new BindingState(), [127], 0, 0.5)->meets['above'] ?? null);
        self::assertNull(
            $fader->react(new BindingState(), [20], 0, null)->command,
            'Without knowing, it does nothing.',
        );
    }

    public function test_what_a_device_tells_of_itself_is_where_it_stands_and_no_wish(): void
    {
        foreach (['jump', 'meet', 'scaled'] as $takeover) {
            $fader = self::fader(['takeover' => $takeover, 'to' => 100]);
            $reaction = $fader->react(new BindingState(sent: 0.9), [20], 0, 0.9, true);
            self::assertSame([null, 0.2], [$reaction->command, $reaction->state->value], $takeover);
        }
        $go = self::button([]);
        self::assertNull($go->react(new BindingState(), [127], 0, null, true)->command);
        self::assertTrue($go->react(new BindingState(), [127], 0, null, true)->state->pressed);
    }

    public function test_what_is_scaled_closes_the_gap_over_the_way_that_is_left(): void
    {
        $fader = self::fader(['takeover' => 'scaled', 'to' => 100]);
        // At 20 with the value at 0.6: 80 are left to the top, 0.4 of the value.
        self::assertSame([null, 0.7, 0.8, 1.0], self::played($fader, [[20], [40], [60], [100]], 0.6));
        // Down from 20: 20 are left, 0.6 of the value.
        self::assertSame([null, 0.3, 0.0], self::played($fader, [[20], [10], [0]], 0.6));
        self::assertSame(
            [null, null],
            self::played($fader, [[50], [50]], 0.7),
            'Where it does not move, nothing does.',
        );
        // Where it stood at the value, it goes along.
        self::assertSame([null, 0.51, 0.3], self::played($fader, [[50], [51], [30]], 0.5));
    }

    public function test_after_meeting_no_step_is_larger_than_one_of_the_controls(): void
    {
        mt_srand(7);
        for ($round = 0; $round < 400; $round++) {
            [$low, $high] = [mt_rand(-50, 50) / 10, mt_rand(-50, 50) / 10];
            $takeover = $round % 2 === 0 ? 'meet' : 'scaled';
            $fader = self::fader([
                'takeover' => $takeover,
                'low' => $low,
                'high' => $high,
                'invert' => mt_rand(0, 1) === 1,
                'shape' => ['linear', 'slow', 'fast', 'smooth'][mt_rand(0, 3)],
            ]);
            $is = mt_rand(-60, 60) / 10;
            [$state, $raw, $stood, $taken] = [new BindingState(), mt_rand(0, 127), null, false];
            for ($i = 0; $i < 60; $i++) {
                $raw = max(0, min(127, $raw + mt_rand(-25, 25)));
                if ($i % 20 === 19) {
                    // A cue, or somebody's hand.
                    [$is, $taken] = [mt_rand(-60, 60) / 10, false];
                }
                $reaction = $fader->react($state, [$raw], $i * self::S, $is);
                $state = $reaction->state;
                $value = $reaction->command['values'][self::TARGET] ?? null;
                $stands = $fader->valueAt($raw);
                if (is_float($value)) {
                    $step = max(
                        abs($stands - ($stood ?? $stands)),
                        abs($fader->valueAt($raw + 1) - $stands),
                        abs($fader->valueAt($raw - 1) - $stands),
                    );
                    if ($takeover === 'meet') {
                        self::assertLessThanOrEqual($step + 1e-9, abs($value - $is), "round $round, event $i");
                        self::assertEqualsWithDelta($stands, $value, 1e-12);
                        $taken = true;
                    } else {
                        // Never past where it could come to, and the same way as the control.
                        self::assertGreaterThanOrEqual(min($is, $low, $high) - 1e-9, $value);
                        self::assertLessThanOrEqual(max($is, $low, $high) + 1e-9, $value);
                    }
                    $is = $value;
                } elseif ($taken) {
                    self::fail("It let go by itself in round $round, event $i.");
                }
                $stood = $stands;
            }
        }
    }

    #[DataProvider('knobs')]
    public function test_knobs_without_end_count_clicks(string $encoder, array $sent, array $clicks): void
    {
        $knob = self::fader(['encoder' => $encoder, 'click' => 0.01]);
        $is = 0.5;
        foreach ($sent as $i => $raw) {
            $is = $knob->react(new BindingState(), [$raw], $i * self::S, $is)->command['values'][self::TARGET] ?? $is;
            self::assertEqualsWithDelta(0.5 + 0.01 * array_sum(array_slice($clicks, 0, $i + 1)), $is, 1e-9);
            self::assertSame($clicks[$i], Encoder::from($encoder)->clicks($raw));
        }
    }

    public static function knobs(): array
    {
        return [
            ['twos', [1, 3, 127, 125], [1, 3, -1, -3]],
            ['offset', [65, 67, 63, 61, 64], [1, 3, -1, -3, 0]],
            ['sign', [1, 3, 65, 67, 64], [1, 3, -1, -3, 0]],
        ];
    }

    public function test_a_knob_that_is_turned_fast_goes_further_and_stays_within(): void
    {
        $knob = self::fader(['encoder' => 'twos', 'click' => 0.01, 'acceleration' => 1]);
        // 60 clicks a second are 50 above 10: six times as far.
        self::assertSame([0.01, 0.02, 0.08], self::played($knob, [[1, 0.0], [1, 1.0], [1, 1.0 + 1 / 60]], 0.0));
        self::assertSame([1.0], self::played($knob, [[10]], 0.97));
        self::assertSame([0.0], self::played($knob, [[127]], 0.001));
        $steps = self::fader(['encoder' => 'twos', 'steps' => 5, 'low' => 0, 'high' => 4]);
        self::assertSame([1.0, 2.0, 1.0], self::played($steps, [[1], [1], [127]], 0.0));
    }

    #[DataProvider('presses')]
    public function test_presses_mean_what_was_asked(array $row, array $events, array $actions): void
    {
        self::assertSame($actions, self::played(self::button($row), $events, $row['reading'] ?? null));
    }

    public static function presses(): array
    {
        $cue = ['meaning' => 'cue', 'target' => 'c1'];
        $value = ['meaning' => 'value', 'target' => self::TARGET, 'low' => 0.2, 'high' => 0.8];

        return [
            'on pressing' => [['gesture' => 'press'], [[100], [0], [1], [0]], ['go', null, 'go', null]],
            'held on, pressed once' => [['gesture' => 'press'], [[100], [90], [80]], ['go', null, null]],
            'on letting go' => [['gesture' => 'release'], [[100], [0]], [null, 'go']],
            'one and the other' => [
                ['gesture' => 'toggle', 'other' => 'stop'],
                [[9], [0], [9], [0], [9]],
                ['go', null, 'stop', null, 'go'],
            ],
            'the same each time without another' => [['gesture' => 'toggle'], [[9], [0], [9]], ['go', null, 'go']],
            'while it is kept' => [['gesture' => 'hold', 'other' => 'hold'], [[9], [0]], ['go', 'hold']],
            'twice within 0.4 s' => [
                ['gesture' => 'double'],
                [[9, 0.0], [0, 0.1], [9, 0.4], [0, 0.5], [9, 0.6], [0, 0.7], [9, 1.001]],
                [null, null, 'go', null, null, null, null],
            ],
            'kept for 0.6 s' => [
                ['gesture' => 'long'],
                [[9, 0.0], [null, 0.6], [0, 0.7], [9, 2.0], [0, 2.1], [null, 2.6]],
                [null, 'go', null, null, null, null],
            ],
            'let go and pressed again is another press' => [
                ['gesture' => 'long'],
                [[9, 0.0], [0, 0.2], [9, 0.5], [null, 0.6], [null, 1.1]],
                [null, null, null, null, 'go'],
            ],
            'a cue' => [$cue, [[9], [0]], ['fire', null]],
            'a cue that is off' => [['gesture' => 'toggle', 'reading' => 0.0] + $cue, [[9]], ['fire']],
            'a cue that is on' => [['gesture' => 'toggle', 'reading' => 1.0] + $cue, [[9]], ['release']],
            'a cue while it is kept' => [['gesture' => 'hold'] + $cue, [[9], [0]], ['fire', 'release']],
            'a value while it is kept' => [['gesture' => 'hold'] + $value, [[9], [0]], [0.8, 0.2]],
            'a value, on and off' => [
                ['gesture' => 'toggle', 'reading' => 0.5] + $value,
                [[9], [0], [9], [0], [9]],
                [0.8, null, 0.2, null, 0.8],
            ],
            'a pedal is down above its middle' => [
                ['control' => 'cc:1:64', 'gesture' => 'hold', 'other' => 'stop'],
                [[63], [64], [127], [63]],
                [null, 'go', null, 'stop'],
            ],
            'OSC that never lets go' => [['control' => '/go', 'gesture' => 'press'], [[1], [1]], ['go', 'go']],
            'an OSC fader over the middle' => [
                ['control' => '/go', 'gesture' => 'press'],
                [[0.6], [0.7]],
                ['go', null],
            ],
            'each program anew' => [['control' => 'program:1', 'to' => 5], [[5], [5], [1]], ['go', 'go', null]],
            'by number' => [
                ['control' => 'program:1', 'meaning' => 'choice', 'choices' => "0 go\n5 fire 12\n6 page 2"],
                [[5], [0], [1], [6]],
                ['fire', 'go', null, null],
            ],
        ];
    }

    public function test_a_press_that_counts_by_its_force_sets_the_value_by_it(): void
    {
        $row = [
            'device' => 'd',
            'control' => 'note:1:60',
            'meaning' => 'value',
            'gesture' => 'hold',
            'target' => 'layer:a/opacity',
            'low' => 0.1,
            'high' => 0.9,
        ];
        $set = static function (array $more, int $velocity) use ($row): mixed {
            $down = Binding::fromRow($more + $row)->react(new BindingState(), [$velocity], 0, 0.1);

            return $down->command['values']['layer:a/opacity'] ?? null;
        };
        self::assertSame(0.9, $set([], 1));
        self::assertEqualsWithDelta(0.1 + (0.8 * 64) / 127, $set(['velocity' => true], 64), 1e-12);
        self::assertEqualsWithDelta(0.9, $set(['velocity' => true], 127), 1e-12);
        $binding = Binding::fromRow(['velocity' => true] + $row);
        $down = $binding->react(new BindingState(), [64], 0, 0.1);
        $up = $binding->react($down->state, [0], 1, 0.5);
        self::assertSame(0.1, $up->command['values']['layer:a/opacity'] ?? null, 'letting go');
        // In turn: whatever is not off is on.
        $toggle = Binding::fromRow(['velocity' => true, 'gesture' => 'toggle'] + $row);
        self::assertSame(
            0.1,
            $toggle->react(new BindingState(), [20], 0, 0.4)->command['values']['layer:a/opacity'] ?? 0,
        );
        self::assertSame([127.0, 0.0], [$toggle->feedback(0.4), $toggle->feedback(0.1)]);
        $cue = Binding::fromRow(['meaning' => 'cue', 'gesture' => 'press', 'target' => 'c', 'velocity' => true] + $row);
        self::assertSame(
            ['action' => 'fire', 'cue' => 'c', 'level' => 64 / 127],
            $cue->react(new BindingState(), [64], 0, 0.0)->command,
        );
    }

    public function test_a_cue_takes_its_own_times_or_those_of_the_binding(): void
    {
        $press = static fn (array $row): ?array => self::button($row + ['meaning' => 'cue', 'target' => 'c1'])->react(
            new BindingState(),
            [1],
            0,
            null,
        )->command;
        self::assertSame(['action' => 'fire', 'cue' => 'c1'], $press([]));
        self::assertSame(['action' => 'fire', 'cue' => 'c1', 'fade' => 0], $press(['fade' => 0]));
        self::assertSame(2, self::button(['target' => 'page 2'])->react(new BindingState(), [1], 0, null)->page);
        self::assertSame(
            ['action' => 'live', 'values' => [self::TARGET => 1.0], 'fade' => self::S],
            self::fader(['smoothing' => self::S])->react(new BindingState(), [127], 0, 0.0)->command,
        );
    }

    public function test_lamps_rings_and_motors_show_what_is(): void
    {
        self::assertSame([64.0, 127.0, 0.0], array_map(self::fader()->feedback(...), [0.5, 1.0, -3.0]));
        self::assertSame([127.0, 0.0], array_map(self::button([])->feedback(...), [1.0, 0.0]));
        $lamp = self::button(['lampOff' => 1, 'lampOn' => 5]);
        self::assertSame([5.0, 1.0], array_map($lamp->feedback(...), [1.0, 0.0]));
        self::assertNull(self::button(['lamp' => false])->feedback(1.0));
        self::assertNull(self::fader()->feedback(null));
        self::assertNull(self::fader(['encoder' => 'twos'])->feedback(0.5));
    }

    #[DataProvider('wrong')]
    public function test_a_binding_that_means_nothing_is_refused(array $row, string $field, string $part): void
    {
        try {
            Binding::fromRow($row + ['control' => 'note:1:1', 'meaning' => 'action', 'target' => 'go']);
            self::fail('It was taken.');
        } catch (InvalidValue $refused) {
            self::assertSame($field, $refused->field);
            self::assertStringContainsString($part, $refused->getMessage());
        }
    }

    public static function wrong(): array
    {
        return [
            [['control' => 'note:17:1'], 'control', 'is no control'],
            [['control' => 'note:1:128'], 'control', 'is no control'],
            [['control' => 'cc14:1:32'], 'control', 'is no control'],
            [['control' => ''], 'control', 'is no control'],
            [['control' => '/a b'], 'control', 'is no control'],
            [['from' => 5, 'to' => 5], 'to', 'differ'],
            [['target' => ' '], 'target', 'needs a target'],
            [['target' => 'sing'], 'target', 'is no command'],
            [['target' => 'live'], 'target', 'is no command'],
            [['target' => 'jump'], 'target', '/kite/jump takes'],
            [['target' => 'page 0'], 'target', 'page takes'],
            [['other' => 'sing'], 'other', 'is no command'],
            [['gesture' => 'move'], 'gesture', 'given by a press'],
            [['gesture' => 'wink'], 'gesture', 'wink'],
            [['meaning' => 'choice', 'choices' => ''], 'choices', '1 to 128 lines'],
            [['meaning' => 'choice', 'choices' => "1 go\n1 stop"], 'choices', 'two commands'],
            [['meaning' => 'choice', 'choices' => 'go'], 'choices', 'Write a line'],
            [['deadBand' => 0.5], 'deadBand', '0.45'],
            [['page' => 100], 'page', '99'],
        ];
    }

    public function test_controls_have_names_for_people(): void
    {
        foreach (
            [
                'note:1:60' => 'Note 60 (C4), channel 1',
                'note:10:0' => 'Note 0 (C-1), channel 10',
                'cc:16:127' => 'Controller 127, channel 16',
                'cc14:1:7' => 'Controller, 14 bit, 7, channel 1',
                'bend:2' => 'Pitch bend, channel 2',
                'key:KeyG' => 'Key G',
                'key:F5' => 'Key F5',
                'key:Space' => 'Key Space',
                '/1/fader1#2' => '/1/fader1#2',
            ] as $name => $label
        ) {
            self::assertSame($label, Control::of($name)->label());
        }
        self::assertTrue(Control::of('/1/*')->matches('/1/fader9'));
        self::assertTrue(Control::of('/1/push')->matches('/1/{push,pull}'));
        self::assertFalse(Control::of('/1/push')->matches('/2/push'));
        self::assertTrue(Control::of('/xy#1')->matches('/xy'));
        self::assertSame(
            [['action' => 'fire', 'cue' => 'Lanterns rise'], null],
            [Action::parse('fire "Lanterns rise"')->command, Action::parse('page 9')->command],
        );
    }

    #[DataProvider('learnt')]
    public function test_what_a_control_is_is_told_from_what_arrives(
        array $sent,
        string $control,
        array $is,
        bool $ends = false,
    ): void {
        $learned = LearnedControl::of(array_map(static fn (array $e): array => [$e[0], [$e[1]]], $sent), $ends);
        self::assertSame(
            [$control, ...$is],
            [$learned->control->name, $learned->isButton, $learned->encoder->value, $learned->from, $learned->to],
        );
    }

    public static function learnt(): array
    {
        $many = static fn (string $name, int ...$values): array => array_map(
            static fn (int $v): array => [$name, $v],
            $values,
        );

        return [
            'a key' => [$many('note:1:60', 88, 0), 'note:1:60', [true, 'absolute', 0.0, 127.0]],
            'a button' => [$many('cc:1:20', 127, 0), 'cc:1:20', [true, 'absolute', 0.0, 127.0]],
            'a button that sends only its press' => [$many('cc:1:20', 127), 'cc:1:20', [true, 'absolute', 0.0, 127.0]],
            'a fader' => [$many('cc:1:7', 3, 4, 6, 9), 'cc:1:7', [false, 'absolute', 0.0, 127.0]],
            'a fader from end to end' => [
                $many('cc:1:7', 2, 60, 120, 40),
                'cc:1:7',
                [false, 'absolute', 2.0, 120.0],
                true,
            ],
            'a fader that was touched once' => [$many('cc:1:7', 64), 'cc:1:7', [false, 'absolute', 0.0, 127.0]],
            'a fader among the noise' => [
                [...$many('cc:1:9', 64, 65), ...$many('cc:1:7', 1, 2, 3, 4)],
                'cc:1:7',
                [false, 'absolute', 0.0, 127.0],
            ],
            'a knob' => [$many('cc:1:30', 1, 1, 2, 127, 127), 'cc:1:30', [false, 'twos', 0.0, 127.0]],
            'a knob, turned forward only' => [$many('cc:1:30', 1, 1, 1), 'cc:1:30', [false, 'twos', 0.0, 127.0]],
            'a knob by offset' => [$many('cc:1:30', 65, 65, 63, 63), 'cc:1:30', [false, 'offset', 0.0, 127.0]],
            'a knob by sign' => [$many('cc:1:30', 1, 1, 65, 65), 'cc:1:30', [false, 'sign', 0.0, 127.0]],
            'fourteen bits' => [
                [['cc:1:7', 1], ['cc:1:39', 5], ['cc14:1:7', 133], ['cc:1:7', 1], ['cc:1:39', 9], ['cc14:1:7', 137]],
                'cc14:1:7',
                [false, 'absolute', 0.0, 16_383.0],
            ],
            'OSC' => [[['/f', 0.2], ['/f', 0.3]], '/f', [false, 'absolute', 0.0, 1.0]],
            'OSC of 0 to 255' => [[['/f', 20.0], ['/f', 200.0]], '/f', [false, 'absolute', 0.0, 200.0]],
            'an OSC button' => [[['/b', 1.0], ['/b', 0.0]], '/b', [true, 'absolute', 0.0, 1.0]],
            'a program' => [$many('program:3', 5), 'program:3', [true, 'absolute', 0.0, 5.0]],
        ];
    }

    public function test_learning_gives_the_fields_of_a_binding(): void
    {
        $fader = LearnedControl::of([['cc:1:7', [3]], ['cc:1:7', [9]]]);
        $fields = $fader->fields(Meaning::Value, self::TARGET, 0, 4);
        self::assertSame(['move', 0.0, 127.0], [$fields['gesture'], $fields['from'], $fields['to']]);
        self::assertSame(4.0, Binding::fromRow($fields)->valueAt(127));
        $button = LearnedControl::of([['note:1:60', [3]]]);
        self::assertSame('toggle', $button->fields(Meaning::Value, self::TARGET)['gesture']);
        self::assertSame('press', $fader->fields(Meaning::Cue, 'c1')['gesture']);
        $this->expectExceptionMessage('Nothing arrived that is a control; move it while it is learned.');
        LearnedControl::of([['msc:GO', []]]);
    }
}
