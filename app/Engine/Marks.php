<?php

declare(strict_types=1);

namespace App\Engine;

/**
 * What is drawn over an output for a few seconds, so that people find their way on it: a crosshair, shapes with their
 * names, a grid, a colour.
 */
final class Marks
{
    /** Seconds that they stay, unless they are told again. */
    public const LAST = 10;

    private const MAX_SHAPES = 300;

    private const MAX_CORNERS = 64;

    /**
     * @param  array<string, mixed>  $command  output; cross: x and y; shapes: lists of points, label, and fill
     *     (#rrggbb) or grid (px); none of them takes all away
     * @return array<string, mixed>|string what is sent, or what is wrong
     */
    public static function of(array $command): array|string
    {
        $output = $command['output'] ?? null;
        if (! is_string($output) || $output === '' || strlen($output) > 26) {
            return 'Marks name an output by its id.';
        }
        $cross = $command['cross'] ?? null;
        if ($cross !== null && ! self::isPoint($cross)) {
            return 'A crosshair is x and y in pixels.';
        }
        $shapes = $command['shapes'] ?? [];
        if (! is_array($shapes) || ! array_is_list($shapes) || count($shapes) > self::MAX_SHAPES) {
            return 'There are at most '.self::MAX_SHAPES.' shapes.';
        }
        $told = [];
        foreach ($shapes as $shape) {
            $points = is_array($shape) ? $shape['points'] ?? null : null;
            if (
                ! is_array($points) ||
                ! array_is_list($points) ||
                count($points) < 2 ||
                count($points) > self::MAX_CORNERS ||
                array_filter($points, static fn (mixed $p): bool => ! self::isPoint($p)) !== []
            ) {
                return 'A shape has 2 to '.self::MAX_CORNERS.' points of x and y in pixels.';
            }
            $one = ['points' => $points];
            foreach (['label' => '/^.{0,80}$/us', 'fill' => '/^#[0-9a-f]{6}$/D'] as $name => $fits) {
                if (isset($shape[$name])) {
                    if (! is_string($shape[$name]) || preg_match($fits, $shape[$name]) !== 1) {
                        return $name === 'fill'
                            ? 'A fill is written as # and six digits.'
                            : 'A label has at most 80 signs.';
                    }
                    $one[$name] = $shape[$name];
                }
            }
            if (isset($shape['grid'])) {
                if (! is_int($shape['grid']) || $shape['grid'] < 4 || $shape['grid'] > 4096) {
                    return 'A grid has squares of 4 to 4,096 pixels.';
                }
                $one['grid'] = $shape['grid'];
            }
            $told[] = $one;
        }

        return ['output' => $output, 'cross' => $cross, 'shapes' => $told];
    }

    private static function isPoint(mixed $point): bool
    {
        return is_array($point) &&
            array_is_list($point) &&
            count($point) === 2 &&
            array_filter(
                $point,
                static fn (mixed $v): bool => (! is_int($v) && ! is_float($v)) ||
                    ! is_finite((float) $v) ||
                    abs($v) > 100_000,
            ) === [];
    }
}
