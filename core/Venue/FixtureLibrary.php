<?php

declare(strict_types=1);

namespace Core\Venue;

/** Generic pixel lights to begin with: of the kind of light, of no maker's. */
final class FixtureLibrary
{
    /** name, columns, rows, mm across, mm down, channels, header, bits, W */
    private const ROWS = [
        ['Bar 8, RGB', 8, 1, 1000, 60, 'RGB', '', 8, 80],
        ['Bar 16, RGBW', 16, 1, 1000, 60, 'RGBW', '', 8, 160],
        ['Bar 18, RGBW, 16 bit', 18, 1, 1000, 70, 'RGBW', '', 16, 220],
        ['Bar 12, dimmer and RGB', 12, 1, 1000, 70, 'RGB', 'dimmer', 8, 120],
        ['Strip 60, RGB', 60, 1, 1000, 12, 'RGB', '', 8, 15],
        ['Strip 144, GRB', 144, 1, 1000, 12, 'GRB', '', 8, 40],
        ['Strip 60, RGBW', 60, 1, 1000, 12, 'RGBW', '', 8, 20],
        ['Strip 60, two whites', 60, 1, 1000, 12, 'white 2700, white 6500', '', 8, 20],
        ['Grid 5 × 5, warm white', 5, 5, 600, 600, 'white 2900', '', 8, 400],
        ['Grid 5 × 5, RGBW', 5, 5, 600, 600, 'RGBW', '', 8, 500],
        ['Panel 16 × 16, RGB', 16, 16, 500, 500, 'RGB', '', 8, 120],
        ['Mast 9 × 22, RGB and two whites', 9, 22, 450, 2200, 'red, green, blue, white 3200, white 6500', '', 8, 600],
        ['String 50, RGB', 50, 1, 10_000, 40, 'RGB', '', 8, 30],
        ['Spot, RGBA', 1, 1, 300, 300, 'RGBA', '', 8, 150],
        ['Spot, RGBALU, 16 bit', 1, 1, 300, 300, 'red, green, blue, amber, lime, uv', 'dimmer', 16, 300],
    ];

    /** @return list<FixtureType> */
    public static function types(): array
    {
        return array_map(
            static fn (array $r): FixtureType => FixtureType::fromRow([
                'name' => $r[0],
                'columns' => $r[1],
                'rows' => $r[2],
                'widthMm' => $r[3],
                'heightMm' => $r[4],
                'channels' => $r[5],
                'header' => $r[6],
                'bits' => $r[7],
                'watts' => $r[8],
            ]),
            self::ROWS,
        );
    }
}
