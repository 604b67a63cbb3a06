<?php

declare(strict_types=1);

namespace App\Engine;

/** Where the engine writes down what changes, so that another can go on from there. */
interface ChangeLog
{
    /** @return array<string, mixed>|null the state that was written down, or null when there is none */
    public function state(): ?array;

    /**
     * Writes a change down; never throws.
     *
     * @param  array<string, mixed>  $change
     * @param  \Closure(): array<string, mixed>  $state  the whole state after it, for when that is wanted
     */
    public function write(array $change, \Closure $state): void;
}
