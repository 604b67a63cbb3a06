<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Bindings\LayerControl;
use Core\Bindings\Personality;
use Core\Bindings\SourceMerge;
use Core\Effects\Effect;
use Core\Paperwork\PersonalitySheet;
use Core\Plan\PlanCompiler;
use Core\Preflight\Finding;
use Core\Preflight\Preflight;
use Core\Protocol\Sacn;
use Core\Show\Document;
use Core\Show\Show;
use Core\Timeline\MediaTrack;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use Core\Values\HeldValue;
use Core\Values\MediaRun;
use Core\Values\Reference;
use Core\Values\Stratum;
use Core\Values\Track;
use PHPUnit\Framework\TestCase;

/** Layers that a lighting console drives: what its slots mean, where they are, and who of several consoles is heard. */
final class ConsoleTest extends TestCase
{
    public function test_slots_mean_values_of_a_layer(): void
    {
        $one = Personality::of('P', 'intensity, x, scale, turn, red, green, blue, blend, mute');
        self::assertSame(9, $one->slots());
        $meant = static fn (string $text, string $slots): array => Personality::of('P', $text)->values($slots);
        // At rest nothing is changed, but that it is dark.
        self::assertSame(
            [
                'opacity' => 0.0,
                'x' => 0.0,
                'scale' => 1.0,
                'turn' => 0.0,
                'gain' => 1.0,
                'gain#1' => 1.0,
                'gain#2' => 1.0,
                'blend' => 0.0,
                'mute' => 0.0,
            ],
            $one->values($one->rest()),
        );
        self::assertSame(['opacity' => 1.0], $meant('intensity', "\xFF"));
        self::assertSame(['opacity' => 0.0], $meant('intensity', ''));
        self::assertSame(
            [0.0, 1.0, 32_768 / 65_535, 256 / 65_535],
            array_map(static fn (string $s): float => $meant('intensity 16', $s)['opacity'], [
                "\0\0",
                "\xFF\xFF",
                "\x80\0",
                "\x01\0",
            ]),
        );
        // Positions to either side of the middle: 4,096 px at 0, nothing at half.
        self::assertSame(
            [-4096.0, 0.0, 32.0, 4064.0],
            array_map(static fn (int $n): float => $meant('x', chr($n))['x'], [0, 128, 129, 255]),
        );
        self::assertSame(
            [-4096.0, 0.0, 0.125, 4096 - 0.125],
            array_map(static fn (int $n): float => $meant('y 16', pack('n', $n))['y'], [0, 32_768, 32_769, 65_535]),
        );
        // Unity is a quarter of the way, exactly; the greatest is four.
        self::assertSame(
            [0.0, 0.5, 1.0, 4.0],
            array_map(static fn (int $n): float => $meant('scale', chr($n))['scale'], [0, 32, 64, 255]),
        );
        self::assertSame(
            [0.0, 1.0, 4.0],
            array_map(static fn (int $n): float => $meant('blue 16', pack('n', $n))['gain#2'], [0, 16_384, 65_535]),
        );
        self::assertSame(
            [-360.0, 0.0],
            array_map(static fn (int $n): float => $meant('turn 16', pack('n', $n))['turn'], [0, 32_768]),
        );
        // Six blend modes share 256 steps.
        self::assertSame(
            [0.0, 0.0, 1.0, 5.0],
            array_map(static fn (int $n): float => $meant('blend', chr($n))['blend'], [0, 42, 43, 255]),
        );
        self::assertSame(
            [0.0, 1.0],
            array_map(static fn (int $n): float => $meant('mute', chr($n))['mute'], [127, 128]),
        );
        self::assertSame(['folder' => 3.0, 'index' => 7.0], $meant('folder, unused, index', "\x03\xFF\x07"));
        $told = Personality::of('P', 'unused, X 16, red')->channels();
        self::assertSame(
            [[1, 'Unused', 1], [2, 'Position X', 2], [4, 'Gain red', 1]],
            array_map(static fn (array $c): array => [$c['channel'], $c['name'], $c['slots']], $told),
        );
        self::assertSame([-4096.0, 0.0, 1.0, 4.0], [$told[1]['from'], $told[1]['at'], $told[2]['at'], $told[2]['to']]);
        self::assertSame(
            [6, 16, 16, 53],
            array_map(
                static fn (string $text): int => Personality::of('P', $text)->slots(),
                array_values(Personality::PRESETS),
            ),
        );
        foreach (Personality::PRESETS as $text) {
            self::assertSame($text, Personality::of('P', $text)->text());
        }
        foreach (
            [
                '',
                'glow',
                'intensity,',
                'folder 16',
                'intensity 8',
                str_repeat('red, ', 512).'red',
                '513 red',
                '0 red',
                '2',
                'effect value, effect',
                '65 effect',
                'effect 16',
            ] as $bad
        ) {
            try {
                Personality::of('P', $bad);
                self::fail("was taken: $bad");
            } catch (InvalidValue $refused) {
                self::assertSame('parts', $refused->field);
            }
        }
    }

