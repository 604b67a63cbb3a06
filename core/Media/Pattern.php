<?php

declare(strict_types=1);

namespace Core\Media;

use Core\Values\Property;
use Core\Values\PropertySet;

/** Pictures that are made and not recorded: patterns to look at the way of a picture with, and looks that move. */
enum Pattern: string
{
    case Grid = 'grid';
    case Checker = 'checker';
    case Bars = 'bars';
    case Ramp = 'ramp';
    case Gradient = 'gradient';
    case Noise = 'noise';
    case Sweep = 'sweep';
    case Flash = 'flash';
    case Particles = 'particles';
    case Lines = 'lines';
    case Waves = 'waves';
    case Shapes = 'shapes';
    case Blocks = 'blocks';
    case Text = 'text';
    case Countdown = 'countdown';

    /** @return list<string> the values of a media that it is made of */
    public function values(): array
    {
        return match ($this) {
            self::Bars, self::Ramp => [],
            self::Grid, self::Checker, self::Blocks, self::Text => ['front', 'back', 'size'],
            self::Gradient => ['front', 'back', 'angle', 'speed'],
            self::Noise => ['front', 'back', 'size', 'speed', 'seed'],
            self::Sweep => ['front', 'back', 'size', 'angle', 'speed'],
            self::Countdown => ['front', 'back', 'size', 'speed', 'from'],
            self::Flash => ['front', 'back', 'speed'],
            self::Particles => ['front', 'back', 'size', 'angle', 'speed', 'density', 'softness', 'seed'],
            self::Lines => ['front', 'back', 'size', 'angle', 'speed', 'density', 'softness'],
            self::Waves => ['front', 'back', 'size', 'angle', 'speed', 'density'],
            self::Shapes => ['front', 'back', 'size', 'speed', 'density', 'softness', 'seed'],
        };
    }

    /** Whether it is another picture at another time. */
    public function moves(): bool
    {
        return in_array('speed', $this->values(), true);
    }

    /** Its number, as drawing knows it. */
    public function number(): int
    {
        return (int) array_search($this, self::cases(), true);
    }

    public static function properties(): PropertySet
    {
        return PropertySet::of(
            'media',
            Property::colour('front', 'Front', 1),
            Property::colour('back', 'Back', 0),
            Property::size('size', 'Size', 64),
            Property::degrees('angle', 'Angle'),
            Property::coefficient('speed', 'Speed', -20, 20, 1),
            Property::share('density', 'Density', 0.5),
            Property::share('softness', 'Softness', 0.5),
            Property::coefficient('seed', 'Seed', 0, 65_535, 1),
            Property::seconds('from', 'Count from', 0, 5999, 60),
        );
    }
}
