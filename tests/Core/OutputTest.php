<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Geometry\Polygon;
use Core\Output\BlendMap;
use Core\Output\Connector;
use Core\Output\EdgeBlend;
use Core\Output\Mask;
use Core\Output\MaskShape;
use Core\Output\Packing;
use Core\Output\Rect;
use Core\Output\Region;
use Core\Output\VideoTiming;
use Core\Units\InvalidValue;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Timing, regions, packing and masks, against published tables and figures worked out by hand. */
final class OutputTest extends TestCase
{
    /** @return iterable<string, array{int, int, float, string, int, int, float}> */
    public static function timings(): iterable
    {
        // From the tables that CTA and VESA publish: pixels a line, lines a frame, MHz.
        yield 'CTA 1080p60' => [1920, 1080, 60, 'cta', 2200, 1125, 148.5];
        yield 'CTA 1080p59.94' => [1920, 1080, 59.94, 'cta', 2200, 1125, 148.351648];
        yield 'CTA 1080p50' => [1920, 1080, 50, 'cta', 2640, 1125, 148.5];
        yield 'CTA 2160p60' => [3840, 2160, 60, 'cta', 4400, 2250, 594.0];
        yield 'CTA 2160p25' => [3840, 2160, 25, 'cta', 5280, 2250, 297.0];
        yield 'CTA 720p60' => [1280, 720, 60, 'cta', 1650, 750, 74.25];
        yield 'CTA 720p24' => [1280, 720, 24, 'cta', 3300, 750, 59.4];
        yield 'CTA 720p48' => [1280, 720, 48, 'cta', 2500, 750, 90.0];
        yield 'CTA 1080p48' => [1920, 1080, 48, 'cta', 2750, 1125, 148.5];
        yield 'CTA 1080p47.95' => [1920, 1080, 47.95, 'cta', 2750, 1125, 148.351648];
        yield 'CTA 1080p100' => [1920, 1080, 100, 'cta', 2640, 1125, 297.0];
        yield 'CTA 2160p100' => [3840, 2160, 100, 'cta', 5280, 2250, 1188.0];
        yield 'CTA 2160p120' => [3840, 2160, 120, 'cta', 4400, 2250, 1188.0];
        yield 'CTA 2560 × 1080 24' => [2560, 1080, 24, 'cta', 3750, 1100, 99.0];
        yield 'CTA 2560 × 1080 25' => [2560, 1080, 25, 'cta', 3200, 1125, 90.0];
        yield 'CTA 2560 × 1080 30' => [2560, 1080, 30, 'cta', 3520, 1125, 118.8];
        yield 'CTA 2560 × 1080 48' => [2560, 1080, 48, 'cta', 3750, 1100, 198.0];
        yield 'CTA 2560 × 1080 50' => [2560, 1080, 50, 'cta', 3300, 1125, 185.625];
        yield 'CTA 2560 × 1080 100' => [2560, 1080, 100, 'cta', 2970, 1250, 371.25];
        yield 'CTA 2560 × 1080 120' => [2560, 1080, 120, 'cta', 3300, 1250, 495.0];
        yield 'CTA 1680p60' => [1680, 720, 60, 'cta', 2200, 750, 99.0];
        yield 'CTA 5120 × 2160 60' => [5120, 2160, 60, 'cta', 5500, 2250, 742.5];
        yield 'CTA 4320p60' => [7680, 4320, 60, 'cta', 9000, 4400, 2376.0];
        yield 'CTA 4320p120' => [7680, 4320, 120, 'cta', 8800, 4500, 4752.0];
        yield 'CTA 576p50' => [720, 576, 50, 'cta', 864, 625, 27.0];
        yield 'CTA 2560 × 1080 60' => [2560, 1080, 60, 'cta', 3000, 1100, 198.0];
        yield 'RB 1080p60' => [1920, 1080, 60, 'cvt-rb', 2080, 1111, 138.5];
        yield 'RB 1920 × 1200' => [1920, 1200, 60, 'cvt-rb', 2080, 1235, 154.0];
        yield 'RB 2560 × 1600' => [2560, 1600, 60, 'cvt-rb', 2720, 1646, 268.5];
        yield 'RB 1680 × 1050' => [1680, 1050, 60, 'cvt-rb', 1840, 1080, 119.0];
        yield 'RB 1400 × 1050' => [1400, 1050, 60, 'cvt-rb', 1560, 1080, 101.0];
        yield 'RB 1280 × 1024' => [1280, 1024, 60, 'cvt-rb', 1440, 1054, 91.0];
        yield 'RB2 1080p60' => [1920, 1080, 60, 'cvt-rb2', 2000, 1111, 133.32];
        yield 'RB2 1440p60' => [2560, 1440, 60, 'cvt-rb2', 2640, 1481, 234.59];
        yield 'RB2 2160p60' => [3840, 2160, 60, 'cvt-rb2', 3920, 2222, 522.614];
        yield 'auto takes CTA' => [3840, 2160, 50, 'auto', 5280, 2250, 594.0];
        yield 'auto falls back' => [1920, 1200, 60, 'auto', 2000, 1235, 148.2];
    }