    public function test_effects_are_called_by_number_with_as_many_values_as_there_are_parts(): void
    {
        $one = Personality::of('P', 'intensity, effect, effect mix, 2 effect value 16, EFFECT,  3  effect value');
        self::assertSame('intensity, effect, effect mix, 2 effect value 16, effect, 3 effect value', $one->text());
        self::assertSame([2, 11], [$one->effectSlots(), $one->slots()]);
        // Swirl with 2 values of two bytes: strength and extent; saturation has one, the others are unused.
        [$swirl, $saturation] = [Effect::Swirl->number(), Effect::Saturation->number()];
        $said =
            chr(255).
            chr($swirl).
            chr(51).
            pack('nn', 32_768 + 8192, 65_535).
            chr($saturation).
            chr(32).
            chr(9).
            chr(9);
        self::assertSame(
            [
                ['effect' => (float) $swirl, 'on' => 1.0, 'mix' => 0.2, 'strength' => 1.0, 'extent' => 2.0],
                ['effect' => (float) $saturation, 'on' => 1.0, 'saturation' => 0.5],
            ],
            $one->effects($said),
        );
        self::assertSame(['opacity' => 1.0], $one->values($said));
        self::assertSame(
            [
                [255, 1.0],
                [$swirl, (float) $swirl],
                [51, 0.2],
                [40_960, 40_960 / 65_535, 'Strength 100 %'],
                [65_535, 1.0, 'Extent 200 %'],
                [$saturation, (float) $saturation],
                [32, 32 / 255, 'Saturation 50 %'],
                [9, 9 / 255, 'unused'],
                [9, 9 / 255, 'unused'],
            ],
            $one->meanings($said),
        );
        // 0, and a number that no effect has, leave it as it is stored.
        self::assertSame([[], []], $one->effects($one->rest()));
        self::assertSame([[], []], $one->effects(chr(1).chr(0).chr(255).pack('nn', 1, 1).chr(200).'abc'));
        self::assertSame([[], []], $one->effects(''));
        // A colour takes three, each from nothing to full; the centre to either side of a half; a share of lengths to
        // a half; counts are counts.
        $all = static fn (Effect $effect, string $bytes): array => array_slice(
            Personality::of('P', 'effect, 12 effect value')->effects(chr($effect->number()).$bytes)[0],
            2,
        );
        self::assertSame(
            ['front' => 1.0, 'front#1' => 0.2, 'front#2' => 0.0, 'back' => 0.0, 'back#1' => 0.0, 'back#2' => 1.0],
            $all(Effect::Tint, "\xFF\x33\0\0\0\xFF"),
        );
        self::assertSame(
            ['segments' => 8.0, 'angle' => 90.0, 'x' => 0.5, 'y' => -0.5],
            $all(Effect::Kaleidoscope, chr(8).chr(192).chr(128).chr(0)),
        );
        self::assertSame(
            ['segments' => 32.0, 'angle' => -180.0, 'x' => -0.5, 'y' => -0.5],
            $all(Effect::Kaleidoscope, chr(99)),
        );
        self::assertSame(
            [2.0, 0.5, 0.1, 0.5],
            [
                $all(Effect::Posterize, chr(0))['steps'],
                $all(Effect::Blur, chr(255))['radius'],
                $all(Effect::Levels, '')['gamma'],
                $all(Effect::Levels, chr(32))['contrast'],
            ],
        );
        self::assertSame(
            [-10.0, 5.0],
            [$all(Effect::Scroll, chr(0))['speed'], $all(Effect::Scroll, chr(192))['speed']],
        );
        // On paper: which number is which effect, and what a value is for each.
        $channels = $one->channels();
        self::assertSame(
            [
                'Intensity',
                'Effect 1',
                'Effect 1 mix',
                'Effect 1 value 1',
                'Effect 1 value 2',
                'Effect 2',
                'Effect 2 value 1',
                'Effect 2 value 2',
                'Effect 2 value 3',
            ],
            array_column($channels, 'name'),
        );
        self::assertSame(
            [
                'Dimmer',
                'VideoEffect8Type',
                'VideoEffect8Parameter1',
                'VideoEffect8Parameter2',
                'VideoEffect8Parameter3',
                'VideoEffect9Type',
                'VideoEffect9Parameter2',
                'VideoEffect9Parameter3',
                'VideoEffect9Parameter4',
            ],
            array_column($channels, 'attribute'),
        );
        self::assertSame([1, 2, 3, 4, 6, 8, 9, 10, 11], array_column($channels, 'channel'));
        self::assertSame(['as stored' => 0, 'blur' => 1, 'sharpen' => 2], array_slice($channels[1]['choices'], 0, 3));
        self::assertSame(
            ['1 blur: Radius 0 % to 50 %', '2 sharpen: Strength -400 % to 396.88 %'],
            array_slice($channels[3]['means'], 0, 2),
        );
        $sheet = PersonalitySheet::of($one)->rows;
        self::assertStringStartsWith('0–0 as stored, 1–1 blur, 2–2 sharpen', (string) $sheet[1][8]);
        self::assertStringContainsString('5 saturation: Saturation 0 % to 400 %;', (string) $sheet[3][8]);
    }

