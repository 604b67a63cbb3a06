<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Geometry\Vec3;
use Core\Units\Check;
use Core\Units\Refused;

/**
 * The picture that a projector throws: its pixels, throw ratio (distance over the width of the picture) and shift. Local
 * places: it looks along -Z, X to the right of its picture, Y up. A projector on its side turns its picture with it.
 */
final readonly class Lens
{
    /**
     * @param  int  $widthPx  of the picture as it stands: of a projector on its side, its height
     * @param  float  $throwLeast  of the zoom, for the projector as it lies
     * @param  float  $throw  present
     * @param  float  $shiftX  present, in widths of the picture, positive to the right
     * @param  float  $shiftY  present, in heights of the picture, positive up
     * @param  float  $shiftXMost  either way
     * @param  float  $focus  metres along the axis at which it is sharp
     * @param  float  $across  width of the picture at one metre
     * @param  float  $down  height of the picture at one metre
     */
    private function __construct(
        public int $widthPx,
        public int $heightPx,
        public float $throwLeast,
        public float $throwMost,
        public float $throw,
        public float $shiftX,
        public float $shiftY,
        public float $shiftXMost,
        public float $shiftYMost,
        public float $focus,
        public bool $portrait,
        public float $across,
        public float $down,
    ) {
    }

    /** @param  array<string, mixed>  $row  widthPx, heightPx, throwLeast, throwMost, throw, shiftX, shiftY, shiftXMost, shiftYMost, focus (m), portrait */
    public static function fromRow(array $row): self
    {
        $s = new Settings($row);
        $least = $s->number('throwLeast', 1.2, 0.1, 20);
        $most = $s->number('throwMost', 1.8, 0.1, 20);
        if ($least > $most) {
            throw Refused::because('throwLeast', "The least throw ratio can't be above the most; they were $least and $most.");
        }
        $throw = $s->number('throw', ($least + $most) / 2, 0.1, 20);
        $portrait = $s->flag('portrait');
        [$w, $h] = [$s->whole('widthPx', 1920, 1, Check::MOST_PIXELS, 'px'), $s->whole('heightPx', 1200, 1, Check::MOST_PIXELS, 'px')];
        [$across, $down] = [1 / $throw, $h / $w / $throw];

        return new self(
            $portrait ? $h : $w, $portrait ? $w : $h, $least, $most, $throw,
            $s->number('shiftX', 0, -3, 3), $s->number('shiftY', 0, -3, 3), $s->number('shiftXMost', 0.2, 0, 3), $s->number('shiftYMost', 0.6, 0, 3),
            $s->number('focus', 10, 0.1, 1000, 'm'), $portrait, $portrait ? $down : $across, $portrait ? $across : $down,
        );
    }

    /** @return list<string> what of its present values the lens does not have */
    public function remarks(): array
    {
        $remarks = [];
        if ($this->throw < $this->throwLeast - 1e-9 || $this->throw > $this->throwMost + 1e-9) {
            $remarks[] = sprintf('The throw ratio is %.3f; the lens has %.2f to %.2f.', $this->throw, $this->throwLeast, $this->throwMost);
        }
        // On its side, what was across is down.
        [$across, $down] = $this->portrait ? [$this->shiftYMost, $this->shiftXMost] : [$this->shiftXMost, $this->shiftYMost];
        foreach ([['sideways', $this->shiftX, $across], ['up or down', $this->shiftY, $down]] as [$way, $shift, $most]) {
            if (abs($shift) > $most + 1e-9) {
                $remarks[] = sprintf('The picture is shifted by %.0f %% %s; the lens has %.0f %%.', $shift * 100, $way, $most * 100);
            }
        }

        return $remarks;
    }

    /** @return list<array{float, float}> rays through the corners of its picture, x and y for one metre along its axis: top left, top right, bottom right, bottom left */
    public function corners(): array
    {
        return array_map(function (array $p): array {
            $ray = $this->ray($p[0] * $this->widthPx, $p[1] * $this->heightPx);

            return [$ray->x, $ray->y];
        }, [[0, 0], [1, 0], [1, 1], [0, 1]]);
    }

    /** Where a pixel's light goes, for one metre along the axis; pixel centres are at +0.5. */
    public function ray(float $px, float $py): Vec3
    {
        return Vec3::of(($px / $this->widthPx - 0.5 + $this->shiftX) * $this->across, (0.5 - $py / $this->heightPx + $this->shiftY) * $this->down, -1);
    }

    /** @return array{float, float}|null the pixel that lights a local point; null behind the lens */
    public function pixel(float $x, float $y, float $z): ?array
    {
        if ($z > -1e-6) {
            return null;
        }

        return [($x / -$z / $this->across + 0.5 - $this->shiftX) * $this->widthPx, (0.5 - $y / -$z / $this->down + $this->shiftY) * $this->heightPx];
    }

    /** Share of the lumens that goes through each unit of the picture's area at one metre: every pixel gives the same light. */
    public function sharePerArea(): float
    {
        return 1 / ($this->across * $this->down);
    }
}
