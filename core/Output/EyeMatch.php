<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Units\Check;
use Core\Units\InvalidValue;

/**
 * The light of a projector brought to that of another one by eye, step by step: brighter or darker, warmer or colder,
 * greener or pinker. A step in colour keeps the luminance, by the shares of red, green and blue in BT.709. What a
 * projector can't give any more, the other one gives less of.
 */
final readonly class EyeMatch
{
    /** By how much light changes in a step, as an exponent: one per cent. */
    private const STEP = 0.01;

    public const MOST_STEPS = 100.0;

    private const LUMINANCE = [0.2126, 0.7152, 0.0722];

    /** What a channel has at least. */
    private const LEAST = 0.01;

    /**
     * @param  list<float>  $light  that it gives of red, green and blue, 0 to 1
     * @param  list<float>  $reference  that the other one gives
     */
    private function __construct(public array $light, public array $reference)
    {
    }

    /**
     * @param  list<float>  $light  that is changed: shares of red, green and blue, 0 to 1
     * @param  list<float>  $reference  of the other one
     * @param  float  $brighter  steps; below 0 darker
     * @param  float  $warmer  steps of red against blue; below 0 colder
     * @param  float  $greener  steps of green against red and blue; below 0 pinker
     *
     * @throws InvalidValue where there is no light, or too little would be left
     */
    public static function stepped(
        array $light,
        array $reference,
        float $brighter = 0,
        float $warmer = 0,
        float $greener = 0,
    ): self {
        foreach (['brighter' => $brighter, 'warmer' => $warmer, 'greener' => $greener] as $name => $steps) {
            Check::number($name, $steps, -self::MOST_STEPS, self::MOST_STEPS, 'steps');
        }
        $before = self::luminance($light);
        if ($before <= 0) {
            throw InvalidValue::because('gain', 'This output gives no light: set its gain first.');
        }
        $found = [
            $light[0] * exp(self::STEP * ($warmer - $greener / 2)),
            $light[1] * exp(self::STEP * $greener),
            $light[2] * exp(self::STEP * (-$warmer - $greener / 2)),
        ];
        $by = (exp(self::STEP * $brighter) * $before) / self::luminance($found);
        $found = array_map(static fn (float $v): float => $v * $by, $found);
        $over = max([1.0, ...$found]);
        $found = array_map(static fn (float $v): float => $v / $over, $found);
        $reference = $over === 1.0 ? $reference : array_map(static fn (float $v): float => $v / $over, $reference);
        if (max([0.0, ...$found]) < self::LEAST || max([0.0, ...$reference]) < self::LEAST) {
            throw InvalidValue::because('brighter', 'Less than a hundredth of the light would be left.');
        }

        return new self($found, $reference);
    }

    /** @param  list<float>  $light */
    private static function luminance(array $light): float
    {
        return $light[0] * self::LUMINANCE[0] + $light[1] * self::LUMINANCE[1] + $light[2] * self::LUMINANCE[2];
    }

    /**
     * Light as an output has it.
     *
     * @param  list<float>  $light
     * @return array{peak: float, gain: list<float>}
     */
    public static function fields(array $light): array
    {
        $peak = max([self::LEAST, ...$light]);

        return ['peak' => $peak, 'gain' => array_map(static fn (float $v): float => min(1.0, $v / $peak), $light)];
    }
}