    public function test_effects_that_a_console_drives_are_those_of_its_layer(): void
    {
        $show = static fn (array $effects, string $parts): Show => Show::fromRows(
            ['id' => 's', 'name' => 'S', 'frameRate' => '25'],
            [
                'timeline' => [['id' => 't', 'name' => 'T', 'duration' => 25]],
                'layer' => [['id' => 'l', 'timeline' => 't', 'name' => 'Kite', 'order' => 0]],
                'personality' => [['id' => 'p', 'name' => 'Desk', 'parts' => $parts]],
                'control' => [['id' => 'c', 'layer' => 'l', 'personality' => 'p']],
                'effect' => $effects,
            ],
        );
        $two = [
            ['id' => 'e2', 'layer' => 'l', 'order' => 2, 'values' => []],
            ['id' => 'e1', 'layer' => 'l', 'order' => 1, 'values' => ['effect' => 'hue']],
        ];
        $plan = static function (Show $show): array {
            $compiler = new PlanCompiler();
            $compiler->compile($show, 1);

            return $compiler->plan()->parts['control:c']['effects'] ?? [];
        };
        self::assertSame(
            [['e1', 'e2'], ['e1'], [], []],
            [
                $plan($show($two, '3 effect')),
                $plan($show($two, 'effect')),
                $plan($show($two, 'red')),
                $plan($show([], 'effect')),
            ],
        );
        $found = static fn (Show $show): array => array_values(
            array_map(
                static fn (Finding $f): string => $f->message,
                array_filter(Preflight::of($show), static fn (Finding $f): bool => $f->kind === 'control'),
            ),
        );
        self::assertSame(
            ['Desk has slots for 3 effects, Kite has 2: add 1 to the layer.'],
            $found($show($two, '3 effect')),
        );
        self::assertSame([], $found($show($two, '2 effect')));
    }

