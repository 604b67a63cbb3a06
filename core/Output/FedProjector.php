<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Light\Beam;
use Core\Light\Scene;

/**
 * A projector of the venue that an output, or a part of it, is fed to: which place is lit by which pixel of the
 * output. A mirrored projector shows its pixels the other way round; one on its side shows the output turned by a
 * quarter.
 */
readonly class FedProjector
{
    /** Metres by which a place is moved off its surface before it is asked whether light gets there. */
    private const OFF = 0.01;

    /** @var array<int, float> the venue into what the projector sees, column by column */
    private array $in;

    /** @param  Rect  $part  of the output's raster that the projector is fed */
    public function __construct(public Rect $part, public Beam $beam)
    {
        $this->in = $beam->world->rigidInverse()->m;
    }

    /**
     * The pixel of the output that is a pixel of the picture.
     *
     * @return array{float, float}
     */
    public function onOutput(float $px, float $py): array
    {
        $lens = $this->beam->projector->lens;
        [$u, $v] = [$px / $lens->widthPx, $py / $lens->heightPx];
        if ($this->beam->projector->mirrored) {
            $u = 1 - $u;
        }
        [$u, $v] = $lens->portrait ? [$v, 1 - $u] : [$u, $v];

        return [$this->part->x + $u * $this->part->width, $this->part->y + $v * $this->part->height];
    }

    /**
     * The pixel of the picture that is a pixel of the output.
     *
     * @return array{float, float}
     */
    public function onPicture(float $x, float $y): array
    {
        $lens = $this->beam->projector->lens;
        [$u, $v] = [($x - $this->part->x) / $this->part->width, ($y - $this->part->y) / $this->part->height];
        [$u, $v] = $lens->portrait ? [1 - $v, $u] : [$u, $v];
        if ($this->beam->projector->mirrored) {
            $u = 1 - $u;
        }

        return [$u * $lens->widthPx, $v * $lens->heightPx];
    }

    /**
     * The place of the output times its weight, and that weight, the depth before the lens in metres.
     *
     * @return array{float, float, float}|null null behind the lens
     */
    public function pixel(float $x, float $y, float $z): ?array
    {
        $in = $this->in;
        $lens = $this->beam->projector->lens;
        $lz = $in[2] * $x + $in[6] * $y + $in[10] * $z + $in[14];
        if ($lz > -0.01) {
            return null;
        }
        $at = $lens->pixel(
            $in[0] * $x + $in[4] * $y + $in[8] * $z + $in[12],
            $in[1] * $x + $in[5] * $y + $in[9] * $z + $in[13],
            $lz,
        );
        if ($at === null) {
            return null;
        }
        [$ox, $oy] = $this->onOutput($at[0], $at[1]);

        return [$ox * -$lz, $oy * -$lz, -$lz];
    }

    /** How far a place is before the lens, along its axis, in metres; below 0 behind it. */
    public function depth(float $x, float $y, float $z): float
    {
        return -($this->in[2] * $x + $this->in[6] * $y + $this->in[10] * $z + $this->in[14]);
    }

    /**
     * The ray of a pixel of the output, in the venue.
     *
     * @return array{array{float, float, float}, array{float, float, float}} the lens, and a direction that goes a
     *     metre along its axis
     */
    public function ray(float $x, float $y): array
    {
        $ray = $this->beam->projector->lens->ray(...$this->onPicture($x, $y));
        $m = $this->beam->world->m;

        return [
            [$m[12], $m[13], $m[14]],
            [
                $m[0] * $ray->x + $m[4] * $ray->y + $m[8] * $ray->z,
                $m[1] * $ray->x + $m[5] * $ray->y + $m[9] * $ray->z,
                $m[2] * $ray->x + $m[6] * $ray->y + $m[10] * $ray->z,
            ],
        ];
    }

    /**
     * Lux that the projector gives to a place at full white, by what stands between.
     *
     * @param  array{float, float, float}  $place
     * @param  array{float, float, float}  $normal  of the front
     * @param  float  $limit  degrees; what comes in flatter counts as none
     * @param  bool  $translucent  whether light from behind counts as well
     * @param  float|null  $through  share of the light that gets there, where it is known; null to ask what stands
     *     between
     */
    public function lux(
        Scene $scene,
        array $place,
        array $normal,
        float $limit = 90,
        bool $translucent = false,
        ?float $through = null,
    ): float {
        $out = $this->beam->world->m;
        $lens = $this->beam->projector->lens;
        $at = $this->local(...$place);
        if ($at === null) {
            return 0.0;
        }
        [$u, $v, $depth, $x, $y] = $at;
        if (abs($u) > 0.5 + 1e-9 || abs($v) > 0.5 + 1e-9) {
            return 0.0;
        }
        [$dx, $dy, $dz] = [$place[0] - $out[12], $place[1] - $out[13], $place[2] - $out[14]];
        $distance = sqrt($dx * $dx + $dy * $dy + $dz * $dz);
        $cos = -($normal[0] * $dx + $normal[1] * $dy + $normal[2] * $dz) / $distance;
        if (($cos < 0 && ! $translucent) || abs($cos) < max(1e-6, cos(deg2rad($limit)) - 1e-12)) {
            return 0.0;
        }
        $off = $cos < 0 ? -self::OFF : self::OFF;
        $through ??= $scene->reaches(
            $out[12],
            $out[13],
            $out[14],
            $place[0] + $off * $normal[0],
            $place[1] + $off * $normal[1],
            $place[2] + $off * $normal[2],
        );

        return ($this->beam->projector->output() *
            $lens->sharePerArea($x, $y) *
            $lens->evenness($u, $v) *
            $through *
            ($distance / $depth) ** 3 *
            abs($cos)) /
            $distance ** 2;
    }

    /**
     * Cosine of the angle at which its light comes in, from either side.
     *
     * @param  array{float, float, float}  $place
     * @param  array{float, float, float}  $normal
     */
    public function straight(array $place, array $normal): float
    {
        $out = $this->beam->world->m;
        [$dx, $dy, $dz] = [$out[12] - $place[0], $out[13] - $place[1], $out[14] - $place[2]];

        return abs($normal[0] * $dx + $normal[1] * $dy + $normal[2] * $dz) /
            max(1e-12, sqrt($dx * $dx + $dy * $dy + $dz * $dz));
    }

    /**
     * @return array{float, float, float, float, float}|null from the middle of the picture in widths and heights, the
     *     depth in metres, and where the light goes through the plane one metre before the lens; null behind the lens
     */
    private function local(float $x, float $y, float $z): ?array
    {
        $in = $this->in;
        $lens = $this->beam->projector->lens;
        $lz = $in[2] * $x + $in[6] * $y + $in[10] * $z + $in[14];
        [$lx, $ly] = [
            $in[0] * $x + $in[4] * $y + $in[8] * $z + $in[12],
            $in[1] * $x + $in[5] * $y + $in[9] * $z + $in[13],
        ];
        $at = $lz > -0.01 ? null : $lens->pixel($lx, $ly, $lz);

        return $at === null
            ? null
            : [$at[0] / $lens->widthPx - 0.5, $at[1] / $lens->heightPx - 0.5, -$lz, $lx / -$lz, $ly / -$lz];
    }
}
