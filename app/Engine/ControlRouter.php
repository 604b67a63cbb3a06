<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Bindings\Binding;
use Core\Bindings\BindingState;
use Core\Bindings\Command;
use Core\Bindings\Control as BoundControl;
use Core\Bindings\ControlEvent;
use Core\Bindings\Device;
use Core\Bindings\Gesture;
use Core\Bindings\Meaning;
use Core\Bindings\MidiControls;
use Core\Bindings\Reaction;
use Core\Protocol\MidiStream;
use Core\Show\Schema;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use Core\Values\Address;

/**
 * Takes events of controls to the bindings of the show on air, gives the commands that come of them, and shows the
 * state of what is bound on lamps and motors. A value that is set many times within a frame is set once. What came,
 * and what came of it, is remembered for those who watch.
 */
final class ControlRouter
{
    /** Events that are remembered for the monitor. */
    private const REMEMBERED = 200;

    /** Bytes of a message that are shown. */
    private const SHOWN = 24;

    /** How long what a value is at counts, once it was asked for, in flicks: 0.1 s. */
    private const FRESH = 70_560_000;

    /** How long a control is not moved after somebody moved it, in flicks: 0.5 s. */
    private const TOUCHED = 352_800_000;

    /** What is said of an event that no binding is for. */
    public const UNBOUND = 'Nothing is bound to it.';

    /** Events of one binding that wait for what its value is. */
    private const MAX_WAITING = 63;

    /** Devices that are remembered by what they are called. */
    private const MAX_DEVICES = 200;

    /** @var array<string, Device> */
    private array $devices = [];

    /** @var array<string, array<string, Binding>> by device, then by id */
    private array $bindings = [];

    /** @var array<string, BindingState> by binding */
    private array $states = [];

    /** @var array<string, int> page that is on, by device; 1 where it is missing */
    private array $pages = [];

    /** @var array<string, array{value: float, fade: int}> values that the next flush sets, by address */
    private array $pending = [];

    /** @var array<string, array{float, int}> what values were at, and when that was asked, by address */
    private array $readings = [];

    /** @var array<string, true> addresses that are being asked for */
    private array $asking = [];

    /** @var array<string, array{Binding, non-empty-list<ControlEvent>}> events that wait for what their value is, by binding */
    private array $waiting = [];

    /** @var array<string, array{value: float, above: bool}> values that controls have yet to meet, by binding */
    private array $meets = [];

    /** @var array<string, array{ControlSource, string, int, int}> how each device is reached: source, port, engine time of its last event, events */
    private array $routes = [];

    /** @var array<string, float> what each binding's control shows */
    private array $shown = [];

    /** @var array<string, int> engine time at which the control of a binding was moved last */
    private array $touched = [];

    /** @var list<array{ControlEvent, string, string}> event, what came of it, and by which binding; oldest first */
    private array $monitor = [];

    /** Events so far. */
    private int $count = 0;

    private bool $isFlushing = false;

    private bool $isShowing = false;

    private bool $hasChanged = false;

    /**
     * @param  \Closure(array<string, mixed>): ?string  $perform  gives a command; returns what is wrong with it
     * @param  \Closure(string): ?float  $loose  the loose value of an address; null where it has none
     * @param  \Closure(list<string>, \Closure(array<string, float>): void): void  $ask  what values are at
     * @param  \Closure(): array<string, mixed>  $state  what is on: cues by id, running, waiting, panic
     * @param  \Closure(float, \Closure(): void): void  $later
     */
    public function __construct(
        private readonly Clock $clock,
        private readonly \Closure $perform,
        private readonly \Closure $loose,
        private readonly \Closure $ask,
        private readonly \Closure $state,
        private readonly \Closure $later,
    ) {
    }