    #[DataProvider('timings')]
    public function test_timing_is_as_published(
        int $width,
        int $height,
        float $refresh,
        string $rule,
        int $line,
        int $frame,
        float $megahertz,
    ): void {
        $timing = VideoTiming::of($width, $height, $refresh, $rule);
        self::assertNotNull($timing);
        self::assertSame([$line, $frame], [$timing->totalWidth, $timing->totalHeight]);
        self::assertEqualsWithDelta($megahertz, $timing->clock / 1e6, 0.000001);
        self::assertEqualsWithDelta($refresh, $timing->refresh, 0.12);
    }

    public function test_what_a_rule_does_not_have_has_no_timing(): void
    {
        self::assertNull(VideoTiming::of(1921, 1080, 60, 'cta'));
        self::assertNull(VideoTiming::of(1920, 1080, 61, 'cta'));
        self::assertNull(VideoTiming::of(1920, 1080, 49.95, 'cta'), 'only multiples of 6 Hz are sent at 1000/1001 too');
        self::assertSame(
            [16, 97, null],
            array_map(static fn (array $of): ?int => VideoTiming::of(...$of)?->vic, [
                [1920, 1080, 60.0],
                [3840, 2160, 59.94],
                [1920, 1200, 60.0],
            ]),
        );
        self::assertNull(VideoTiming::of(1920, 1080, 2200, 'cvt-rb2'), 'a frame shorter than the blanking');
        self::assertNull(VideoTiming::of(7, 100, 60, 'cvt-rb'), 'less than a cell of 8 px');
        self::assertNotNull(VideoTiming::of(1, 1, 60));
    }

    public function test_links_carry_what_their_standards_say(): void
    {
        $rate = static fn (Connector $c, int $w, int $h, float $f, int $depth = 8): float => $c->rate(
            VideoTiming::of($w, $h, $f) ?? throw new \LogicException(),
            $depth,
        );
        // 2160p60 is exactly 12G-SDI and within HDMI 2.0 at 8 bits, beyond it at 10; 2160p30 fits HDMI 1.4.
        self::assertSame(11.88e9, $rate(Connector::Sdi12, 3840, 2160, 60));
        self::assertSame(Connector::Sdi12->limit(), $rate(Connector::Sdi12, 3840, 2160, 60));
        self::assertSame(Connector::Sdi3->limit(), $rate(Connector::Sdi3, 1920, 1080, 60));
        self::assertLessThanOrEqual(Connector::Hdmi20->limit(), $rate(Connector::Hdmi20, 3840, 2160, 60));
        self::assertGreaterThan(Connector::Hdmi20->limit(), $rate(Connector::Hdmi20, 3840, 2160, 60, 10));
        self::assertGreaterThan(Connector::Hdmi14->limit(), $rate(Connector::Hdmi14, 3840, 2160, 60));
        self::assertLessThanOrEqual(Connector::Hdmi14->limit(), $rate(Connector::Hdmi14, 3840, 2160, 30));
        self::assertEqualsWithDelta(42.6667e9, Connector::Hdmi21->limit(), 1e5);
        self::assertSame(17.28e9, Connector::DisplayPort12->limit());
        self::assertSame(25.92e9, Connector::DisplayPort14->limit());
        self::assertSame([10, 8], [Connector::Sdi6->deepest(), Connector::DviDual->deepest()]);
        self::assertSame(count(Connector::cases()), count(array_unique(Connector::names())));
    }

