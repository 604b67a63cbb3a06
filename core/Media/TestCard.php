<?php

declare(strict_types=1);

namespace Core\Media;

use Core\Units\Check;

/**
 * The test card: a grid with its pixel coordinates, circles that show squashing, the edges, the middle, and the name.
 */
final class TestCard
{
    private const GROUND = [22, 24, 38];

    private const FIELD = [34, 38, 60];

    private const LINE = [96, 106, 150];

    private const EDGE = [240, 236, 224];

    private const WORDS = [255, 214, 160];

    public const MAX_PIXELS = 16_777_216;

    public static function picture(int $width, int $height, string $name): Picture
    {
        Check::pixels('width', $width);
        Check::pixels('height', $height);
        Check::whole('width × height', $width * $height, 1, self::MAX_PIXELS, 'px');
        $cell = self::cell($width, $height);
        $rgba = static fn (array $c): string => pack('C4', $c[0], $c[1], $c[2], 255);
        [$ground, $field, $line, $edge] = [
            $rgba(self::GROUND),
            $rgba(self::FIELD),
            $rgba(self::LINE),
            $rgba(self::EDGE),
        ];
        $rows = [];
        foreach ([0, 1] as $parity) {
            $row = '';
            for ($x = 0; $x < $width; $x += $cell) {
                $run = min($cell, $width - $x);
                $row .= $line.str_repeat((intdiv($x, $cell) + $parity) % 2 === 0 ? $ground : $field, $run - 1);
            }
            $rows[$parity] = $row;
        }
        $bytes = '';
        for ($y = 0; $y < $height; $y++) {
            $bytes .= $y % $cell === 0 ? str_repeat($line, $width) : $rows[intdiv($y, $cell) % 2];
        }
        $put = static function (int $x, int $y, string $pixel) use (&$bytes, $width, $height): void {
            if ($x >= 0 && $y >= 0 && $x < $width && $y < $height) {
                $at = 4 * ($y * $width + $x);
                $bytes[$at] = $pixel[0];
                $bytes[$at + 1] = $pixel[1];
                $bytes[$at + 2] = $pixel[2];
            }
        };
        $write = static function (string $text, int $left, int $top, int $scale, string $pixel) use ($put): void {
            foreach (Lettering::pixels($text) as [$x, $y]) {
                for ($i = 0; $i < $scale * $scale; $i++) {
                    $put($left + $x * $scale + ($i % $scale), $top + $y * $scale + intdiv($i, $scale), $pixel);
                }
            }
        };
        [$cx, $cy, $r] = [($width - 1) / 2, ($height - 1) / 2, min($width, $height) / 2 - 1];
        foreach ([[$cx, $cy, $r / 2], ...self::circles($width, $height)] as [$x, $y, $radius]) {
            $steps = max(8, (int) ceil(8 * $radius));
            for ($i = 0; $i < $steps; $i++) {
                $put(
                    (int) round($x + $radius * cos((2 * M_PI * $i) / $steps)),
                    (int) round($y + $radius * sin((2 * M_PI * $i) / $steps)),
                    $edge,
                );
            }
        }
        $arm = min(intdiv($cell, 2), intdiv(min($width, $height), 4));
        for ($i = 0; $i < $arm; $i++) {
            foreach ([1, 2] as $in) {
                foreach ([[$i, $in], [$in, $i]] as [$x, $y]) {
                    $put($x, $y, $edge);
                    $put($width - 1 - $x, $y, $edge);
                    $put($x, $height - 1 - $y, $edge);
                    $put($width - 1 - $x, $height - 1 - $y, $edge);
                }
            }
        }
        for ($i = -intdiv($cell, 2); $i <= intdiv($cell, 2); $i++) {
            foreach ([0, -1] as $thick) {
                $put((int) ceil($cx) + $i, (int) ceil($cy) + $thick, $edge);
                $put((int) ceil($cx) + $thick, (int) ceil($cy) + $i, $edge);
            }
        }
        for ($x = 0; $x < $width; $x++) {
            $put($x, 0, $edge);
            $put($x, $height - 1, $edge);
        }
        for ($y = 0; $y < $height; $y++) {
            $put(0, $y, $edge);
            $put($width - 1, $y, $edge);
        }
        if ($cell >= 40) {
            for ($y = 0; $y < $height; $y += $cell) {
                for ($x = 0; $x < $width; $x += $cell) {
                    $write("$x,$y", $x + 4, $y + 4, 1, $line);
                }
            }
        }
        foreach ([[$name, -1.2], ["$width × $height", 0.6]] as [$text, $lines]) {
            $room = $width * 0.8;
            $text = mb_substr((string) $text, 0, max(1, (int) floor($room / Lettering::ADVANCE)));
            $scale = max(
                1,
                min(intdiv(min($width, $height), 90) + 1, (int) floor($room / max(1, Lettering::width($text)))),
            );
            $write(
                $text,
                (int) round(($width - $scale * Lettering::width($text)) / 2),
                (int) round($height / 2 + $lines * $scale * (Lettering::HEIGHT + 3)),
                $scale,
                $rgba(self::WORDS),
            );
        }

        return Picture::of($width, $height, $bytes);
    }

    /**
     * As many circles side by side as the raster is longer than it is wide: each shows squashing where it stands.
     *
     * @return list<array{float, float, float}> middle and radius
     */
    private static function circles(int $width, int $height): array
    {
        $count = max(1, min(32, (int) round(max($width, $height) / min($width, $height))));
        $radius = min($width, $height) / 2 - 1;

        return array_map(static function (int $i) use ($count, $width, $height, $radius): array {
            $along = ($i + 0.5) / $count;

            return [
                $width >= $height ? $along * $width - 0.5 : ($width - 1) / 2,
                $width >= $height ? ($height - 1) / 2 : $along * $height - 0.5,
                $radius,
            ];
        }, range(0, $count - 1));
    }

    /** The side of a grid cell: 8 to 120 px, about a twelfth of the shorter side. */
    private static function cell(int $width, int $height): int
    {
        foreach ([8, 16, 20, 32, 40, 64, 80] as $side) {
            if (min($width, $height) / $side <= 13) {
                return $side;
            }
        }

        return 120;
    }
}
