<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Output\Output;
use Core\Output\RasterCheck;
use Core\Output\Rect;
use Core\Output\Region;
use Core\Routing\Fitting;
use Core\Routing\Placement;
use Core\Units\InvalidValue;
use Core\Units\Pixels;
use PHPUnit\Framework\TestCase;

final class RoutingTest extends TestCase
{
    public function test_cover_fills_the_pane_and_cuts_evenly(): void
    {
        // 1920 × 1080 onto 2304 × 960: scale 1.2, so 2304 × 1296, of which 336 lines are cut, half above.
        $p = Placement::of(1920, 1080, 1, 2304, 960, Fitting::Cover);
        self::assertEqualsWithDelta([0, -168, 2304, 1296], $p->rectangle, 1e-9);
        self::assertEqualsWithDelta([0, 0, 2304, 960], $p->seen, 1e-9);
        self::assertEqualsWithDelta([0, 168 / 1296, 1, 1 - 168 / 1296], $p->window, 1e-12);
        self::assertSame(1.0, round($p->squash, 12));
        self::assertEqualsWithDelta(336 / 1296, $p->hidden(), 1e-12);
    }

    public function test_contain_shows_all_and_anchors_what_is_left(): void
    {
        $p = Placement::of(1000, 1000, 1, 1600, 800, Fitting::Contain, 1, 0.5);
        self::assertEqualsWithDelta([800, 0, 800, 800], $p->rectangle, 1e-9);
        self::assertEqualsWithDelta([0, 0, 1, 1], $p->window, 1e-12);
    }

    public function test_stretch_squashes(): void
    {
        $p = Placement::of(1000, 1000, 1, 1600, 800, Fitting::Stretch);
        self::assertEqualsWithDelta([0, 0, 1600, 800], $p->rectangle, 1e-9);
        self::assertEqualsWithDelta(2.0, $p->squash, 1e-12);
    }

    public function test_one_to_one_lies_on_whole_pixels(): void
    {
        $p = Placement::of(101, 51, 1, 200, 100, Fitting::OneToOne);
        self::assertEqualsWithDelta([49, 24, 101, 51], $p->rectangle, 0);
        $larger = Placement::of(400, 100, 1, 200, 100, Fitting::OneToOne, 0, 0);
        self::assertEqualsWithDelta([0, 0, 0.5, 1], $larger->window, 1e-12);
    }

    public function test_a_share_of_the_room_that_is_whole_is_not_rounded_down(): void
    {
        // 29 % of 100 px: 28.999999999999996 as floats have it.
        for ($n = 0; $n <= 100; $n++) {
            foreach ([100, 1000, 300] as $room) {
                $p = Placement::of(100, 100, 1, 100 + $room, 100 + 2 * $room, Fitting::OneToOne, $n / 100, $n / 100);
                self::assertSame(
                    [(float) intdiv($room * $n, 100), (float) intdiv(2 * $room * $n, 100)],
                    [$p->rectangle[0], $p->rectangle[1]],
                    "$n % of $room",
                );
            }
        }
        self::assertSame(
            [29, 28, 29, 30, 29, 30, -3, -2],
            [
                Pixels::floor(100 * 0.29),
                Pixels::floor(28.9999),
                Pixels::ceil(29.000000000004),
                Pixels::ceil(29.001),
                Pixels::nearest(28.5),
                Pixels::nearest(29.4999999999999),
                Pixels::floor(-2.5),
                Pixels::ceil(-2.5),
            ],
        );
    }

    public function test_pixel_aspect_widens_the_content_before_it_is_fitted(): void
    {
        // Anamorphic 720 × 576 at 64:45 is 1024 × 576, exactly 16:9.
        $p = Placement::of(720, 576, 64 / 45, 1920, 1080, Fitting::Cover);
        self::assertEqualsWithDelta([0, 0, 1920, 1080], $p->rectangle, 1e-9);
        self::assertEqualsWithDelta(1.0, $p->squash, 1e-12);
    }

    public function test_what_is_fitted_into_a_part_of_a_pane_lies_there(): void
    {
        $p = Placement::of(1000, 1000, 1, 1600, 800, Fitting::Contain, 1, 0.5)->moved(100, 50);
        self::assertEqualsWithDelta([900, 50, 800, 800], $p->rectangle, 1e-9);
        self::assertEqualsWithDelta([900, 50, 800, 800], $p->seen, 1e-9);
        self::assertEqualsWithDelta([1300, 450], $p->matrix()->point(0.5, 0.5), 1e-9);
        self::assertSame(0.0, $p->hidden());
    }

    public function test_regions_outside_and_on_one_another_are_found(): void
    {
        $output = Output::of('Output 1', 1920, 1080, 60);
        $region = static fn (int $x, int $y, int $w, int $h): Region => Region::of('s', Rect::of(0, 0, $w, $h), $x, $y);
        $found = RasterCheck::of($output, [
            'a' => $region(0, 0, 960, 540),
            'b' => $region(960, 0, 960, 540),
            'c' => $region(900, 500, 200, 100),
            'd' => $region(1800, 1000, 121, 80),
        ]);
        self::assertSame(['d'], $found['outside']);
        $pairs = array_map(
            static fn (array $o): string => "$o[0]$o[1] {$o[2]->x},{$o[2]->y} {$o[2]->width}×{$o[2]->height}",
            $found['overlaps'],
        );
        sort($pairs);
        self::assertSame(['ac 900,500 60×40', 'cb 960,500 140×40'], $pairs);
    }

    public function test_an_output_of_more_than_16384_pixels_a_side_is_refused(): void
    {
        $this->expectException(InvalidValue::class);
        $this->expectExceptionMessage('width must be between 1 and 16384 px; it was 16385.');
        Output::of('Too wide', 16_385, 100, 60);
    }
}
