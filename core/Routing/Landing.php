<?php

declare(strict_types=1);

namespace Core\Routing;

use Core\Geometry\Mat3;

/**
 * What becomes of a content's pixels on a surface's raster: a circle of one content pixel becomes an ellipse, whose
 * axes are the singular values of the 2×2 matrix.
 */
final readonly class Landing
{
    /**
     * @param  float  $longer  surface pixels that a content pixel of a square shape covers, along the longer axis of
     *     the ellipse
     * @param  float  $shorter  and along the shorter
     * @param  float  $angle  of the longer axis on the surface, degrees clockwise from the right, −90 to 90
     * @param  float  $across  surface pixels along the content's rows, for each pixel as stored
     * @param  float  $down  and along its columns
     */
    private function __construct(
        public float $longer,
        public float $shorter,
        public float $angle,
        public float $across,
        public float $down,
    ) {
    }

    /**
     * @param  Mat3  $matrix  the content's unit square onto the surface's raster
     * @param  int  $width  content pixels as stored
     * @param  float  $pixelAspect  width over height of one stored pixel
     */
    public static function of(Mat3 $matrix, int $width, int $height, float $pixelAspect = 1): self
    {
        $m = $matrix->m;
        [$across, $down] = [hypot($m[0], $m[3]) / $width, hypot($m[1], $m[4]) / $height];
        // A square pixel of the content, one stored row high.
        [$a, $b, $c, $d] = [
            $m[0] / ($width * $pixelAspect),
            $m[1] / $height,
            $m[3] / ($width * $pixelAspect),
            $m[4] / $height,
        ];
        // Singular values of a 2×2 matrix from its sum and difference of rotations.
        [$e, $f, $g, $h] = [($a + $d) / 2, ($a - $d) / 2, ($c + $b) / 2, ($c - $b) / 2];
        [$q, $r] = [hypot($e, $h), hypot($f, $g)];
        $angle = $q < 1e-12 || $r < 1e-12 ? 0.0 : rad2deg((atan2($h, $e) + atan2($g, $f)) / 2);
        $angle = fmod($angle + 450, 180) - 90;

        return new self($q + $r, abs($q - $r), $angle <= -90 + 1e-9 ? 90.0 : $angle, $across, $down);
    }

    /** How much longer than high what was a circle is; 1 keeps it round. */
    public function squash(): float
    {
        return $this->shorter > 0 ? $this->longer / $this->shorter : INF;
    }

    public function isSquashed(): bool
    {
        return $this->squash() > 1.01;
    }

    /** Whether each pixel of the content is one of the surface. */
    public function isPixelForPixel(): bool
    {
        return abs($this->across - 1) < 1e-4 && abs($this->down - 1) < 1e-4 && ! $this->isSquashed();
    }

    /**
     * What a designer ought to know before seeing it: its shape first.
     *
     * @return list<string>
     */
    public function remarks(): array
    {
        $remarks = [];
        if ($this->isSquashed()) {
            $by = is_finite($this->squash()) ? sprintf('%.0f %%', ($this->squash() - 1) * 100) : 'out of all measure';
            $remarks[] = match (true) {
                abs($this->angle) < 1 => "The picture is stretched $by wider than it was made.",
                abs($this->angle) > 89 => "The picture is stretched $by higher than it was made.",
                default => sprintf(
                    'The picture is stretched %s along %.0f° to the row of the surface.',
                    $by,
                    $this->angle,
                ),
            };
        }
        $most = max($this->across, $this->down);
        if ($most > 1.01) {
            $remarks[] = sprintf(
                'Soft: each pixel of the picture covers %s pixels of the surface.',
                self::figure($most),
            );
        } elseif ($most < 0.5) {
            $remarks[] = sprintf(
                'Wasteful: %s pixels of the picture go into one of the surface, each way.',
                $most > 0 ? self::figure(1 / $most) : 'all',
            );
        }

        return $remarks;
    }

    private static function figure(float $value): string
    {
        return number_format($value, $value < 10 ? 2 : 1);
    }
}
