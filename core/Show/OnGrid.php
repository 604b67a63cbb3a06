<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Units\InvalidValue;

/**
 * What works on rows of a timeline has in common: times land on the show's frame grid, and a row that is meant is
 * there.
 */
trait OnGrid
{
    /** The nearest frame, none before the first. */
    private function onGrid(int $time): int
    {
        return max(0, $this->show->rate->snap($time + intdiv($this->show->rate->flicksPerFrame, 2)));
    }

    /** @return array<string, mixed> */
    private function row(string $kind, string $id): array
    {
        return $this->document->rows[$kind][$id] ??
            throw InvalidValue::because($kind, "This $kind is not in the show.");
    }
}
