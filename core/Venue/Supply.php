<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Units\Check;
use Core\Units\InvalidValue;

/**
 * The circuits that feed a wall: volts across a load, amperes of the breaker, phases, whether loads stand between a
 * line and the neutral or between two lines, power factor, and the share that may be drawn for hours.
 */
final readonly class Supply
{
    public const BETWEEN = ['neutral', 'lines'];

    private function __construct(
        public float $volts,
        public float $amperes,
        public int $phases,
        public float $powerFactor,
        public float $continuousShare,
        public bool $betweenLines,
    ) {
    }

    /**
     * @param  string  $between  neutral: each load between a line and the neutral (230 V, 120 V); lines: between two
     *     lines (208 V, 240 V of split phase)
     */
    public static function of(
        float $volts = 230,
        float $amperes = 16,
        int $phases = 3,
        float $powerFactor = 0.95,
        float $continuousShare = 0.8,
        string $between = 'neutral',
    ): self {
        if ($phases !== 1 && $phases !== 3) {
            throw InvalidValue::because('phases', "A supply has 1 or 3 phases; it was $phases.");
        }
        if (! in_array($between, self::BETWEEN, true)) {
            throw InvalidValue::notOneOf('between', $between, self::BETWEEN);
        }

        return new self(
            Check::number('volts', $volts, 50, 1000, 'V'),
            Check::number('amperes', $amperes, 1, 1000, 'A'),
            $phases,
            Check::number('powerFactor', $powerFactor, 0.3, 1),
            Check::number('continuousShare', $continuousShare, 0.1, 1),
            $between === 'lines',
        );
    }

    /** Watts that one circuit may carry for hours: V · A · share · power factor. */
    public function wattsPerCircuit(): float
    {
        return $this->volts * $this->amperes * $this->continuousShare * $this->powerFactor;
    }

    /** Amperes that so many watts draw from one circuit: P / (V · cos φ). */
    public function current(float $watts): float
    {
        return $watts / ($this->volts * $this->powerFactor);
    }

    /**
     * Circuits dealt out to the lines by turns, or to the pairs of lines (1-2, 2-3, 3-1), and what flows then.
     *
     * All currents lag alike, so that they add as vectors 120° apart. To the neutral: a line carries its own
     * circuits, the neutral √(a² + b² + c² − ab − bc − ca). Between lines: a line carries the difference of its two
     * pairs' currents, √(a² + c² + ac), which is √3 times one of them where they are even; there is no neutral.
     * Rectifiers add harmonics to the neutral that this does not know.
     *
     * @param  list<float>  $circuits  watts of each
     * @return array{watts: list<float>, amperes: list<float>, neutral: float, unbalance: float} of each line, and how
     *     far the current of the most loaded is above the mean, 0 to 2
     */
    public function lines(array $circuits): array
    {
        $w = [0.0, 0.0, 0.0];
        foreach ($circuits as $i => $load) {
            $w[$i % $this->phases] += $load;
        }
        [$a, $b, $c] = [$this->current($w[0]), $this->current($w[1]), $this->current($w[2])];
        if ($this->phases === 1) {
            // Out on one conductor and back on the other, whether that is the neutral or a second line.
            return $this->betweenLines
                ? ['watts' => [$w[0] / 2, $w[0] / 2], 'amperes' => [$a, $a], 'neutral' => 0.0, 'unbalance' => 0.0]
                : ['watts' => [$w[0]], 'amperes' => [$a], 'neutral' => $a, 'unbalance' => 0.0];
        }
        if ($this->betweenLines) {
            $both = static fn (float $i, float $k): float => sqrt($i * $i + $k * $k + $i * $k);
            $watts = [($w[0] + $w[2]) / 2, ($w[0] + $w[1]) / 2, ($w[1] + $w[2]) / 2];
            $amperes = [$both($a, $c), $both($a, $b), $both($b, $c)];
            $neutral = 0.0;
        } else {
            [$watts, $amperes] = [[$w[0], $w[1], $w[2]], [$a, $b, $c]];
            $neutral = sqrt(max(0.0, $a * $a + $b * $b + $c * $c - $a * $b - $b * $c - $c * $a));
        }
        $mean = array_sum($amperes) / 3;

        return [
            'watts' => $watts,
            'amperes' => $amperes,
            'neutral' => $neutral,
            'unbalance' => $mean > 0 ? max($amperes) / $mean - 1 : 0.0,
        ];
    }

    /** Kilovolt-amperes that so many watts draw: P / cos φ. */
    public function apparent(float $watts): float
    {
        return $watts / $this->powerFactor / 1000;
    }
}
