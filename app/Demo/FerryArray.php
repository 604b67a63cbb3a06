<?php

declare(strict_types=1);

namespace App\Demo;

/**
 * Six cameras side by side on the wheelhouse of the ferry, each with a lens that bends in its own way, none quite
 * where it was meant to be.
 */
final class FerryArray
{
    /** Pixels of a plate. */
    public const WIDTH = 320;

    public const HEIGHT = 200;

    /**
     * @return list<array<string, float>> of each camera: yaw, pitch, roll, angle (degrees), k1, k2, p1, p2; from left
     *     to right
     */
    public static function lenses(): array
    {
        $lenses = [];
        foreach (
            [
                [0.4, -0.3, 0.5, -0.42, 0.2],
                [-0.3, 0.2, -0.4, -0.31, 0.1],
                [0.2, 0.4, 0.3, -0.45, 0.3],
                [-0.5, -0.2, -0.2, 0.24, -0.1],
                [0.3, 0.1, 0.6, -0.38, 0.0],
                [-0.2, -0.4, -0.5, -0.27, 0.1],
            ] as $i => [$yaw, $pitch, $roll, $k1, $k2]
        ) {
            $lenses[] = [
                'yaw' => 55 - 22 * $i + $yaw,
                'pitch' => 2 + $pitch,
                'roll' => $roll,
                'angle' => 34.0,
                'k1' => $k1,
                'k2' => $k2,
                'p1' => 0.006 * ($i - 2.5),
                'p2' => 0.01 * (($i % 3) - 1),
            ];
        }

        return $lenses;
    }

    /**
     * The part of the pane that a camera's plate lies in: three across, two down.
     *
     * @return array{int, int, int, int}
     */
    public static function part(int $camera): array
    {
        return [($camera % 3) * self::WIDTH, intdiv($camera, 3) * self::HEIGHT, self::WIDTH, self::HEIGHT];
    }

    /** @return array{int, int} */
    public static function pane(): array
    {
        return [3 * self::WIDTH, 2 * self::HEIGHT];
    }
}
