<?php

declare(strict_types=1);

namespace Core\Bindings;

use Core\Units\InvalidValue;

/**
 * The commands of the engine: what can be done from outside, with what, and by whom. Windows send them as JSON (`do`
 * and the arguments by name), OSC as `/kite/NAME` with arguments in their order; documents and the screen list them
 * from here.
 */
enum Command: string
{
    case Play = 'play';
    case Hold = 'hold';
    case Toggle = 'toggle';
    case Stop = 'stop';
    case Go = 'go';
    case Drive = 'drive';
    case Jump = 'jump';
    case Nudge = 'nudge';
    case Rate = 'rate';
    case Loop = 'loop';
    case Off = 'off';
    case Clock = 'clock';
    case Fire = 'fire';
    case Release = 'release';
    case Advance = 'advance';
    case Back = 'back';
    case Pointer = 'pointer';
    case Panic = 'panic';
    case Live = 'live';
    case Cards = 'cards';
    case Identify = 'identify';
    case Mark = 'mark';
    case Isolate = 'isolate';
    case Light = 'light';
    case ClockStep = 'clockStep';
    case Power = 'power';
    case Shutter = 'shutter';
    case Freeze = 'freeze';
    case Input = 'input';
    case Search = 'search';
    case Send = 'send';
    case Bind = 'bind';

    public function label(): string
    {
        return match ($this) {
            self::Play => 'Play',
            self::Hold => 'Hold',
            self::Toggle => 'Play or hold',
            self::Stop => 'Stop: hold at the start',
            self::Go => 'Go: the next cue, or on from a hold point',
            self::Drive => 'Drive a timeline: what names none acts on it',
            self::Jump => 'Jump to a time or a cue',
            self::Nudge => 'Nudge by a time',
            self::Rate => 'Rate of the timeline, 1 for normal',
            self::Loop => 'Loop a range, or none',
            self::Off => 'Take the timeline off',
            self::Clock => 'Reading of a clock that timelines follow',
            self::Fire => 'Fire a cue',
            self::Release => 'Release all cues, or one',
            self::Advance => 'Go, by its other name',
            self::Back => 'Previous cue of the list',
            self::Pointer => 'Make a cue the next of the list',
            self::Panic => 'Panic: all dark, or light back',
            self::Live => 'Set loose values; null discards one',
            self::Cards => 'Test card on surfaces',
            self::Identify => 'Name an output on its picture',
            self::Mark => 'Marks over the picture of an output',
            self::Isolate => 'Show only some regions, or all again',
            self::Light => 'Test of a pixel light',
            self::ClockStep => 'What is fired after a step of the clock',
            self::Power => 'Power of projectors: on, or off',
            self::Shutter => 'Shutter of projectors: shut, or open',
            self::Freeze => 'Freeze the picture of projectors, or let it go on',
            self::Input => 'Input of projectors, as 31',
            self::Search => 'Search the network for projectors',
            self::Send => 'Send a line to a device',
            self::Bind => 'Values of a control',
        };
    }

