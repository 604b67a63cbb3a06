<?php

declare(strict_types=1);

namespace Core\Bindings;

use Core\Protocol\Osc;
use Core\Units\InvalidValue;

/**
 * One control of a device, by how its source calls it: `note:1:60` (channel, key), `cc:1:7`, `cc14:1:7`, `nrpn:1:300`,
 * `bend:1`, `pressure:1`, `touch:1:60`, `program:1`, `key:KeyG`, `slot:7` of a DMX universe or `slot16:7` (that and the
 * next as one number), `sound:level`, or an address as OSC and HTTP have them, which may be a pattern, with `#N` for
 * another than the first argument.
 */
final readonly class Control
{
    /** Of each kind: how many numbers name one, what it sends at its far end, and what people call it. */
    private const KINDS = [
        'note' => [2, 127, 'Note'],
        'cc' => [2, 127, 'Controller'],
        'cc14' => [2, 16_383, 'Controller, 14 bit,'],
        'nrpn' => [2, 16_383, 'NRPN'],
        'touch' => [2, 127, 'Key pressure'],
        'bend' => [1, 16_383, 'Pitch bend'],
        'pressure' => [1, 127, 'Pressure'],
        'program' => [1, 127, 'Program'],
    ];

    /** Of a DMX slot and of a pair of them: the last one that there is, and what it sends at its far end. */
    private const SLOTS = ['slot' => [512, 255], 'slot16' => [511, 65_535]];

    private const NOTES = ['C', 'C♯', 'D', 'D♯', 'E', 'F', 'F♯', 'G', 'G♯', 'A', 'A♯', 'B'];

    /**
     * @param  string  $name  as its source calls it
     * @param  float  $top  what it sends at its far end; it begins at 0
     * @param  int  $argument  which of the numbers that it sends counts
     * @param  string  $path  its name without the number of the argument
     */
    private function __construct(
        public string $name,
        public string $kind,
        public float $top,
        public int $argument,
        public string $path,
    ) {
    }

    /** @throws InvalidValue for what names no control */
    public static function of(string $name): self
    {
        if (str_starts_with($name, '/')) {
            if (strlen($name) > 200 || preg_match('~^(/[^\s#,]*)(?:#(\d{1,2}))?$~D', $name, $m) !== 1) {
                throw self::unknown($name);
            }

            return new self($name, 'osc', 1.0, (int) ($m[2] ?? 0), $m[1]);
        }
        if (preg_match('/^key:[A-Za-z0-9]{1,40}$/D', $name) === 1) {
            return new self($name, 'key', 1.0, 0, $name);
        }
        if (preg_match('/^(slot|slot16):([1-9]\d{0,2})$/D', $name, $m) === 1 && (int) $m[2] <= self::SLOTS[$m[1]][0]) {
            return new self($name, $m[1], (float) self::SLOTS[$m[1]][1], 0, $name);
        }
        if (in_array($name, SoundControls::names(), true)) {
            return new self($name, 'sound', 1.0, 0, $name);
        }
        $parts = explode(':', $name);
        [$count, $top] = self::KINDS[$parts[0]] ?? [0, 0];
        $numbers = array_slice($parts, 1);
        if (
            $count === 0 ||
            count($numbers) !== $count ||
            array_filter($numbers, static fn (string $n): bool => preg_match('/^\d{1,5}$/D', $n) !== 1) !== [] ||
            (int) $numbers[0] < 1 ||
            (int) $numbers[0] > 16 ||
            (int) ($numbers[1] ?? 0) > ($parts[0] === 'nrpn' ? 16_383 : ($parts[0] === 'cc14' ? 31 : 127))
        ) {
            throw self::unknown($name);
        }

        return new self($name, $parts[0], (float) $top, 0, $name);
    }

    /** Whether an event of its source is about it; an OSC address on either side may be a pattern. */
    public function matches(string $control): bool
    {
        return $this->path === $control ||
            ($this->kind === 'osc' && (Osc::matches($control, $this->path) || Osc::matches($this->path, $control)));
    }

    /** Whether it has steps: numbers that are whole. */
    public function isWhole(): bool
    {
        return $this->top > 1;
    }

    /** What people call it. */
    public function label(): string
    {
        $parts = explode(':', $this->name);
        [, , $words] = self::KINDS[$this->kind] ?? [0, 0, ''];

        return match ($this->kind) {
            'osc' => $this->name,
            'slot' => "Slot $parts[1]",
            'slot16' => "Slots $parts[1] and ".((int) $parts[1] + 1),
            'sound' => SoundControls::label($this->name),
            'key' => 'Key '.preg_replace('/^(Key|Digit)(?=.$)/', '', $parts[1]),
            'note', 'touch' => "$words $parts[2] (".
                self::NOTES[(int) $parts[2] % 12].
                (intdiv((int) $parts[2], 12) - 1).
                "), channel $parts[1]",
            'cc', 'cc14', 'nrpn' => "$words $parts[2], channel $parts[1]",
            default => "$words, channel $parts[1]",
        };
    }

    private static function unknown(string $name): InvalidValue
    {
        return InvalidValue::because(
            'control',
            '"'.
                mb_strimwidth(mb_scrub($name), 0, 80, '…').
                '" is no control; write one as note:1:60, cc:1:7, key:KeyG, slot:7, sound:level or an OSC address.',
        );
    }
}