    public function test_a_region_is_turned_mirrored_and_scaled_onto_its_place(): void
    {
        $plain = Region::of('s', Rect::of(10, 20, 100, 50), 300, 400);
        self::assertTrue($plain->isPlain());
        self::assertEqualsWithDelta([300.0, 400.0], $plain->lands(10, 20), 1e-9);
        self::assertEqualsWithDelta([350.5, 420.5], $plain->lands(60.5, 40.5), 1e-9);
        // A quarter clockwise: the left edge becomes the top one, read from the bottom up.
        $turned = Region::of('s', Rect::of(10, 20, 100, 50), 300, 400, turn: 90);
        self::assertSame([50, 100], [$turned->place->width, $turned->place->height]);
        self::assertEqualsWithDelta([350.0, 400.0], $turned->lands(10, 20), 1e-9);
        self::assertEqualsWithDelta([300.0, 400.0], $turned->lands(10, 70), 1e-9);
        self::assertEqualsWithDelta([350.0, 500.0], $turned->lands(110, 20), 1e-9);
        self::assertTrue($turned->isOneToOne());
        self::assertFalse($turned->isPlain());
        $around = Region::of('s', Rect::of(0, 0, 100, 50), 0, 0, turn: 270);
        self::assertEqualsWithDelta([0.0, 100.0], $around->lands(0, 0), 1e-9);
        self::assertEqualsWithDelta([50.0, 0.0], $around->lands(100, 50), 1e-9);
        $half = Region::of('s', Rect::of(0, 0, 100, 50), 0, 0, turn: 180, mirror: true);
        self::assertEqualsWithDelta([0.0, 50.0], $half->lands(0, 0), 1e-9);
        // Mirrored before it is turned.
        $both = Region::of('s', Rect::of(0, 0, 100, 50), 0, 0, turn: 90, mirror: true);
        self::assertEqualsWithDelta([50.0, 100.0], $both->lands(0, 0), 1e-9);
        $large = Region::of('s', Rect::of(0, 0, 100, 50), 5, 6, 200, 150);
        self::assertFalse($large->isOneToOne());
        self::assertEqualsWithDelta([105.0, 81.0], $large->lands(50, 25), 1e-9);
    }

    public function test_a_pinned_region_is_in_perspective(): void
    {
        // Where the diagonals of the place cross, those of the pinned shape cross.
        $region = Region::of(
            's',
            Rect::of(0, 0, 200, 100),
            100,
            100,
            pin: [[40.0, 0.0], [-40.0, 0.0], [0.0, 0.0], [0.0, 0.0]],
        );
        self::assertEqualsWithDelta([140.0, 100.0], $region->lands(0, 0), 1e-9);
        self::assertEqualsWithDelta([260.0, 100.0], $region->lands(200, 0), 1e-9);
        self::assertEqualsWithDelta([100.0, 200.0], $region->lands(0, 100), 1e-9);
        // From (140, 100) to (300, 200), and from (260, 100) to (100, 200): they meet at x = 200, y = 137.5.
        self::assertEqualsWithDelta([200.0, 137.5], $region->lands(100, 50), 1e-9);
        self::assertTrue($region->isWarped());
        self::assertTrue(
            Region::of(
                's',
                Rect::of(0, 0, 2, 2),
                0,
                0,
                pin: [[0.0, 0.0], [0.0, 0.0], [0.0, 0.0], [0.0, 0.0]],
            )->isPlain(),
            'pinned by nothing',
        );
    }

