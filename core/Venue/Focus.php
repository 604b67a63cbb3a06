<?php

declare(strict_types=1);

namespace Core\Venue;

/**
 * Depth of field of a thin lens: H = f² / (N · c) + f; sharp from s (H − f) / (H + s − 2 f) to s (H − f) / (H − s),
 * with s the distance that is focused, N the f-number and c the circle of confusion.
 */
final readonly class Focus
{
    /**
     * @param  float  $near  metres
     * @param  float  $far  metres; INF from the hyperfocal distance on
     * @param  float  $hyperfocal  metres
     */
    private function __construct(public float $near, public float $far, public float $hyperfocal)
    {
    }

    /**
     * @param  float  $focal  millimetres
     * @param  float  $confusion  millimetres
     * @param  float  $distance  metres that is focused
     */
    public static function of(float $focal, float $fNumber, float $confusion, float $distance): self
    {
        $f = $focal / 1000;
        $h = ($f * $f) / (($fNumber * $confusion) / 1000) + $f;
        $s = max($distance, $f * 1.001);

        return new self(($s * ($h - $f)) / ($h + $s - 2 * $f), $s < $h ? ($s * ($h - $f)) / ($h - $s) : INF, $h);
    }
}
