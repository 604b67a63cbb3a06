<?php

declare(strict_types=1);

namespace Core\Routing;

use Core\Geometry\Mat4;

/**
 * What a lens throws where: a pinhole that looks along its own −Z, its part of the pane across its field of view,
 * shifted, bent as the plate was by the lens that shot it, warped a little by hand, and faded toward its edges.
 *
 * The bending is the one of D. C. Brown, "Close-range camera calibration" (1971), on the picture plane at distance 1
 * with y down: x' = x(1 + k1 r² + k2 r⁴ + k3 r⁶) + 2 p1 xy + p2(r² + 2x²), y' = y(1 + …) + p1(r² + 2y²) + 2 p2 xy. It
 * holds as far as what is farther out comes farther out: beyond that the formula folds the picture back, and nothing
 * is thrown.
 */
final readonly class LensProjection implements Projection
{
    /**
     * @param  Mat4  $into  the venue into the lens's own place
     * @param  float  $across  tangent of half the field of view across
     * @param  float  $down  and down
     * @param  array{float, float}  $shift  of the picture across and up, as shares of it
     * @param  array{float, float, float, float}  $part  x, y, width, height in pane pixels
     * @param  array{float, float, float, float}  $feather  left, right, top, bottom as shares of the picture
     * @param  array{float, float, float, float, float}  $bend  k1, k2, k3, p1, p2
     * @param  float  $farthest  r² up to which it holds
     * @param  bool  $occluded  whether the venue stands in its way
     */
    private function __construct(
        public Mat4 $into,
        public float $across,
        public float $down,
        public array $shift,
        public array $part,
        public array $feather,
        public float $curve,
        public array $bend,
        public float $farthest,
        public bool $occluded,
        public PlateWarp $warp,
    ) {
    }

    /**
     * @param  Mat4  $frame  the venue into the place of the rig that carries the lens
     * @param  array{int, int, int, int}  $part  x, y, width, height in pane pixels
     * @param  \Closure(string): float  $value  of the lens, by name
     */
    public static function of(Mat4 $frame, array $part, \Closure $value): self
    {
        $into = PlacedValues::into($frame, $value);
        $across = tan(deg2rad($value('angle')) / 2);
        [$x, $y, $width, $height] = array_map(floatval(...), $part);

        return new self(
            $into,
            $across,
            ($across * $height) / $width,
            [$value('shiftX'), $value('shiftY')],
            [$x, $y, $width, $height],
            [$value('featherLeft'), $value('featherRight'), $value('featherTop'), $value('featherBottom')],
            $value('curve'),
            [$value('k1'), $value('k2'), $value('k3'), $value('p1'), $value('p2')],
            self::farthest($value('k1'), $value('k2'), $value('k3')),
            $value('occlusion') >= 0.5,
            PlateWarp::of($value),
        );
    }

    /**
     * The least r² at which r(1 + k1 r² + k2 r⁴ + k3 r⁶) stops growing: where 1 + 3 k1 s + 5 k2 s² + 7 k3 s³ is 0,
     * looked for at 256 places of s = t / (1 − t) and halved from there.
     */
    public static function farthest(float $k1, float $k2, float $k3): float
    {
        $slope = static fn (float $s): float => 1 + $s * (3 * $k1 + $s * (5 * $k2 + $s * 7 * $k3));
        $low = 0.0;
        for ($i = 1; $i < 256; $i++) {
            $high = $i / 256 / (1 - $i / 256);
            if ($slope($high) > 0) {
                $low = $high;

                continue;
            }
            for ($n = 0; $n < 40; $n++) {
                $middle = ($low + $high) / 2;
                [$low, $high] = $slope($middle) > 0 ? [$middle, $high] : [$low, $middle];
            }

            return $low;
        }

        return 1e9;
    }

    public function at(float $x, float $y, float $z): ?array
    {
        $m = $this->into->m;
        $depth = -($m[2] * $x + $m[6] * $y + $m[10] * $z + $m[14]);
        if ($depth <= 1e-6) {
            return null;
        }
        $px = ($m[0] * $x + $m[4] * $y + $m[8] * $z + $m[12]) / $depth;
        $py = -($m[1] * $x + $m[5] * $y + $m[9] * $z + $m[13]) / $depth;
        [$k1, $k2, $k3, $p1, $p2] = $this->bend;
        $r2 = $px * $px + $py * $py;
        if ($r2 > $this->farthest) {
            return null;
        }
        $radial = 1 + $r2 * ($k1 + $r2 * ($k2 + $r2 * $k3));
        $bx = $px * $radial + 2 * $p1 * $px * $py + $p2 * ($r2 + 2 * $px * $px);
        $by = $py * $radial + $p1 * ($r2 + 2 * $py * $py) + 2 * $p2 * $px * $py;
        $u = 0.5 + $bx / $this->across / 2 - $this->shift[0];
        $v = 0.5 + $by / $this->down / 2 + $this->shift[1];
        [$du, $dv] = $this->warp->at($u, $v);
        [$u, $v] = [$u - $du, $v - $dv];
        [$left, $right, $top, $bottom] = $this->feather;
        $weight =
            Feather::weight($u, $left, $this->curve) *
            Feather::weight(1 - $u, $right, $this->curve) *
            Feather::weight($v, $top, $this->curve) *
            Feather::weight(1 - $v, $bottom, $this->curve);

        return [$this->part[0] + $u * $this->part[2], $this->part[1] + $v * $this->part[3], $weight];
    }

    public function around(): float
    {
        return 0.0;
    }

    public function hiddenFrom(): ?array
    {
        if (! $this->occluded) {
            return null;
        }
        $m = $this->into->rigidInverse()->m;

        return [$m[12], $m[13], $m[14]];
    }

    public function lights(float $x, float $y, float $z, float $nx, float $ny, float $nz): bool
    {
        $m = $this->into->m;
        $to =
            ($m[0] * $x + $m[4] * $y + $m[8] * $z + $m[12]) * ($m[0] * $nx + $m[4] * $ny + $m[8] * $nz) +
            ($m[1] * $x + $m[5] * $y + $m[9] * $z + $m[13]) * ($m[1] * $nx + $m[5] * $ny + $m[9] * $nz) +
            ($m[2] * $x + $m[6] * $y + $m[10] * $z + $m[14]) * ($m[2] * $nx + $m[6] * $ny + $m[10] * $nz);

        return $to < 0;
    }
}
