<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Bindings\ControlEvent;

/** Where controls come from: a protocol or a device, from which events come and to which feedback goes. */
interface ControlSource
{
    /** What it is called in events and on the screen. */
    public function name(): string;

    /**
     * Begins to listen. What the handler throws is counted and survived.
     *
     * @param  \Closure(ControlEvent): ?string  $onEvent  returns what is wrong with an event, null where it was taken
     *
     * @throws \RuntimeException where it can't listen
     */
    public function start(\Closure $onEvent): void;

    /**
     * Shows the state of a control where that has lamps or motors; nothing where nobody is known who has it.
     *
     * @param  list<int|float|string|bool|null>  $state  as the control would send it
     * @param  string  $device  of which device, as its events say; empty for whoever has it
     */
    public function feedback(string $control, array $state, string $device = ''): void;

    /** Ends: nothing comes from it and nothing goes to it any more. */
    public function stop(): void;

    /** @return array{packets: int, bad: int, last: list<array{at: int, from: string, text: string, fault: string|null}>} how it is: what came, what could not be read, and the last of it, newest first */
    public function health(): array;
}
