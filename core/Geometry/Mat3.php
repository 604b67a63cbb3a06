<?php

declare(strict_types=1);

namespace Core\Geometry;

/**
 * A 3×3 matrix of the plane, row by row: element (row r, column c) is $m[3r + c]. Points are columns, on the right,
 * with a 1 below.
 */
final readonly class Mat3
{
    /** @param  array{float, float, float, float, float, float, float, float, float}  $m */
    private function __construct(public array $m)
    {
    }

    /** @param  array{float, float, float, float, float, float, float, float, float}  $m */
    public static function of(array $m): self
    {
        return new self($m);
    }

    public static function identity(): self
    {
        return new self([1.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 1.0]);
    }

    /** The unit square onto a rectangle. */
    public static function rectangle(float $x, float $y, float $width, float $height): self
    {
        return new self([$width, 0.0, $x, 0.0, $height, $y, 0.0, 0.0, 1.0]);
    }

    /**
     * Scaled and turned about a point, then moved; a positive angle turns from X toward Y, which is clockwise where Y
     * goes down.
     */
    public static function about(float $px, float $py, float $scale, float $degrees, float $dx, float $dy): self
    {
        // Quarter turns are exact, so that pixels stay on pixels.
        $quarter = fmod($degrees, 90) === 0.0 ? ((int) round(fmod($degrees, 360) / 90) + 4) % 4 : null;
        [$c, $s] = match ($quarter) {
            0 => [1.0, 0.0],
            1 => [0.0, 1.0],
            2 => [-1.0, 0.0],
            null => [cos(deg2rad($degrees)), sin(deg2rad($degrees))],
            default => [0.0, -1.0],
        };
        [$c, $s] = [$c * $scale, $s * $scale];

        return new self([
            $c,
            -$s,
            $px + $dx - $c * $px + $s * $py,
            $s,
            $c,
            $py + $dy - $s * $px - $c * $py,
            0.0,
            0.0,
            1.0,
        ]);
    }

    /** This matrix applied after the other one. */
    public function times(self $other): self
    {
        [$a, $b] = [$this->m, $other->m];

        return new self([
            $a[0] * $b[0] + $a[1] * $b[3] + $a[2] * $b[6],
            $a[0] * $b[1] + $a[1] * $b[4] + $a[2] * $b[7],
            $a[0] * $b[2] + $a[1] * $b[5] + $a[2] * $b[8],
            $a[3] * $b[0] + $a[4] * $b[3] + $a[5] * $b[6],
            $a[3] * $b[1] + $a[4] * $b[4] + $a[5] * $b[7],
            $a[3] * $b[2] + $a[4] * $b[5] + $a[5] * $b[8],
            $a[6] * $b[0] + $a[7] * $b[3] + $a[8] * $b[6],
            $a[6] * $b[1] + $a[7] * $b[4] + $a[8] * $b[7],
            $a[6] * $b[2] + $a[7] * $b[5] + $a[8] * $b[8],
        ]);
    }

    /** @return array{float, float} */
    public function point(float $x, float $y): array
    {
        $m = $this->m;
        $w = $m[6] * $x + $m[7] * $y + $m[8];

        return [($m[0] * $x + $m[1] * $y + $m[2]) / $w, ($m[3] * $x + $m[4] * $y + $m[5]) / $w];
    }

    /** The inverse, by cofactors; null when the matrix flattens the plane. */
    public function inverse(): ?self
    {
        [$a, $b, $c, $d, $e, $f, $g, $h, $i] = $this->m;
        $det = $a * ($e * $i - $f * $h) - $b * ($d * $i - $f * $g) + $c * ($d * $h - $e * $g);
        if (abs($det) < 1e-18) {
            return null;
        }

        return new self([
            ($e * $i - $f * $h) / $det,
            ($c * $h - $b * $i) / $det,
            ($b * $f - $c * $e) / $det,
            ($f * $g - $d * $i) / $det,
            ($a * $i - $c * $g) / $det,
            ($c * $d - $a * $f) / $det,
            ($d * $h - $e * $g) / $det,
            ($b * $g - $a * $h) / $det,
            ($a * $e - $b * $d) / $det,
        ]);
    }
}