    public function test_a_console_says_how_a_called_media_runs(): void
    {
        $all = Personality::of('P', 'index, transport, in 16, out 16, speed, crossfade');
        $run = static fn (int $transport, int $in, int $out, int $speed, int $crossfade = 0): array => Personality::run(
            $all->values(chr(1).chr($transport).pack('nn', $in, $out).chr($speed).chr($crossfade)),
        );
        [$rest, $fade] = Personality::run($all->values($all->rest()));
        self::assertSame([MediaRun::whole()->toArray(), 0.0], [$rest?->toArray(), $fade]);
        // Six ways share 256 steps; what is below unity is slower, above it up to four times as fast; times are
        // tenths of a second.
        self::assertSame(
            [[0.0, 0.5, 0.0, 1.0, 1, 0, 0], 2.5],
            [$run(0, 0, 65_535, 32, 25)[0]?->toArray(), $run(0, 0, 65_535, 32, 25)[1]],
        );
        self::assertEquals(
            [
                [1.0, 'hold', false],
                [1.0, 'bounce', false],
                [0.0, 'loop', false],
                [-1.0, 'loop', true],
                [0.0, 'loop', false],
            ],
            array_map(
                static function (int $byte) use ($run): array {
                    $words = $run($byte, 0, 65_535, 64)[0]?->toWords() ?? [];

                    return [$words['rate'], $words['past'], $words['fromEnd']];
                },
                [43, 86, 128, 171, 255],
            ),
        );
        self::assertSame(
            [true, false],
            [$run(214, 0, 65_535, 64)[0]?->restarts, $run(213, 0, 65_535, 64)[0]?->restarts],
        );
        // An out point before the in point leaves a part of nothing: one frame.
        self::assertSame(
            [0.5, 0.5],
            array_slice($run(0, 32_768, 100, 64)[0]?->toArray() ?? [], 2, 2) === [32_768 / 65_535, 32_768 / 65_535]
                ? [0.5, 0.5]
                : [],
        );
        self::assertSame([null, 0.0], Personality::run(Personality::of('P', 'intensity, index')->values("\xFF\x01")));
        self::assertSame(
            [0.0, 65.535],
            array_map(
                static fn (string $s): float => Personality::of('P', 'index, crossfade 16')->values("\x01$s")[
                    'crossfade'
                ],
                ["\0\0", "\xFF\xFF"],
            ),
        );
        self::assertSame(
            ['invert' => 1.0, 'invert#1' => 1.0, 'invert#2' => 1.0],
            Personality::of('P', 'invert')->values("\xFF"),
        );
        self::assertSame(
            ['invert#1' => 1.0, 'opaque' => 1.0],
            Personality::of('P', 'invert green, opaque')->values("\xFF\x80"),
        );
        self::assertSame(
            [['none' => 0, 'across' => 64, 'down' => 128, 'both' => 192], 0, 43, 213.0 + 1],
            [
                Personality::of('P', 'mirror')->channels()[0]['choices'],
                ...[
                    $all->channels()[1]['choices']['loop'],
                    $all->channels()[1]['choices']['once'],
                    $all->channels()[1]['choices']['beginning'] + 0.0,
                ],
            ],
        );
        self::assertSame(
            ['%', 'px', 'deg', '', '%', 's', ''],
            array_column(Personality::of('P', 'intensity, x, turn, blend, red, crossfade, index')->channels(), 'unit'),
        );
        self::assertSame(
            [[513, 513 / 65_535], [7, 7.0]],
            Personality::of('P', 'intensity 16, index')->meanings("\x02\x01\x07"),
        );
        try {
            Personality::of('P', 'intensity, speed');
            self::fail('was taken');
        } catch (InvalidValue $refused) {
            self::assertStringContainsString('put index among the parts', $refused->getMessage());
        }
    }

