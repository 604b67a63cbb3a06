<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\PixelMap\Addressing;
use Core\PixelMap\EmitterMix;
use Core\PixelMap\LightPatch;
use Core\PixelMap\SlotEncoder;
use Core\PixelMap\SlotMap;
use Core\PixelMap\Universes;
use Core\PixelMap\Wiring;
use Core\Units\InvalidValue;
use Core\Venue\FixtureChannel;
use Core\Venue\FixtureType;
use Core\Venue\PixelLight;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Pixel lights: their channels, wiring, addresses and colours, against figures by hand. */
final class PixelMapTest extends TestCase
{
    /** @param  array<string, mixed>  $row */
    private static function type(int $columns, int $rows, string $channels = 'RGB', array $row = []): FixtureType
    {
        return FixtureType::fromRow(
            $row + [
                'name' => 'Light',
                'columns' => $columns,
                'rows' => $rows,
                'widthMm' => 1000,
                'heightMm' => 500,
                'channels' => $channels,
            ],
        );
    }

    private static function addressed(
        FixtureType $type,
        int $universe = 1,
        int $channel = 1,
        ?Wiring $wiring = null,
    ): Addressing {
        return Addressing::of(
            $type,
            $type->header,
            $type->channels,
            $universe,
            $channel,
            ($wiring ?? Wiring::of())->order($type),
        );
    }

    public function test_channels_are_words_or_letters(): void
    {
        $words = static fn (string $text): string => implode(', ', FixtureChannel::list('channels', $text, 32));
        self::assertSame('red, green, blue, white 6500', $words('rgbw'));
        self::assertSame('blue, unused, dimmer', $words('B-D'));
        self::assertSame(
            'red, white 3200, white 5600, fixed 255, unused, lime, uv',
            $words(' Red,WHITE 3200K, white 5600, fixed 255,unused,lime, uv'),
        );
        self::assertSame('', $words('  '));
        foreach (
            ['purple', 'white 500', 'white 30000', 'fixed', 'fixed 256', 'red,', 'red 5', str_repeat('R', 33)] as $bad
        ) {
            try {
                FixtureChannel::list('channels', $bad, 32);
                self::fail("was taken: $bad");
            } catch (InvalidValue $refused) {
                self::assertSame('channels', $refused->field);
            }
        }
    }

    public function test_types_of_lights_are_checked(): void
    {
        $type = self::type(3, 2, 'RGB', ['points' => [0, 0, 500, 250, 1000, 500]]);
        self::assertSame([3, [[0.0, 0.0], [0.5, 0.5], [1.0, 1.0]]], [$type->count(), $type->points]);
        self::assertSame([[1 / 6, 0.25], [5 / 6, 0.75]], [self::type(3, 2)->place(0), self::type(3, 2)->place(5)]);
        foreach (
            [
                ['bits' => 12],
                ['channels' => ''],
                ['columns' => 0],
                ['columns' => 200, 'rows' => 200],
                ['points' => [1]],
                ['points' => [1001, 0]],
                ['gamma' => 0],
                ['minimum' => 1],
                ['name' => ' '],
            ] as $bad
        ) {
            try {
                FixtureType::fromRow(
                    $bad + [
                        'name' => 'Light',
                        'columns' => 2,
                        'rows' => 2,
                        'widthMm' => 1000,
                        'heightMm' => 500,
                        'channels' => 'RGB',
                    ],
                );
                self::fail('was taken: '.json_encode($bad));
            } catch (InvalidValue $refused) {
                self::assertSame(array_key_first($bad), $refused->field);
            }
        }
        $light = PixelLight::of(self::type(9, 22), 2);
        self::assertSame(
            [18, 44, 2, 0.5],
            [$light->rasterWidth(), $light->rasterHeight(), $light->triangles(), $light->area()],
        );
        self::assertEqualsWithDelta(0.5, $light->mesh()->area(), 1e-12);
        $this->expectException(InvalidValue::class);
        PixelLight::of(self::type(9, 22), 17);
    }

