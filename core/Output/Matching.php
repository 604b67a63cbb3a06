<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Geometry\Linear;
use Core\Units\Check;
use Core\Units\InvalidValue;

/**
 * What brings several projectors to one white and one black. Their primaries are taken as those of BT.709; each one's
 * white, as measured, says how strong its red, green and blue are. All get the white point that is asked for, as
 * bright as the one that can give it least, and the black of the one whose black is brightest.
 */
final readonly class Matching
{
    /** x and y of red, green and blue (ITU-R BT.709). */
    private const PRIMARIES = [[0.64, 0.33], [0.3, 0.6], [0.15, 0.06]];

    /** x and y of daylight at 6504 K (CIE D65). */
    public const D65 = [0.3127, 0.329];

    /**
     * @param  array<string, array{gain: list<float>, black: float, cost: float}>  $gains  by name: light of red,
     *     green and blue (0 to 1), light to be added in black as a share of its own white, and the share of its light
     *     that is lost
     * @param  float  $white  that all have then, in the measure given
     */
    private function __construct(public array $gains, public float $white, public float $black)
    {
    }

    /**
     * @param  array<string, array{white: float, black: float, x: float, y: float}>  $measured  by name: brightness of
     *     white and black in one measure, and the white point
     * @param  array{float, float}|null  $point  x and y that all are to have; null for the mean of theirs
     *
     * @throws InvalidValue
     */
    public static function of(array $measured, ?array $point = null): self
    {
        if ($measured === []) {
            throw InvalidValue::because('measured', 'There is no projector to be matched.');
        }
        foreach ($measured as $name => ['white' => $white, 'black' => $black, 'x' => $x, 'y' => $y]) {
            Check::number("$name.white", $white, 1e-6, 1e9);
            Check::number("$name.black", $black, 0, $white * 0.5);
            Check::number("$name.x", $x, 0.1, 0.6);
            Check::number("$name.y", $y, 0.1, 0.6);
        }
        $point ??= [
            array_sum(array_column($measured, 'x')) / count($measured),
            array_sum(array_column($measured, 'y')) / count($measured),
        ];
        $wanted = self::strengths($point[0], $point[1], 1.0);
        [$own, $least, $dark] = [[], INF, 0.0];
        foreach ($measured as $name => ['white' => $white, 'black' => $black, 'x' => $x, 'y' => $y]) {
            $own[$name] = self::strengths($x, $y, $white);
            foreach ($own[$name] as $k => $strength) {
                if ($strength <= 0) {
                    throw InvalidValue::because(
                        "$name.x",
                        "The white point of $name lies outside what red, green and blue make.",
                    );
                }
                if ($wanted[$k] <= 0) {
                    throw InvalidValue::because(
                        'point',
                        'The white point that is asked for lies outside what red, green and blue make.',
                    );
                }
                $least = min($least, $strength / $wanted[$k]);
            }
            $dark = max($dark, $black);
        }
        $gains = [];
        foreach ($measured as $name => ['white' => $white, 'black' => $black]) {
            $gains[$name] = [
                'gain' => array_map(
                    static fn (float $w, float $s): float => min(1.0, ($w * $least) / $s),
                    $wanted,
                    $own[$name],
                ),
                'black' => max(0.0, ($dark - $black) / $white),
                'cost' => max(0.0, 1 - $least / $white),
            ];
        }

        return new self($gains, $least, $dark);
    }

    /**
     * @return list<float> how strong red, green and blue are in a white of that point and brightness, each in units
     *     of its own brightness share
     */
    private static function strengths(float $x, float $y, float $brightness): array
    {
        $columns = array_map(
            static fn (array $p): array => [$p[0] / $p[1], 1.0, (1 - $p[0] - $p[1]) / $p[1]],
            self::PRIMARIES,
        );
        $matrix = [];
        for ($r = 0; $r < 3; $r++) {
            $matrix[] = [$columns[0][$r], $columns[1][$r], $columns[2][$r]];
        }

        return Linear::solve($matrix, [($brightness * $x) / $y, $brightness, ($brightness * (1 - $x - $y)) / $y]) ?? [
            0.0,
            0.0,
            0.0,
        ];
    }
}
