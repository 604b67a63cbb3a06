<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Bindings\ControlEvent;
use Core\Bindings\DmxSlots;
use Core\Bindings\DmxUniverse;

/** Slots of DMX universes as controls. The process that hears consoles delivers whole universes that changed. */
final class DmxControls implements ControlSource
{
    private readonly ControlIntake $in;

    /** @var array<string, string> slots that are known, by universe */
    private array $slots = [];

    /**
     * @param  \Closure(string): list<string>  $bound  controls of a universe that are bound
     * @param  \Closure(string, string, ControlSource): void  $found  a source's device has come
     * @param  \Closure(string, string): void  $lost  a source's device is gone
     */
    public function __construct(
        private readonly Clock $clock,
        Guard $guard,
        private readonly \Closure $bound,
        private readonly \Closure $found,
        private readonly \Closure $lost,
    ) {
        $this->in = new ControlIntake($guard, 'dmx');
    }

    public function name(): string
    {
        return 'dmx';
    }

    public function start(\Closure $onEvent): void
    {
        $this->in->handTo($onEvent);
    }

    public function stop(): void
    {
        $this->in->handTo(null);
        $this->slots = [];
    }

    /**
     * Universes as they are heard.
     *
     * @param  array<mixed>  $universes  by protocol and number, as in "sacn 7": the slots as base64; null for one that
     *     nobody sends any more, which stays as it was and tells where it stands when it comes back
     */
    public function take(array $universes): void
    {
        foreach ($universes as $key => $given) {
            $label = DmxUniverse::ofKey((string) $key)->label();
            $slots = is_string($given) ? base64_decode($given, true) : null;
            if ($slots === null) {
                unset($this->slots[$label]);
                ($this->lost)('dmx', $label);

                continue;
            }
            if ($slots === false || strlen($slots) > 512) {
                $this->in->bad++;

                continue;
            }
            $before = $this->slots[$label] ?? null;
            $this->slots[$label] = $slots;
            $before === null && ($this->found)('dmx', $label, $this);
            foreach (DmxSlots::changes($before, $slots, ($this->bound)($label)) as [$control, $raw]) {
                $this->in->packets++;
                $event = new ControlEvent('dmx', $control, $raw, $this->clock->now(), $label, $before === null);
                $this->in->emit($event);
            }
        }
    }

    /** A lighting console shows nothing. */
    public function feedback(string $control, array $state, string $device = ''): void
    {
    }

    public function health(): array
    {
        return $this->in->health();
    }
}