    /** @return list<Argument> in the order in which a control sends them */
    public function arguments(): array
    {
        $timeline = Argument::optional('timeline', ArgumentType::Text, 'timeline, by id or name');
        $fade = Argument::optional('fade', ArgumentType::Time, 'fade');
        $cue = Argument::required('cue', ArgumentType::Cue, 'cue');

        return match ($this) {
            self::Play, self::Hold, self::Toggle, self::Stop, self::Go => [$timeline],
            self::Jump => [
                Argument::required('time', ArgumentType::Time, 'time'),
                $cue->insteadOf('time'),
                $timeline,
                $fade,
            ],
            self::Drive => [Argument::required('timeline', ArgumentType::Text, 'timeline, by id or name')],
            self::Nudge => [Argument::required('by', ArgumentType::Time, 'time'), $timeline],
            self::Rate => [Argument::required('rate', ArgumentType::Number, 'rate'), $timeline],
            self::Loop => [
                Argument::optional('from', ArgumentType::Time, 'from'),
                Argument::optional('to', ArgumentType::Time, 'to'),
                $timeline,
                Argument::optional('here', ArgumentType::Switch, 'from the playhead on'),
            ],
            self::Off => [$timeline, $fade],
            self::Clock => [
                Argument::required('source', ArgumentType::Text, 'name of the clock'),
                Argument::required('time', ArgumentType::Time, 'reading'),
            ],
            self::Fire => [
                $cue,
                Argument::optional('fade', ArgumentType::Time, 'fade'),
                Argument::optional('level', ArgumentType::Number, 'level, 0 to 1'),
            ],
            self::Pointer => [$cue],
            self::Release => [Argument::optional('cue', ArgumentType::Cue, 'cue'), $fade],
            self::Advance, self::Back => [],
            self::Panic => [Argument::optional('on', ArgumentType::Switch, 'dark'), $fade],
            self::Live => [Argument::required('values', ArgumentType::Object, 'values by address'), $fade],
            self::Cards => [Argument::required('surfaces', ArgumentType::List, 'surfaces, by id')],
            self::Identify => [Argument::required('output', ArgumentType::Text, 'output, by id')],
            self::Mark => [
                Argument::required('output', ArgumentType::Text, 'output, by id'),
                Argument::optional('cross', ArgumentType::List, 'crosshair, x and y in px'),
                Argument::optional('shapes', ArgumentType::List, 'shapes'),
            ],
            self::Isolate => [
                Argument::optional('regions', ArgumentType::List, 'regions, by id; all where none are named'),
                Argument::optional('show', ArgumentType::Text, 'picture, white, guide or patch'),
                Argument::optional('patches', ArgumentType::Object, 'rectangles of the surface in px, by region'),
            ],
            self::Light => [
                Argument::required('patch', ArgumentType::Text, 'patch, by id'),
                Argument::optional('test', ArgumentType::Object, 'test'),
            ],
            self::ClockStep => [Argument::required('fire', ArgumentType::Text, 'answer')],
            self::Search => [],
            self::Input => [
                Argument::required('input', ArgumentType::Code, 'input, kind and number'),
                Argument::optional('projector', ArgumentType::Text, 'projector, by name; all where none is named'),
            ],
            self::Power, self::Shutter, self::Freeze => [
                Argument::optional('on', ArgumentType::Switch, 'on, or shut'),
                Argument::optional('projector', ArgumentType::Text, 'projector, by name; all where none is named'),
            ],
            self::Send => [Argument::required('line', ArgumentType::Text, 'what goes where')],
            self::Bind => [
                Argument::required('values', ArgumentType::Object, 'values by address'),
                Argument::optional('source', ArgumentType::Text, 'source'),
                Argument::optional('runs', ArgumentType::Object, 'how media run'),
                Argument::optional('fades', ArgumentType::Object, 'fades by address'),
            ],
        };
    }

    /** Whether controls may give it; others only windows or our own processes. */
    public function isForControls(): bool
    {
        return match ($this) {
            self::Live,
            self::Cards,
            self::Mark,
            self::Isolate,
            self::Light,
            self::ClockStep,
            self::Send,
            self::Search,
            self::Bind => false,
            default => true,
        };
    }

    /** Whether only our own processes give it. */
    public function isInside(): bool
    {
        return $this === self::Bind;
    }

    /** Whether it is about the whole engine, whatever show is on. */
    public function isOfEngine(): bool
    {
        return in_array($this, [self::Identify, self::Mark, self::Isolate, self::Light, self::ClockStep], true);
    }

    /** Whether it switches or tells devices outside. */
    public function isOfDevices(): bool
    {
        return in_array($this, [self::Power, self::Shutter, self::Freeze, self::Input, self::Search, self::Send], true);
    }

    /** Whether a cue may give it when it is fired: none that fires cues. */
    public function isForCues(): bool
    {
        return $this === self::Send ||
            ($this->isForControls() &&
                ! $this->isOfCues() &&
                ! in_array($this, [self::Go, self::Drive, self::Clock], true));
    }

    /** Whether it is done with cues and the cue list. */
    public function isOfCues(): bool
    {
        return in_array(
            $this,
            [self::Fire, self::Release, self::Advance, self::Back, self::Pointer, self::Panic],
            true,
        );
    }

