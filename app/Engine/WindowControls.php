<?php

declare(strict_types=1);

namespace App\Engine;

use Core\Bindings\ControlEvent;
use Core\Bindings\MidiControls;
use Core\Protocol\LtcClock;
use Core\Protocol\LtcDecoder;
use Core\Units\Flicks;

/** Controls that windows have: MIDI ports of the browser, and the keyboard. A window delivers what came, no more. */
final class WindowControls implements ControlSource, SendsMidi
{
    /** Events of one request. */
    public const MAX_EVENTS = 1000;

    private const MAX_PORT = 120;

    private const MAX_DEVICES = 64;

    /** Samples of one event. */
    private const MAX_SAMPLES = 19_200;

    private int $packets = 0;

    private int $bad = 0;

    private readonly RecentMessages $last;

    /** @var array<string, MidiDevice> by stream and port */
    private array $devices = [];

    /** @var array<string, int> the stream that has a port */
    private array $streams = [];

    /** @var array<int, array{decoder: LtcDecoder, clock: LtcClock, rate: int, samples: int}> lines of timecode, by stream */
    private array $lines = [];

    /** @var (\Closure(ControlEvent): ?string)|null */
    private ?\Closure $onEvent = null;

    /**
     * @param  \Closure(int, string): void  $give  sends a frame to a stream
     * @param  \Closure(string, string, ControlSource): void  $found  a source's device has come
     * @param  \Closure(string, string): void  $lost  a source's device is gone
     */
    public function __construct(
        private readonly Clock $clock,
        private readonly Guard $guard,
        private readonly \Closure $give,
        private readonly \Closure $found,
        private readonly \Closure $lost,
        private readonly ?SoundInput $sound = null,
        private readonly ?TouchControls $touch = null,
    ) {
        $this->last = new RecentMessages();
    }

    public function name(): string
    {
        return 'window';
    }

    public function start(\Closure $onEvent): void
    {
        $this->onEvent = $onEvent;
    }

    public function stop(): void
    {
        $this->onEvent = null;
    }

    /**
     * What a window delivers.
     *
     * @param  mixed  $events  each with `source` midi, keys, sound (as `SoundInput` takes it), touch (`TouchControls`) or ltc; of ltc the sample `rate`, `samples` (16 bit, little-endian, base64)
     *     and `at`, the engine time of the last of them; of midi the `port`, and `data` as bytes, or `came` or
     *     `gone` where it was plugged; of keys the `control` and 1 or 0 as `value`
     * @return string|null what is wrong with them; what came before it was taken
     */
    public function take(int $stream, mixed $events): ?string
    {
        if (! is_array($events) || ! array_is_list($events) || count($events) > self::MAX_EVENTS) {
            return 'Events of controls are a list of up to '.self::MAX_EVENTS.'.';
        }
        foreach ($events as $event) {
            $wrong = is_array($event) ? $this->one($stream, $event) : 'An event of a control is an object.';
            if ($wrong !== null) {
                $this->bad++;

                return $wrong;
            }
        }

        return null;
    }

    /** @param  array<mixed>  $event */
    private function one(int $stream, array $event): ?string
    {
        $now = $this->clock->now();
        if (($event['source'] ?? null) === 'keys') {
            [$control, $value] = [$event['control'] ?? null, $event['value'] ?? null];
            if (
                ! is_string($control) ||
                preg_match('/^key:[A-Za-z0-9]{1,40}$/D', $control) !== 1 ||
                ! in_array($value, [0, 1], true)
            ) {
                return 'A key is key:CODE with 1 or 0 as its value.';
            }
            $this->emit(new ControlEvent('keys', $control, [$value], $now));

            return null;
        }
        if (($event['source'] ?? null) === 'ltc') {
            return $this->line($stream, $event, $now);
        }
        if (($event['source'] ?? null) === 'sound' && $this->sound !== null) {
            return $this->sound->take($stream, $event);
        }
        if (($event['source'] ?? null) === 'touch' && $this->touch !== null) {
            return $this->touch->take($stream, $event);
        }
        [$port, $data] = [$event['port'] ?? null, $event['data'] ?? null];
        if (
            ($event['source'] ?? null) !== 'midi' ||
            ! is_string($port) ||
            trim($port) === '' ||
            mb_strlen($port) > self::MAX_PORT
        ) {
            return 'An event comes from midi, with the name of its port, from keys, sound, touch or ltc.';
        }
        $key = "$stream $port";
        if (($event['gone'] ?? false) === true) {
            unset($this->devices[$key]);
            if (($this->streams[$port] ?? null) === $stream) {
                unset($this->streams[$port]);
                ($this->lost)('midi', $port);
            }

            return null;
        }
        $came = ($event['came'] ?? false) === true;
        if ($came || ! isset($this->devices[$key])) {
            if (count($this->devices) >= self::MAX_DEVICES) {
                return 'There are '.self::MAX_DEVICES.' MIDI ports already.';
            }
            $this->devices[$key] = new MidiDevice($port, $came ? $now : null);
        }
        $isNew = $came || ($this->streams[$port] ?? null) !== $stream;
        $this->streams[$port] = $stream;
        $isNew && ($this->found)('midi', $port, $this);
        if ($data === null) {
            return null;
        }
        if (
            ! is_array($data) ||
            count($data) > 4096 ||
            array_filter($data, static fn (mixed $b): bool => ! is_int($b) || $b < 0 || $b > 255) !== []
        ) {
            return 'MIDI data is a list of bytes, 0 to 255.';
        }
        $this->packets++;
        foreach ($this->devices[$key]->read(implode('', array_map(chr(...), $data)), $now) as $one) {
            $this->emit($one);
        }

        return null;
    }