    public function test_channels_that_two_layers_share_are_told(): void
    {
        $told = static function (array $controls): array {
            $layers = array_map(
                static fn (string $id): array => [
                    'id' => $id,
                    'timeline' => 'line',
                    'name' => strtoupper($id),
                    'order' => 0,
                    'route' => null,
                ],
                ['a', 'b', 'c', 'd'],
            );
            $show = Document::of(
                ['id' => 'show', 'name' => 'Test', 'frameRate' => '25'],
                [
                    'timeline' => [['id' => 'line', 'name' => 'Main', 'duration' => 20 * Flicks::PER_SECOND]],
                    'layer' => $layers,
                    'personality' => [
                        ['id' => 'six', 'name' => 'Small', 'parts' => Personality::PRESETS['Small']],
                        ['id' => 'one', 'name' => 'Dimmer', 'parts' => 'intensity'],
                    ],
                    'control' => array_map(
                        static fn (array $c): array => [
                            'id' => "c$c[0]",
                            'layer' => $c[0],
                            'personality' => $c[1],
                            'universe' => $c[2],
                            'channel' => $c[3],
                            'protocol' => $c[4] ?? 'sacn',
                        ],
                        $controls,
                    ),
                ],
            )->show;

            return array_column(
                array_map(
                    static fn (Finding $finding): array => [$finding->id, $finding->message],
                    array_filter(
                        Preflight::of($show),
                        static fn (Finding $finding): bool => $finding->kind === 'control',
                    ),
                ),
                1,
                0,
            );
        };
        self::assertSame([], $told([]));
        // One after another; the same channels of another universe and protocol; two that move together.
        self::assertSame(
            [],
            $told([['a', 'six', 1, 1], ['b', 'six', 1, 7], ['c', 'six', 2, 3], ['d', 'six', 1, 3, 'artnet']]),
        );
        self::assertSame([], $told([['a', 'six', 1, 1], ['b', 'six', 1, 1]]));
        self::assertSame(
            ['cb' => 'B is driven from channel 6 of sACN universe 1 on, which is within the channels 1 to 6 of A.'],
            $told([['b', 'six', 1, 6], ['a', 'six', 1, 1]]),
        );
        // Two within one that is wider, and one that begins with it by another personality.
        self::assertSame(
            ['cb', 'cc', 'cd'],
            array_keys($told([['a', 'six', 1, 1], ['b', 'one', 1, 1], ['c', 'one', 1, 4], ['d', 'one', 1, 6]])),
        );
    }

    public function test_the_sheet_has_the_bytes_of_each_choice(): void
    {
        $rows = PersonalitySheet::of(Personality::of('P', 'intensity, mute, mirror'))->rows;
        self::assertSame(
            ['', '0–127 off, 128–255 on', '0–63 none, 64–127 across, 128–191 down, 192–255 both'],
            array_column($rows, 8),
        );
        // One that rests at full does so in both of its bytes.
        self::assertSame(
            [['index', 0], ['out', 255], ['out', 255], ['x', 128], ['x', 0]],
            array_map(
                static fn (array $row): array => [
                    ['Media index' => 'index', 'Out' => 'out', 'Position X' => 'x'][$row[1]],
                    $row[3],
                ],
                PersonalitySheet::of(Personality::of('P', 'index, out 16, x 16'))->rows,
            ),
        );
    }