    /** @return iterable<string, array{\Closure(): mixed}> */
    public static function refused(): iterable
    {
        $source = Rect::of(0, 0, 100, 50);
        yield 'a turn by 45' => [static fn () => Region::of('s', $source, 0, 0, turn: 45)];
        yield 'corners in another order' => [
            static fn () => Region::of('s', $source, 0, 0, pin: [[200.0, 0.0], [-200.0, 0.0], [0.0, 0.0], [0.0, 0.0]]),
        ];
        yield 'a corner pushed in' => [
            static fn () => Region::of('s', $source, 0, 0, pin: [[80.0, 40.0], [0.0, 0.0], [0.0, 0.0], [0.0, 0.0]]),
        ];
        yield 'a polygon beyond the source' => [
            static fn () => Region::of('s', $source, 0, 0, polygon: [[0.0, 0.0], [101.0, 0.0], [50.0, 50.0]]),
        ];
        yield 'a polygon that crosses itself' => [
            static fn () => Region::of(
                's',
                $source,
                0,
                0,
                polygon: [[0.0, 0.0], [100.0, 50.0], [100.0, 0.0], [0.0, 50.0]],
            ),
        ];
        yield 'a polygon of no area' => [
            static fn () => Region::of('s', $source, 0, 0, polygon: [[0.0, 0.0], [50.0, 0.0], [100.0, 0.0]]),
        ];
        yield 'two corners' => [static fn () => Region::of('s', $source, 0, 0, polygon: [[0.0, 0.0], [50.0, 10.0]])];
        yield 'no hash' => [static fn () => Region::of('s', $source, 0, 0, model: 'abc')];
        yield 'a mask of two nodes' => [static fn () => Mask::of('m', array_fill(0, 12, 1.0))];
        yield 'a mask of odd numbers' => [static fn () => Mask::of('m', array_fill(0, 19, 1.0))];
        yield 'a feather below none' => [static fn () => Mask::of('m', array_fill(0, 18, 1.0), -1)];
        yield 'a curve too flat' => [static fn () => EdgeBlend::of(['curve' => 0.1])];
    }

    #[DataProvider('refused')]
    public function test_what_can_not_be_is_refused(\Closure $make): void
    {
        $this->expectException(InvalidValue::class);
        $make();
    }

    public function test_two_edges_that_overlap_by_their_width_sum_to_all_the_light(): void
    {
        foreach ([0.5, 1.0, 2.0, 3.7] as $curve) {
            for ($d = 0; $d <= 120; $d += 3) {
                self::assertEqualsWithDelta(
                    1.0,
                    EdgeBlend::rise($d, 120, $curve) + EdgeBlend::rise(120 - $d, 120, $curve),
                    1e-12,
                );
            }
            self::assertSame(
                [0.0, 0.5, 1.0],
                [EdgeBlend::rise(-5, 120, $curve), EdgeBlend::rise(60, 120, $curve), EdgeBlend::rise(500, 120, $curve)],
            );
        }
        $blend = EdgeBlend::of(['left' => 100, 'bottom' => 50, 'curve' => 1]);
        self::assertEqualsWithDelta(0.25 * 0.4, $blend->share(25, 80, 400, 100), 1e-12);
        self::assertSame(1.0, $blend->share(200, 20, 400, 100));
        self::assertFalse(EdgeBlend::none()->fades());
    }

    public function test_walls_are_packed_without_ever_lying_on_one_another(): void
    {
        mt_srand(11);
        $wasted = 0.0;
        for ($set = 0; $set < 100; $set++) {
            $guard = [0, 0, 1, 4][$set % 4];
            $step = $set % 5 === 0 ? [16, 8] : [1, 1];
            $turns = $set % 2 === 1;
            [$w, $h] = [[3840, 2160], [1920, 1080]][$set % 2];
            $items = [];
            for ($i = 0, $n = mt_rand(1, 30); $i < $n; $i++) {
                $items["i$i"] = [mt_rand(16, 800), mt_rand(16, 600)];
            }
            $pinned = $set % 3 === 0 ? [[Rect::of(100, 100, 300, 200)]] : [];
            $rasters = array_fill(0, 40, [$w, $h]);
            $found = Packing::of($items, $rasters, $pinned, $turns, $guard, $step);
            self::assertSame([], $found['unplaced']);
            $on = [];
            foreach ($pinned as $k => $rects) {
                $on[$k] = $rects;
            }
            foreach ($found['places'] as $name => $place) {
                [$iw, $ih] = $place['turned'] ? [$items[$name][1], $items[$name][0]] : $items[$name];
                self::assertTrue($turns || ! $place['turned']);
                self::assertSame([0, 0], [$place['x'] % $step[0], $place['y'] % $step[1]]);
                $rect = Rect::of($place['x'], $place['y'], $iw, $ih);
                self::assertTrue(Rect::of(0, 0, $w, $h)->contains($rect));
                foreach ($on[$place['raster']] ?? [] as $other) {
                    self::assertNull(
                        Rect::of(
                            $rect->x - $guard,
                            $rect->y - $guard,
                            $rect->width + 2 * $guard,
                            $rect->height + 2 * $guard,
                        )->overlap($other),
                    );
                }
                $on[$place['raster']][] = $rect;
            }
            $area =
                array_sum(array_map(static fn (array $i): int => $i[0] * $i[1], $items)) + ($pinned === [] ? 0 : 60_000);
            $least = (int) ceil($area / ($w * $h));
            self::assertLessThanOrEqual(2 * $least, count($on), 'never twice as many rasters as the area asks for');
            $wasted += count($on) - $least;
            self::assertEqualsWithDelta($area, array_sum($found['used']) * $w * $h, 1e-3);
        }
        self::assertLessThanOrEqual(45, $wasted, 'rasters beyond the lower bound by area, in 100 sets');
    }

