<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Units\Check;
use Core\Units\InvalidValue;

/** A check of where a projector's points are: when, how many had moved, and how far all were off before and after. */
final readonly class CheckRecord
{
    /**
     * @param  string  $taken  day and time, UTC, as 2026-12-01 08:30
     * @param  int  $points  that were looked at
     * @param  int  $moved  of them that had drifted
     * @param  float  $before  px: root of the mean square
     * @param  float  $after  the same, with all pieces moved
     */
    private function __construct(
        public string $projector,
        public string $taken,
        public int $points,
        public int $moved,
        public float $before,
        public float $after,
    ) {
    }

    /**
     * @param  array<string, mixed>  $row  projector, taken, points, moved, before, after
     *
     * @throws InvalidValue
     */
    public static function fromRow(array $row): self
    {
        $taken = (string) $row['taken'];
        if (preg_match('/^\d{4}-\d\d-\d\d \d\d:\d\d$/D', $taken) !== 1) {
            throw InvalidValue::because('taken', 'When a check was made is written as 2026-12-01 08:30.');
        }

        return new self(
            (string) $row['projector'],
            $taken,
            Check::whole('points', (int) ($row['points'] ?? 0), 0, Alignment::MAX_POINTS, 'points'),
            Check::whole('moved', (int) ($row['moved'] ?? 0), 0, Alignment::MAX_POINTS, 'points'),
            Check::number('before', (float) ($row['before'] ?? 0), 0, 1e6, 'px'),
            Check::number('after', (float) ($row['after'] ?? 0), 0, 1e6, 'px'),
        );
    }
}