    public function test_a_called_media_goes_on_where_it_was(): void
    {
        $f = intdiv(Flicks::PER_SECOND, 25);
        $frame = static fn (MediaRun $run, float $frames, int $of = 100): ?int => MediaTrack::called(
            $run,
            (int) ($frames * $f),
            $f,
            $of,
        );
        self::assertSame(
            [0, 99, 0, 50],
            array_map(static fn (int $n): ?int => $frame(MediaRun::whole(), $n), [0, 99, 100, 250]),
        );
        // From a quarter to three quarters: fifty frames, again and again, once, there and back.
        self::assertSame(
            [25, 74, 25],
            array_map(static fn (int $n): ?int => $frame(MediaRun::of(1, 0.25, 0.75), $n), [0, 49, 50]),
        );
        self::assertSame(
            [25, 74, 74],
            array_map(static fn (int $n): ?int => $frame(MediaRun::of(1, 0.25, 0.75, 'hold'), $n), [0, 49, 500]),
        );
        self::assertSame(
            [25, 74, 73, 25],
            array_map(static fn (int $n): ?int => $frame(MediaRun::of(1, 0.25, 0.75, 'bounce'), $n), [0, 49, 50, 98]),
        );
        // Backwards from its end.
        self::assertSame(
            [99, 98, 0, 99],
            array_map(static fn (int $n): ?int => $frame(MediaRun::of(-1, fromEnd: true), $n), [0, 1, 99, 100]),
        );
        self::assertSame([0, 0], [$frame(MediaRun::of(1, 0.5, 0.5), 33, 1), $frame(MediaRun::of(2.5), 7, 1)]);
        self::assertSame(50, $frame(MediaRun::of(1, 0.5, 0.5), 33));
        self::assertSame(99, $frame(MediaRun::of(1, 1, 1), 33));
        // Ten frames on, stopped for a while, then on at double the speed, then backwards: in one breath each.
        $at = static fn (float $frames): int => Flicks::PER_SECOND + (int) ($frames * $f);
        $held = HeldValue::of(
            Stratum::Bound,
            1,
            'console',
            Track::constant(5.0),
            Track::constant(1.0),
            null,
            $at(0),
        )->running(MediaRun::whole());
        $up = static fn (HeldValue $held, float $frames): ?int => MediaTrack::called(
            $held->run ?? self::fail('It runs.'),
            $at($frames) - $held->since,
            $f,
            100,
        );
        $stood = $held->rerun(MediaRun::of(0), $at(10));
        self::assertSame([10, 10, 10], [$up($stood, 10), $up($stood, 11), $up($stood, 500)]);
        $double = $stood->rerun(MediaRun::of(2), $at(500));
        self::assertSame([10, 12, 30], [$up($double, 500), $up($double, 501), $up($double, 510)]);
        $back = $double->rerun(MediaRun::of(-1, fromEnd: true), $at(510));
        self::assertSame([30, 29, 0, 99], [$up($back, 510), $up($back, 511), $up($back, 540), $up($back, 541)]);
        self::assertSame(0, $up($back->rerun(MediaRun::of(0, restarts: true), $at(520)), 700));
        self::assertSame([$at(0), 1], [$back->run?->begun, $back->sequence]);
        // As it is told and kept.
        $again = HeldValue::fromArray((array) json_decode((string) json_encode($back->toArray()), true));
        self::assertEquals($back->run, $again->run);
        self::assertNull(HeldValue::fromArray(['s' => 4, 'v' => [0, 1, 0, 0, 0]])->run);
        self::assertEquals(
            MediaRun::of(0.5, 0.1, 0.9, 'bounce', true),
            MediaRun::fromWords(
                (array) json_decode((string) json_encode(MediaRun::of(0.5, 0.1, 0.9, 'bounce', true)->toWords()), true),
            ),
        );
        foreach ([['rate' => 17], ['in' => -0.1], ['out' => 1.1], ['past' => 'dark']] as $bad) {
            try {
                MediaRun::fromWords($bad);
                self::fail('was taken');
            } catch (InvalidValue $refused) {
                self::assertSame(array_key_first($bad), $refused->field);
            }
        }
    }

    public function test_no_layer_straddles_a_universe(): void
    {
        $standard = Personality::of('Standard', Personality::PRESETS['Standard']);
        $at = static fn (int $channel): LayerControl => LayerControl::fromRow(
            ['layer' => 'l', 'universe' => 1, 'channel' => $channel],
            $standard,
        );
        // 16 channels begin at 497 at the latest.
        self::assertSame(497, $at(497)->channel);
        try {
            $at(498);
            self::fail('was taken');
        } catch (InvalidValue $refused) {
            self::assertStringContainsString('begins at 497 at the latest', $refused->getMessage());
        }
        // 32 layers of 16 channels fill a universe: the 33rd begins the next. Of 17 channels 30 fit, and 2 are left
        // over.
        [$universe, $channel] = [1, 1];
        for ($i = 1; $i < 32; $i++) {
            [$universe, $channel] = LayerControl::following($universe, $channel, 16, 16);
        }
        self::assertSame(
            [[1, 497], [2, 1]],
            [[$universe, $channel], LayerControl::following($universe, $channel, 16, 16)],
        );
        self::assertSame(
            [[2, 1], [1, 511]],
            [LayerControl::following(1, 494, 17, 17), LayerControl::following(1, 494, 17, 2)],
        );
        foreach (
            [
                ['protocol' => 'midi'],
                ['merge' => 'first'],
                ['lost' => 'panic'],
                ['releaseAfter' => -1],
                ['releaseAfter' => 3601],
                ['universe' => 0],
                ['channel' => 0],
            ] as $bad
        ) {
            try {
                LayerControl::fromRow($bad + ['layer' => 'l'], $standard);
                self::fail('was taken');
            } catch (InvalidValue $refused) {
                self::assertSame(array_key_first($bad), $refused->field);
            }
        }
    }

