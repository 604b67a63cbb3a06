<?php

declare(strict_types=1);

namespace Core\Bindings;

/** What stands on a touch panel. */
enum TouchItemType: string
{
    case Button = 'button';
    case Toggle = 'toggle';
    case Fader = 'fader';
    case Knob = 'knob';
    /** A field on which a finger sets two values at once. */
    case Pad = 'pad';
    case Colour = 'colour';
    case Cue = 'cue';
    /** A page of the cue board. */
    case Board = 'board';
    case Text = 'text';
    /** A value of the show, as it is. */
    case Value = 'value';
    case Timecode = 'timecode';
    case Next = 'next';
    /** What a surface shows, an output is sent, or a live input sees. */
    case Picture = 'picture';

    public function label(): string
    {
        return match ($this) {
            self::Button => 'Button',
            self::Toggle => 'Toggle',
            self::Fader => 'Fader',
            self::Knob => 'Knob',
            self::Pad => 'Two-axis pad',
            self::Colour => 'Colour',
            self::Cue => 'Cue tile',
            self::Board => 'Board page',
            self::Text => 'Text',
            self::Value => 'Live value',
            self::Timecode => 'Timecode',
            self::Next => 'Next cue',
            self::Picture => 'Picture',
        };
    }

    /** How many numbers it has: each is a control that is bound. */
    public function controls(): int
    {
        return match ($this) {
            self::Button, self::Toggle, self::Fader, self::Knob, self::Cue, self::Value => 1,
            self::Pad => 2,
            self::Colour => 3,
            default => 0,
        };
    }

    /** Whether what it has is a place on a way; else it is pressed. */
    public function moves(): bool
    {
        return in_array($this, [self::Fader, self::Knob, self::Pad, self::Colour, self::Value], true);
    }

    /** How a new binding of it acts. */
    public function gesture(Meaning $meaning): Gesture
    {
        return match (true) {
            $this->moves() && $meaning === Meaning::Value => Gesture::Move,
            $this === self::Toggle, $this === self::Cue => Gesture::Toggle,
            $meaning === Meaning::Value => Gesture::Hold,
            default => Gesture::Press,
        };
    }

    /** @return array{int, int} columns and rows of a new one */
    public function size(): array
    {
        return match ($this) {
            self::Fader => [1, 3],
            self::Pad, self::Colour, self::Picture => [2, 2],
            self::Board => [4, 3],
            self::Text, self::Timecode, self::Next => [2, 1],
            default => [1, 1],
        };
    }
}
