<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Bindings\ControlEvent;
use Core\Bindings\TouchItem;

/**
 * Touch panels as controls: windows that show a panel deliver what fingers do, and are shown where values are. What a
 * window held down when it went is let go of.
 */
final class TouchControls implements ControlSource
{
    private const MAX_WINDOWS = 64;

    /** The most numbers that an item sends. */
    private const MAX_NUMBERS = 3;

    /** Controls of a panel whose state is remembered, and that a window holds down: as many as have room on one. */
    private const MAX_CONTROLS = TouchItem::MAX_SIDE * TouchItem::MAX_SIDE;

    private readonly ControlIntake $in;

    /** @var array<string, array<int, array<string, true>>> by panel, then by the stream that shows it: what it holds down */
    private array $panels = [];

    /** @var array<string, array<string, array<int, float>>> what is shown, by panel, control and which of its numbers */
    private array $shown = [];

    /**
     * @param  \Closure(int, string): void  $give  sends a frame to a stream
     * @param  \Closure(string, string, ControlSource): void  $found  a source's device has come
     * @param  \Closure(string, string): void  $lost  a source's device is gone
     */
    public function __construct(
        private readonly Clock $clock,
        Guard $guard,
        private readonly \Closure $give,
        private readonly \Closure $found,
        private readonly \Closure $lost,
    ) {
        $this->in = new ControlIntake($guard, 'touch');
    }

    public function name(): string
    {
        return 'touch';
    }

    public function start(\Closure $onEvent): void
    {
        $this->in->handTo($onEvent);
    }

    public function stop(): void
    {
        $this->in->handTo(null);
        [$this->panels, $this->shown] = [[], []];
    }

    /**
     * What a finger did.
     *
     * @param  array<mixed>  $event  `panel`, its name; without more, that the window shows it. `control`, a name on the panel,
     *     and `value`, up to three numbers of 0 to 1; `held` where letting go sends 0
     * @return string|null what is wrong with it
     */
    public function take(int $stream, array $event): ?string
    {
        [$panel, $control, $value] = [$event['panel'] ?? null, $event['control'] ?? null, $event['value'] ?? null];
        if (! is_string($panel) || trim($panel) === '' || mb_strlen($panel) > 120) {
            $this->in->bad++;

            return 'A touch names its panel.';
        }
        $isFirst = ! isset($this->panels[$panel]);
        if (! isset($this->panels[$panel][$stream]) || $control === null) {
            if (array_sum(array_map(count(...), $this->panels)) >= self::MAX_WINDOWS) {
                return 'There are '.self::MAX_WINDOWS.' touch panels already.';
            }
            $this->panels[$panel][$stream] ??= [];
            $isFirst ? ($this->found)('touch', $panel, $this) : $this->tellAll($stream, $panel);
        }
        if ($control === null) {
            return null;
        }
        if (
            ! is_string($control) ||
            preg_match('/^[A-Za-z0-9_-]{1,40}$/D', $control) !== 1 ||
            ! is_array($value) ||
            ! array_is_list($value) ||
            $value === [] ||
            count($value) > self::MAX_NUMBERS ||
            array_filter($value, static fn (mixed $v): bool => (! is_int($v) && ! is_float($v)) || $v < 0 || $v > 1) !== []
        ) {
            $this->in->bad++;

            return 'A touch has a control, and one to three numbers of 0 to 1 as its value.';
        }
        $this->in->packets++;
        if (
            ($event['held'] ?? false) === true &&
            $value[0] > 0 &&
            count($this->panels[$panel][$stream]) < self::MAX_CONTROLS
        ) {
            $this->panels[$panel][$stream][$control] = true;
        } else {
            unset($this->panels[$panel][$stream][$control]);
        }
        $this->emit($panel, $control, $value);
        // Others that show the panel see what this one does.
        foreach ($value as $slot => $one) {
            $this->show($panel, $control, $slot, (float) $one, $stream);
        }

        return null;
    }

    /** @param  list<float|int>  $value */
    private function emit(string $panel, string $control, array $value): void
    {
        $event = new ControlEvent('touch', "/$control", $value, $this->clock->now(), $panel);
        $this->in->emit($event);
    }

    /** A window has gone: what it pressed is let go of. */
    public function left(int $stream): void
    {
        foreach (array_map(strval(...), array_keys($this->panels)) as $panel) {
            $pressed = $this->panels[$panel][$stream] ?? null;
            unset($this->panels[$panel][$stream]);
            foreach (array_keys($pressed ?? []) as $control) {
                $this->emit($panel, (string) $control, [0]);
            }
            if ($pressed !== null && $this->panels[$panel] === []) {
                unset($this->panels[$panel], $this->shown[$panel]);
                ($this->lost)('touch', $panel);
            }
        }
    }

    /**
     * @param  list<int|float|string|bool|null>  $state  of those numbers of the control that are known
     */
    public function feedback(string $control, array $state, string $device = ''): void
    {
        foreach (array_map(strval(...), array_keys($this->panels)) as $panel) {
            if ($device !== '' && $device !== $panel) {
                continue;
            }
            foreach ($state as $slot => $value) {
                $value === null || $this->show($panel, ltrim($control, '/'), $slot, (float) $value);
            }
        }
    }

    /** @param  int|null  $except  the stream that knows it already */
    private function show(string $panel, string $control, int $slot, float $value, ?int $except = null): void
    {
        if (isset($this->shown[$panel][$control]) || count($this->shown[$panel] ?? []) < self::MAX_CONTROLS) {
            $this->shown[$panel][$control][$slot] = $value;
        }
        $frame = Wire::json(Wire::TOUCH, ['panel' => $panel, 'shown' => [$control => (object) [$slot => $value]]]);
        foreach (array_keys($this->panels[$panel] ?? []) as $stream) {
            $stream === $except || ($this->give)($stream, $frame);
        }
    }

    /** Shows a window that has come all that the panel shows. */
    private function tellAll(int $stream, string $panel): void
    {
        $shown = array_map(static fn (array $slots): object => (object) $slots, $this->shown[$panel] ?? []);
        ($this->give)($stream, Wire::json(Wire::TOUCH, ['panel' => $panel, 'shown' => (object) $shown]));
    }

    public function health(): array
    {
        return $this->in->health();
    }
}