    public function test_of_several_consoles_the_right_one_is_heard(): void
    {
        $merge = new SourceMerge();
        $merge->use(['sacn 1']);
        $hear = static function (string $source, string $slots, int $priority, float $now, ?int $sequence = null) use (
            $merge,
        ): void {
            $merge->hear('sacn 1', $source, $slots, $priority, $now, 2.5, $source, $sequence);
        };
        self::assertNull($merge->slots('sacn 1', 'highest', 0));
        $hear('a', "\x10\x80", 100, 0);
        self::assertSame(
            ["\x10\x80", "\x10\x80"],
            [$merge->slots('sacn 1', 'highest', 1), $merge->slots('sacn 1', 'latest', 1)],
        );
        // Equals: the highest of each slot, however long; or the one that changed last.
        $hear('b', "\x20\x05\x07", 100, 1);
        self::assertSame(
            ["\x20\x80\x07", "\x20\x05\x07"],
            [$merge->slots('sacn 1', 'highest', 1), $merge->slots('sacn 1', 'latest', 1)],
        );
        $hear('a', "\x11\x80", 100, 1.5);
        $hear('b', "\x20\x05\x07", 100, 2);
        self::assertSame("\x11\x80", $merge->slots('sacn 1', 'latest', 2), 'what says the same again has not changed');
        // A higher priority alone.
        $hear('c', "\x01", 150, 2);
        self::assertSame("\x01", $merge->slots('sacn 1', 'highest', 2));
        self::assertSame(
            [['a', 100], ['b', 100], ['c', 150]],
            array_map(static fn (array $s): array => [$s['name'], $s['priority']], $merge->sources(2)),
        );
        // It ends; then the others are lost, each 2.5 s after its last word.
        $merge->end('sacn 1', 'c');
        self::assertSame("\x20\x80\x07", $merge->slots('sacn 1', 'highest', 2.1));
        self::assertSame(
            ["\x20\x05\x07", null],
            [$merge->slots('sacn 1', 'highest', 4.3), $merge->slots('sacn 1', 'highest', 4.6)],
        );
        // What comes late is passed over, also across the end of the count; what is far behind is a new count.
        foreach (
            [
                [250, "\x01", "\x01"],
                [251, "\x02", "\x02"],
                [250, "\x03", "\x02"],
                [251, "\x03", "\x02"],
                [4, "\x04", "\x04"],
                [255, "\x05", "\x04"],
                [100, "\x06", "\x06"],
            ] as $i => [$sequence, $slots, $shown]
        ) {
            $hear('d', $slots, 100, 10 + $i / 10, $sequence);
            self::assertSame($shown, $merge->slots('sacn 1', 'highest', 10 + $i / 10), "step $i");
        }
        for ($i = 0; $i < 40; $i++) {
            $hear("many $i", chr($i), 100, 20);
        }
        self::assertCount(16, $merge->sources(20));
    }

