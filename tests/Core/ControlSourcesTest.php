<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Bindings\Binding;
use Core\Bindings\BindingState;
use Core\Bindings\Control;
use Core\Bindings\Device;
use Core\Bindings\DmxSlots;
use Core\Bindings\DmxUniverse;
use Core\Bindings\LearnedControl;
use Core\Bindings\SoundControls;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Slots of DMX and what is heard, as controls. */
final class ControlSourcesTest extends TestCase
{
    public function test_slots_that_changed_are_told_once_and_pairs_as_one_number(): void
    {
        $before = str_repeat("\0", 512);
        $after = $before;
        [$after[0], $after[6], $after[7], $after[511]] = [chr(255), chr(1), chr(2), chr(9)];
        self::assertSame(
            [['slot:1', [255]], ['slot:7', [1]], ['slot:8', [2]], ['slot:512', [9]]],
            DmxSlots::changes($before, $after, []),
        );
        // 256 · 1 + 2; the half that is bound by itself is told as well.
        self::assertSame(
            [['slot:1', [255]], ['slot16:7', [258]], ['slot:8', [2]], ['slot:512', [9]]],
            DmxSlots::changes($before, $after, ['slot16:7', 'slot:8']),
        );
        $fine = $after;
        $fine[7] = chr(3);
        self::assertSame([['slot16:7', [259]]], DmxSlots::changes($after, $fine, ['slot16:7']));
        self::assertSame([], DmxSlots::changes($after, $after, ['slot:1']));
    }

    public function test_a_universe_that_is_new_tells_where_bound_slots_stand_and_no_others(): void
    {
        self::assertSame(
            [['slot:2', [20]], ['slot16:3', [7700]]],
            DmxSlots::changes(null, "\x0A\x14\x1E\x14", ['slot16:3', 'slot:2', 'slot:5', 'slot16:4']),
        );
        self::assertSame([], DmxSlots::changes(null, "\x0A\x14", []));
        self::assertSame([], DmxSlots::changes(null, '', ['slot:1']));
    }

    public function test_slots_that_one_of_two_states_does_not_reach(): void
    {
        self::assertSame([], DmxSlots::changes("\x01\x02\x03", "\x01", []), 'shorter: as it was');
        self::assertSame([['slot:3', [3]]], DmxSlots::changes("\x01", "\x01\x00\x03", []), 'longer: from nothing');
    }

    /** @return array<string, array{string, string}> */
    public static function universes(): array
    {
        return [
            'sACN counts from 1' => ['sACN 1', 'sacn 1'],
            'its last' => ['sACN 63999', 'sacn 63999'],
            'Art-Net from 0' => ['Art-Net 0', 'artnet 1'],
            'its last port-address' => ['Art-Net 32767', 'artnet 32768'],
            'a serial interface' => ['Serial /dev/ttyUSB0', 'serial /dev/ttyUSB0'],
        ];
    }

    #[DataProvider('universes')]
    public function test_a_universe_is_called_as_its_protocol_counts_it(string $text, string $key): void
    {
        self::assertSame($key, DmxUniverse::of($text)->key());
        self::assertSame($text, DmxUniverse::ofKey($key)->label());
    }

    public function test_what_is_no_universe_is_refused(): void
    {
        foreach (
            [
                '',
                'sACN 0',
                'sACN 64000',
                'Art-Net 32768',
                'Art-Net -1',
                'sacn 1',
                'sACN 01',
                'sACN 1 ',
                'Serial ttyUSB0',
                'Serial /dev/../etc/x y',
            ] as $text
        ) {
            try {
                DmxUniverse::of($text);
                self::fail("\"$text\" was taken.");
            } catch (InvalidValue $refused) {
                self::assertStringContainsString('sACN 1 to sACN 63999', $refused->getMessage());
            }
        }
        $this->expectException(InvalidValue::class);
        Device::fromRow(['name' => 'Desk', 'protocol' => 'dmx', 'port' => '']);
    }

