<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Bindings\ControlEvent;

/** What comes in from a source of controls: handed on, counted, and the last of it remembered. */
final class ControlIntake
{
    /** Events that came. */
    public int $packets = 0;

    /** What could not be read. */
    public int $bad = 0;

    private readonly RecentMessages $last;

    /** @var (\Closure(ControlEvent): ?string)|null */
    private ?\Closure $onEvent = null;

    /** @param  string  $source  as the guard tells what it threw */
    public function __construct(private readonly Guard $guard, private readonly string $source)
    {
        $this->last = new RecentMessages();
    }

    /** @param  (\Closure(ControlEvent): ?string)|null  $onEvent  null: nothing is handed on any more */
    public function handTo(?\Closure $onEvent): void
    {
        $this->onEvent = $onEvent;
    }

    /**
     * Hands an event on.
     *
     * @return string|null what is wrong with it
     */
    public function emit(ControlEvent $event): ?string
    {
        $fault = null;
        $this->guard->around($this->source, function () use ($event, &$fault): void {
            $fault = $this->onEvent === null ? 'Nobody takes it at present.' : ($this->onEvent)($event);
        })();
        $this->last->add($event->device, trim("$event->control ".json_encode($event->raw)), $fault);

        return $fault;
    }

    /** @return array{packets: int, bad: int, last: list<array{at: int, from: string, text: string, fault: string|null}>} */
    public function health(): array
    {
        return ['packets' => $this->packets, 'bad' => $this->bad, 'last' => $this->last->all()];
    }
}
