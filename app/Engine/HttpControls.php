<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Bindings\Control;
use Core\Bindings\ControlEvent;
use Core\Bindings\Device;
use Core\Units\Flicks;
use Core\Units\InvalidValue;

/** Controls that are pressed by requests over HTTP, each device by a token of its own. */
final class HttpControls implements ControlSource
{
    /** Requests a second that one device may make. */
    public const A_SECOND = 100;

    /** Numbers of one request. */
    private const MAX_NUMBERS = 16;

    private readonly ControlIntake $in;

    /** @var array<string, array{int, int}> by device: the second, and how many came in it */
    private array $counts = [];

    /** @param  \Closure(): array<string, Device>  $devices  that there are, by id */
    public function __construct(private readonly Clock $clock, Guard $guard, private readonly \Closure $devices)
    {
        $this->in = new ControlIntake($guard, 'http');
    }

    public function name(): string
    {
        return 'http';
    }

    public function start(\Closure $onEvent): void
    {
        $this->in->handTo($onEvent);
    }

    public function stop(): void
    {
        $this->in->handTo(null);
    }

    /**
     * A request.
     *
     * @param  string  $token  that it carries
     * @param  array<mixed>  $body  `control`, an address as OSC has them, and `value`: a number, true or false, or up to
     *     16 of them; 1 where it is missing
     * @return array{int, array<string, mixed>} status, and the answer
     */
    public function take(string $token, array $body): array
    {
        $device = $this->deviceOf($token);
        if ($device === null) {
            $this->in->bad++;

            return [401, ['detail' => 'No device of the show on air has this token; make one in Bindings.']];
        }
        $second = intdiv($this->clock->now(), Flicks::PER_SECOND);
        [$of, $count] = $this->counts[$device->name] ?? [$second, 0];
        $this->counts[$device->name] = [$second, $of === $second ? $count + 1 : 1];
        if ($this->counts[$device->name][1] > self::A_SECOND) {
            $this->in->bad++;

            return [429, ['detail' => 'A device may send '.self::A_SECOND.' requests a second.']];
        }
        $wrong = $this->fault($body);
        if ($wrong !== null) {
            $this->in->bad++;

            return [422, ['detail' => $wrong]];
        }
        $this->in->packets++;
        $value = $body['value'] ?? 1;
        $event = new ControlEvent(
            'http',
            (string) $body['control'],
            is_array($value) ? array_values($value) : [$value],
            $this->clock->now(),
            $device->name,
        );
        $fault = $this->in->emit($event);

        return $fault === null ? [200, ['engine' => $this->clock->now()]] : [422, ['detail' => $fault]];
    }

    private function deviceOf(string $token): ?Device
    {
        $hash = hash('sha256', $token);
        foreach ($token === '' ? [] : ($this->devices)() as $device) {
            if ($device->protocol === 'http' && $device->token !== '' && hash_equals($device->token, $hash)) {
                return $device;
            }
        }

        return null;
    }

    /** @param  array<mixed>  $body */
    private function fault(array $body): ?string
    {
        $control = $body['control'] ?? null;
        $values = $body['value'] ?? 1;
        $values = is_array($values) ? $values : [$values];
        try {
            $is = is_string($control) && str_starts_with($control, '/') && Control::of($control)->argument === 0;
        } catch (InvalidValue) {
            $is = false;
        }

        return ! $is
            ? '`control` is an address, as in /door/1.'
            : (! array_is_list($values) ||
            $values === [] ||
            count($values) > self::MAX_NUMBERS ||
            array_filter($values, static fn (mixed $v): bool => ! is_int($v) && ! is_float($v) && ! is_bool($v)) !== []
                ? '`value` is a number, true or false, or a list of up to '.self::MAX_NUMBERS.' of them.'
                : null);
    }

    /** Who asks over HTTP is told nothing unasked. */
    public function feedback(string $control, array $state, string $device = ''): void
    {
    }

    public function health(): array
    {
        return $this->in->health();
    }
}