    public function test_what_fits_exactly_is_packed_and_what_does_not_is_named(): void
    {
        // Four quarters, and guards that need a pixel more than there is.
        $quarters = array_fill_keys(['a', 'b', 'c', 'd'], [960, 540]);
        self::assertSame([], Packing::of($quarters, [[1920, 1080]])['unplaced']);
        self::assertSame([1.0], Packing::of($quarters, [[1920, 1080]])['used']);
        self::assertCount(3, Packing::of($quarters, [[1920, 1080]], guard: 1)['unplaced']);
        self::assertSame([], Packing::of($quarters, [[1921, 1081]], guard: 1)['unplaced']);
        self::assertSame(
            ['tall'],
            Packing::of(['tall' => [500, 1500], 'flat' => [10, 10]], [[1920, 1080]])['unplaced'],
        );
        self::assertSame([], Packing::of(['tall' => [500, 1500]], [[1920, 1080]], turns: true)['unplaced']);
        self::assertSame([], Packing::of([], [[1920, 1080]])['places']);
        self::assertSame(['a'], Packing::of(['a' => [1, 1]], [])['unplaced']);
        self::assertSame(
            ['a'],
            Packing::of(['a' => [10, 10]], [[100, 100]], [[Rect::of(0, 0, 100, 100)]])['unplaced'],
            'a raster that is full',
        );
    }

