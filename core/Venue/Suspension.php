<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Units\InvalidValue;

/**
 * What a wall on bumpers hangs on its points. Each column's weight is carried where the column is, in the middle of
 * its width along the face, and shared by the two points beside it by the rule of the lever: w · b / (a + b) and w ·
 * a / (a + b). What overhangs the outermost points turns about them, so that a point may even be lifted (a load below
 * zero). The bumpers are taken as hinged at each point: a stiff truss above deals otherwise, and its own calculation
 * goes before this one.
 */
final readonly class Suspension
{
    public const MAX_POINTS = 100;

    /**
     * @param  list<float>  $points  metres along the face from house left
     * @param  list<float>  $loads  kilograms on each
     * @param  float  $oneLost  the most that any point bears when another one is lost; 0 with fewer than three
     * @param  bool  $tips  whether a point would be lifted, with all or with one lost
     */
    private function __construct(public array $points, public array $loads, public float $oneLost, public bool $tips)
    {
    }

    /**
     * @param  string  $points  how many, spread evenly, or their places in metres from house left, with semicolons
     *     between
     * @param  float  $rigging  kilograms of bumpers, cables and what else hangs with it, spread evenly
     *
     * @throws InvalidValue naming hangingPoints
     */
    public static function of(Wall $wall, string $points, float $rigging = 0): self
    {
        $width = $wall->figures()->widthMetres;
        $at = self::places($points, $width);
        $weights = [];
        $left = 0.0;
        foreach ($wall->columnWeights() as [$wide, $kilograms]) {
            $weights[] = [$left + $wide / 2, $kilograms + ($rigging * $wide) / $width];
            $left += $wide;
        }
        $loads = self::shared($weights, $at);
        [$worst, $tips] = [0.0, min([0.0, ...$loads]) < -1e-9];
        if (count($at) > 2) {
            foreach (array_keys($at) as $lost) {
                $rest = $at;
                unset($rest[$lost]);
                $now = self::shared($weights, array_values($rest));
                $worst = max($worst, ...$now);
                $tips = $tips || min($now) < -1e-9;
            }
        }

        return new self($at, $loads, $worst, $tips);
    }

    /** @return list<float> */
    private static function places(string $text, float $width): array
    {
        $text = trim($text);
        if (preg_match('/^\d+$/', $text) === 1 && (int) $text >= 1) {
            $count = (int) $text;
            if ($count > self::MAX_POINTS) {
                throw InvalidValue::because(
                    'hangingPoints',
                    'A wall hangs on at most '.self::MAX_POINTS.' points.',
                );
            }

            return array_map(static fn (int $i): float => (($i + 0.5) * $width) / $count, range(0, $count - 1));
        }
        $at = [];
        foreach (explode(';', $text) as $place) {
            if (! is_numeric(trim($place)) || (float) $place < 0 || (float) $place > $width + 1e-9) {
                throw InvalidValue::because(
                    'hangingPoints',
                    sprintf(
                        'Hanging points are a number, or places from 0 to %.3f m with semicolons between, such as "0.5; 2.5".',
                        $width,
                    ),
                );
            }
            $at[] = (float) $place;
        }
        sort($at);
        if (count(array_unique($at)) !== count($at) || count($at) > self::MAX_POINTS) {
            throw InvalidValue::because(
                'hangingPoints',
                'Hanging points are at different positions, and there are at most '.self::MAX_POINTS.'.',
            );
        }

        return $at;
    }

    /**
     * @param  list<array{float, float}>  $weights  place and kilograms
     * @param  list<float>  $points  ascending
     * @return non-empty-list<float>
     */
    private static function shared(array $weights, array $points): array
    {
        $loads = array_fill(0, max(1, count($points)), 0.0);
        if (count($points) < 2) {
            return [array_sum(array_column($weights, 1))];
        }
        foreach ($weights as [$x, $kilograms]) {
            // The pair that it hangs between; beyond the ends, the outermost pair.
            $i = 0;
            while ($i < count($points) - 2 && $x > $points[$i + 1]) {
                $i++;
            }
            $share = ($x - $points[$i]) / ($points[$i + 1] - $points[$i]);
            $loads[$i] += $kilograms * (1 - $share);
            $loads[$i + 1] += $kilograms * $share;
        }

        return array_values($loads);
    }
}