    /**
     * The devices and bindings that there are now.
     *
     * @param  array<string, Device>  $devices
     * @param  array<string, Binding>  $bindings
     */
    public function setBindings(array $devices, array $bindings): void
    {
        [$before, $this->devices, $this->bindings] = [$this->bindings, $devices, []];
        foreach ($bindings as $id => $binding) {
            $this->bindings[$binding->device][$id] = $binding;
            // What is bound otherwise begins anew.
            if (($before[$binding->device][$id] ?? null) != $binding) {
                unset($this->states[$id], $this->shown[$id]);
            }
        }
        foreach (['states', 'shown', 'touched', 'meets'] as $of) {
            $this->{$of} = array_intersect_key($this->{$of}, $bindings);
        }
        $this->pages = array_intersect_key($this->pages, $devices);
        $this->hasChanged = true;
        $this->refresh();
    }

    /**
     * An event of a source.
     *
     * @return string|null what is wrong with it; null where something came of it
     */
    public function onEvent(ControlEvent $event, ControlSource $by): ?string
    {
        $this->count++;
        $key = "$event->source\0$event->device";
        if (isset($this->routes[$key])) {
            [$this->routes[$key][0], $this->routes[$key][2]] = [$by, $event->time];
            $this->routes[$key][3]++;
        } elseif (count($this->routes) < self::MAX_DEVICES) {
            $this->routes[$key] = [$by, $event->device, $event->time, 1];
            $this->forgetShown();
        }
        $wrong = self::UNBOUND;
        $did = '';
        foreach ($this->devices as $id => $device) {
            if (! $device->sends($event)) {
                continue;
            }
            $direct = $device->showControl ? MidiControls::command($event->control, $event->raw) : null;
            if ($direct !== null && ! $event->isReport) {
                $wrong = ($this->perform)($this->signed($event) + $direct);
                $did = '';
            }
            foreach ($this->bindings[$id] ?? [] as $binding) {
                if ($this->counts($binding) && $binding->control->matches($event->control)) {
                    $wrong = $this->react($binding, $event);
                    $did = $binding->id;
                }
            }
        }
        $this->remember($event, $wrong ?? '', $did);

        return $wrong;
    }

    /** @return array{person: string} who gives the command */
    private function signed(ControlEvent $event): array
    {
        return ['person' => strtoupper($event->source)];
    }

    /**
     * The controls of a device that are bound, on whatever page.
     *
     * @param  string  $source  as its events say, as is $port
     * @return list<string> by their names
     */
    public function boundOf(string $source, string $port): array
    {
        $names = [];
        foreach ($this->devices as $id => $device) {
            if ($device->isAt($source, $port)) {
                foreach ($this->bindings[$id] ?? [] as $binding) {
                    $names[$binding->control->path] = true;
                }
            }
        }

        return array_map(strval(...), array_keys($names));
    }

    /** @return array<string, Device> by id */
    public function devices(): array
    {
        return $this->devices;
    }

    /** Whether a binding is on the page of its device that is on. */
    private function counts(Binding $binding): bool
    {
        return $binding->page === 0 || $binding->page === ($this->pages[$binding->device] ?? 1);
    }

    /** @return string|null why nothing came of it */
    private function react(Binding $binding, ControlEvent $event): ?string
    {
        $id = $binding->id;
        $this->touched[$id] = $event->time;
        $reading = null;
        if ($binding->meaning === Meaning::Cue) {
            $reading = isset(($this->state)()['on'][$binding->target]) ? 1.0 : 0.0;
        } elseif ($binding->needsReading() && ! $event->isReport) {
            $reading = $this->reading($binding->target, $event->time);
            if ($reading === null) {
                $this->waiting[$id] = [
                    $binding,
                    [...array_slice($this->waiting[$id][1] ?? [], -self::MAX_WAITING), $event],
                ];
                $this->askFor([$binding->target]);

                return null;
            }
        }

        return $this->take(
            $binding,
            $binding->react(
                $this->states[$id] ?? new BindingState(),
                $event->raw,
                $event->time,
                $reading,
                $event->isReport,
            ),
            $this->signed($event),
        );
    }