    public function test_controls_of_slots_and_sound_have_names_ends_and_labels(): void
    {
        self::assertSame(
            [['Slot 512', 255.0], ['Slots 511 and 512', 65_535.0], ['Band 3, 160 to 320 Hz', 1.0], ['Beat', 1.0]],
            array_map(
                static function (string $name): array {
                    $control = Control::of($name);

                    return [$control->label(), $control->top];
                },
                ['slot:512', 'slot16:511', 'sound:band3', 'sound:beat'],
            ),
        );
        foreach (['slot:0', 'slot:513', 'slot16:512', 'slot:01', 'sound:loud', 'slot:1:2'] as $name) {
            try {
                Control::of($name);
                self::fail("$name was taken.");
            } catch (InvalidValue $refused) {
                self::assertStringContainsString('is no control', $refused->getMessage());
            }
        }
        foreach (SoundControls::names() as $name) {
            self::assertNotSame($name, Control::of($name)->label());
        }
    }

    public function test_a_fader_of_two_slots_is_learned_as_one(): void
    {
        $events = [];
        for ($v = 0; $v <= 2560; $v += 32) {
            $v % 256 === 0 && ($events[] = ['slot:5', [intdiv($v, 256)]]);
            $events[] = ['slot:6', [$v % 256]];
        }
        $learned = LearnedControl::of($events);
        self::assertSame(['slot16:5', false, 65_535.0], [$learned->control->name, $learned->isButton, $learned->to]);
        // Two faders of one slot each stay two.
        $both = array_merge(
            ...array_map(static fn (int $v): array => [['slot:5', [$v]], ['slot:6', [$v]]], range(0, 9)),
        );
        self::assertSame('slot:5', LearnedControl::of($both)->control->name);
        // A button of a console sends all or nothing.
        self::assertTrue(LearnedControl::of([['slot:9', [255]], ['slot:9', [0]]])->isButton);
    }

    public function test_a_pair_of_slots_sets_a_value_to_a_sixty_five_thousandth(): void
    {
        $binding = Binding::fromRow([
            'device' => 'd',
            'control' => 'slot16:5',
            'meaning' => 'value',
            'gesture' => 'move',
            'target' => 'layer:a/opacity',
            'to' => 65_535,
            'takeover' => 'jump',
        ]);
        $command = $binding->react(new BindingState(), [32_896], 0, 0.0)->command;
        self::assertEqualsWithDelta(32_896 / 65_535, $command['values']['layer:a/opacity'] ?? null, 1e-12);
    }

    /**
     * @param  list<float>  $levels  by piece
     * @return array<string, float> what was told last, by control
     */
    private static function heard(SoundControls $sound, array $levels): array
    {
        $last = [];
        foreach ($levels as $i => $level) {
            foreach ($sound->take(array_fill(0, 12, $level)) as [$name, [$value]]) {
                $last[$name] = (float) $value;
            }
        }

        return $last;
    }

    public function test_a_level_lies_between_floor_and_ceiling(): void
    {
        foreach (
            [[-60.0, 0.0], [-50.0, 0.0], [-35.0, 0.5], [-27.5, 0.75], [-20.0, 1.0], [0.0, 1.0]] as [$level, $value]
        ) {
            $sound = new SoundControls(0.0, 0.0, -50.0, -20.0);
            self::assertEqualsWithDelta($value, self::heard($sound, [$level])['sound:level'] ?? 0.0, 1e-9, "$level dB");
        }
        // Upside down is a switch at the ceiling.
        self::assertSame(1.0, self::heard(new SoundControls(0.0, 0.0, -20.0, -30.0), [-25.0])['sound:level']);
    }

    public function test_a_level_rises_and_falls_in_its_own_times(): void
    {
        // After a time of 0.2 s, 1 − 1/e of the way up; after one of 0.5 s, 1/e of it is left.
        $sound = new SoundControls(0.2, 0.5, -60.0, 0.0);
        self::assertEqualsWithDelta(1 - exp(-1), self::heard($sound, array_fill(0, 10, 0.0))['sound:level'], 0.002);
        $sound = new SoundControls(0.0, 0.5, -60.0, 0.0);
        self::assertEqualsWithDelta(
            exp(-1),
            self::heard($sound, [0.0, ...array_fill(0, 25, -60.0)])['sound:level'],
            0.002,
        );
        // It arrives: nothing is told for ever.
        self::assertSame(0.0, self::heard($sound, array_fill(0, 500, -60.0))['sound:level']);
    }