    /**
     * Samples of a line of timecode.
     *
     * @param  array<mixed>  $event
     */
    private function line(int $stream, array $event, int $now): ?string
    {
        [$rate, $at] = [$event['rate'] ?? null, $event['at'] ?? null];
        $bytes = is_string($event['samples'] ?? null) ? base64_decode($event['samples'], true) : false;
        if (
            ! is_int($rate) ||
            $rate < 8000 ||
            $rate > 192_000 ||
            ! is_int($at) ||
            $bytes === false ||
            strlen($bytes) > 2 * self::MAX_SAMPLES
        ) {
            return 'A line of timecode has its sample rate, up to '.
                self::MAX_SAMPLES.
                ' samples of 16 bits as base64, and when the last of them was.';
        }
        if (($this->lines[$stream]['rate'] ?? null) !== $rate) {
            $this->lines[$stream] = [
                'decoder' => new LtcDecoder($rate),
                'clock' => new LtcClock($rate),
                'rate' => $rate,
                'samples' => 0,
            ];
        }
        $this->packets++;
        $samples = array_map(
            static fn (int $n): float => ($n >= 0x8000 ? $n - 0x10000 : $n) / 0x8000,
            array_values((array) unpack('v*', $bytes)),
        );
        $frames = $this->lines[$stream]['decoder']->read($samples);
        $read = $this->lines[$stream]['samples'] += count($samples);
        foreach ($frames as $frame) {
            $told = $this->lines[$stream]['clock']->read($frame);
            $since = (int) round((($read - $told['end']) / $rate) * Flicks::PER_SECOND);
            // No window sees what is to come, and what was long ago says nothing of now.
            $heard = max($now - Flicks::PER_SECOND, min($now, $at - $since));
            $this->emit(
                new ControlEvent(
                    'ltc',
                    MidiDevice::TIMECODE,
                    [$frame->timecode->text(), $told['time'], $told['rate']->name],
                    $heard,
                ),
            );
        }

        return null;
    }

    private function emit(ControlEvent $event): void
    {
        $event->source === 'keys' && $this->packets++;
        $fault = null;
        $this->guard->around('window', function () use ($event, &$fault): void {
            $fault = $this->onEvent === null ? null : ($this->onEvent)($event);
        })();
        $this->last->add($event->device, trim("$event->control ".json_encode($event->raw)), $fault);
    }

    /** A window has gone, and its ports with it. */
    public function left(int $stream): void
    {
        unset($this->lines[$stream]);
        $this->sound?->left($stream);
        $this->touch?->left($stream);
        foreach ($this->streams as $port => $of) {
            if ($of === $stream) {
                unset($this->streams[$port], $this->devices["$stream $port"]);
                ($this->lost)('midi', (string) $port);
            }
        }
    }

    public function feedback(string $control, array $state, string $device = ''): void
    {
        $bytes = MidiControls::feedbackOf($control, (float) ($state[0] ?? 0));
        foreach ($bytes === '' ? [] : array_keys($this->streams) as $port) {
            ($device === '' || $device === (string) $port) && $this->sendMidi($bytes, (string) $port);
        }
    }

    public function sendMidi(string $message, string $device): void
    {
        $stream = $this->streams[$device] ?? null;
        $stream === null ||
            ($this->give)(
                $stream,
                Wire::json(Wire::FEEDBACK, ['port' => $device, 'data' => array_map(ord(...), str_split($message))]),
            );
    }

    public function health(): array
    {
        return ['packets' => $this->packets, 'bad' => $this->bad, 'last' => $this->last->all()];
    }
}