    /**
     * @param  array{person: string}  $signed
     * @return string|null why nothing came of it
     */
    private function take(Binding $binding, Reaction $reaction, array $signed): ?string
    {
        $id = $binding->id;
        $this->states[$id] = $reaction->state;
        if ($reaction->meets !== ($this->meets[$id] ?? null)) {
            if ($reaction->meets === null) {
                unset($this->meets[$id]);
            } else {
                $this->meets[$id] = $reaction->meets;
            }
            $this->hasChanged = true;
        }
        if ($reaction->wakeAt !== null) {
            ($this->later)(max(0.0, Flicks::toSeconds($reaction->wakeAt - $this->clock->now())), function () use (
                $binding,
                $signed,
            ): void {
                $state = $this->states[$binding->id] ?? null;
                if ($state !== null && ($this->bindings[$binding->device][$binding->id] ?? null) === $binding) {
                    $this->take($binding, $binding->react($state, null, $this->clock->now(), null), $signed);
                }
            });
        }
        if ($reaction->page !== null) {
            $this->pages[$binding->device] = $reaction->page;
            $this->hasChanged = true;
            $this->refresh();
        }
        $command = $reaction->command;
        if ($command === null) {
            return $reaction->note === '' ? null : $reaction->note;
        }
        if ($command['action'] !== Command::Live->value) {
            return ($this->perform)($signed + $command);
        }
        foreach ($command['values'] as $address => $value) {
            $value = self::within($address, $value);
            $this->states[$id] = $reaction->state->with(['sent' => $value]);
            $this->pending[$address] = ['value' => $value, 'fade' => $command['fade'] ?? 0];
        }
        $this->flushSoon();

        return null;
    }

    /** A value as it will stand once it is set. */
    private static function within(string $address, float $value): float
    {
        try {
            $of = Address::parse($address);

            return Schema::properties($of->kind)->named($of->property)->live($value);
        } catch (InvalidValue) {
            return $value;
        }
    }

    private function flushSoon(): void
    {
        if ($this->isFlushing) {
            return;
        }
        $this->isFlushing = true;
        $this->flush();
        // What comes within a frame is set together at its end.
        ($this->later)(1 / 60, function (): void {
            $this->isFlushing = false;
            $this->pending === [] || $this->flushSoon();
        });
    }

    private function flush(): void
    {
        [$pending, $this->pending] = [$this->pending, []];
        $byFade = [];
        foreach ($pending as $address => ['value' => $value, 'fade' => $fade]) {
            $byFade[$fade][$address] = $value;
        }
        foreach ($byFade as $fade => $values) {
            ($this->perform)(
                ['action' => Command::Live->value, 'values' => $values] + ($fade > 0 ? ['fade' => $fade] : []),
            );
        }
    }

    /** What a value is at; null where that has to be asked for. */
    private function reading(string $address, int $now): ?float
    {
        if (isset($this->pending[$address])) {
            return $this->pending[$address]['value'];
        }
        $loose = ($this->loose)($address);
        if ($loose !== null) {
            return $loose;
        }
        [$value, $at] = $this->readings[$address] ?? [0.0, PHP_INT_MIN];

        return $at >= $now - self::FRESH ? $value : null;
    }

    /** @param  list<string>  $addresses */
    private function askFor(array $addresses): void
    {
        $addresses = array_values(array_filter($addresses, fn (string $one): bool => ! isset($this->asking[$one])));
        if ($addresses === []) {
            return;
        }
        $this->asking += array_fill_keys($addresses, true);
        ($this->ask)($addresses, function (array $values) use ($addresses): void {
            $now = $this->clock->now();
            foreach ($addresses as $address) {
                unset($this->asking[$address]);
                if (isset($values[$address])) {
                    $this->readings[$address] = [(float) $values[$address], $now];
                }
            }
            [$waiting, $this->waiting] = [$this->waiting, []];
            foreach ($waiting as $id => [$binding, $events]) {
                if (! in_array($binding->target, $addresses, true)) {
                    $this->waiting[$id] = [$binding, $events];
                } elseif (isset($values[$binding->target])) {
                    foreach ($events as $event) {
                        $this->react($binding, $event);
                    }
                }
            }
            $this->show();
        });
    }

    /** What is on has changed: lamps and motors follow. */
    public function refresh(): void
    {
        if ($this->isShowing || $this->routes === []) {
            return;
        }
        $this->isShowing = true;
        ($this->later)(0.03, function (): void {
            $this->isShowing = false;
            $asked = [];
            foreach ($this->reached() as $binding) {
                if ($binding->meaning === Meaning::Value && ($this->loose)($binding->target) === null) {
                    $asked[$binding->target] = true;
                }
            }
            $asked === [] ? $this->show() : $this->askFor(array_keys($asked));
        });
    }

