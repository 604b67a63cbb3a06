<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Units\InvalidValue;
use Core\Values\Curve;
use Core\Values\Interpolation;
use Core\Values\Keyframe;
use Core\Values\Property;
use PHPUnit\Framework\TestCase;

final class ValuesTest extends TestCase
{
    public function test_a_curve_stands_before_its_first_and_after_its_last_keyframe(): void
    {
        $curve = Curve::of([Keyframe::of(200, 4), Keyframe::of(100, 2)]);
        self::assertSame([2.0, 2.0, 3.0, 4.0, 4.0], array_map($curve->at(...), [-5, 100, 150, 200, 900]));
    }

    public function test_each_interpolation_has_its_shape(): void
    {
        $at = static fn (Interpolation $how, int $t, array $h = [0.4, 0, 0.6, 1]): float => Curve::of([
            Keyframe::of(0, 0, $how, $h),
            Keyframe::of(100, 1),
        ])->at($t);
        self::assertSame(0.0, $at(Interpolation::Step, 99));
        self::assertSame(0.25, $at(Interpolation::Linear, 25));
        // 3s² − 2s³ at a quarter: 3/16 − 2/64.
        self::assertEqualsWithDelta(0.15625, $at(Interpolation::Smooth, 25), 1e-12);
        // Handles on the diagonal make a straight line; symmetric ones pass through the middle.
        self::assertEqualsWithDelta(0.37, $at(Interpolation::Bezier, 37, [1 / 3, 1 / 3, 2 / 3, 2 / 3]), 1e-9);
        self::assertEqualsWithDelta(0.5, $at(Interpolation::Bezier, 50), 1e-9);
        // At parameter 1/4 of (0, 0) (0.4, 0) (0.6, 1) (1, 1): x = 0.26875, y = 0.15625.
        self::assertEqualsWithDelta(
            0.15625,
            Curve::of([Keyframe::of(0, 0, Interpolation::Bezier), Keyframe::of(100_000, 1)])->at(26_875),
            1e-9,
        );
        self::assertEqualsWithDelta(1.0, $at(Interpolation::Bezier, 100, [1, 0, 0, 1]), 1e-9);
    }

    public function test_time_never_runs_backwards_in_a_curve(): void
    {
        $this->expectExceptionMessage('handles must be between 0 and 1');
        Keyframe::of(0, 0, Interpolation::Bezier, [1.2, 0, 0.5, 1]);
    }

    public function test_two_keyframes_at_one_time_are_refused(): void
    {
        $this->expectException(InvalidValue::class);
        Curve::of([Keyframe::of(5, 1), Keyframe::of(5, 2)]);
    }

    public function test_a_property_keeps_its_range(): void
    {
        $opacity = Property::share('opacity', 'Opacity');
        self::assertSame([0.0, 1.0, 0.4], [$opacity->clamp(-3), $opacity->clamp(7), $opacity->clamp(0.4)]);
        $this->expectExceptionMessage('opacity must be between 0 and 1');
        $opacity->check(1.01);
    }
}