    /** @return array<string, array{array<string, mixed>, list<int>}> */
    public static function wirings(): array
    {
        // 3 columns × 2 rows: 0 1 2 / 3 4 5.
        return [
            'as one reads' => [[], [0, 1, 2, 3, 4, 5]],
            'serpentine' => [['serpentine' => true], [0, 1, 2, 5, 4, 3]],
            'columns' => [['along' => 'columns'], [0, 3, 1, 4, 2, 5]],
            'columns, serpentine' => [['along' => 'columns', 'serpentine' => true], [0, 3, 4, 1, 2, 5]],
            'from the bottom right' => [['corner' => 'bottom right'], [5, 4, 3, 2, 1, 0]],
            'from the top right, serpentine' => [['corner' => 'top right', 'serpentine' => true], [2, 1, 0, 3, 4, 5]],
            'from the bottom left, columns, serpentine' => [
                ['corner' => 'bottom left', 'along' => 'columns', 'serpentine' => true],
                [3, 0, 1, 4, 5, 2],
            ],
            'blocks of two columns, the last narrower' => [['blockColumns' => 2, 'blockRows' => 2], [0, 1, 3, 4, 2, 5]],
            'blocks from the right, serpentine within' => [
                ['blockColumns' => 2, 'blockRows' => 2, 'corner' => 'top right', 'serpentine' => true],
                [2, 5, 1, 0, 3, 4],
            ],
            'blocks of one row back and forth' => [
                ['blockColumns' => 1, 'blockRows' => 1, 'serpentineBlocks' => true],
                [0, 1, 2, 5, 4, 3],
            ],
        ];
    }

    /**
     * @param  array<string, mixed>  $stored
     * @param  list<int>  $order
     */
    #[DataProvider('wirings')]
    public function test_wiring_runs_through_the_pixels(array $stored, array $order): void
    {
        self::assertSame($order, Wiring::of($stored)->order(self::type(3, 2)));
    }

    public function test_wiring_takes_each_pixel_once_whatever_it_is(): void
    {
        foreach ([[1, 1], [1, 7], [7, 1], [5, 4], [13, 9]] as [$columns, $rows]) {
            foreach (Wiring::CORNERS as $corner) {
                foreach (Wiring::ALONG as $along) {
                    foreach ([0, 2, 5] as $block) {
                        $order = Wiring::of([
                            'corner' => $corner,
                            'along' => $along,
                            'serpentine' => true,
                            'serpentineBlocks' => true,
                            'blockColumns' => $block,
                            'blockRows' => 3,
                        ])->order(self::type($columns, $rows));
                        sort($order);
                        self::assertSame(range(0, $columns * $rows - 1), $order);
                    }
                }
            }
        }
        // By hand: what is left out is not wired, what is not there is passed over.
        self::assertSame([5, 0, 3], Wiring::of([], [5, 0, 99, 3])->order(self::type(3, 2)));
        self::assertSame(
            [0, 1, 2],
            Wiring::of(['corner' => 'bottom right'])->order(self::type(3, 2, 'RGB', ['points' => [0, 0, 1, 1, 2, 2]])),
        );
        foreach (
            [
                [['corner' => 'middle'], []],
                [['along' => 'diagonals'], []],
                [['blockColumns' => -1, 'blockRows' => 2], []],
                [[], [1, 2, 1]],
            ] as [$stored, $path]
        ) {
            try {
                Wiring::of($stored, $path);
                self::fail('was taken');
            } catch (InvalidValue $refused) {
                self::assertNotSame('', $refused->getMessage());
            }
        }
    }

