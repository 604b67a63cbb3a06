<?php

declare(strict_types=1);

namespace Core\Bindings;

use Core\Units\InvalidValue;

/**
 * The controls of a MIDI device, out of its messages: of a pair of controllers the one of 14 bits, of numbered
 * parameters each, and what show control and machine control ask for.
 */
final class MidiControls
{
    /** What machine control asks for, by its number. */
    private const MACHINE = [1 => 'stop', 2 => 'play', 3 => 'play', 6 => 'record', 9 => 'pause'];

    /** What show control asks for, by its number. */
    private const SHOW = [
        1 => 'GO',
        2 => 'STOP',
        3 => 'RESUME',
        4 => 'TIMED_GO',
        7 => 'FIRE',
        8 => 'ALL_OFF',
        10 => 'RESET',
        11 => 'GO_OFF',
    ];

    /** @var array<int, int> high bytes of controllers, by channel and number */
    private array $high = [];

    /** @var array<int, array{int, int}|null> parameter that is chosen, by channel: high and low byte */
    private array $parameter = [];

    /** @var array<string, true> parameters whose low byte was heard */
    private array $fineParameter = [];

    /** @var array<string, int> high bytes of parameters */
    private array $highParameter = [];

    /**
     * @param  list<int>  $message  of `MidiStream`
     * @return list<array{string, list<int|float|string>}> name of a control (`Control`), or `msc:GO`, `mmc:play`,
     *     `realtime:start`; and what it sent
     */
    public function read(array $message): array
    {
        $channel = ($message[0] & 0x0F) + 1;
        [$a, $b] = [$message[1] ?? 0, $message[2] ?? 0];

        return match ($message[0] & 0xF0) {
            0x80 => [["note:$channel:$a", [0]]],
            0x90 => [["note:$channel:$a", [$b]]],
            0xA0 => [["touch:$channel:$a", [$b]]],
            0xB0 => $this->controller($channel, $a, $b),
            0xC0 => [["program:$channel", [$a]]],
            0xD0 => [["pressure:$channel", [$a]]],
            0xE0 => [["bend:$channel", [($b << 7) | $a]]],
            default => self::system($message),
        };
    }

    /** @return list<array{string, list<int>}> */
    private function controller(int $channel, int $number, int $value): array
    {
        if ($number >= 98 && $number <= 101) {
            $chosen = $this->parameter[$channel] ?? [0x7F, 0x7F];
            $this->parameter[$channel] = match ($number) {
                99 => [$value, $chosen[1]],
                98 => [$chosen[0], $value],
                // A registered parameter is none of the device's controls.
                default => null,
            };

            return [];
        }
        $parameter = $this->parameter[$channel] ?? null;
        if ($parameter !== null && $parameter !== [0x7F, 0x7F] && ($number === 6 || $number === 38)) {
            $name = "nrpn:$channel:".(($parameter[0] << 7) | $parameter[1]);
            if ($number === 6) {
                $this->highParameter[$name] = $value;

                return isset($this->fineParameter[$name]) ? [] : [[$name, [$value << 7]]];
            }
            $this->fineParameter[$name] = true;

            return [[$name, [(($this->highParameter[$name] ?? 0) << 7) | $value]]];
        }
        $found = [["cc:$channel:$number", [$value]]];
        if ($number < 32) {
            $this->high[($channel << 7) | $number] = $value;
        } elseif ($number < 64) {
            // Where a low byte follows, the pair is one control; it is whole with the low one.
            $of = ($channel << 7) | ($number - 32);
            if (isset($this->high[$of])) {
                $found[] = ["cc14:$channel:".($number - 32), [($this->high[$of] << 7) | $value]];
            }
        }

        return $found;
    }

    /**
     * @param  list<int>  $message
     * @return list<array{string, list<int|float|string>}>
     */
    private static function system(array $message): array
    {
        if (count($message) === 1) {
            $name = [0xFA => 'start', 0xFB => 'continue', 0xFC => 'stop'][$message[0]] ?? null;

            return $name === null ? [] : [["realtime:$name", [1]]];
        }
        if ($message[0] !== 0xF0 || ($message[1] ?? 0) !== 0x7F || count($message) < 6) {
            return [];
        }
        $data = array_slice($message, 0, -1);
        if ($message[3] === 0x06) {
            return self::machine($data);
        }
        if ($message[3] !== 0x02 || ! isset(self::SHOW[$message[5]])) {
            return [];
        }
        $name = self::SHOW[$message[5]];
        $rest = array_slice($data, 6);
        $sent = [];
        if ($name === 'FIRE') {
            return [['msc:FIRE', [(string) ($rest[0] ?? 0)]]];
        }
        if ($name === 'TIMED_GO') {
            // Hours, minutes, seconds, frames, hundredths of a frame; the rate is in the hours, as of time code.
            $rate = [24, 25, 30_000 / 1001, 30][(($rest[0] ?? 0) >> 5) & 3];
            $sent[] = round(
                (($rest[0] ?? 0) & 0x1F) * 3600 +
                    ($rest[1] ?? 0) * 60 +
                    ($rest[2] ?? 0) +
                    (($rest[3] ?? 0) & 0x1F) / $rate,
                6,
            );
            $rest = array_slice($rest, 5);
        }
        $number = explode("\0", implode('', array_map(chr(...), $rest)))[0];
        if (preg_match('/^[0-9.]{1,20}$/D', $number) === 1) {
            array_unshift($sent, $number);
        } elseif ($name === 'TIMED_GO') {
            array_unshift($sent, '');
        }

        return [["msc:$name", $sent]];
    }

