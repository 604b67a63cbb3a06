<?php

declare(strict_types=1);

namespace Core\Routing;

use Core\Geometry\Mat4;
use Core\Values\Property;
use Core\Values\PropertySet;

/**
 * A pane wrapped on a sphere round a centre, or on a part of one: its middle lies along the centre's own −Z, its
 * columns are degrees of azimuth to the right, its rows degrees of elevation.
 */
final readonly class GlobeProjection implements Projection
{
    /**
     * @param  Mat4  $into  the venue into the globe's own place
     * @param  array{float, float}  $pane  pixels
     * @param  float  $arc  of azimuth, radians
     * @param  float  $top  elevation, radians
     * @param  float  $bottom  elevation, radians
     * @param  float  $feather  of each end of the arc, as a share of it; a whole turn has no ends
     */
    private function __construct(
        public Mat4 $into,
        public array $pane,
        public float $arc,
        public float $top,
        public float $bottom,
        public float $feather,
        public float $curve,
    ) {
    }

    /**
     * @param  Mat4  $frame  the venue into the place of the rig that carries the centre
     * @param  array{int, int}  $pane
     * @param  \Closure(string): float  $value  of the route, by name
     */
    public static function of(Mat4 $frame, array $pane, \Closure $value): self
    {
        $arc = $value('arc');
        [$top, $bottom] = [max($value('top'), $value('bottom')), min($value('top'), $value('bottom'))];

        return new self(
            PlacedValues::into($frame, $value),
            [(float) $pane[0], (float) $pane[1]],
            deg2rad($arc),
            deg2rad($top),
            deg2rad(min($bottom, $top - 0.01)),
            $arc >= 360 ? 0.0 : $value('feather'),
            $value('curve'),
        );
    }

    public static function properties(): PropertySet
    {
        return PropertySet::of(
            'route',
            ...[
                ...PlacedValues::properties('Centre'),
                Property::angle('arc', 'Arc', 1, 360, 360),
                Property::angle('top', 'Top', -90, 90, 90),
                Property::angle('bottom', 'Bottom', -90, 90, -90),
                Property::portion('feather', 'Feather', 0, 0.5),
                Property::coefficient('curve', 'Feather curve', 0.25, 8, 1),
            ],
        );
    }

    public function at(float $x, float $y, float $z): ?array
    {
        $m = $this->into->m;
        $right = $m[0] * $x + $m[4] * $y + $m[8] * $z + $m[12];
        $up = $m[1] * $x + $m[5] * $y + $m[9] * $z + $m[13];
        $back = $m[2] * $x + $m[6] * $y + $m[10] * $z + $m[14];
        $flat = hypot($right, $back);
        if ($flat + abs($up) < 1e-6) {
            return null;
        }
        $u = 0.5 + atan2($right, 0.0 - $back) / $this->arc;
        $v = ($this->top - atan2($up, $flat)) / ($this->top - $this->bottom);
        $weight =
            $v >= 0 && $v <= 1
                ? Feather::weight($u, $this->feather, $this->curve) *
                    Feather::weight(1 - $u, $this->feather, $this->curve)
                : 0.0;

        return [$u * $this->pane[0], $v * $this->pane[1], $weight];
    }

    public function around(): float
    {
        return ((2 * M_PI) / $this->arc) * $this->pane[0];
    }

    public function hiddenFrom(): ?array
    {
        return null;
    }

    public function lights(float $x, float $y, float $z, float $nx, float $ny, float $nz): bool
    {
        return true;
    }
}
