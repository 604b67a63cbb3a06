<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Geometry\Mat3;
use Core\Show\Mirror;
use Core\Show\ResultCache;
use PHPUnit\Framework\TestCase;

/** Matrices of the plane, what is mirrored, and what is remembered. */
final class MatrixTest extends TestCase
{
    private static function near(array $expected, array $found, string $what = ''): void
    {
        self::assertEqualsWithDelta($expected, $found, 1e-9, $what);
    }

    public function test_a_rectangle_takes_the_corners_of_the_unit_square(): void
    {
        $m = Mat3::rectangle(10, 20, 300, 100);
        self::assertSame(
            [[10.0, 20.0], [310.0, 20.0], [10.0, 120.0], [160.0, 70.0]],
            [$m->point(0, 0), $m->point(1, 0), $m->point(0, 1), $m->point(0.5, 0.5)],
        );
        self::near([0.5, 0.5], $m->inverse()?->point(160, 70) ?? []);
        self::assertNull(Mat3::rectangle(10, 20, 0, 100)->inverse(), 'a rectangle without a width has no way back');
    }

    public function test_turning_about_a_point_leaves_it_and_goes_from_x_toward_y(): void
    {
        $m = Mat3::about(100, 50, 2, 90, 0, 0);
        self::assertSame([100.0, 50.0], $m->point(100, 50));
        // A step of 10 along X becomes 20 along Y; one along Y goes back along X.
        self::assertSame([[100.0, 70.0], [80.0, 50.0]], [$m->point(110, 50), $m->point(100, 60)]);
        self::near(
            [100 + 10 * cos(M_PI / 6) + 7, 50 + 10 * sin(M_PI / 6) - 3],
            Mat3::about(100, 50, 1, 30, 7, -3)->point(110, 50),
        );
    }

    public function test_quarter_turns_are_exact_however_often_round(): void
    {
        foreach ([0, 90, 180, 270] as $degrees) {
            foreach ([-720, -360, 360, 3600] as $round) {
                self::assertSame(
                    Mat3::about(3, 5, 1.5, $degrees, 1, 2)->m,
                    Mat3::about(3, 5, 1.5, $degrees + $round, 1, 2)->m,
                    "$degrees and $round",
                );
            }
        }
        self::assertSame([-1.0, 0.0], Mat3::about(0, 0, 1, -180, 0, 0)->point(1, 0));
        self::assertSame(
            [0.0, -1.0],
            array_map(static fn (float $v): float => $v + 0.0, Mat3::about(0, 0, 1, -90, 0, 0)->point(1, 0)),
        );
    }

    public function test_a_product_does_the_right_one_first_and_an_inverse_undoes(): void
    {
        mt_srand(11);
        $number = static fn (): float => mt_rand(-1000, 1000) / 100;
        for ($n = 0; $n < 200; $n++) {
            $a = Mat3::about($number(), $number(), 0.1 + abs($number()), $number() * 36, $number(), $number());
            $b = Mat3::of([
                $number(),
                $number(),
                $number(),
                $number(),
                $number(),
                $number(),
                $number() / 1e4,
                $number() / 1e4,
                1.0,
            ]);
            [$x, $y] = [$number(), $number()];
            self::near($a->point(...$b->point($x, $y)), $a->times($b)->point($x, $y));
            $back = $a->times($b)->inverse();
            if ($back !== null && abs($b->m[0] * $b->m[4] - $b->m[1] * $b->m[3]) > 1) {
                self::assertEqualsWithDelta([$x, $y], $back->point(...$a->times($b)->point($x, $y)), 1e-5);
            }
        }
        self::assertSame([7.5, -2.0], Mat3::identity()->point(7.5, -2));
    }