    public function test_universes_that_no_control_uses_take_no_room(): void
    {
        $merge = new SourceMerge();
        $merge->use(['sacn 7', 'artnet 7']);
        for ($universe = 1; $universe <= 63_999; $universe++) {
            $merge->hear("sacn $universe", 'flood', "\x01", 100, 0, 2.5);
        }
        $merge->hear('sacn 7', 'console', "\x09", 150, 0, 2.5, 'Console');
        self::assertSame("\x09", $merge->slots('sacn 7', 'highest', 0));
        self::assertCount(2, $merge->sources(0));
        self::assertSame([true, false], [$merge->uses('artnet 7'), $merge->uses('sacn 8')]);
        // An idle source goes after its time; what is used no more goes at once.
        $merge->prune(2.6);
        self::assertSame([], $merge->sources(0));
        $merge->hear('sacn 7', 'console', "\x09", 150, 3, 2.5);
        $merge->use(['artnet 7']);
        $merge->use(['sacn 7']);
        self::assertNull($merge->slots('sacn 7', 'highest', 3));
    }

    public function test_the_universe_of_a_packet_is_read_alone(): void
    {
        $packet = Sacn::data(str_repeat('a', 16), 'Console', 63_999, 1, "\x01");
        self::assertSame(
            [63_999, null, null],
            [
                Sacn::universeOf($packet),
                Sacn::universeOf(substr($packet, 0, 125)),
                Sacn::universeOf(Sacn::discovery(str_repeat('a', 16), 'C', [1, 2, 3, 4, 5])[0]),
            ],
        );
    }

    public function test_controls_are_in_the_plan_with_all_media_that_a_console_may_call(): void
    {
        $rows = [
            'media' => [
                [
                    'id' => '01hzz00000000000000000000a',
                    'name' => 'A',
                    'kind' => 'solid',
                    'colour' => '#ff0000',
                    'folder' => 1,
                    'index' => 1,
                ],
                [
                    'id' => '01hzz00000000000000000000b',
                    'name' => 'B',
                    'kind' => 'solid',
                    'colour' => '#00ff00',
                    'folder' => 2,
                    'index' => 9,
                ],
            ],
            'timeline' => [['id' => 'line', 'name' => 'Main', 'duration' => 20 * Flicks::PER_SECOND]],
            'layer' => [
                ['id' => 'l', 'timeline' => 'line', 'name' => 'L', 'order' => 0, 'route' => null],
                ['id' => 'm', 'timeline' => 'line', 'name' => 'M', 'order' => 1, 'route' => null],
            ],
            'personality' => [
                ['id' => 'small', 'name' => 'Small', 'parts' => Personality::PRESETS['Small']],
                ['id' => 'dim', 'name' => 'Dimmer', 'parts' => 'intensity'],
            ],
            'control' => [
                ['id' => 'c', 'layer' => 'l', 'personality' => 'small', 'universe' => 3, 'channel' => 5],
                ['id' => 'd', 'layer' => 'm', 'personality' => 'dim', 'protocol' => 'artnet'],
            ],
        ];
        $document = Document::of(['id' => 'show', 'name' => 'Test', 'frameRate' => '25'], $rows);
        self::assertSame([], $document->show->broken);
        $compiler = new PlanCompiler();
        $compiler->compile($document->show, 1);
        $parts = $compiler->plan()->of('control');
        self::assertSame(
            ['l', 'sacn', 3, 5, 'highest', 'hold'],
            [
                $parts['c']['layer'],
                $parts['c']['protocol'],
                $parts['c']['universe'],
                $parts['c']['channel'],
                $parts['c']['merge'],
                $parts['c']['lost'],
            ],
        );
        self::assertEquals(
            (object) [
                257 => Reference::number('01hzz00000000000000000000a'),
                521 => Reference::number('01hzz00000000000000000000b'),
            ],
            $parts['c']['media'],
        );
        self::assertEquals((object) [], $parts['d']['media']);
        self::assertCount(
            2,
            $document->show->programme->sources($document->show->programme->layer('l') ?? self::fail('It is there.')),
        );
        self::assertCount(
            0,
            $document->show->programme->sources($document->show->programme->layer('m') ?? self::fail('It is there.')),
        );
        // A personality that goes takes its controls out, and says so.
        $without = $document->with(['personality' => ['small' => null]]);
        self::assertSame(['d'], array_map(strval(...), array_keys($without->show->delivery->controls)));
        self::assertStringContainsString('was removed', $without->show->broken[0]->message ?? '');
    }
}
