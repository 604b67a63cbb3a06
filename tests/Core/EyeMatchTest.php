<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Output\EyeMatch;
use Core\Units\InvalidValue;
use PHPUnit\Framework\TestCase;

/** Steps by eye, against figures by hand. */
final class EyeMatchTest extends TestCase
{
    private static function luminance(float $r, float $g, float $b): float
    {
        return 0.2126 * $r + 0.7152 * $g + 0.0722 * $b;
    }

    public function test_a_step_of_brightness_is_one_per_cent_of_light(): void
    {
        $made = EyeMatch::stepped([0.8, 0.6, 0.5], [1, 1, 1], brighter: 1);
        self::assertEqualsWithDelta([0.8 * M_E ** 0.01, 0.6 * M_E ** 0.01, 0.5 * M_E ** 0.01], $made->light, 1e-12);
        self::assertEqualsWithDelta([1, 1, 1], $made->reference, 1e-12);
        // There and back.
        self::assertEqualsWithDelta(
            [0.8, 0.6, 0.5],
            EyeMatch::stepped($made->light, [1, 1, 1], brighter: -1)->light,
            1e-12,
        );
    }

    public function test_what_is_at_its_most_makes_the_other_one_darker(): void
    {
        // Ten steps are 1.10517 times: both are divided by that.
        $made = EyeMatch::stepped([1, 0.9, 0.8], [1, 0.5, 0.25], brighter: 10);
        self::assertEqualsWithDelta([1, 0.9, 0.8], $made->light, 1e-12);
        self::assertEqualsWithDelta([0.904837, 0.452419, 0.226209], $made->reference, 1e-6);
        // The ratio of the two is that of the steps.
        self::assertEqualsWithDelta(exp(0.1), $made->light[0] / $made->reference[0], 1e-12);
    }

    public function test_colour_keeps_the_luminance(): void
    {
        foreach ([[5, 0], [-5, 0], [0, 7], [0, -7], [3, -2]] as [$warmer, $greener]) {
            $made = EyeMatch::stepped([0.6, 0.6, 0.6], [0.5, 0.5, 0.5], warmer: $warmer, greener: $greener);
            self::assertEqualsWithDelta(0.6, self::luminance(...$made->light), 1e-12);
            self::assertEqualsWithDelta(exp(0.02 * $warmer), $made->light[0] / $made->light[2], 1e-12);
            self::assertEqualsWithDelta(
                exp(0.015 * $greener),
                $made->light[1] / sqrt($made->light[0] * $made->light[2]),
                1e-12,
            );
        }
    }

    public function test_light_is_a_peak_and_gains_below_one(): void
    {
        self::assertEqualsWithDelta(
            ['peak' => 0.8, 'gain' => [1, 0.5, 0.25]],
            EyeMatch::fields([0.8, 0.4, 0.2]),
            1e-12,
        );
    }

    public function test_no_light_and_too_many_steps_are_refused(): void
    {
        foreach (
            [
                [[0.0, 0.0, 0.0], 1.0, 'gain'],
                [[1.0, 1.0, 1.0], 101.0, 'brighter'],
                [[1.0, 1.0, 1.0], NAN, 'brighter'],
                [[0.02, 0.02, 0.02], -100.0, 'brighter'],
            ] as [$light, $steps, $field]
        ) {
            try {
                EyeMatch::stepped($light, [1, 1, 1], brighter: $steps);
                self::fail('It is refused.');
            } catch (InvalidValue $refused) {
                self::assertSame($field, $refused->field);
            }
        }
    }
}