    public function test_masks_let_light_through_by_their_shape(): void
    {
        $square = static fn (float $l, float $t, float $r, float $b): array => [
            $l,
            $t,
            0.0,
            0.0,
            0.0,
            0.0,
            $r,
            $t,
            0.0,
            0.0,
            0.0,
            0.0,
            $r,
            $b,
            0.0,
            0.0,
            0.0,
            0.0,
            $l,
            $b,
            0.0,
            0.0,
            0.0,
            0.0,
        ];
        $mask = static fn (Mask $m): MaskShape => MaskShape::of($m, [100, 100]) ?? self::fail('It has a line.');
        $one = Mask::of('Window', $square(10, 10, 50, 30), 8);
        self::assertSame(1.0, MaskShape::light([$mask($one)], 30, 20));
        self::assertSame(0.5, MaskShape::light([$mask($one)], 10, 20), 'half on the line');
        // 2 px within, of a feather of 8: t = 3/4, 3t² − 2t³ = 27/32.
        self::assertEqualsWithDelta(27 / 32, MaskShape::light([$mask($one)], 12, 20), 1e-12);
        self::assertSame(0.0, MaskShape::light([$mask($one)], 5, 20));
        $hole = Mask::of('Door', $square(20, 15, 40, 25), 0, true);
        self::assertSame(0.0, MaskShape::light([$mask($one), $mask($hole)], 30, 20));
        self::assertSame(1.0, MaskShape::light([$mask($hole)], 100, 100));
        $other = Mask::of('Window 2', $square(60, 10, 90, 30));
        self::assertSame(
            [1.0, 1.0, 0.0],
            [
                MaskShape::light([$mask($one), $mask($other)], 30, 20),
                MaskShape::light([$mask($one), $mask($other)], 75, 20),
                MaskShape::light([$mask($one), $mask($other)], 56, 20),
            ],
        );
        self::assertSame(1.0, MaskShape::light([], 5, 5));
        // A painted one lies over the whole raster, however large that is; what is painted half white halves.
        $key = str_repeat('ab', 32);
        $kept = static fn (string $k): ?string => $k === $key
            ? (new BlendMap([0, 0, 3, 2], 3, 2, [0.0, 1.0, 0.5, 0.0, 1.0, 0.5]))->toBytes()
            : null;
        $painted =
            MaskShape::of(Mask::of('Leaves', [], 0, false, $key), [200, 100], $kept) ?? self::fail('It is kept.');
        self::assertSame(
            [0.0, 0.5, 1.0, 0.75, 0.5, 0.0],
            array_map(static fn (float $x): float => MaskShape::light([$painted], $x, 40), [
                0.0,
                50.0,
                100.0,
                150.0,
                200.0,
                201.0,
            ]),
        );
        $not = MaskShape::of(Mask::of('Leaves', [], 0, true, $key), [200, 100], $kept) ?? self::fail('It is kept.');
        self::assertSame(
            [1.0, 0.25, 0.5 * 0.5],
            [
                MaskShape::light([$not], 0, 0),
                MaskShape::light([$not], 150, 0),
                MaskShape::light([$painted, $not], 50, 0),
            ],
        );
        self::assertNull(
            MaskShape::of(Mask::of('Leaves', [], 0, false, str_repeat('cd', 32)), [200, 100], $kept),
            'its picture is gone',
        );
        foreach ([[[1.0, 2.0], $key], [[], 'no key'], [$square(0, 0, 9, 9), $key]] as [$nodes, $image]) {
            try {
                Mask::of('Both', $nodes, 0, false, $image);
                self::fail('was taken');
            } catch (InvalidValue $refused) {
                self::assertSame('image', $refused->field);
            }
        }
        // A circle of four nodes: handles of 0.5523 of the radius keep within 0.03 % of it.
        $k = 0.5522847498 * 100;
        $circle = Mask::of('Clock', [
            100.0,
            0.0,
            0.0,
            -$k,
            0.0,
            $k,
            0.0,
            100.0,
            $k,
            0.0,
            -$k,
            0.0,
            -100.0,
            0.0,
            0.0,
            $k,
            0.0,
            -$k,
            0.0,
            -100.0,
            -$k,
            0.0,
            $k,
            0.0,
        ]);
        self::assertEqualsWithDelta(
            2 * M_PI * 100 ** 2,
            abs(Polygon::doubleArea($circle->line())),
            2 * M_PI * 100 ** 2 * 0.005,
        );
        foreach ($circle->line() as [$x, $y]) {
            self::assertEqualsWithDelta(100.0, hypot($x, $y), 0.03);
        }
    }

    public function test_polygons_are_cut_into_triangles_of_the_same_area(): void
    {
        mt_srand(5);
        for ($i = 0; $i < 200; $i++) {
            $n = mt_rand(3, 24);
            $star = [];
            for ($k = 0; $k < $n; $k++) {
                [$r, $a] = [mt_rand(20, 100), (($i % 2 === 0 ? 1 : -1) * 2 * M_PI * $k) / $n];
                $star[] = [$r * cos($a), $r * sin($a)];
            }
            $area = Polygon::doubleArea($star);
            self::assertFalse(Polygon::crossesItself($star));
            $sum = 0.0;
            foreach (Polygon::triangles($star) as $t) {
                self::assertGreaterThan(0, Polygon::doubleArea($t) * $area, 'each turns as the whole does');
                $sum += Polygon::doubleArea($t);
            }
            self::assertEqualsWithDelta($area, $sum, abs($area) * 1e-9);
        }
        self::assertEqualsWithDelta(
            -5.0,
            Polygon::depth([[0.0, 0.0], [10.0, 0.0], [10.0, 10.0], [0.0, 10.0]], -3, -4),
            1e-12,
        );
        self::assertEqualsWithDelta(
            2.0,
            Polygon::depth([[0.0, 0.0], [10.0, 0.0], [10.0, 10.0], [0.0, 10.0]], 2, 5),
            1e-12,
        );
    }
}
