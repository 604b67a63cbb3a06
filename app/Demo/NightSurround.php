<?php

declare(strict_types=1);

namespace App\Demo;

use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Media\Picture;

/**
 * Saltgate Harbour at night as it is seen from the ferry: what is in every direction, made of nothing but formulas,
 * so that what was shot of it, and what is thrown again, can be held against the truth.
 */
final class NightSurround
{
    /** Lanterns on the quay: azimuth and elevation in degrees. */
    public const LANTERNS = [
        [-72, 3],
        [-51, 6],
        [-40, 2],
        [-20, 5],
        [-9, 8],
        [0, 3],
        [10, 6],
        [20, 4],
        [33, 7],
        [41, 2],
        [60, 5],
        [75, 4],
    ];

    /** Degrees across a lantern's glow. */
    private const GLOW = 1.1;

    /**
     * @param  float  $azimuth  degrees to the right of straight ahead
     * @param  float  $elevation  degrees above the horizon
     * @return array{float, float, float} red, green, blue, 0 to 1
     */
    public static function at(float $azimuth, float $elevation): array
    {
        // A dusk that is warm at the horizon, mirrored and darker in the water.
        $height = abs($elevation) / 90;
        $water = $elevation < 0 ? 0.55 : 1.0;
        $warm = exp(-((($azimuth + 15) / 55) ** 2)) * exp(-$height * 7);
        [$r, $g, $b] = [
            (0.05 + 0.55 * $warm) * $water,
            (0.07 + 0.26 * $warm) * $water,
            (0.22 - 0.12 * $height + 0.05 * $warm) * $water,
        ];
        // Ripples.
        $ripple = $elevation < 0 ? 0.04 * sin(deg2rad($azimuth * 24)) * sin(deg2rad($elevation * 30)) : 0.0;
        // Roofs against the sky, with soft edges.
        $roof = 3 + 2.2 * sin(deg2rad($azimuth * 5)) + 1.3 * sin(deg2rad($azimuth * 11 + 40));
        $dark = $elevation < 0 ? 0.0 : 1 / (1 + exp(($elevation - $roof) * 6));
        [$r, $g, $b] = [
            $r * (1 - 0.8 * $dark) + $ripple,
            $g * (1 - 0.8 * $dark) + $ripple,
            $b * (1 - 0.7 * $dark) + $ripple,
        ];
        foreach (self::LANTERNS as [$a, $e]) {
            $glow =
                exp(-((($azimuth - $a) ** 2 + ($elevation - $e) ** 2) / self::GLOW ** 2)) +
                0.35 * exp(-((($azimuth - $a) ** 2 + (($elevation + $e) / 2.5) ** 2) / self::GLOW ** 2));
            [$r, $g, $b] = [$r + 0.95 * $glow, $g + 0.66 * $glow, $b + 0.25 * $glow];
        }

        return [max(0.0, min(1.0, $r)), max(0.0, min(1.0, $g)), max(0.0, min(1.0, $b))];
    }

    /** @return array{float, float} azimuth and elevation in degrees of a direction, straight ahead being −Z */
    public static function towards(float $x, float $y, float $z): array
    {
        return [rad2deg(atan2($x, 0.0 - $z)), rad2deg(atan2($y, hypot($x, $z)))];
    }

    /**
     * What a camera at its middle shoots of it.
     *
     * @param  array<string, float>  $lens  yaw, pitch, roll, angle (degrees), k1, k2, k3, p1, p2
     */
    public static function plate(array $lens, int $width, int $height): Picture
    {
        $turn = Pose::of(Vec3::zero(), $lens['yaw'] ?? 0, $lens['pitch'] ?? 0, $lens['roll'] ?? 0)->matrix();
        $across = tan(deg2rad($lens['angle']) / 2);
        $bytes = '';
        for ($j = 0; $j < $height; $j++) {
            for ($i = 0; $i < $width; $i++) {
                [$x, $y] = self::straightened(
                    (($i + 0.5 - $width / 2) / ($width / 2)) * $across,
                    (($j + 0.5 - $height / 2) / ($width / 2)) * $across,
                    $lens,
                );
                $d = $turn->direction(Vec3::of($x, -$y, -1));
                $bytes .= self::pixel(...self::towards($d->x, $d->y, $d->z));
            }
        }

        return Picture::of($width, $height, $bytes);
    }

    /** All of it, half a turn wide and from straight down to straight up. */
    public static function halfSphere(int $width, int $height): Picture
    {
        $bytes = '';
        for ($j = 0; $j < $height; $j++) {
            for ($i = 0; $i < $width; $i++) {
                $bytes .= self::pixel((($i + 0.5) / $width - 0.5) * 180, (0.5 - ($j + 0.5) / $height) * 180);
            }
        }

        return Picture::of($width, $height, $bytes);
    }

    /**
     * Where on the picture plane a ray was before a lens bent it: the bending undone by Newton's method.
     *
     * @param  array<string, float>  $lens
     * @return array{float, float}
     */
    private static function straightened(float $bx, float $by, array $lens): array
    {
        [$k1, $k2, $k3, $p1, $p2] = array_map(static fn (string $k): float => $lens[$k] ?? 0.0, [
            'k1',
            'k2',
            'k3',
            'p1',
            'p2',
        ]);
        [$x, $y] = [$bx, $by];
        for ($n = 0; $n < 8; $n++) {
            $r2 = $x * $x + $y * $y;
            $radial = 1 + $r2 * ($k1 + $r2 * ($k2 + $r2 * $k3));
            $slope = 2 * ($k1 + $r2 * (2 * $k2 + 3 * $r2 * $k3));
            $fx = $x * $radial + 2 * $p1 * $x * $y + $p2 * ($r2 + 2 * $x * $x) - $bx;
            $fy = $y * $radial + $p1 * ($r2 + 2 * $y * $y) + 2 * $p2 * $x * $y - $by;
            $xx = $radial + $x * $x * $slope + 2 * $p1 * $y + 6 * $p2 * $x;
            $xy = $x * $y * $slope + 2 * $p1 * $x + 2 * $p2 * $y;
            $yy = $radial + $y * $y * $slope + 6 * $p1 * $y + 2 * $p2 * $x;
            $det = $xx * $yy - $xy * $xy;
            [$x, $y] = [$x - ($yy * $fx - $xy * $fy) / $det, $y - ($xx * $fy - $xy * $fx) / $det];
        }

        return [$x, $y];
    }

    private static function pixel(float $azimuth, float $elevation): string
    {
        [$r, $g, $b] = self::at($azimuth, $elevation);

        return pack('C4', (int) round(255 * $r), (int) round(255 * $g), (int) round(255 * $b), 255);
    }
}
