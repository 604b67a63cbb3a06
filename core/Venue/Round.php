<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Geometry\Mat4;

/**
 * The true shape of a drum or a dome by three numbers that run evenly over its raster, so that they may be
 * interpolated: for a drum its radius, the angle round its axis and the height; for a dome its radius, and the angle
 * from its pole, across and up.
 */
final readonly class Round
{
    /**
     * @param  bool  $dome  else a drum
     * @param  Mat4  $frame  into what it stands in: of a drum the axis is Y and the middle of its front lies along Z;
     *     of a dome the pole lies along Z
     * @param  float  $across  of a drum, the metres along the widest face; of a dome, the radians of its opening
     * @param  float  $radius  of a dome, metres
     */
    public function __construct(
        public bool $dome,
        public Mat4 $frame,
        private float $across,
        private float $radius = 0.0,
    ) {
    }

    public function moved(Mat4 $world): self
    {
        return new self($this->dome, $world->times($this->frame), $this->across, $this->radius);
    }

    /** @return array{dome: bool, frame: list<float>} as plans carry it */
    public function toArray(): array
    {
        return ['dome' => $this->dome, 'frame' => $this->frame->m];
    }

    /**
     * The three numbers of a corner of its mesh.
     *
     * @param  float  $u  of the raster, 0 to 1
     * @param  float  $x  metres, where the corner stands before it was moved: of a drum, from its axis
     * @return array{float, float, float}
     */
    public function corner(float $u, float $v, float $x, float $y, float $z): array
    {
        if ($this->dome) {
            return [$this->radius, $this->across * ($u - 0.5), $this->across * (0.5 - $v)];
        }
        $radius = hypot($x, $z);

        return [$radius, (($u - 0.5) * $this->across) / $radius, $y];
    }

    /**
     * Where three numbers are, in metres, and the direction away from the axis or the centre.
     *
     * @param  list<float>  $m  the frame
     * @return array{array{float, float, float}, array{float, float, float}}
     */
    public static function at(bool $dome, array $m, float $radius, float $a, float $b): array
    {
        if ($dome) {
            $from = hypot($a, $b);
            $across = $from > 0 ? sin($from) / $from : 1.0;
            [$x, $y, $z, $high] = [$across * $a, $across * $b, cos($from), $radius * $across * $b];
        } else {
            [$x, $y, $z, $high] = [sin($a), 0.0, cos($a), $b];
        }
        $out = [
            $m[0] * $x + $m[4] * $y + $m[8] * $z,
            $m[1] * $x + $m[5] * $y + $m[9] * $z,
            $m[2] * $x + $m[6] * $y + $m[10] * $z,
        ];

        return [
            [
                $m[0] * $radius * $x + $m[4] * $high + $m[8] * $radius * $z + $m[12],
                $m[1] * $radius * $x + $m[5] * $high + $m[9] * $radius * $z + $m[13],
                $m[2] * $radius * $x + $m[6] * $high + $m[10] * $radius * $z + $m[14],
            ],
            $out,
        ];
    }
}
