<?php

declare(strict_types=1);

namespace Core\Routing;

use Core\Geometry\Mat3;
use Core\Units\Check;
use Core\Units\Pixels;

/**
 * Where content lands in a pane: the rectangle of the whole content in pane pixels (it may reach beyond the pane), the
 * part of the pane that it fills, and the UV window of the content that is seen there.
 */
final readonly class Placement
{
    /**
     * @param  array{float, float, float, float}  $rectangle  x, y, width, height of the whole content, in pane pixels
     * @param  array{float, float, float, float}  $seen  x, y, width, height of what lies within the pane
     * @param  array{float, float, float, float}  $window  u0, v0, u1, v1 of the content there
     * @param  float  $squash  horizontal over vertical scale, pixel aspect allowed for; 1 keeps circles round
     * @param  float  $enlarged  pane pixels per content pixel, the larger of both directions
     */
    private function __construct(
        public array $rectangle,
        public array $seen,
        public array $window,
        public float $squash,
        public float $enlarged,
    ) {
    }

    /**
     * @param  int  $contentWidth  px as stored
     * @param  float  $pixelAspect  width over height of one stored pixel
     * @param  float  $anchorX  0 keeps the left edges together, 1 the right ones
     * @param  float  $anchorY  0 keeps the top edges together, 1 the bottom ones
     */
    public static function of(
        int $contentWidth,
        int $contentHeight,
        float $pixelAspect,
        int $paneWidth,
        int $paneHeight,
        Fitting $fitting,
        float $anchorX = 0.5,
        float $anchorY = 0.5,
    ): self {
        Check::whole('contentWidth', $contentWidth, 1, 65_536, 'px');
        Check::whole('contentHeight', $contentHeight, 1, 65_536, 'px');
        Check::number('pixelAspect', $pixelAspect, 0.1, 10);
        Check::whole('paneWidth', $paneWidth, 1, 65_536, 'px');
        Check::whole('paneHeight', $paneHeight, 1, 65_536, 'px');
        Check::number('anchorX', $anchorX, 0, 1);
        Check::number('anchorY', $anchorY, 0, 1);
        $shown = $contentWidth * $pixelAspect;
        $scale = match ($fitting) {
            Fitting::Cover => max($paneWidth / $shown, $paneHeight / $contentHeight),
            Fitting::Contain => min($paneWidth / $shown, $paneHeight / $contentHeight),
            Fitting::OneToOne, Fitting::Stretch => 1.0,
        };
        [$w, $h] =
            $fitting === Fitting::Stretch
                ? [(float) $paneWidth, (float) $paneHeight]
                : [$shown * $scale, $contentHeight * $scale];
        [$x, $y] = [($paneWidth - $w) * $anchorX, ($paneHeight - $h) * $anchorY];
        if ($fitting === Fitting::OneToOne) {
            [$x, $y] = [(float) Pixels::floor($x), (float) Pixels::floor($y)];
        }
        [$left, $top] = [max(0.0, $x), max(0.0, $y)];
        [$right, $bottom] = [min((float) $paneWidth, $x + $w), min((float) $paneHeight, $y + $h)];

        return new self(
            [$x, $y, $w, $h],
            [$left, $top, $right - $left, $bottom - $top],
            [($left - $x) / $w, ($top - $y) / $h, ($right - $x) / $w, ($bottom - $y) / $h],
            $w / $shown / ($h / $contentHeight),
            max($w / $contentWidth, $h / $contentHeight),
        );
    }

    /** The content's unit square, its origin at the top left, onto the pane's pixels. */
    public function matrix(): Mat3
    {
        return Mat3::rectangle(...$this->rectangle);
    }

    /** The same, in a pane of which the one that it was fitted into is a part. */
    public function moved(float $x, float $y): self
    {
        $by = static fn (array $r): array => [$r[0] + $x, $r[1] + $y, $r[2], $r[3]];

        return $x === 0.0 && $y === 0.0
            ? $this
            : new self($by($this->rectangle), $by($this->seen), $this->window, $this->squash, $this->enlarged);
    }

    /** How much of the content lies outside the pane, 0 to 1. */
    public function hidden(): float
    {
        return max(
            0.0,
            1 - max(0.0, $this->window[2] - $this->window[0]) * max(0.0, $this->window[3] - $this->window[1]),
        );
    }
}