    /**
     * A command as a window sends it.
     *
     * @param  array<mixed>  $given  `do` and arguments by name; null is as good as not given
     *
     * @throws InvalidValue for an unknown one, and for an argument that is missing or of another type
     */
    public static function of(array $given): self
    {
        $name = $given['action'] ?? null;
        $command = is_string($name) ? self::tryFrom($name) : null;
        if ($command === null) {
            throw InvalidValue::because(
                'action',
                'There is no command of this name; there are '.
                    implode(', ', array_map(static fn (self $one): string => $one->value, self::windows())).
                    '.',
            );
        }
        foreach ($command->arguments() as $argument) {
            $value = $given[$argument->name] ?? null;
            if ($value !== null && ! $argument->type->fits($value)) {
                throw InvalidValue::because(
                    $argument->name,
                    "`$argument->name` of $command->value is {$argument->type->named()}.",
                );
            }
        }

        return $command;
    }

    /** @return list<self> those that windows give */
    public static function windows(): array
    {
        return array_values(array_filter(self::cases(), static fn (self $one): bool => ! $one->isInside()));
    }

    /** @return list<self> those that controls give */
    public static function controls(): array
    {
        return array_values(array_filter(self::cases(), static fn (self $one): bool => $one->isForControls()));
    }

    /**
     * The command that a control gives with arguments in their order. Each goes to the first argument that is still
     * free and takes it. Where no argument or the name of a timeline would come first, a single number is that of a
     * button: 0 is its release, and gives no command.
     *
     * @param  list<int|float|string|bool|null>  $given
     * @return array<string, mixed>|null as a window would send it
     *
     * @throws InvalidValue for one that is missing, or that no argument takes
     */
    public function given(array $given): ?array
    {
        $arguments = array_values(
            array_filter($this->arguments(), static fn (Argument $argument): bool => $argument->type->isOutside()),
        );
        $first = $arguments[0] ?? null;
        if (
            count($given) === 1 &&
            ! is_string($given[0]) &&
            ($first === null || ($first->type === ArgumentType::Text && ! $first->required))
        ) {
            return $given[0] === false || (is_numeric($given[0]) && (float) $given[0] === 0.0)
                ? null
                : ['action' => $this->value];
        }
        $command = ['action' => $this->value];
        $next = 0;
        foreach ($given as $value) {
            for (; $next < count($arguments); $next++) {
                $argument = $arguments[$next];
                $read = isset($command[$argument->insteadOf ?? '']) ? null : $argument->type->read($value);
                if ($read !== null) {
                    $command[$argument->name] = $read;
                    $next++;

                    continue 2;
                }
            }
            throw InvalidValue::because('arguments', $this->usage());
        }
        foreach ($arguments as $argument) {
            $others = array_filter(
                $arguments,
                static fn (Argument $one): bool => $one->insteadOf === $argument->name && isset($command[$one->name]),
            );
            if ($argument->required && ! isset($command[$argument->name]) && $others === []) {
                throw InvalidValue::because('arguments', $this->usage());
            }
        }

        return $command;
    }

    /** Its OSC address and its arguments in their order: those in brackets may be left out. */
    public function written(): string
    {
        $words = [];
        foreach ($this->arguments() as $argument) {
            if ($argument->insteadOf !== null) {
                $words[count($words) - 1] .= "|$argument->name";
            } elseif ($argument->type->isOutside()) {
                $words[] = $argument->required ? $argument->name : "[$argument->name]";
            }
        }

        return trim("/kite/$this->value ".implode(' ', $words));
    }

    /** How it is written, for somebody who wrote it otherwise. */
    private function usage(): string
    {
        $words = [];
        foreach ($this->arguments() as $argument) {
            if (! $argument->type->isOutside()) {
                continue;
            }
            $word =
                $argument->says === $argument->type->outside()
                    ? $argument->says
                    : "$argument->says ({$argument->type->outside()})";
            if ($argument->insteadOf !== null) {
                $words[count($words) - 1] .= " or $word";
            } else {
                $words[] = $argument->required ? $word : "optionally $word";
            }
        }

        return "/kite/$this->value takes ".($words === [] ? 'no arguments' : implode(', ', $words)).'.';
    }
}
