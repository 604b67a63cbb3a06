<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Bindings\ControlEvent;
use Core\Bindings\Device;
use Core\Bindings\SoundControls;
use Core\Units\Flicks;

/** Audio inputs of windows as controls: a window measures how loud the bands are, what that means is worked out here. */
final class SoundInput implements ControlSource
{
    private const MAX_INPUTS = 16;

    private const MAX_NAME = 120;

    private readonly ControlIntake $in;

    /** @var array<string, array{stream: int, device: Device|null, controls: SoundControls, heard: int}> by input */
    private array $inputs = [];

    /**
     * @param  \Closure(string): list<string>  $bound  controls of an input that are bound
     * @param  \Closure(): array<string, Device>  $devices  that there are, by id
     * @param  \Closure(string, string, ControlSource): void  $found  a source's device has come
     * @param  \Closure(string, string): void  $lost  a source's device is gone
     */
    public function __construct(
        private readonly Clock $clock,
        Guard $guard,
        private readonly \Closure $bound,
        private readonly \Closure $devices,
        private readonly \Closure $found,
        private readonly \Closure $lost,
    ) {
        $this->in = new ControlIntake($guard, 'sound');
    }

    public function name(): string
    {
        return 'sound';
    }

    public function start(\Closure $onEvent): void
    {
        $this->in->handTo($onEvent);
    }

    public function stop(): void
    {
        $this->in->handTo(null);
        $this->inputs = [];
    }

    /**
     * A piece of 20 ms that a window heard. What is not bound is measured, and no event.
     *
     * @param  array<mixed>  $event  `input`, what the window calls it; `levels` of each of the bands, in dB
     * @return string|null what is wrong with it
     */
    public function take(int $stream, array $event): ?string
    {
        [$input, $levels] = [$event['input'] ?? null, $event['levels'] ?? null];
        if (
            ! is_string($input) ||
            trim($input) === '' ||
            mb_strlen($input) > self::MAX_NAME ||
            ! is_array($levels) ||
            ! array_is_list($levels) ||
            count($levels) !== count(SoundControls::BANDS) ||
            array_filter($levels, static fn (mixed $v): bool => ! is_int($v) && ! is_float($v)) !== []
        ) {
            $this->in->bad++;

            return 'Sound has the name of its input, and levels of '.count(SoundControls::BANDS).' bands in dB.';
        }
        $now = $this->clock->now();
        $known = $this->inputs[$input] ?? null;
        if ($known === null && count($this->inputs) >= self::MAX_INPUTS) {
            return 'There are '.self::MAX_INPUTS.' audio inputs already.';
        }
        // Of two windows that have one input, the first delivers.
        if ($known !== null && $known['stream'] !== $stream && $known['heard'] > $now - Flicks::PER_SECOND) {
            return null;
        }
        $device =
            array_values(
                array_filter(($this->devices)(), static fn (Device $one): bool => $one->isAt('sound', $input)),
            )[0] ?? null;
        if ($known === null || $known['device'] != $device) {
            $known = [
                'stream' => $stream,
                'device' => $device,
                'controls' => $device === null
                        ? new SoundControls()
                        : new SoundControls($device->attack, $device->release, $device->floor, $device->ceiling),
                'heard' => $now,
            ];
        }
        isset($this->inputs[$input]) || ($this->found)('sound', $input, $this);
        $this->inputs[$input] = ['stream' => $stream, 'heard' => $now] + $known;
        $this->in->packets++;
        $bound = ($this->bound)($input);
        foreach ($known['controls']->take(array_map(floatval(...), $levels)) as [$control, $raw]) {
            in_array($control, $bound, true) &&
                $this->in->emit(new ControlEvent('sound', $control, $raw, $now, $input));
        }

        return null;
    }

    /** A window has gone, and its inputs with it. */
    public function left(int $stream): void
    {
        foreach ($this->inputs as $input => $of) {
            if ($of['stream'] === $stream) {
                unset($this->inputs[$input]);
                ($this->lost)('sound', (string) $input);
            }
        }
    }

    /** @return list<array{input: string, levels: array<string, float>, tempo: float|null}> how loud it is, 0 to 1 a band */
    public function meters(): array
    {
        return array_map(
            static fn (string $input, array $of): array => [
                'input' => $input,
                'levels' => array_map(static fn (float $v): float => round($v, 3), $of['controls']->levels()),
                'tempo' => $of['controls']->tempo(),
            ],
            array_map(strval(...), array_keys($this->inputs)),
            array_values($this->inputs),
        );
    }

    /** A microphone shows nothing. */
    public function feedback(string $control, array $state, string $device = ''): void
    {
    }

    public function health(): array
    {
        return $this->in->health();
    }
}