    /** @return iterable<Binding> those with something to show, of devices that are there, on their pages */
    private function reached(): iterable
    {
        foreach ($this->devices as $id => $device) {
            if ($this->routesOf($device) === []) {
                continue;
            }
            foreach ($this->bindings[$id] ?? [] as $binding) {
                if ($binding->hasLamp && $this->counts($binding)) {
                    yield $binding;
                }
            }
        }
    }

    /** @return list<array{ControlSource, string, int, int}> */
    private function routesOf(Device $device): array
    {
        $found = [];
        foreach ($this->routes as $key => $route) {
            [$protocol] = explode("\0", (string) $key, 2);
            if ($device->isAt($protocol, $route[1])) {
                $found[] = $route;
            }
        }

        return $found;
    }

    /**
     * Sends messages to a MIDI device.
     *
     * @param  string  $bytes  whole messages
     * @param  string  $named  the name of the device, or of its port
     * @return bool whether it is there
     */
    public function sendMidi(string $bytes, string $named): bool
    {
        $routes = isset($this->routes["midi\0$named"]) ? [$this->routes["midi\0$named"]] : [];
        foreach ($this->devices as $device) {
            if ($device->protocol === 'midi' && $device->name === $named) {
                array_push($routes, ...$this->routesOf($device));
            }
        }
        $ports = [];
        foreach ($routes as [$source, $port]) {
            if ($source instanceof SendsMidi && ! isset($ports[$port])) {
                $ports[$port] = true;
                foreach ((new MidiStream())->read($bytes) as $message) {
                    $source->sendMidi(pack('C*', ...$message), $port);
                }
            }
        }

        return $ports !== [];
    }

    /** @return list<TimecodeOut> devices that are there and are sent timecode */
    public function timecodeDevices(): array
    {
        $found = [];
        foreach ($this->devices as $device) {
            if ($device->timecode && $device->protocol === 'midi') {
                foreach ($this->routesOf($device) as [$source, $port]) {
                    $source instanceof SendsMidi && ($found["$port"] = new MidiTimecodeOut($source, $port));
                }
            }
        }

        return array_values($found);
    }

    /** Sends to each control what it does not show yet, but to those that somebody is moving. */
    private function show(): void
    {
        $now = $this->clock->now();
        $state = ($this->state)();
        $again = null;
        foreach ($this->reached() as $binding) {
            $raw = $binding->feedback($this->stateOf($binding, $state));
            if ($raw === null || ($this->shown[$binding->id] ?? null) === $raw) {
                continue;
            }
            $free = ($this->touched[$binding->id] ?? PHP_INT_MIN) + self::TOUCHED;
            if ($binding->gesture === Gesture::Move && $free > $now) {
                $again = max($again ?? 0, $free);

                continue;
            }
            $this->shown[$binding->id] = $raw;
            // A motor that goes where the value is has met it.
            if ($binding->hasMotor && $binding->meaning === Meaning::Value) {
                $this->states[$binding->id] = ($this->states[$binding->id] ?? new BindingState())->with([
                    'value' => $binding->valueAt($raw),
                    'sent' => $this->stateOf($binding, $state),
                ]);
            }
            foreach ($this->routesOf($this->devices[$binding->device]) as [$source, $port]) {
                // Of a control that sends several numbers, only this one is known.
                $numbers = [...array_fill(0, $binding->control->argument, null), $raw];
                $source->feedback($binding->control->path, $numbers, $port);
            }
        }
        if ($again !== null) {
            ($this->later)(Flicks::toSeconds($again - $now) + 0.01, $this->refresh(...));
        }
    }

