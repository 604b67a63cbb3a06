<?php

declare(strict_types=1);

namespace Core\Cues;

use Core\Units\Flicks;
use Core\Values\Track;

/** How a fade runs between its two ends, over shares of its time and way from 0 to 1. */
enum FadeCurve: string
{
    case Linear = 'linear';
    /** Slow at both ends: 3s² − 2s³. */
    case Smooth = 'smooth';
    /** Slow at first: s². */
    case EaseIn = 'ease-in';
    /** Slow at last: 2s − s². */
    case EaseOut = 'ease-out';

    public function at(float $share): float
    {
        [$a, $b, $c] = $this->coefficients();

        return (($c * $share + $b) * $share + $a) * $share;
    }

    /**
     * From one value to another, standing before and after; at once when there is no time for it. Exact: each curve
     * is one piece.
     */
    public function track(float $before, int $from, int $to, float $after): Track
    {
        if ($to <= $from) {
            return Track::step($before, $from, $after);
        }
        $seconds = Flicks::toSeconds($to - $from);
        [$a, $b, $c] = array_map(static fn (float $k): float => $k * ($after - $before), $this->coefficients());

        return Track::of(
            [$from, $to],
            [$before, $a / $seconds, $b / $seconds ** 2, $c / $seconds ** 3, $after, 0.0, 0.0, 0.0],
            true,
        );
    }

    /** @return array{float, float, float} of s, s² and s³ */
    private function coefficients(): array
    {
        return match ($this) {
            self::Linear => [1.0, 0.0, 0.0],
            self::Smooth => [0.0, 3.0, -2.0],
            self::EaseIn => [0.0, 1.0, 0.0],
            self::EaseOut => [2.0, -1.0, 0.0],
        };
    }
}