    /**
     * @param  list<int>  $data
     * @return list<array{string, list<int|float|string>}>
     */
    private static function machine(array $data): array
    {
        if ($data[4] === 0x44 && ($data[5] ?? 0) === 6 && ($data[6] ?? 0) === 1 && count($data) >= 11) {
            $rate = [24, 25, 30_000 / 1001, 30][($data[7] >> 5) & 3];

            return [
                [
                    'mmc:locate',
                    [round(($data[7] & 0x1F) * 3600 + $data[8] * 60 + $data[9] + ($data[10] & 0x1F) / $rate, 6)],
                ],
            ];
        }
        $name = self::MACHINE[$data[4]] ?? null;

        return $name === null ? [] : [["mmc:$name", [1]]];
    }

    /**
     * What show control and machine control mean by themselves, as windows would say it; null for what is neither.
     *
     * @param  list<int|float|string|bool|null>  $sent
     * @return array<string, mixed>|null
     */
    public static function command(string $control, array $sent): ?array
    {
        $number = isset($sent[0]) && is_string($sent[0]) && $sent[0] !== '' ? $sent[0] : null;
        $fire = $number === null ? null : ['action' => Command::Fire->value, 'cue' => $number];

        return match ($control) {
            'msc:GO', 'msc:FIRE' => $fire ?? ['action' => Command::Go->value],
            'msc:TIMED_GO' => $fire === null
                ? ['action' => Command::Go->value]
                : $fire + ['fade' => ArgumentType::Time->read(is_float($sent[1] ?? null) ? $sent[1] : 0.0)],
            'msc:STOP', 'mmc:pause' => ['action' => Command::Hold->value],
            'mmc:stop' => ['action' => Command::Hold->value],
            'msc:RESUME', 'mmc:play' => ['action' => Command::Play->value],
            'msc:ALL_OFF' => ['action' => Command::Release->value],
            'msc:GO_OFF' => ['action' => Command::Release->value] + ($number === null ? [] : ['cue' => $number]),
            'msc:RESET' => ['action' => Command::Stop->value],
            'mmc:locate' => [
                'action' => Command::Jump->value,
                'time' => ArgumentType::Time->read(is_float($sent[0] ?? null) ? $sent[0] : 0.0),
            ],
            default => null,
        };
    }

    /**
     * The message that shows a value on the control of a path.
     *
     * @param  float  $raw  as the control would send it
     * @return string bytes; empty where it is no control, or one that listens to none
     */
    public static function feedbackOf(string $path, float $raw): string
    {
        try {
            return self::feedback(Control::of($path), $raw);
        } catch (InvalidValue) {
            return '';
        }
    }

    /**
     * The message that shows a value on a control: lamps, rings and motors listen to what they would send.
     *
     * @param  float  $raw  as the control would send it
     * @return string bytes; empty where it listens to none
     */
    public static function feedback(Control $control, float $raw): string
    {
        $parts = array_map(intval(...), array_slice(explode(':', $control->name), 1));
        $raw = (int) max(0, min($control->top, round($raw)));
        $channel = ($parts[0] ?? 1) - 1;
        $number = $parts[1] ?? 0;

        return match ($control->kind) {
            'note' => pack('C3', 0x90 | $channel, $number, $raw),
            'touch' => pack('C3', 0xA0 | $channel, $number, $raw),
            'cc' => pack('C3', 0xB0 | $channel, $number, $raw),
            'cc14' => pack('C6', 0xB0 | $channel, $number, $raw >> 7, 0xB0 | $channel, $number + 32, $raw & 0x7F),
            'nrpn' => pack(
                'C12',
                0xB0 | $channel,
                99,
                $number >> 7,
                0xB0 | $channel,
                98,
                $number & 0x7F,
                0xB0 | $channel,
                6,
                $raw >> 7,
                0xB0 | $channel,
                38,
                $raw & 0x7F,
            ),
            'program' => pack('C2', 0xC0 | $channel, $raw),
            'pressure' => pack('C2', 0xD0 | $channel, $raw),
            'bend' => pack('C3', 0xE0 | $channel, $raw & 0x7F, $raw >> 7),
            default => '',
        };
    }
}