    public function test_no_pixel_straddles_two_universes(): void
    {
        // 9 × 22 pixels of 5 channels are 990 channels: 102 pixels in the first universe (2 channels left over), 96
        // in the second.
        $type = self::type(9, 22, 'red, green, blue, white 3200, white 6500');
        $found = self::addressed($type);
        self::assertSame([1 => 102, 2 => 96], $found->pixelsByUniverse());
        self::assertSame([[1, 2]], $found->left);
        self::assertSame([2, 2, 480 + 512], [$found->universes(), $found->lastUniverse(), $found->end]);
        self::assertSame(
            [[1, 506], [2, 1]],
            [$found->address($found->starts[101]), $found->address($found->starts[102])],
        );
        // One that takes them goes on at once: 990 in a row.
        $on = self::addressed(self::type(9, 22, 'red, green, blue, white 3200, white 6500', ['straddles' => true]));
        self::assertSame([[], 990, 510], [$on->left, $on->end, $on->starts[102]]);
        // Of 16 bits: 51 pixels of 10 slots, 2 left over, and so on; 198 pixels are 3 × 51 and 45.
        $fine = self::addressed(self::type(9, 22, 'red, green, blue, white 3200, white 6500', ['bits' => 16]), 7);
        self::assertSame([7 => 51, 8 => 51, 9 => 51, 10 => 45], $fine->pixelsByUniverse());
        self::assertSame([[7, 2], [8, 2], [9, 2]], $fine->left);
        // A header of two before them, from channel 510 on: it just fits not.
        $header = self::addressed(self::type(2, 1, 'RGB', ['header' => 'dimmer, fixed 255, unused, unused']), 3, 510);
        self::assertSame([[[3, 3]], [512, 4], [516, 519]], [$header->left, $header->header, $header->starts]);
        // One pixel that exactly fills the end of a universe, and one slot too late.
        self::assertSame([], self::addressed(self::type(1, 1), 1, 510)->left);
        self::assertSame([[1, 2]], self::addressed(self::type(1, 1), 1, 511)->left);
        // 170 RGB pixels fill 510 slots; the 171st begins the next universe.
        self::assertSame(
            [[1 => 170], [1 => 170, 2 => 1]],
            [
                self::addressed(self::type(170, 1))->pixelsByUniverse(),
                self::addressed(self::type(171, 1))->pixelsByUniverse(),
            ],
        );
        // 128 RGBW fill all 512: nothing is left over.
        self::assertSame(
            [[], 513],
            [
                self::addressed(self::type(129, 1, 'RGBW'))->left,
                self::addressed(self::type(129, 1, 'RGBW'))->starts[128] + 1,
            ],
        );
        foreach ([[0, 1], [64_000, 1], [1, 0], [1, 513]] as [$universe, $channel]) {
            try {
                self::addressed($type, $universe, $channel);
                self::fail('was taken');
            } catch (InvalidValue $refused) {
                self::assertContains($refused->field, ['universe', 'channel']);
            }
        }
        self::assertSame(
            [0, 1],
            [
                Addressing::of($type, [], $type->channels, 1, 1, [])->universes(),
                Addressing::of($type, [], $type->channels, 1, 1, [])->lastUniverse(),
            ],
        );
    }

