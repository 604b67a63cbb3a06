<?php

declare(strict_types=1);

namespace App\Rig;

/** A picture that a simulated device sees: frame by frame, 24-bit RGB from the top. */
interface Simulation
{
    public function name(): string;

    public function label(): string;

    public function width(): int;

    public function height(): int;

    /** Frames a second. */
    public function rate(): int;

    /** @param  int  $milliseconds  since 1970 */
    public function frame(int $milliseconds): string;

    /** Does what the device can be told to; whether it knows how. */
    public function command(string $what): bool;
}
