<?php

declare(strict_types=1);

namespace Core\Routing;

use Core\Geometry\Mat4;
use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Values\Property;

/** A pose made of the values x, y, z (metres), yaw, pitch and roll (degrees). */
final class PlacedValues
{
    /** @return list<Property> the values of a pose; metres, and degrees */
    public static function properties(string $of = ''): array
    {
        $label = static fn (string $axis): string => ltrim("$of $axis");

        return [
            Property::metres('x', $label('X')),
            Property::metres('y', $label('Y'), 1.7),
            Property::metres('z', $label('Z')),
            Property::degrees('yaw', 'Yaw'),
            Property::degrees('pitch', 'Pitch'),
            Property::degrees('roll', 'Roll'),
        ];
    }

    /**
     * The venue into the place that the values say.
     *
     * @param  Mat4  $frame  the venue into what the pose is given in
     * @param  \Closure(string): float  $value
     */
    public static function into(Mat4 $frame, \Closure $value): Mat4
    {
        $turn = static fn (string $name): float => fmod($value($name), 360);

        return Pose::of(Vec3::of($value('x'), $value('y'), $value('z')), $turn('yaw'), $turn('pitch'), $turn('roll'))
            ->matrix()
            ->rigidInverse()
            ->times($frame);
    }
}