    public function test_slots_that_two_lights_have(): void
    {
        $light = static function (int $universe, int $channel, string $channels = 'RGB', int $pixels = 10): array {
            $type = self::type($pixels, 1, $channels);

            return [self::addressed($type, $universe, $channel), $type->header, $type->channels];
        };
        $map = static fn (array $lights): array => [
            SlotMap::of($lights)->conflicts,
            SlotMap::of($lights)->merged,
            SlotMap::of($lights)->universes,
        ];
        // Side by side, the next begins where the last ended: nothing.
        self::assertSame([[], [], [1]], $map(['a' => $light(1, 1), 'b' => $light(1, 31), 'c' => $light(1, 61)]));
        // By one slot too early.
        self::assertSame([['a', 'b', 1, 30, 1]], $map(['a' => $light(1, 1), 'b' => $light(1, 30)])[0]);
        // A long one over two short ones that do not meet each other; told in the order in which they come.
        self::assertSame(
            [['short', 'long', 1, 100, 30], ['other', 'long', 1, 200, 30]],
            $map(['short' => $light(1, 100), 'other' => $light(1, 200), 'long' => $light(1, 1, 'RGB', 170)])[0],
        );
        // Over the end of a universe: 171 pixels reach slot 3 of the next.
        self::assertSame([['long', 'b', 2, 1, 3]], $map(['long' => $light(1, 1, 'RGB', 171), 'b' => $light(2, 1)])[0]);
        self::assertSame([[], [], [1, 2]], $map(['long' => $light(1, 1, 'RGB', 171), 'b' => $light(2, 4)]));
        // Unused channels belong to the other.
        self::assertSame(
            [[], [['a', 'b', 1]]],
            array_slice($map(['a' => $light(1, 1, 'R--'), 'b' => $light(1, 1, '-GB')]), 0, 2),
        );
        self::assertSame(
            [[['a', 'b', 1, 2, 10]], []],
            array_slice($map(['a' => $light(1, 1, 'RG-'), 'b' => $light(1, 1, '-GB')]), 0, 2),
        );
        self::assertSame([[], [], []], $map([]));
        // As every pair of slots says it, of lights put anywhere.
        mt_srand(9);
        for ($i = 0; $i < 200; $i++) {
            $lights = [];
            foreach (range('a', 'f') as $id) {
                $lights[$id] = $light(
                    mt_rand(1, 3),
                    mt_rand(1, 512),
                    ['RGB', 'R-B', '--W', 'D'][mt_rand(0, 3)],
                    mt_rand(1, 60),
                );
            }
            $slots = [];
            foreach ($lights as $id => [$addressing, , $channels]) {
                foreach ($addressing->starts as $start) {
                    foreach ($channels as $k => $channel) {
                        $channel->isUnused() || ($slots[512 * $addressing->universe + $start + $k][] = $id);
                    }
                }
            }
            $pairs = [];
            foreach ($slots as $at => $ids) {
                foreach (array_slice($ids, 1) as $other) {
                    $pairs["$ids[0] $other"] = ($pairs["$ids[0] $other"] ?? 0) + 1;
                }
            }
            $found = array_column(
                array_map(static fn (array $c): array => ["$c[0] $c[1]", $c[4]], SlotMap::of($lights)->conflicts),
                1,
                0,
            );
            ksort($pairs);
            ksort($found);
            self::assertSame($pairs, $found);
        }
    }

    public function test_universes_are_told_as_protocols_count_them(): void
    {
        self::assertSame(
            ['Art-Net 0 (0:0:0)', 'Art-Net 273 (1:1:1)', 'Art-Net 32767 (127:15:15)'],
            array_map(static fn (int $u): string => Universes::inWords('artnet', $u), [1, 274, 32_768]),
        );
        self::assertSame(['sACN 1', 'DDP byte 512'], [Universes::inWords('sacn', 1), Universes::inWords('ddp', 2)]);
    }

    /** @param  array<float>  $expected */
    private static function near(array $expected, array $found, float $by = 1e-9): void
    {
        self::assertEqualsWithDelta($expected, $found, $by);
    }

