<?php

declare(strict_types=1);

namespace Core\Values;

/** Who may say what a value is. The highest stratum that has something to say wins. */
enum Stratum: int
{
    case Resting = 0;
    case Stored = 1;
    case Keyframed = 2;
    case Cue = 3;
    case Bound = 4;
    case Loose = 5;

    /**
     * @param  array<int, float>  $said  what each stratum says, by its number
     * @return array{self, float} who won, and with what
     */
    public static function winner(array $said): array
    {
        if ($said === []) {
            throw new \InvalidArgumentException('Somebody has to say something.');
        }
        $highest = max(array_keys($said));

        return [self::from($highest), $said[$highest]];
    }
}