    public function test_floor_and_ceiling_are_learnt_from_what_is_heard(): void
    {
        $sound = new SoundControls(0.0, 0.0);
        // A hall at -45 dB with music up to -15: floor and ceiling are there after a few seconds.
        for ($i = 0; $i < 500; $i++) {
            $last = self::heard($sound, [$i % 25 < 3 ? -15.0 : -45.0]);
        }
        self::assertEqualsWithDelta(0.0, $sound->levels()['sound:level'], 0.03);
        self::assertGreaterThan(0.97, self::heard($sound, [-15.0])['sound:level']);
        // Silence and a faint hum stay dark.
        $quiet = new SoundControls(0.0, 0.0);
        self::heard($quiet, array_map(static fn (int $i): float => -66.0 + ($i % 2), range(0, 3000)));
        self::assertLessThan(0.2, $quiet->levels()['sound:level']);
    }

    /**
     * Clicks in a bed of noise.
     *
     * @return array{list<float>, list<float>} times of onsets and of beats, in seconds
     */
    private static function clicks(float $bpm, int $seconds, float $shift = 0.0): array
    {
        $sound = new SoundControls();
        [$onsets, $beats] = [[], []];
        for ($i = 0; $i < $seconds * 50; $i++) {
            $since = $bpm > 0 ? fmod($i * 0.02 + $shift, 60 / $bpm) : INF;
            // It rings for a tenth of a second; the bed wavers by 2 dB.
            $level = max(-50.0 + 2 * sin($i * 1.7), -10.0 - 300 * $since);
            $time = ($i + 1) * SoundControls::HOP;
            foreach ($sound->take(array_fill(0, 12, $level)) as [$name, [$value]]) {
                if ($value === 1) {
                    $name === 'sound:onset' && ($onsets[] = Flicks::toSeconds($time));
                    $name === 'sound:beat' && ($beats[] = Flicks::toSeconds($time));
                }
            }
        }

        return [$onsets, $beats];
    }

    public function test_each_click_is_one_onset_and_noise_is_none(): void
    {
        [$onsets] = self::clicks(100, 12);
        // Of 100 a minute there are twenty in twelve seconds; the first is there before anything was softer.
        self::assertCount(19, $onsets);
        foreach ($onsets as $n => $at) {
            self::assertEqualsWithDelta(($n + 1) * 0.6, $at, 0.041);
        }
        self::assertSame([[], []], self::clicks(0, 20));
    }

    #[DataProvider('tempos')]
    public function test_beats_fall_on_the_clicks(float $bpm, float $shift): void
    {
        [, $beats] = self::clicks($bpm, 30, $shift);
        $late = array_values(array_filter($beats, static fn (float $at): bool => $at > 8));
        $every = 60 / $bpm;
        self::assertEqualsWithDelta(22 / $every, count($late), 1.5, 'as many beats as clicks');
        foreach ($late as $at) {
            $off = fmod($at + $shift + $every / 2, $every) - $every / 2;
            self::assertLessThan(0.06, abs($off), sprintf('%.2f s', $at));
        }
    }

    /** @return array<string, array{float, float}> */
    public static function tempos(): array
    {
        return [
            'of 120' => [120, 0.0],
            'of 97' => [97, 0.13],
            'of 128' => [128, 0.31],
            'of 70' => [70, 0.2],
            'of 150' => [150, 0.05],
        ];
    }

    public function test_beats_end_with_the_music(): void
    {
        $sound = new SoundControls();
        for ($i = 0; $i < 500; $i++) {
            $sound->take(array_fill(0, 12, $i % 25 < 3 ? -10.0 : -50.0));
        }
        self::assertEqualsWithDelta(120, $sound->tempo(), 3);
        for (; $i < 1000; $i++) {
            $sound->take(array_fill(0, 12, -50.0));
        }
        self::assertNull($sound->tempo());
    }
}