    public function test_whites_take_the_common_minimum(): void
    {
        $of = static fn (string $channels, float $share = 1): EmitterMix => EmitterMix::of(
            FixtureChannel::list('channels', $channels, 32),
            'minimum',
            $share,
        );
        self::near([0.75, 0.25, 0.0, 0.25], $of('RGBW')->levels(1, 0.5, 0.25));
        self::near([0.875, 0.375, 0.125, 0.125], $of('RGBW', 0.5)->levels(1, 0.5, 0.25));
        self::near([1, 0.5, 0.25, 0], $of('RGBW', 0)->levels(1, 0.5, 0.25));
        // In any order, with what is not light.
        self::near(
            [0.25, 1, 0, 100 / 255, 0.75, 0, 0.25],
            $of('white, dimmer, unused, fixed 100, red, blue, green')->levels(1, 0.5, 0.25),
        );
        self::near([0, 0, 100 / 255], $of('dimmer, white, fixed 100')->levels(0, 0, 0));
        // Of two whites each gives all of it, or both together what one would.
        self::near([0.5, 0.0, 0.0, 0.5, 0.5], $of('red, green, blue, white 3200, white 6500')->levels(1, 0.5, 0.5));
        self::near(
            [0.5, 0.0, 0.0, 0.25, 0.25],
            EmitterMix::of(
                FixtureChannel::list('channels', 'red, green, blue, white 3200, white 6500', 32),
                output: 'constant',
            )->levels(1, 0.5, 0.5),
        );
        self::near([0, 0, 0, 0], $of('RGBW')->levels(-1, 0, 0));
        self::near([0, 0, 0, 1], $of('RGBW')->levels(2, 2, 2));
        // Amber (1, ½, 0) of what whites leave: 0.5 of red 0.75 and green 0.25.
        self::near([0.25, 0, 0, 0.25, 0.5], $of('RGBWA')->levels(1, 0.5, 0.25));
        // Balance of a light whose red is too strong.
        self::near(
            [0.5, 0.5, 0.5],
            EmitterMix::of(FixtureChannel::list('channels', 'RGB', 32), gains: [0.5, 1.0, 1.0])->levels(1, 0.5, 0.5),
        );
    }

    public function test_a_white_takes_by_its_white_point(): void
    {
        // Illuminant A is 2,856 K: chromaticity 0.4476, 0.4074, linear BT.709 of X, Y, Z = 1.0985, 1, 0.3559
        // (published tables).
        $a = EmitterMix::planckian(2856);
        $rgb = [
            3.2404542 * 1.0985 - 1.5371385 - 0.4985314 * 0.3559,
            -0.969266 * 1.0985 + 1.8760108 + 0.041556 * 0.3559,
            0.0556434 * 1.0985 - 0.2040259 + 1.0572252 * 0.3559,
        ];
        self::near([1.0, $rgb[1] / $rgb[0], $rgb[2] / $rgb[0]], $a, 0.005);
        // Near D65 all are alike; above it blue leads, and never is one below 0.
        self::near([1, 1, 1], EmitterMix::planckian(6500), 0.06);
        self::near([1.0], [EmitterMix::planckian(10_000)[2]]);
        self::assertGreaterThanOrEqual(0.0, min(EmitterMix::planckian(1000)));
        $mix = EmitterMix::of(FixtureChannel::list('channels', 'red, green, blue, white 2856', 32), 'white point');
        // A wanted light of that very colour is all white; twice as much blue leaves that blue.
        self::near([0, 0, 0, 0.8], $mix->levels(0.8, 0.8 * $a[1], 0.8 * $a[2]));
        $levels = $mix->levels(0.4, 0.4 * $a[1], 0.8 * $a[2]);
        self::near([0, 0, 0.4 * $a[2], 0.4], $levels);
        // Whatever is wanted, what is given adds up to it.
        foreach ([[0.2, 0.9, 0.4], [1, 1, 1], [1, 0, 0], [0.01, 0.5, 1]] as [$r, $g, $b]) {
            [$red, $green, $blue, $white] = $mix->levels($r, $g, $b);
            self::near([$r, $g, $b], [$red + $white * $a[0], $green + $white * $a[1], $blue + $white * $a[2]]);
        }
    }