    /** The perspective of known points: the square (0,0)–(1,1) onto a trapezium whose top is half as wide. */
    public function test_a_perspective_divides(): void
    {
        // By hand: (0,0)→(0,0), (1,0)→(4,0), (0,1)→(1,2), (1,1)→(3,2) is w = 1 + y, x' = 4x + 2y, y' = 4y.
        $m = Mat3::of([4.0, 2.0, 0.0, 0.0, 4.0, 0.0, 0.0, 1.0, 1.0]);
        self::assertSame(
            [[0.0, 0.0], [4.0, 0.0], [1.0, 2.0], [3.0, 2.0]],
            [$m->point(0, 0), $m->point(1, 0), $m->point(0, 1), $m->point(1, 1)],
        );
        self::near([0.5, 0.5], $m->inverse()?->point(...$m->point(0.5, 0.5)) ?? []);
    }

    public function test_a_mirrored_thing_has_its_own_the_other_way_round(): void
    {
        self::assertSame(
            ['cells' => [['b', 'a', null], ['c', null, null]], 'seams' => [2, 1]],
            Mirror::fields('surface', [
                'kind' => 'wall',
                'cells' => [[null, 'a', 'b'], [null, null, 'c']],
                'seams' => [1, 2],
            ]),
        );
        self::assertSame(
            [['points' => [0, 0, -3, 0, -3, 2], 'id' => 'q']],
            Mirror::fields('surface', [
                'kind' => 'relief',
                'reliefs' => [['id' => 'q', 'points' => [0, 0, 3, 0, 3, 2]]],
            ])['reliefs'],
        );
        self::assertSame(
            'right front left',
            Mirror::fields('surface', ['kind' => 'box', 'shape' => ['sides' => 'left front right', 'depth' => 2]])[
                'shape'
            ]['sides'],
        );
        self::assertSame(
            ['shiftX' => -0.2, 'throw' => 1.5],
            Mirror::fields('projector', ['lens' => ['throw' => 1.5, 'shiftX' => 0.2]])['lens'],
        );
        foreach (
            [
                ['surface', ['kind' => 'cylinder']],
                ['surface', ['kind' => 'box', 'shape' => []]],
                ['projector', ['lens' => []]],
                ['camera', []],
                ['rig', []],
            ] as [$kind, $row]
        ) {
            self::assertSame([], Mirror::fields($kind, $row));
        }
    }

    public function test_twice_mirrored_is_what_it_was(): void
    {
        foreach (
            [
                ['surface', ['kind' => 'wall', 'cells' => [['a', 'b'], [null, 'c']], 'seams' => [1, 4]]],
                ['surface', ['kind' => 'box', 'shape' => ['sides' => 'left top']]],
                ['projector', ['lens' => ['shiftX' => 0.5, 'shiftY' => 0.1]]],
            ] as [$kind, $row]
        ) {
            self::assertEquals($row, Mirror::fields($kind, Mirror::fields($kind, $row) + $row) + $row);
        }
    }

    public function test_what_was_made_of_the_same_comes_out_again_and_the_rest_is_forgotten(): void
    {
        $cache = new ResultCache();
        $thing = new \stdClass();
        $make = static fn (): object => new \stdClass();
        $first = $cache->get('a', [$thing, 1], $make);
        self::assertSame($first, $cache->get('a', [$thing, 1], $make));
        self::assertNotSame($first, $cache->get('a', [$thing, 2], $make), 'another number');
        $second = $cache->get('a', [$thing, 2], $make);
        self::assertNotSame($second, $cache->get('a', [new \stdClass(), 2], $make), 'another object that is equal');
        self::assertNotSame($second, $cache->get('b', [$thing, 2], $make), 'another name');
        self::assertSame(4, $cache->made);
        $kept = $cache->get('a', [$thing, 3], $make);
        $cache->end();
        self::assertSame($kept, $cache->get('a', [$thing, 3], $make), 'asked for in the round that ended');
        $cache->end();
        $cache->end();
        self::assertNotSame($kept, $cache->get('a', [$thing, 3], $make), 'nobody asked for a whole round');
        self::assertNull($cache->get('none', [], static fn () => null));
    }
}
