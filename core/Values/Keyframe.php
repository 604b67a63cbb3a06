<?php

declare(strict_types=1);

namespace Core\Values;

use Core\Units\Check;
use Core\Units\Flicks;
use Core\Units\InvalidValue;

/**
 * A value at a time, and how it leaves for the next one. For a Bézier the two handles are given in the box between this
 * keyframe (0, 0) and the next (1, 1); their times stay within 0 and 1, so that time never runs backwards.
 */
final readonly class Keyframe
{
    /** Handles where none are given: slow out, slow in. */
    public const EASY = [0.4, 0.0, 0.6, 1.0];

    /** @param  array{float, float, float, float}  $handles x1, y1, x2, y2 */
    private function __construct(
        public int $time,
        public float $value,
        public Interpolation $interpolation,
        public array $handles,
    ) {
    }

    /** @param  array{float, float, float, float}  $handles */
    public static function of(
        int $time,
        float $value,
        Interpolation $interpolation = Interpolation::Linear,
        array $handles = self::EASY,
    ): self {
        Check::whole('time', $time, -Flicks::MAX, Flicks::MAX, 'flicks');
        if (! is_finite($value)) {
            throw InvalidValue::notANumber('value');
        }

        return new self($time, $value, $interpolation, $handles === self::EASY ? $handles : self::handles($handles));
    }

    /**
     * @return array{float, float, float, float}
     *
     * @throws InvalidValue when these are not two handles whose times lie within 0 and 1
     */
    public static function handles(mixed $given): array
    {
        $h = is_array($given) ? array_values($given) : [];
        if (count($h) !== 4 || array_filter($h, static fn (mixed $n): bool => ! is_int($n) && ! is_float($n)) !== []) {
            throw InvalidValue::because('handles', 'A Bézier has two handles of two numbers each.');
        }
        foreach ($h as $i => $number) {
            Check::number('handles', (float) $number, $i % 2 === 0 ? 0 : -10, $i % 2 === 0 ? 1 : 10);
        }

        return [(float) $h[0], (float) $h[1], (float) $h[2], (float) $h[3]];
    }

    /** Between this keyframe and the next, at a share of 0 to 1 of the time between them. */
    public function toward(self $next, float $share): float
    {
        $shape = match ($this->interpolation) {
            Interpolation::Step => 0.0,
            Interpolation::Linear => $share,
            Interpolation::Smooth => $share * $share * (3 - 2 * $share),
            Interpolation::Bezier => self::bezier($this->handles, $share),
        };

        return $this->value + ($next->value - $this->value) * $shape;
    }

    /**
     * How far along a Bézier is at a share of the time, both from 0 to 1: the curve's parameter is found by Newton's
     * method, held within a bracket.
     *
     * @param  array{float, float, float, float}  $handles
     */
    public static function bezier(array $handles, float $share): float
    {
        [$x1, $y1, $x2, $y2] = $handles;
        $at = static fn (float $a, float $b, float $s): float => ((1 + 3 * $a - 3 * $b) * $s + 3 * $b - 6 * $a) *
            $s *
            $s +
            3 * $a * $s;
        [$low, $high, $s] = [0.0, 1.0, $share];
        for ($i = 0; $i < 60 && $high - $low > 1e-12; $i++) {
            $x = $at($x1, $x2, $s);
            if (abs($x - $share) < 1e-12) {
                break;
            }
            $x < $share ? ($low = $s) : ($high = $s);
            $slope = (3 * (1 + 3 * $x1 - 3 * $x2) * $s + 2 * (3 * $x2 - 6 * $x1)) * $s + 3 * $x1;
            $newton = $slope > 1e-9 ? $s - ($x - $share) / $slope : -1.0;
            $s = $newton > $low && $newton < $high ? $newton : ($low + $high) / 2;
        }

        return $at($y1, $y2, $s);
    }
}