    public function test_two_whites_are_mixed_by_their_temperature(): void
    {
        $channels = FixtureChannel::list('channels', 'white 2700, white 6500, red, green, blue', 32);
        [$warm, $cold] = [EmitterMix::planckian(2700), EmitterMix::planckian(6500)];
        $at = static fn (float $kelvin): array => EmitterMix::of(
            $channels,
            'white point',
            1,
            $kelvin,
            output: 'constant',
        )->levels(0.5, 0.5, 0.5);
        self::near([0, 1], [$at(6500)[0], $at(6500)[1] / ($at(6500)[0] + $at(6500)[1])]);
        self::near([0], [$at(2700)[1]]);
        self::near([0], [$at(1800)[1]], 1e-9);
        foreach ([3000, 3500, 4200, 5000, 6000] as $kelvin) {
            [$w, $c] = $at($kelvin);
            $rgb = array_map(static fn (int $i): float => $w * $warm[$i] + $c * $cold[$i], [0, 1, 2]);
            // McCamy's formula of the chromaticity, of another author than ours.
            [$X, $Y, $Z] = [
                0.4124564 * $rgb[0] + 0.3575761 * $rgb[1] + 0.1804375 * $rgb[2],
                0.2126729 * $rgb[0] + 0.7151522 * $rgb[1] + 0.072175 * $rgb[2],
                0.0193339 * $rgb[0] + 0.119192 * $rgb[1] + 0.9503041 * $rgb[2],
            ];
            $n = ($X / ($X + $Y + $Z) - 0.332) / (0.1858 - $Y / ($X + $Y + $Z));
            self::assertEqualsWithDelta(
                $kelvin,
                449 * $n ** 3 + 3525 * $n ** 2 + 6823.3 * $n + 5520.33,
                0.01 * $kelvin,
            );
        }
        // Without a temperature, the two that carry most; red, green and blue give the rest exactly.
        $most = EmitterMix::of($channels, 'white point', output: 'constant');
        foreach (
            [[1.0, 0.8, 0.6], [0.3, 0.3, 0.3], [0.9, 0.2, 0.1], [0.1, 0.2, 0.9], [0.0, 0.0, 0.0]] as [$r, $g, $b]
        ) {
            [$w, $c, $red, $green, $blue] = $most->levels($r, $g, $b);
            self::near(
                [$r, $g, $b],
                [
                    $red + $w * $warm[0] + $c * $cold[0],
                    $green + $w * $warm[1] + $c * $cold[1],
                    $blue + $w * $warm[2] + $c * $cold[2],
                ],
                1e-7,
            );
            // A search by thousandths finds nothing better.
            $best = 0.0;
            for ($i = 0; $i <= 200; $i++) {
                $x = $i / 200;
                $room = min(
                    ($r - $x * $warm[0]) / $cold[0],
                    ($g - $x * $warm[1]) / $cold[1],
                    ($b - $x * $warm[2]) / $cold[2],
                    1,
                );
                $best = $room >= 0 ? max($best, $x + $room) : $best;
            }
            self::assertGreaterThanOrEqual($best - 1e-9, $w + $c);
        }
        $this->expectException(InvalidValue::class);
        EmitterMix::of($channels, 'by eye');
    }

