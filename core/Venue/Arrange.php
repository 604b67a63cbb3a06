<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Geometry\Mat4;
use Core\Geometry\Mesh;
use Core\Geometry\Vec3;
use Core\Units\Check;
use Core\Units\InvalidValue;

/**
 * Moves several things of a venue at once. Everything is in venue coordinates: world matrices in, world matrices out,
 * by id.
 */
final class Arrange
{
    public const MAX_COPIES = 500;

    /** How a thing is laid. */
    public const LAID = ['stand', 'floor', 'ceiling'];

    private const AXES = ['x' => 12, 'y' => 13, 'z' => 14];

    /**
     * Stands a thing up, lays it on the floor or hangs it as a ceiling: its front (+Z) to the audience, up or down. It
     * keeps its heading and its middle over the floor; on the floor its lowest point is at height 0, as a ceiling where
     * its highest one was.
     *
     * @param  Mat4  $thing  its place in the venue
     * @param  Mesh|null  $body  in its own measure; null for a point
     * @param  string  $how  stand, floor or ceiling
     *
     * @throws InvalidValue
     */
    public static function lay(Mat4 $thing, ?Mesh $body, string $how): Mat4
    {
        $pitch = match ($how) {
            'stand' => 0.0,
            'floor' => -M_PI_2,
            'ceiling' => M_PI_2,
            default => throw InvalidValue::notOneOf('how', $how, self::LAID),
        };
        // Its right hand stays level in all three; one that stands on its side has no heading.
        $right = $thing->direction(Vec3::of(1, 0, 0));
        $yaw = hypot($right->x, $right->z) < 1e-9 ? 0.0 : atan2(-$right->z, $right->x);
        $turned = Mat4::rotation('y', $yaw)->times(Mat4::rotation('x', $pitch));
        [[$x0, , $z0], [$x1, $top, $z1]] = self::bounds($body, $thing);
        [[$a0, $bottom, $c0], [$a1, , $c1]] = self::bounds($body, $turned);

        return Mat4::translation(
            Vec3::of(
                ($x0 + $x1 - $a0 - $a1) / 2,
                ($how === 'ceiling' ? $top : 0.0) - $bottom,
                ($z0 + $z1 - $c0 - $c1) / 2,
            ),
        )->times($turned);
    }

    /**
     * @return array{array{float, float, float}, array{float, float, float}} least and most of a body at its place in the
     *     venue; that place itself where there is none
     */
    public static function bounds(?Mesh $body, Mat4 $at): array
    {
        $place = $at->origin()->toArray();

        return $body === null || $body->vertexCount() === 0 ? [$place, $place] : $body->moved($at)->bounds();
    }

    /**
     * @param  array<string, Mat4>  $things
     * @return array<string, Mat4>
     */
    public static function move(array $things, Vec3 $by): array
    {
        return array_map(static fn (Mat4 $m): Mat4 => Mat4::translation($by)->times($m), $things);
    }

    /**
     * Turns all of them together about an axis through a point.
     *
     * @param  array<string, Mat4>  $things
     * @return array<string, Mat4>
     */
    public static function turn(array $things, string $axis, float $degrees, Vec3 $about): array
    {
        self::axis($axis);
        $turn = Mat4::translation($about)
            ->times(Mat4::rotation($axis, deg2rad($degrees)))
            ->times(Mat4::translation($about->times(-1)));

        return array_map($turn->times(...), $things);
    }

    /**
     * Brings the least, the middle or the most of all of them, along an axis, to where it is for all together.
     *
     * @param  array<string, Mat4>  $things
     * @param  array<string, array{array{float, float, float}, array{float, float, float}}>  $bounds  least and most
     *     of each, in the venue
     * @param  string  $to  least, middle or most
     * @return array<string, Mat4>
     */
    public static function align(array $things, array $bounds, string $axis, string $to): array
    {
        $k = self::axis($axis) - 12;
        $place = static fn (array $b): float => match ($to) {
            'min' => $b[0][$k],
            'max' => $b[1][$k],
            'middle' => ($b[0][$k] + $b[1][$k]) / 2,
            default => throw InvalidValue::notOneOf('to', $to, ['min', 'middle', 'max']),
        };
        if ($bounds === []) {
            return [];
        }
        $goal = $place([
            array_map(static fn (int $i): float => min(array_map(static fn (array $b): float => $b[0][$i], $bounds)), [
                0,
                1,
                2,
            ]),
            array_map(static fn (int $i): float => max(array_map(static fn (array $b): float => $b[1][$i], $bounds)), [
                0,
                1,
                2,
            ]),
        ]);
        $out = [];
        foreach ($things as $id => $matrix) {
            $out[$id] = Mat4::translation(self::along($k, $goal - $place($bounds[$id])))->times($matrix);
        }

        return $out;
    }

