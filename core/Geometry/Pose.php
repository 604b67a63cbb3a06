<?php

declare(strict_types=1);

namespace Core\Geometry;

use Core\Units\Check;
use Core\Units\InvalidValue;

/**
 * Where a thing stands and how it is turned. The turn is yaw (about Y), then pitch (about the turned X), then roll
 * (about the turned Z), in degrees: the matrix is T · Ry(yaw) · Rx(pitch) · Rz(roll).
 */
final readonly class Pose
{
    private function __construct(public Vec3 $position, public float $yaw, public float $pitch, public float $roll)
    {
    }

    public static function of(Vec3 $position, float $yaw = 0, float $pitch = 0, float $roll = 0): self
    {
        return new self(
            $position,
            Check::number('yaw', $yaw, -3600, 3600, 'degrees'),
            Check::number('pitch', $pitch, -3600, 3600, 'degrees'),
            Check::number('roll', $roll, -3600, 3600, 'degrees'),
        );
    }

    /**
     * The pose whose matrix this rotation and translation is. Where the pitch is upright, yaw and roll turn about one
     * axis, and roll is 0.
     */
    public static function fromMatrix(Mat4 $matrix): self
    {
        $m = $matrix->m;
        $pitch = asin(max(-1.0, min(1.0, -$m[9])));
        if (abs($m[9]) > 1 - 1e-12) {
            [$yaw, $roll] = [atan2(-$m[2], $m[0]), 0.0];
        } else {
            [$yaw, $roll] = [atan2($m[8], $m[10]), atan2($m[1], $m[5])];
        }

        return self::of(Vec3::of($m[12], $m[13], $m[14]), rad2deg($yaw), rad2deg($pitch), rad2deg($roll));
    }

    /** This place, turned so that what looks along -Z looks at a point; level, without roll. */
    public function lookingAt(Vec3 $point): self
    {
        $to = $point->minus($this->position);
        $length = $to->length();
        if ($length < 1e-9) {
            throw InvalidValue::because('point', 'The point to look at can\'t be the position itself.');
        }

        return self::of(
            $this->position,
            rad2deg(atan2(-$to->x, -$to->z)),
            rad2deg(asin(max(-1.0, min(1.0, $to->y / $length)))),
            0,
        );
    }

    public function matrix(): Mat4
    {
        return Mat4::translation($this->position)
            ->times(Mat4::rotation('y', deg2rad($this->yaw)))
            ->times(Mat4::rotation('x', deg2rad($this->pitch)))
            ->times(Mat4::rotation('z', deg2rad($this->roll)));
    }
}
