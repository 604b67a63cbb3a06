<?php

declare(strict_types=1);

namespace Core\Geometry;

use Core\Units\Check;

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

    public function matrix(): Mat4
    {
        return Mat4::translation($this->position)
            ->times(Mat4::rotation('y', deg2rad($this->yaw)))
            ->times(Mat4::rotation('x', deg2rad($this->pitch)))
            ->times(Mat4::rotation('z', deg2rad($this->roll)));
    }
}
