<?php

declare(strict_types=1);

namespace Core\Bindings;

use Core\Units\Check;
use Core\Units\Flicks;
use Core\Units\InvalidValue;

/**
 * What a control of a device does in a show: source, meaning, target. `react()` turns one event into at most one
 * command, `feedback()` a state into what the control is to show.
 */
final readonly class Binding
{
    /** Two presses within this time, in flicks, are a double press: 0.4 s. */
    public const DOUBLE = 282_240_000;

    /** A press that lasts this long, in flicks, is a long one: 0.6 s. */
    public const LONG = 423_360_000;

    /** The longest smoothing, in flicks: 10 s. */
    private const MAX_SMOOTHING = 10 * Flicks::PER_SECOND;

    private const MAX_STEPS = 1000;

    private const MAX_CHOICES = 128;

    /**
     * @param  string  $device  id of the device that it is a control of
     * @param  int  $page  of the device on which it counts; 0 for all
     * @param  string  $target  an address, a cue's id, or a command as `Action` reads it
     * @param  Action|null  $action  of the target, where it is a command
     * @param  Action|null  $other  given on letting go, and by each second press
     * @param  array<string, Action>  $choices  by what is sent, as text
     * @param  float  $from  what the control sends at its near end, as $to at its far end
     * @param  float  $low  the value there, as $high at the far end
     * @param  int  $steps  that a value has; 0 for as many as the control
     * @param  float  $deadBand  share of the way at each end that counts as the end, 0 to 0.45
     * @param  int  $smoothing  flicks over which a value follows
     * @param  float  $click  share of the range that a click of an encoder is
     * @param  float  $acceleration  how much more a click is worth per 10 clicks a second above 10
     * @param  int|null  $fade  of a cue, flicks; null for its own
     * @param  bool  $velocity  whether a press counts by how hard it is: of a value how far it is set, of a cue how strongly
     * @param  bool  $hasMotor  whether it goes where it is told, so that it stands there
     * @param  float  $lampOff  what is sent to a lamp for off, as $lampOn for on
     */
    private function __construct(
        public string $id,
        public string $device,
        public Control $control,
        public int $page,
        public Meaning $meaning,
        public Gesture $gesture,
        public string $target,
        public ?Action $action,
        public ?Action $other,
        public array $choices,
        public float $from,
        public float $to,
        public float $low,
        public float $high,
        public Shape $shape,
        public bool $invert,
        public int $steps,
        public float $deadBand,
        public int $smoothing,
        public Takeover $takeover,
        public Encoder $encoder,
        public float $click,
        public float $acceleration,
        public ?int $fade,
        public bool $velocity,
        public bool $hasLamp,
        public bool $hasMotor,
        public float $lampOff,
        public float $lampOn,
    ) {
    }

    /**
     * @param  array<string, mixed>  $row
     *
     * @throws InvalidValue
     */
    public static function fromRow(array $row): self
    {
        $number = static fn (string $field, float $usual, float $min, float $max): float => Check::number(
            $field,
            (float) ($row[$field] ?? $usual),
            $min,
            $max,
        );
        $meaning = Check::choice(Meaning::class, 'meaning', (string) ($row['meaning'] ?? 'action'));
        $gesture = Check::choice(Gesture::class, 'gesture', (string) ($row['gesture'] ?? 'press'));
        $control = Control::of((string) ($row['control'] ?? ''));
        $target = trim((string) ($row['target'] ?? ''));
        $other = trim((string) ($row['other'] ?? ''));
        $from = $number('from', 0, -1e9, 1e9);
        $to = $number('to', $control->top, -1e9, 1e9);
        if ($from === $to) {
            throw InvalidValue::because('to', 'The far end of a control has to differ from its near end.');
        }
        if ($target === '' && $meaning !== Meaning::Choice) {
            throw InvalidValue::because('target', 'A binding needs a target: a value, a cue or a command.');
        }
        if ($meaning === Meaning::Action && $gesture === Gesture::Move) {
            throw InvalidValue::because('gesture', 'A command is given by a press; only values go along with a move.');
        }

        return new self(
            (string) ($row['id'] ?? ''),
            (string) ($row['device'] ?? ''),
            $control,
            Check::whole('page', (int) ($row['page'] ?? 0), 0, Action::PAGES),
            $meaning,
            $gesture,
            $target,
            $meaning === Meaning::Action ? Action::parse($target) : null,
            $meaning === Meaning::Action && $other !== '' ? self::within('other', $other) : null,
            $meaning === Meaning::Choice ? self::choices((string) ($row['choices'] ?? '')) : [],
            $from,
            $to,
            $number('low', 0, -1e9, 1e9),
            $number('high', 1, -1e9, 1e9),
            Check::choice(Shape::class, 'shape', (string) ($row['shape'] ?? 'linear')),
            (bool) ($row['invert'] ?? false),
            Check::whole('steps', (int) ($row['steps'] ?? 0), 0, self::MAX_STEPS),
            $number('deadBand', 0, 0, 0.45),
            Check::whole('smoothing', (int) ($row['smoothing'] ?? 0), 0, self::MAX_SMOOTHING, 'flicks'),
            Check::choice(Takeover::class, 'takeover', (string) ($row['takeover'] ?? 'meet')),
            Check::choice(Encoder::class, 'encoder', (string) ($row['encoder'] ?? 'absolute')),
            $number('click', 0.01, 0.00001, 1),
            $number('acceleration', 0, 0, 10),
            isset($row['fade'])
                ? Check::whole('fade', (int) $row['fade'], 0, 86_400 * Flicks::PER_SECOND, 'flicks')
                : null,
            (bool) ($row['velocity'] ?? false),
            (bool) ($row['lamp'] ?? true),
            (bool) ($row['motor'] ?? false),
            $number('lampOff', 0, -1e9, 1e9),
            $number('lampOn', $control->top, -1e9, 1e9),
        );
    }

    private static function within(string $field, string $text): Action
    {
        try {
            return Action::parse($text);
        } catch (InvalidValue $refused) {
            throw InvalidValue::because($field, $refused->getMessage());
        }
    }

    /**
     * A line for each number: the number, and a command.
     *
     * @return array<string, Action>
     */
    private static function choices(string $text): array
    {
        $found = [];
        foreach (preg_split('/\R|;/', $text) ?: [] as $line) {
            if (trim($line) === '') {
                continue;
            }
            if (preg_match('/^\s*(-?\d+(?:\.\d+)?)\s+(.+?)\s*$/D', $line, $m) !== 1) {
                throw InvalidValue::because('choices', 'Write a line for each number: 12 fire 3.');
            }
            $number = self::numbered((float) $m[1]);
            if (isset($found[$number])) {
                throw InvalidValue::because('choices', "$number has two commands.");
            }
            $found[$number] = self::within('choices', $m[2]);
        }
        if ($found === [] || count($found) > self::MAX_CHOICES) {
            throw InvalidValue::because(
                'choices',
                'A choice has 1 to '.self::MAX_CHOICES.' lines, a number and a command each: 12 fire 3.',
            );
        }

        return $found;
    }

    private static function numbered(float $number): string
    {
        return rtrim(rtrim(sprintf('%.4f', $number), '0'), '.');
    }

    /** Whether it has to know what its value is before it can react. */
    public function needsReading(): bool
    {
        return $this->meaning === Meaning::Value &&
            (($this->gesture === Gesture::Move &&
                ($this->takeover !== Takeover::Jump || $this->encoder !== Encoder::Absolute)) ||
                $this->gesture === Gesture::Toggle);
    }

    /**
     * What comes of an event of its control.
     *
     * @param  list<int|float|string|bool|null>|null  $raw  what the control sent; null where it is asked again at
     *     `wakeAt`
     * @param  int  $time  engine time
     * @param  float|null  $reading  what its value is at present; whether its cue is on, as 1 or 0; null where that is
     *     not known
     * @param  bool  $isReport  whether the control only tells where it stands, as when its device comes back
     */
    public function react(
        BindingState $state,
        ?array $raw,
        int $time,
        ?float $reading,
        bool $isReport = false,
    ): Reaction {
        if ($raw === null) {
            return $this->woken($state, $time);
        }
        $given = $raw === [] ? 1 : $raw[$this->control->argument] ?? null;
        $number = match (true) {
            is_bool($given) => (float) $given,
            is_int($given), is_float($given) => (float) $given,
            is_string($given) && is_numeric($given) => (float) $given,
            default => null,
        };
        if ($number === null || ! is_finite($number)) {
            return new Reaction($state, note: 'It sent no number.');
        }
        if ($this->meaning === Meaning::Choice) {
            $chosen = $this->choices[self::numbered($number)] ?? null;

            return $isReport || $chosen === null
                ? new Reaction(
                    $state,
                    note: $isReport
                        ? 'It only told where it stands.'
                        : 'No line is for '.self::numbered($number).'.',
                )
                : new Reaction($state, $chosen->command, $chosen->page);
        }
        if ($this->gesture === Gesture::Move) {
            return $this->meaning !== Meaning::Value
                ? $this->pressed($state, $number, $time, $reading, $isReport)
                : ($this->encoder === Encoder::Absolute
                    ? $this->moved($state, $number, $reading, $isReport)
                    : $this->turned($state, $number, $time, $reading));
        }

        return $this->pressed($state, $number, $time, $reading, $isReport);
    }

    /** The value at which the control stands, by its ranges and its shape. */
    public function valueAt(float $raw): float
    {
        $place = max(0.0, min(1.0, ($raw - $this->from) / ($this->to - $this->from)));
        if ($this->deadBand > 0) {
            $place = max(0.0, min(1.0, ($place - $this->deadBand) / (1 - 2 * $this->deadBand)));
        }
        $place = $this->stepped($this->shape->at($this->invert ? 1 - $place : $place));

        return $this->low + $place * ($this->high - $this->low);
    }

    private function stepped(float $place): float
    {
        return $this->steps > 1 ? round($place * ($this->steps - 1)) / ($this->steps - 1) : $place;
    }

    /** What the control would send where it stood at a value: what a motor is given, and a ring of lamps. */
    public function rawAt(float $value): float
    {
        $place = $this->high === $this->low ? 0.0 : ($value - $this->low) / ($this->high - $this->low);
        $place = $this->shape->inverse(max(0.0, min(1.0, $place)));
        $place = $this->invert ? 1 - $place : $place;
        if ($this->deadBand > 0 && $place > 0 && $place < 1) {
            $place = $this->deadBand + $place * (1 - 2 * $this->deadBand);
        }
        $raw = $this->from + $place * ($this->to - $this->from);

        return $this->control->isWhole() ? round($raw) : $raw;
    }

    private function moved(BindingState $state, float $raw, ?float $reading, bool $isReport): Reaction
    {
        [$value, $before] = [$this->valueAt($raw), $state->value];
        if ($isReport) {
            return new Reaction($state->with(['value' => $value]), note: 'It only told where it stands.');
        }
        if ($this->takeover === Takeover::Jump) {
            return $this->set($state, $value, $value);
        }
        if ($reading === null) {
            return new Reaction($state, note: 'What its value is was not known yet.');
        }
        if ($this->takeover === Takeover::Scaled) {
            return $this->scaled($state, $value, $reading);
        }
        $holds = $state->sent !== null && self::areEqual($state->sent, $reading);
        $passes = $before !== null && ($before - $reading) * ($value - $reading) <= 0;
        $near = max(
            abs($this->valueAt($raw + $this->grain()) - $value),
            abs($this->valueAt($raw - $this->grain()) - $value),
        );
        if ($holds || $passes || abs($value - $reading) <= $near) {
            return $this->set($state, $value, $value);
        }

        return new Reaction(
            $state->with(['value' => $value, 'sent' => null]),
            meets: ['value' => $reading, 'above' => $this->isAbove($reading, $value)],
            note: 'It waits until it meets the value.',
        );
    }

    /** The smallest move of the control. */
    private function grain(): float
    {
        return $this->control->isWhole() ? 1.0 : abs($this->to - $this->from) / 127;
    }

    /** Whether the control has to go toward its far end to come to a value. */
    private function isAbove(float $wanted, float $stands): bool
    {
        $rises = $this->high >= $this->low !== $this->invert;

        return $rises ? $wanted > $stands : $wanted < $stands;
    }

    /** The share of the way that is left, taken of the gap that is left: v + (e − v) · (p − q) / (e − q). */
    private function scaled(BindingState $state, float $value, float $reading): Reaction
    {
        $before = $state->value;
        if ($before === null || $before === $value) {
            return new Reaction(
                $state->with(['value' => $value]),
                meets: self::areEqual($value, $reading)
                    ? null
                    : ['value' => $reading, 'above' => $this->isAbove($reading, $value)],
                note: $before === null ? 'Its first move tells where it stands.' : '',
            );
        }
        $end = $value > $before ? max($this->low, $this->high) : min($this->low, $this->high);
        $next = $end === $before ? $value : $reading + ($end - $reading) * (($value - $before) / ($end - $before));

        return $this->set($state, $value, $next);
    }

    private function turned(BindingState $state, float $raw, int $time, ?float $reading): Reaction
    {
        $clicks = $this->encoder->clicks($raw);
        if ($clicks === 0) {
            return new Reaction($state, note: 'It was not turned.');
        }
        if ($reading === null) {
            return new Reaction($state->with(['since' => $time]), note: 'What its value is was not known yet.');
        }
        $apart = $state->since === null ? INF : max(0.001, Flicks::toSeconds($time - $state->since));
        $more = 1 + ($this->acceleration * max(0.0, min(110.0, abs($clicks) / $apart) - 10)) / 10;
        $by = $clicks * $more * ($this->steps > 1 ? 1 / ($this->steps - 1) : $this->click);
        $by *= ($this->high - $this->low) * ($this->invert ? -1 : 1);
        $value = max(min($this->low, $this->high), min(max($this->low, $this->high), $reading + $by));

        return $this->set($state->with(['since' => $time]), $value, $value);
    }

    private function pressed(BindingState $state, float $raw, int $time, ?float $reading, bool $isReport): Reaction
    {
        $isDown =
            $this->control->kind === 'note' || $this->control->kind === 'key'
                ? $raw > 0
                : ($raw - $this->from) / ($this->to - $this->from) >= 0.5;
        $wasDown = $state->pressed;
        $next = $state->with(['pressed' => $isDown, 'since' => $isDown && ! $wasDown ? $time : $state->since]);
        if ($isReport || $isDown === $wasDown) {
            // A control that tells no letting go is pressed again each time.
            $isDown =
                $isDown &&
                ! $isReport &&
                ($this->control->kind === 'program' || ($this->control->kind === 'osc' && $raw === $this->to));
            if (! $isDown) {
                return new Reaction(
                    $next,
                    note: $isReport ? 'It only told where it stands.' : 'It was not pressed anew.',
                );
            }
        }
        switch ($this->gesture) {
            case Gesture::Move:
            case Gesture::Press:
                return $isDown ? $this->first($next, $raw) : new Reaction($next);
            case Gesture::Release:
                return $isDown ? new Reaction($next) : $this->first($next);
            case Gesture::Toggle:
                return ! $isDown
                    ? new Reaction($next)
                    : ($this->isOn($state, $reading)
                        ? $this->second($next)
                        : $this->first($next, $raw));
            case Gesture::Hold:
                return $isDown ? $this->first($next, $raw) : $this->second($next);
            case Gesture::Double:
                if (! $isDown) {
                    return new Reaction($next);
                }

                return $state->tapped !== null && $time - $state->tapped <= self::DOUBLE
                    ? $this->first($next->with(['tapped' => null]), $raw)
                    : new Reaction($next->with(['tapped' => $time]), note: 'It waits for a second press.');
            case Gesture::Long:
                return $isDown
                    ? new Reaction($next, note: 'It waits whether it is kept pressed.', wakeAt: $time + self::LONG)
                    : new Reaction($next);
        }
    }

    private function woken(BindingState $state, int $time): Reaction
    {
        return $this->gesture === Gesture::Long &&
            $state->pressed &&
            $state->since !== null &&
            $time - $state->since >= self::LONG
            ? $this->first($state->with(['since' => null]))
            : new Reaction($state);
    }

    /** Whether the first of two was given last: of a cue and a value, what is on says so. */
    private function isOn(BindingState $state, ?float $reading): bool
    {
        return match ($this->meaning) {
            Meaning::Cue => ($reading ?? 0.0) >= 0.5,
            Meaning::Value => $reading !== null &&
                ($this->velocity ? ! self::areEqual($reading, $this->low) : self::areEqual($reading, $this->high)),
            default => $state->toggled,
        };
    }

    /** @param  float|null  $raw  how hard it was pressed, where that is known */
    private function first(BindingState $state, ?float $raw = null): Reaction
    {
        $value = $this->velocity && $raw !== null ? $this->valueAt($raw) : $this->high;

        return match ($this->meaning) {
            Meaning::Value => $this->set($state, $value, $value),
            Meaning::Cue => new Reaction(
                $state,
                ['action' => Command::Fire->value, 'cue' => $this->target] +
                    ($this->fade === null ? [] : ['fade' => $this->fade]) +
                    ($this->velocity && $raw !== null
                        ? ['level' => max(0.0, min(1.0, ($raw - $this->from) / ($this->to - $this->from)))]
                        : []),
            ),
            default => new Reaction($state->with(['toggled' => true]), $this->action?->command, $this->action?->page),
        };
    }

    private function second(BindingState $state): Reaction
    {
        return match ($this->meaning) {
            Meaning::Value => $this->set($state, $this->low, $this->low),
            Meaning::Cue => new Reaction(
                $state,
                ['action' => Command::Release->value, 'cue' => $this->target] +
                    ($this->fade === null ? [] : ['fade' => $this->fade]),
            ),
            default => $this->other === null
                ? new Reaction($state->with(['toggled' => false]), $this->action?->command, $this->action?->page)
                : new Reaction($state->with(['toggled' => false]), $this->other->command, $this->other->page),
        };
    }

    private function set(BindingState $state, float $stands, float $value): Reaction
    {
        return new Reaction(
            $state->with(['value' => $stands, 'sent' => $value]),
            ['action' => Command::Live->value, 'values' => [$this->target => $value]] +
                ($this->smoothing > 0 ? ['fade' => $this->smoothing] : []),
        );
    }

    private static function areEqual(float $a, float $b): bool
    {
        return abs($a - $b) <= 1e-6 * max(1.0, abs($a), abs($b));
    }

    /**
     * What its control is to show.
     *
     * @param  float|null  $state  the value that it is bound to; of a cue or a command, whether it is on, as 1 or 0
     * @return float|null as the control would send it; null where it has nothing to show, or that is not known
     */
    public function feedback(?float $state): ?float
    {
        if (! $this->hasLamp || $state === null || $this->encoder !== Encoder::Absolute) {
            return null;
        }
        if ($this->meaning === Meaning::Value && $this->gesture === Gesture::Move) {
            return $this->rawAt($state);
        }
        $isOn = match (true) {
            $this->meaning !== Meaning::Value => $state >= 0.5,
            $this->velocity => ! self::areEqual($state, $this->low),
            default => self::areEqual($state, $this->high),
        };

        return $isOn ? $this->lampOn : $this->lampOff;
    }
}