    public function test_full_white_is_all_whites_at_full_and_a_temperature_is_heeded_by_either_way(): void
    {
        $levels = static fn (
            string $channels,
            string $by = 'minimum',
            float $kelvin = 0,
            string $output = 'brightest',
            float $light = 1.0,
            float $share = 1.0,
        ): array => EmitterMix::of(
            FixtureChannel::list('channels', $channels, 32),
            $by,
            $share,
            $kelvin,
            output: $output,
        )->levels($light, $light, $light);
        $two = 'red, green, blue, white 3200, white 5600';
        foreach (['minimum', 'white point'] as $by) {
            self::near([1, 1], array_slice($levels($two, $by), 3), 1e-9);
            // Of the temperature of one white that one alone, whichever way whites are found, and as bright.
            self::near([1, 0], array_slice($levels($two, $by, 3200), 3), 1e-6);
            self::near([0, 1], array_slice($levels($two, $by, 5600), 3), 1e-6);
            // Between them the stronger is at full; in constant output both are as one, in the same relation.
            $bright = array_slice($levels($two, $by, 4200), 3);
            $constant = array_slice($levels($two, $by, 4200, 'constant'), 3);
            self::near([1.0], [max($bright)]);
            self::near([$bright[0] / $bright[1]], [$constant[0] / $constant[1]], 1e-9);
            $by === 'minimum' && self::near([1.0], [array_sum($constant)]);
            // Half the light is half of each.
            self::near(
                array_map(static fn (float $one): float => $one / 2, $bright),
                array_slice($levels($two, $by, 4200, light: 0.5), 3),
                1e-9,
            );
        }
        self::near([0.5, 0.5], array_slice($levels($two, output: 'constant'), 3));
        // By the minimum, red, green and blue rest at full white; half by whites, they give the other half.
        self::near([0, 0, 0, 1, 1], $levels($two));
        self::near([0.5, 0.5, 0.5, 0.5, 0.5], $levels($two, share: 0.5));
        // A fixture of only whites, of one white, of three; five and six emitters.
        self::near([1, 1], $levels('white 2700, white 6500'));
        self::near([0.25, 0.25], $levels('white 2700, white 6500', light: 0.25));
        self::near([1], $levels('white'));
        self::near([1], $levels('white', 'white point', output: 'constant'), 0.1);
        self::near([1, 1, 1], $levels('white 2700, white 4000, white 6500'));
        self::near([1 / 3, 1 / 3, 1 / 3], $levels('white 2700, white 4000, white 6500', output: 'constant'));
        self::near([0, 0, 0, 1, 0], $levels('RGBWA'));
        self::near([0, 0, 0, 1, 1, 0], $levels('red, green, blue, white 3200, white 5600, amber'));
        self::near([0, 0, 0, 1, 0, 0], $levels('red, green, blue, white, amber, uv'));
        // Two alike, by a temperature: there is nothing to mix.
        self::near([1, 1], $levels('white 4000, white 4000', 'white point', 3000));
        // One white gives the same either way.
        self::near($levels('RGBW', 'white point', 3000), $levels('RGBW', 'white point', 3000, 'constant'));
        // In bytes as in figures.
        $patch = LightPatch::fromRow(['surface' => 's', 'kelvin' => 3200]);
        self::near([0, 0, 0, 1, 0], $patch->mix(FixtureChannel::list('channels', $two, 32), 1)->levels(1, 1, 1), 1e-6);
        $this->expectException(InvalidValue::class);
        $levels($two, output: 'loudest');
    }

    public function test_light_becomes_bytes(): void
    {
        $plain = new SlotEncoder(8);
        self::assertSame(
            ["\x00", "\x80", "\xFF"],
            array_map(static fn (float $v): string => $plain->bytes($plain->value($v)), [0.0, 0.5, 1.0]),
        );
        $fine = new SlotEncoder(16);
        self::assertSame(
            ["\x00\x00", "\x80\x00", "\xFF\xFF", "\x00\x01"],
            array_map(static fn (float $v): string => $fine->bytes($v), [0.0, 0.5, 1.0, 1 / 65_535]),
        );
        // A light of gamma 2 that is dark below a tenth: a quarter of the light is half of the rest.
        $curved = new SlotEncoder(8, 2, 0.1);
        self::assertEqualsWithDelta(
            [0.0, 0.1 + 0.9 * 0.5, 1.0],
            [$curved->value(0), $curved->value(0.25), $curved->value(3)],
            1e-12,
        );
        // Dithered, the mean of four frames is the value within a quarter of a step, and the ends stand still.
        $dithered = new SlotEncoder(8, dithered: true);
        foreach ([0.0, 0.1, 0.3334, 0.5, 0.777, 1.0] as $v) {
            foreach ([0, 1, 2, 3] as $pixel) {
                $sum = array_sum(
                    array_map(static fn (int $frame): int => ord($dithered->bytes($v, $frame, $pixel)), range(0, 3)),
                );
                self::assertEqualsWithDelta(255 * $v, $sum / 4, 0.126);
            }
        }
        self::assertSame([0, 255], [ord($dithered->bytes(0.0, 3)), ord($dithered->bytes(1.0, 0))]);
    }
}
