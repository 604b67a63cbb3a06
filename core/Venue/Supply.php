<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Units\Check;
use Core\Units\Refused;

/** The circuits that feed a wall: volts to neutral, amperes of the breaker, phases, power factor, and the share that may be drawn for hours. */
final readonly class Supply
{
    private function __construct(public float $volts, public float $amperes, public int $phases, public float $powerFactor, public float $continuousShare)
    {
    }

    public static function of(float $volts = 230, float $amperes = 16, int $phases = 3, float $powerFactor = 0.95, float $continuousShare = 0.8): self
    {
        if ($phases !== 1 && $phases !== 3) {
            throw Refused::because('phases', "A supply has 1 or 3 phases; it was $phases.");
        }

        return new self(
            Check::number('volts', $volts, 50, 1000, 'V'),
            Check::number('amperes', $amperes, 1, 1000, 'A'),
            $phases,
            Check::number('powerFactor', $powerFactor, 0.3, 1),
            Check::number('continuousShare', $continuousShare, 0.1, 1),
        );
    }

    /** Watts that one circuit may carry for hours: V · A · share · power factor. */
    public function wattsPerCircuit(): float
    {
        return $this->volts * $this->amperes * $this->continuousShare * $this->powerFactor;
    }

    /** Amperes that so many watts draw from one circuit. */
    public function current(float $watts): float
    {
        return $watts / ($this->volts * $this->powerFactor);
    }

    /**
     * Circuits dealt out to the phases by turns.
     *
     * @param  list<float>  $circuits  watts of each
     * @return array{watts: list<float>, unbalance: float} of each phase, and how far the most loaded is above the mean, 0 to 2
     */
    public function phases(array $circuits): array
    {
        $watts = $this->phases === 3 ? [0.0, 0.0, 0.0] : [0.0];
        foreach ($circuits as $i => $load) {
            $watts[$i % count($watts)] += $load;
        }
        $mean = array_sum($watts) / count($watts);

        return ['watts' => array_values($watts), 'unbalance' => $mean > 0 ? max($watts) / $mean - 1 : 0.0];
    }
}
