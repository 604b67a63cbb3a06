<?php

declare(strict_types=1);

namespace App\Engine;

/** Engine time: a monotonic count of flicks. */
interface Clock
{
    public function now(): int;

    /** Which run of which machine's clock this is: times of two that differ can't be compared. */
    public function name(): string;
}