    /**
     * The same gap between each two neighbours along an axis; the first and the last stay.
     *
     * @param  array<string, Mat4>  $things
     * @param  array<string, array{array{float, float, float}, array{float, float, float}}>  $bounds
     * @return array<string, Mat4>
     */
    public static function distribute(array $things, array $bounds, string $axis): array
    {
        $k = self::axis($axis) - 12;
        if (count($things) < 3) {
            throw InvalidValue::because('items', 'Three things or more can be distributed.');
        }
        $ids = array_keys($things);
        usort(
            $ids,
            static fn (string $a, string $b): int => $bounds[$a][0][$k] + $bounds[$a][1][$k] <=>
                $bounds[$b][0][$k] + $bounds[$b][1][$k],
        );
        $from = $bounds[$ids[0]][0][$k];
        $to = $bounds[$ids[count($ids) - 1]][1][$k];
        $taken = array_sum(array_map(static fn (string $id): float => $bounds[$id][1][$k] - $bounds[$id][0][$k], $ids));
        $gap = ($to - $from - $taken) / (count($ids) - 1);
        $out = [];
        foreach ($ids as $id) {
            $out[$id] = Mat4::translation(self::along($k, $from - $bounds[$id][0][$k]))->times($things[$id]);
            $from += $bounds[$id][1][$k] - $bounds[$id][0][$k] + $gap;
        }

        return $out;
    }

    /**
     * Where copies of a thing stand along a line, the thing itself left out.
     *
     * @param  int  $count  with the thing itself
     * @return list<Mat4>
     */
    public static function line(Mat4 $thing, int $count, Vec3 $step): array
    {
        Check::whole('count', $count, 2, self::MAX_COPIES);

        return array_map(
            static fn (int $i): Mat4 => Mat4::translation($step->times($i))->times($thing),
            range(1, $count - 1),
        );
    }

    /**
     * Where copies stand on an arc about the upright through a point, each turned along with it.
     *
     * @param  float  $degrees  from the first to the last; of a whole turn, the last is left out, as it would stand
     *     in the first
     * @return list<Mat4>
     */
    public static function arc(Mat4 $thing, int $count, float $degrees, Vec3 $about): array
    {
        Check::whole('count', $count, 2, self::MAX_COPIES);
        Check::number('degrees', $degrees, -360, 360, 'degrees');
        $step = $degrees / (abs($degrees) >= 360 - 1e-9 ? $count : $count - 1);

        return array_map(
            static fn (int $i): Mat4 => self::turn(['it' => $thing], 'y', $step * $i, $about)['it'],
            range(1, $count - 1),
        );
    }

    /** A thing on the other side of an upright plane: its place mirrored, and itself turned as its mirror image is. */
    public static function mirror(Mat4 $thing, string $axis, float $at): Mat4
    {
        $k = self::axis($axis) - 12;
        if ($k === 1) {
            throw InvalidValue::because('axis', 'Things are mirrored across x or z, not up and down.');
        }
        // S · M · S, with S turning the axis round: a rotation again. Mirrored across z, front and back change, so
        // that what faced the audience faces the stage; the thing keeps its own left and right.
        $m = $thing->m;
        foreach ([0, 1, 2, 3] as $column) {
            $m[4 * $column + $k] = -$m[4 * $column + $k];
        }
        $m[12 + $k] += 2 * $at;
        foreach ([0, 1, 2] as $row) {
            $m[4 * $k + $row] = -$m[4 * $k + $row];
        }

        return Mat4::of(array_values($m));
    }

    private static function axis(string $axis): int
    {
        return self::AXES[$axis] ?? throw InvalidValue::notOneOf('axis', $axis, array_keys(self::AXES));
    }

    private static function along(int $k, float $by): Vec3
    {
        return Vec3::of($k === 0 ? $by : 0, $k === 1 ? $by : 0, $k === 2 ? $by : 0);
    }
}