    /**
     * What a binding is bound to, as its control is to show it.
     *
     * @param  array<string, mixed>  $state
     */
    private function stateOf(Binding $binding, array $state): ?float
    {
        if ($binding->meaning === Meaning::Value) {
            return ($this->loose)($binding->target) ?? ($this->readings[$binding->target][0] ?? null);
        }
        if ($binding->meaning === Meaning::Cue) {
            return isset($state['on'][$binding->target]) ? 1.0 : 0.0;
        }
        $page = $binding->action?->page;
        if ($page !== null) {
            return ($this->pages[$binding->device] ?? 1) === $page ? 1.0 : 0.0;
        }
        $is = match (Command::tryFrom((string) ($binding->action?->command['action'] ?? ''))) {
            Command::Play, Command::Toggle => (bool) ($state['running'] ?? false),
            Command::Hold, Command::Stop => ! ($state['running'] ?? false),
            Command::Go, Command::Advance => ($state['next'] ?? null) !== null,
            Command::Panic => (bool) ($state['panic'] ?? false),
            Command::Fire, Command::Release => isset($state['on'][(string) ($binding->action?->command['cue'] ?? '')]),
            default => false,
        };

        return $is ? 1.0 : 0.0;
    }

    /** A device that has come, or come back, shows nothing yet. */
    private function forgetShown(): void
    {
        $this->shown = [];
        $this->refresh();
    }

    /** A source has a device, before that does anything: it is shown what is. */
    public function found(string $source, string $device, ControlSource $by): void
    {
        if (isset($this->routes["$source\0$device"]) || count($this->routes) < self::MAX_DEVICES) {
            $before = $this->routes["$source\0$device"] ?? [$by, $device, $this->clock->now(), 0];
            $this->routes["$source\0$device"] = [$by, $device, $before[2], $before[3]];
            $this->hasChanged = true;
            $this->forgetShown();
        }
    }

    /** A source has lost a device: what that shows is not known any more. */
    public function lost(string $source, string $device): void
    {
        unset($this->routes["$source\0$device"]);
        $this->shown = [];
        $this->hasChanged = true;
    }

    private function remember(ControlEvent $event, string $wrong, string $binding): void
    {
        $this->monitor[] = [$event, $wrong, $binding];
        if (count($this->monitor) > 2 * self::REMEMBERED) {
            $this->monitor = array_slice($this->monitor, -self::REMEMBERED);
        }
        $this->hasChanged = true;
    }

    /** Whether there is anything new for those who watch. */
    public function takeChanged(): bool
    {
        [$changed, $this->hasChanged] = [$this->hasChanged, false];

        return $changed;
    }

    /**
     * What came since so many events, and how bindings and devices are.
     *
     * @return array{count: int, events: list<array<string, mixed>>, meets: object, pages: object, devices: list<array<string, mixed>>}
     */
    public function payload(int $since = 0): array
    {
        $fresh = max(0, min(count($this->monitor), self::REMEMBERED, $this->count - $since));
        $events = [];
        foreach ($fresh === 0 ? [] : array_slice($this->monitor, -$fresh) as $i => $entry) {
            $events[] = self::written($entry, $this->count - $fresh + $i + 1);
        }

        return [
            'count' => $this->count,
            'events' => $events,
            'meets' => (object) $this->meets,
            'pages' => (object) $this->pages,
            'devices' => array_map(
                static fn (string $key, array $route): array => [
                    'source' => explode("\0", $key, 2)[0],
                    'port' => $route[1],
                    'at' => $route[2],
                    'events' => $route[3],
                ],
                array_map(strval(...), array_keys($this->routes)),
                $this->routes,
            ),
        ];
    }

    /**
     * @param  array{ControlEvent, string, string}  $entry
     * @return array<string, mixed>
     */
    private static function written(array $entry, int $number): array
    {
        [$event, $wrong, $binding] = $entry;
        try {
            $label = BoundControl::of($event->control)->label();
        } catch (InvalidValue) {
            $label = $event->control;
        }

        return [
            'n' => $number,
            'at' => $event->time,
            'source' => $event->source,
            'device' => $event->device,
            'control' => $event->control,
            'label' => $label,
            'raw' => array_slice($event->raw, 0, 8),
            'bytes' => bin2hex(substr($event->bytes, 0, self::SHOWN)),
            'report' => $event->isReport,
            'binding' => $binding,
            'fault' => $wrong,
        ];
    }
}
