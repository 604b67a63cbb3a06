<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Geometry\Mat4;
use Core\Geometry\Mesh;
use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Units\InvalidValue;
use PHPUnit\Framework\TestCase;

final class GeometryTest extends TestCase
{
    private static function near(Vec3 $a, float $x, float $y, float $z): void
    {
        self::assertEqualsWithDelta([$x, $y, $z], $a->toArray(), 1e-12);
    }

    public function test_a_pose_yaws_then_pitches_then_rolls(): void
    {
        self::near(Pose::of(Vec3::of(1, 2, 3), yaw: 90)->matrix()->point(Vec3::of(0, 0, 1)), 2, 2, 3);
        self::near(Pose::of(Vec3::zero(), pitch: 90)->matrix()->point(Vec3::of(0, 1, 0)), 0, 0, 1);
        self::near(Pose::of(Vec3::zero(), roll: 90)->matrix()->point(Vec3::of(1, 0, 0)), 0, 1, 0);
        // Rolled first about its own depth, then turned to the right: X goes up.
        self::near(Pose::of(Vec3::zero(), yaw: 90, roll: 90)->matrix()->point(Vec3::of(1, 0, 0)), 0, 1, 0);
    }

    public function test_a_rigid_inverse_brings_every_point_back(): void
    {
        $matrix = Pose::of(Vec3::of(4, -2, 7.5), 33, -12, 71)->matrix();
        foreach ([[0, 0, 0], [1, 2, 3], [-5, 0.25, 9]] as [$x, $y, $z]) {
            self::near($matrix->rigidInverse()->point($matrix->point(Vec3::of($x, $y, $z))), $x, $y, $z);
        }
        self::assertEqualsWithDelta(Mat4::identity()->m, $matrix->times($matrix->rigidInverse())->m, 1e-12);
    }

    public function test_the_cross_product_is_right_handed(): void
    {
        self::near(Vec3::of(1, 0, 0)->cross(Vec3::of(0, 1, 0)), 0, 0, 1);
        self::assertSame(5.0, Vec3::of(3, 4, 0)->length());
        self::near(Vec3::of(1, 2, 3)->plus(Vec3::of(1, 1, 1))->minus(Vec3::of(2, 0, 0))->times(2), 0, 6, 8);
    }

    public function test_what_is_no_number_is_refused(): void
    {
        $this->expectException(InvalidValue::class);
        Vec3::of(NAN, 0, 0);
    }

    public function test_a_mesh_names_only_vertices_that_it_has(): void
    {
        self::assertSame(1, Mesh::of([0, 0, 0, 1, 0, 0, 0, 1, 0], [0, 0, 1, 0, 0, 1], [0, 1, 2])->triangleCount());
        $this->expectException(\InvalidArgumentException::class);
        Mesh::of([0, 0, 0], [0, 0], [0, 0, 1]);
    }
}
