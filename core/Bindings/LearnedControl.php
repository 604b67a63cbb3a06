<?php

declare(strict_types=1);

namespace Core\Bindings;

use Core\Units\InvalidValue;

/** What a control is, told from what arrived while somebody moved it. */
final readonly class LearnedControl
{
    /** Events that are looked at; more say no more. */
    public const MAX_EVENTS = 500;

    /** A slot that sends so many times as often as the one before it is the fine half of a pair. */
    private const ROUNDS = 3;

    /**
     * @param  bool  $isButton  a button, or a key; else something that moves
     * @param  float  $from  the near end, as far as is known, and $to the far end
     */
    private function __construct(
        public Control $control,
        public bool $isButton,
        public Encoder $encoder,
        public float $from,
        public float $to,
    ) {
    }

    /**
     * The control that sent most; of a pair of controllers of 14 bits, the pair.
     *
     * @param  list<array{string, list<int|float|string|bool|null>}>  $events  name of a control and what it sent, in
     *     their order
     * @param  bool  $ends  whether it was moved from end to end, so that what was seen is its range
     *
     * @throws InvalidValue where nothing arrived that is a control
     */
    public static function of(array $events, bool $ends = false): self
    {
        [$sent, $order] = [[], []];
        foreach (array_slice($events, -self::MAX_EVENTS) as [$name, $raw]) {
            try {
                $control = Control::of($name);
            } catch (InvalidValue) {
                continue;
            }
            // An OSC message of several numbers has as many controls.
            foreach ($raw === [] ? [1] : $raw as $n => $value) {
                if (is_bool($value) || is_int($value) || is_float($value)) {
                    $sent[$control->kind === 'osc' && $n > 0 ? "$name#$n" : $name][] = (float) $value;
                }
            }
        }
        if ($sent === []) {
            throw InvalidValue::because('events', 'Nothing arrived that is a control; move it while it is learned.');
        }
        foreach (array_keys($sent) as $name) {
            // Its halves move with it, and say less.
            if (preg_match('/^cc14:(\d+):(\d+)$/D', $name, $m) === 1) {
                unset($sent["cc:$m[1]:$m[2]"], $sent["cc:$m[1]:".((int) $m[2] + 32)]);
            }
        }
        $halves = [];
        foreach ($sent as $name => $coarse) {
            // A coarse slot moves once while its fine one goes round.
            $half = preg_match('/^slot:(\d+)$/D', $name, $m) === 1 ? 'slot:'.((int) $m[1] + 1) : '';
            $fine = $sent[$half] ?? [];
            if ($fine !== [] && ! isset($halves[$name]) && count($fine) >= self::ROUNDS * count($coarse)) {
                $halves += [$name => true, $half => true];
                $sent['slot16:'.substr($name, 5)] = array_map(static fn (float $v): float => $v * 257, $fine);
            }
        }
        $sent = array_diff_key($sent, $halves);
        foreach ($sent as $name => $values) {
            $order[$name] = [count(array_unique($values)), count($values)];
        }
        arsort($order);
        $name = (string) array_key_first($order);

        return self::told(Control::of($name), $sent[$name], $ends);
    }

    /** @param  non-empty-list<float>  $values */
    private static function told(Control $control, array $values, bool $ends): self
    {
        $encoder = $control->kind === 'cc' ? self::encoder($values) : Encoder::Absolute;
        [$least, $most] = [min($values), max($values)];
        // What OSC sends beyond 1 goes by another range, of which only what was seen is known.
        $top = $control->kind === 'osc' && $most > 1 ? $most : $control->top;
        $isButton =
            $encoder === Encoder::Absolute &&
            (in_array($control->kind, ['note', 'key', 'program'], true) ||
                (in_array($control->kind, ['cc', 'osc', 'slot'], true) &&
                    array_diff($values, [0.0, $top]) === [] &&
                    ($most === $top || count($values) > 1)));
        if ($ends && ! $isButton && $encoder === Encoder::Absolute && $least < $most) {
            return new self($control, false, $encoder, $least, $most);
        }

        return new self(
            $control,
            $isButton,
            $encoder,
            $control->kind === 'osc' && $least < 0 ? $least : 0.0,
            $isButton && $control->kind !== 'note' && $most > 0 ? $most : $top,
        );
    }

    /**
     * A knob without end sends the same number again and again, near 0, 64 or 127; what stands somewhere never sends
     * one twice in a row.
     *
     * @param  non-empty-list<float>  $values
     */
    private static function encoder(array $values): Encoder
    {
        $again = 0;
        foreach ($values as $i => $value) {
            $again += $i > 0 && $value === $values[$i - 1] ? 1 : 0;
        }
        $within = static fn (int $from, int $to): int => count(
            array_filter($values, static fn (float $v): bool => $v >= $from && $v <= $to),
        );
        $all = count($values);
        if ($again === 0 || $values === array_fill(0, $all, 127.0)) {
            return Encoder::Absolute;
        }

        return match (true) {
            $within(1, 16) + $within(112, 127) === $all => Encoder::TwosComplement,
            $within(48, 63) + $within(65, 80) === $all && $within(48, 63) > 0 => Encoder::Offset,
            $within(1, 16) + $within(65, 80) === $all && $within(1, 16) > 0 => Encoder::SignBit,
            $within(65, 80) === $all => Encoder::Offset,
            default => Encoder::Absolute,
        };
    }

    /**
     * Fields of a binding of it, as they are best for a target.
     *
     * @return array<string, mixed> control, meaning, gesture, target, from, to, low, high, encoder
     */
    public function fields(Meaning $meaning, string $target, float $low = 0, float $high = 1): array
    {
        $moves = $meaning === Meaning::Value && ! $this->isButton;

        return [
            'control' => $this->control->name,
            'meaning' => $meaning->value,
            'gesture' => $moves
                ? Gesture::Move->value
                : ($meaning === Meaning::Value
                    ? Gesture::Toggle->value
                    : Gesture::Press->value),
            'target' => $target,
            'from' => $this->from,
            'to' => $this->to,
            'low' => $low,
            'high' => $high,
            'encoder' => $this->encoder->value,
        ];
    }
}
