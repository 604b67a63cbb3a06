<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\ControlSource;
use App\Engine\Guard;
use Core\Bindings\ControlEvent;

/** The least that a source of controls is: what a new one takes is one class like this. */
final class DummySource implements ControlSource
{
    /** @var (\Closure(ControlEvent): ?string)|null */
    private ?\Closure $onEvent = null;

    private int $packets = 0;

    /** @var list<array{at: int, from: string, text: string, fault: string|null}> */
    private array $last = [];

    /** @var array<string, true> */
    private array $known = [];

    /** @var list<array{string, list<mixed>}> */
    public array $shown = [];

    public function name(): string
    {
        return 'dummy';
    }

    public function start(\Closure $onEvent): void
    {
        $this->onEvent = $onEvent;
    }

    /** @param  list<int|float|string|bool|null>  $raw */
    public function press(string $control, array $raw, int $time = 0): void
    {
        if ($this->onEvent === null) {
            return;
        }
        $this->packets++;
        $this->known[$control] = true;
        $fault = (new Guard())->around('dummy', $this->onEvent)(new ControlEvent('dummy', $control, $raw, $time));
        array_unshift($this->last, ['at' => 0, 'from' => 'here', 'text' => $control, 'fault' => $fault]);
    }

    public function feedback(string $control, array $state, string $device = ''): void
    {
        if ($this->onEvent !== null && isset($this->known[$control])) {
            $this->shown[] = [$control, $state];
        }
    }

    public function stop(): void
    {
        [$this->onEvent, $this->known] = [null, []];
    }

    public function health(): array
    {
        return ['packets' => $this->packets, 'bad' => 0, 'last' => $this->last];
    }
}
