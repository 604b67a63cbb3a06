<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Geometry\Vec3;
use Core\Units\Check;
use Core\Units\InvalidValue;

/**
 * The picture that a projector throws: its pixels, throw ratio (distance over the width of the picture) and shift.
 * Local places: it looks along -Z, X to the right of its picture, Y up. A projector on its side turns its picture
 * with it.
 */
final readonly class Lens
{
    /** Names of its settings. */
    public const SETTINGS = [
        'widthPx',
        'heightPx',
        'throwMin',
        'throwMax',
        'throw',
        'shiftX',
        'shiftY',
        'shiftXMax',
        'shiftYMax',
        'focus',
        'portrait',
        'zoomLoss',
        'shiftLoss',
        'corners',
        'fNumber',
        'chipWidth',
        'contrast',
        'distortion',
        'lampLeft',
        'lampHours',
        'lampHalfLife',
    ];

    /** Share of the slope in the middle of the picture that it has at its corners at least, however it is bent. */
    private const FLATTEST = 0.05;

    /**
     * @param  int  $widthPx  of the picture as it stands: of a projector on its side, its height
     * @param  float  $throwMin  of the zoom, for the projector as it lies
     * @param  float  $throw  present
     * @param  float  $shiftX  present, in widths of the picture, positive to the right
     * @param  float  $shiftY  present, in heights of the picture, positive up
     * @param  float  $shiftXMax  either way
     * @param  float  $focus  metres along the axis at which it is sharp
     * @param  float  $zoomLoss  share of the light that is lost at the longest throw against the shortest
     * @param  float  $shiftLoss  share that is lost at the full shift
     * @param  float  $corners  illuminance at the corners of the picture against that of its middle
     * @param  float  $fNumber  0 where unknown
     * @param  float  $chipWidth  millimetres of the imager's long side; 0 where unknown
     * @param  float  $contrast  white over black of a full picture
     * @param  float  $lampLeft  share of a new lamp's light that is left, as measured
     * @param  float  $lampHours  that it has run
     * @param  float  $lampHalfLife  hours after which half of its light is left; 0 where unknown
     * @param  float  $across  width of the picture at one metre
     * @param  float  $down  height of the picture at one metre
     * @param  float  $distortion  k: what a straight lens has r from its axis at one metre, this one has at r (1 + k r²);
     *     above 0 the corners are drawn out, below 0 in
     * @param  float  $rim  r past which it goes on straight, so that it never folds back; no picture reaches it
     */
    private function __construct(
        public int $widthPx,
        public int $heightPx,
        public float $throwMin,
        public float $throwMax,
        public float $throw,
        public float $shiftX,
        public float $shiftY,
        public float $shiftXMax,
        public float $shiftYMax,
        public float $focus,
        public bool $portrait,
        public float $zoomLoss,
        public float $shiftLoss,
        public float $corners,
        public float $fNumber,
        public float $chipWidth,
        public float $contrast,
        public float $across,
        public float $down,
        public float $distortion,
        public float $lampLeft,
        public float $lampHours,
        public float $lampHalfLife,
        private float $rim,
    ) {
    }

    /**
     * @param  array<string, mixed>  $row  widthPx, heightPx, throwMin, throwMax, throw, shiftX, shiftY, shiftXMax,
     *     shiftYMax, focus (m), portrait, zoomLoss, shiftLoss, corners, fNumber, chipWidth (mm), contrast, distortion, lampLeft,
     *     lampHours, lampHalfLife
     */
    public static function fromRow(array $row): self
    {
        $s = new Settings($row);
        $min = $s->number('throwMin', 1.2, 0.1, 20);
        $max = $s->number('throwMax', 1.8, 0.1, 20);
        if ($min > $max) {
            throw InvalidValue::because('throwMin', "throwMin can't be above throwMax; they were $min and $max.");
        }
        $throw = $s->number('throw', ($min + $max) / 2, 0.1, 20);
        $portrait = $s->flag('portrait');
        [$w, $h] = [
            $s->whole('widthPx', 1920, 1, Check::MAX_PIXELS, 'px'),
            $s->whole('heightPx', 1200, 1, Check::MAX_PIXELS, 'px'),
        ];
        [$across, $down] = [1 / $throw, $h / $w / $throw];
        [$across, $down] = $portrait ? [$down, $across] : [$across, $down];
        [$shiftX, $shiftY] = [$s->number('shiftX', 0, -3, 3), $s->number('shiftY', 0, -3, 3)];
        $distortion = $s->number('distortion', 0, -2, 2);

        return new self(
            $portrait ? $h : $w,
            $portrait ? $w : $h,
            $min,
            $max,
            $throw,
            $shiftX,
            $shiftY,
            $s->number('shiftXMax', 0.2, 0, 3),
            $s->number('shiftYMax', 0.6, 0, 3),
            $s->number('focus', 10, 0.1, 1000, 'm'),
            $portrait,
            $s->number('zoomLoss', 0, 0, 0.9),
            $s->number('shiftLoss', 0, 0, 0.9),
            $s->number('corners', 1, 0.05, 1),
            $s->number('fNumber', 0, 0, 64),
            $s->number('chipWidth', 0, 0, 100, 'mm'),
            $s->number('contrast', 1000, 1, 1e7),
            $across,
            $down,
            $distortion,
            $s->number('lampLeft', 1, 0.01, 1),
            $s->number('lampHours', 0, 0, 100_000, 'h'),
            $s->number('lampHalfLife', 0, 0, 100_000, 'h'),
            self::rim($distortion, hypot((0.5 + abs($shiftX)) * $across, (0.5 + abs($shiftY)) * $down)),
        );
    }

    /**
     * @param  float  $corner  how far from the axis a straight lens has the farthest corner, at one metre
     *
     * @throws InvalidValue where the picture would fold back before it
     */
    private static function rim(float $distortion, float $corner): float
    {
        // r (1 + k r²) rises by 1 + 3 k r².
        $rim = $distortion < 0 ? sqrt((1 - self::FLATTEST) / (-3 * $distortion)) : INF;
        if ($distortion < 0 && $corner > $rim * (1 + $distortion * $rim ** 2)) {
            // There k is -(1 - s) (2 + s)² / 27 / corner², with s the slope that is left.
            $least = ((self::FLATTEST - 1) * (2 + self::FLATTEST) ** 2) / 27 / $corner ** 2;
            throw InvalidValue::because(
                'distortion',
                sprintf(
                    'With a distortion of %s the picture folds back before its corners; with this throw and shift it may be %.4f at the least.',
                    round($distortion, 4),
                    ceil(1e4 * $least) / 1e4,
                ),
            );
        }

        return $rim;
    }

    /** The r of which r (1 + k r²) is this, by Newton's way: it comes from one side. */
    private static function straight(float $k, float $bent): float
    {
        $r = $bent;
        for ($i = 0; $i < 60; $i++) {
            $by = ($r * (1 + $k * $r * $r) - $bent) / (1 + 3 * $k * $r * $r);
            $r -= $by;
            if (abs($by) <= 1e-15 * $r) {
                break;
            }
        }

        return $r;
    }

    /**
     * How much farther from the axis a straight lens has what this one has at a place, at one metre.
     *
     * @param  float  $x  to the right of the axis, at one metre
     * @param  float  $y  up
     */
    public function bend(float $x, float $y): float
    {
        if ($this->distortion === 0.0) {
            return 1.0;
        }
        [$k, $rim, $r] = [$this->distortion, $this->rim, hypot($x, $y)];

        return $r <= $rim
            ? 1 + $k * $r * $r
            : ($rim * (1 + $k * $rim ** 2) + ($r - $rim) * (1 + 3 * $k * $rim ** 2)) / $r;
    }

    /**
     * How a place on the picture moves when what it lights does.
     *
     * @param  float  $x  at one metre
     * @param  float  $dx  by which that moves
     * @return array{float, float} pixels to the right, and up
     */
    public function moves(float $x, float $y, float $dx, float $dy): array
    {
        $along = 2 * $this->distortion * ($x * $dx + $y * $dy);
        $by = 1 + $this->distortion * ($x * $x + $y * $y);

        return [
            (($by * $dx + $along * $x) / $this->across) * $this->widthPx,
            (($by * $dy + $along * $y) / $this->down) * $this->heightPx,
        ];
    }

    /** Share of a new lamp's light that is left, by what was measured and by its hours: half of it after each half-life. */
    public function lamp(): float
    {
        return $this->lampLeft * ($this->lampHalfLife > 0 ? 0.5 ** ($this->lampHours / $this->lampHalfLife) : 1.0);
    }

    /**
     * Share of the light that leaves it with its lamp as it is, zoomed and shifted: what is lost by these grows evenly from
     * none at the shortest throw and without shift.
     */
    public function output(): float
    {
        $zoom =
            $this->throwMax > $this->throwMin
                ? max(0.0, min(1.0, ($this->throw - $this->throwMin) / ($this->throwMax - $this->throwMin)))
                : 0.0;
        [$across, $down] = $this->portrait
            ? [$this->shiftYMax, $this->shiftXMax]
            : [$this->shiftXMax, $this->shiftYMax];
        $shift = min(
            1.0,
            max($across > 0 ? abs($this->shiftX) / $across : 0.0, $down > 0 ? abs($this->shiftY) / $down : 0.0),
        );

        return $this->lamp() * (1 - $this->zoomLoss * $zoom) * (1 - $this->shiftLoss * $shift);
    }

    /**
     * Illuminance at a place of the picture against the mean of the picture: it falls with the square of the distance
     * from the middle to what it is at the corners, 1 − (1 − k) ρ² / 2 with ρ² = 2 there, whose mean is 1 − (1 − k) /
     * 3.
     *
     * @param  float  $u  from the middle, in widths: -0.5 to 0.5
     * @param  float  $v  in heights
     */
    public function evenness(float $u, float $v): float
    {
        return (1 - (1 - $this->corners) * 2 * ($u * $u + $v * $v)) / (1 - (1 - $this->corners) / 3);
    }

    /**
     * What is sharp at once; null where f-number or imager are unknown. Its focal length is throw · width of the
     * imager, its circle of confusion one of the imager's pixels.
     */
    public function depthOfField(): ?Focus
    {
        $pixels = $this->portrait ? $this->heightPx : $this->widthPx;

        return $this->fNumber > 0 && $this->chipWidth > 0
            ? Focus::of($this->throw * $this->chipWidth, $this->fNumber, $this->chipWidth / $pixels, $this->focus)
            : null;
    }

    /** @return list<string> what of its present values the lens does not have */
    public function remarks(): array
    {
        $remarks = [];
        if ($this->throw < $this->throwMin - 1e-9 || $this->throw > $this->throwMax + 1e-9) {
            $remarks[] = sprintf(
                'The throw ratio is %.3f; the lens has %.2f to %.2f.',
                $this->throw,
                $this->throwMin,
                $this->throwMax,
            );
        }
        // On its side, what was across is down.
        [$across, $down] = $this->portrait
            ? [$this->shiftYMax, $this->shiftXMax]
            : [$this->shiftXMax, $this->shiftYMax];
        foreach ([['sideways', $this->shiftX, $across], ['up or down', $this->shiftY, $down]] as [$way, $shift, $max]) {
            if (abs($shift) > $max + 1e-9) {
                $remarks[] = sprintf(
                    'The picture is shifted by %.0f %% %s; the lens has %.0f %%.',
                    $shift * 100,
                    $way,
                    $max * 100,
                );
            }
        }

        return $remarks;
    }

    /**
     * @return list<array{float, float}> rays through the corners of its picture, x and y for one metre along its
     *     axis: top left, top right, bottom right, bottom left
     */
    public function corners(): array
    {
        return array_map(
            function (array $p): array {
                $ray = $this->ray($p[0] * $this->widthPx, $p[1] * $this->heightPx);

                return [$ray->x, $ray->y];
            },
            [[0, 0], [1, 0], [1, 1], [0, 1]],
        );
    }

    /** Where a pixel's light goes, for one metre along the axis; pixel centres are at +0.5. */
    public function ray(float $px, float $py): Vec3
    {
        $x = ($px / $this->widthPx - 0.5 + $this->shiftX) * $this->across;
        $y = (0.5 - $py / $this->heightPx + $this->shiftY) * $this->down;
        $bent = hypot($x, $y);
        if ($this->distortion === 0.0 || $bent === 0.0) {
            return Vec3::of($x, $y, -1);
        }
        [$k, $rim] = [$this->distortion, $this->rim];
        $most = $rim * (1 + $k * $rim ** 2);
        $r = $bent <= $most ? self::straight($k, $bent) : $rim + ($bent - $most) / (1 + 3 * $k * $rim ** 2);

        return Vec3::of(($x * $r) / $bent, ($y * $r) / $bent, -1);
    }

    /** @return array{float, float}|null the pixel that lights a local point; null behind the lens */
    public function pixel(float $x, float $y, float $z): ?array
    {
        if ($z > -1e-6) {
            return null;
        }

        $bend = $this->bend($x / -$z, $y / -$z);

        return [
            (($bend * $x) / -$z / $this->across + 0.5 - $this->shiftX) * $this->widthPx,
            (0.5 - ($bend * $y) / -$z / $this->down + $this->shiftY) * $this->heightPx,
        ];
    }

    /**
     * Share of the lumens that goes through each unit of area at a place one metre before the lens: every pixel gives
     * the same light. Where the picture is bent, r (1 + k r²) takes (1 + k r²) (1 + 3 k r²) times the area.
     */
    public function sharePerArea(float $x, float $y): float
    {
        $bend = $this->distortion * ($x * $x + $y * $y);

        return ((1 + $bend) * (1 + 3 * $bend)) / ($this->across * $this->down);
    }
}
