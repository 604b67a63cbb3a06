<?php

declare(strict_types=1);

namespace Core\Effects;

use Core\Values\Property;
use Core\Values\PropertySet;

/**
 * What is done to a picture before it is placed. The order of the cases is that of their numbers, from 1, by which
 * consoles call them: new ones come last.
 */
enum Effect: string
{
    case Blur = 'blur';
    case Sharpen = 'sharpen';
    case Mosaic = 'mosaic';
    case Hue = 'hue';
    case Saturation = 'saturation';
    case Levels = 'levels';
    case Posterize = 'posterize';
    case Threshold = 'threshold';
    case Tint = 'tint';
    case Edges = 'edges';
    case Kaleidoscope = 'kaleidoscope';
    case Swirl = 'swirl';
    case Bulge = 'bulge';
    case Wave = 'wave';
    case Fringe = 'fringe';
    case Vignette = 'vignette';
    case Grain = 'grain';
    case Scroll = 'scroll';
    case Strobe = 'strobe';
    case Halftone = 'halftone';
    case Fold = 'fold';

    /** Effects of one layer or clip. */
    public const MAX = 64;

    /** Where there is none. */
    public const NONE = 'none';

    /** @return list<string> the values that it is made of, besides how much of it is mixed in */
    public function values(): array
    {
        return match ($this) {
            self::Blur => ['radius'],
            self::Sharpen => ['strength', 'radius'],
            self::Mosaic => ['size'],
            self::Hue => ['angle'],
            self::Saturation => ['saturation'],
            self::Levels => ['contrast', 'brightness', 'gamma'],
            self::Posterize => ['steps'],
            self::Threshold => ['level', 'softness', 'front', 'back'],
            self::Tint => ['front', 'back'],
            self::Edges => ['strength', 'radius', 'front', 'back'],
            self::Kaleidoscope => ['segments', 'angle', 'x', 'y'],
            self::Swirl, self::Bulge => ['strength', 'extent', 'x', 'y'],
            self::Wave => ['amplitude', 'size', 'angle', 'speed'],
            self::Fringe => ['amplitude', 'angle'],
            self::Vignette => ['extent', 'softness', 'x', 'y'],
            self::Grain => ['strength', 'size', 'speed', 'seed'],
            self::Scroll => ['speed', 'angle'],
            self::Strobe => ['speed', 'level'],
            self::Halftone => ['size', 'angle', 'softness'],
            self::Fold => ['angle', 'x', 'y'],
        };
    }

    /**
     * Settings to begin with, the first of them when it is chosen.
     *
     * @return non-empty-array<string, array<string, float|list<float>>> by name: values as they are stored
     */
    public function presets(): array
    {
        return match ($this) {
            self::Blur => ['Soft' => ['radius' => 0.01], 'Wide' => ['radius' => 0.08]],
            self::Sharpen => [
                'Crisp' => ['strength' => 1.0, 'radius' => 0.002],
                'Halo' => ['strength' => 1.5, 'radius' => 0.02],
            ],
            self::Mosaic => ['Fine' => ['size' => 0.02], 'Coarse' => ['size' => 0.1]],
            self::Hue => ['Third' => ['angle' => 120.0], 'Opposite' => ['angle' => 180.0]],
            self::Saturation => ['Grey' => ['saturation' => 0.0], 'Rich' => ['saturation' => 1.6]],
            self::Levels => [
                'Hard' => ['contrast' => 1.6, 'brightness' => 0.0, 'gamma' => 1.0],
                'Faded' => ['contrast' => 0.6, 'brightness' => 0.1, 'gamma' => 1.2],
                'Dim' => ['contrast' => 1.0, 'brightness' => 0.0, 'gamma' => 0.6],
            ],
            self::Posterize => ['Four' => ['steps' => 4.0], 'Two' => ['steps' => 2.0]],
            self::Threshold => [
                'Middle' => ['level' => 0.5, 'softness' => 0.02, 'front' => [1.0, 1.0, 1.0], 'back' => [0.0, 0.0, 0.0]],
                'Soft' => ['level' => 0.5, 'softness' => 0.4, 'front' => [1.0, 1.0, 1.0], 'back' => [0.0, 0.0, 0.0]],
            ],
            self::Tint => [
                'Amber' => ['front' => [1.0, 0.85, 0.6], 'back' => [0.1, 0.03, 0.0]],
                'Moonlight' => ['front' => [0.8, 0.9, 1.0], 'back' => [0.0, 0.04, 0.15]],
            ],
            self::Edges => [
                'Fine' => ['strength' => 2.0, 'radius' => 0.001, 'front' => [1.0, 1.0, 1.0], 'back' => [0.0, 0.0, 0.0]],
                'Broad' => [
                    'strength' => 1.5,
                    'radius' => 0.006,
                    'front' => [1.0, 1.0, 1.0],
                    'back' => [0.0, 0.0, 0.0],
                ],
            ],
            self::Kaleidoscope => [
                'Six' => ['segments' => 6.0, 'angle' => 0.0, 'x' => 0.5, 'y' => 0.5],
                'Three' => ['segments' => 3.0, 'angle' => 30.0, 'x' => 0.5, 'y' => 0.5],
            ],
            self::Swirl => [
                'Half turn' => ['strength' => 0.5, 'extent' => 0.4, 'x' => 0.5, 'y' => 0.5],
                'Whirl' => ['strength' => 2.0, 'extent' => 0.6, 'x' => 0.5, 'y' => 0.5],
            ],
            self::Bulge => [
                'Out' => ['strength' => 0.6, 'extent' => 0.4, 'x' => 0.5, 'y' => 0.5],
                'In' => ['strength' => -0.8, 'extent' => 0.4, 'x' => 0.5, 'y' => 0.5],
            ],
            self::Wave => [
                'Water' => ['amplitude' => 0.01, 'size' => 0.15, 'angle' => 90.0, 'speed' => 0.5],
                'Flag' => ['amplitude' => 0.03, 'size' => 0.5, 'angle' => 0.0, 'speed' => 0.4],
            ],
            self::Fringe => [
                'Slight' => ['amplitude' => 0.004, 'angle' => 0.0],
                'Broken' => ['amplitude' => 0.03, 'angle' => 20.0],
            ],
            self::Vignette => [
                'Oval' => ['extent' => 0.5, 'softness' => 0.4, 'x' => 0.5, 'y' => 0.5],
                'Spot' => ['extent' => 0.2, 'softness' => 0.2, 'x' => 0.5, 'y' => 0.5],
            ],
            self::Grain => [
                'Film' => ['strength' => 0.25, 'size' => 0.002, 'speed' => 24.0, 'seed' => 1.0],
                'Coarse' => ['strength' => 0.8, 'size' => 0.01, 'speed' => 12.0, 'seed' => 1.0],
            ],
            self::Scroll => ['Right' => ['speed' => 0.1, 'angle' => 0.0], 'Up' => ['speed' => 0.1, 'angle' => -90.0]],
            self::Strobe => ['Slow' => ['speed' => 2.0, 'level' => 0.5], 'Short' => ['speed' => 2.0, 'level' => 0.1]],
            self::Halftone => [
                'Dots' => ['size' => 0.02, 'angle' => 45.0, 'softness' => 0.1],
                'Large' => ['size' => 0.06, 'angle' => 30.0, 'softness' => 0.1],
            ],
            self::Fold => [
                'Left' => ['angle' => 0.0, 'x' => 0.5, 'y' => 0.5],
                'Top' => ['angle' => 90.0, 'x' => 0.5, 'y' => 0.5],
            ],
        };
    }

    /** By which a console calls it, from 1. */
    public function number(): int
    {
        return (int) array_search($this, self::cases(), true) + 1;
    }

    /** The effect of a number; null for 0, and for one that there is not. */
    public static function numbered(float $number): ?self
    {
        return self::cases()[(int) round($number) - 1] ?? null;
    }

    /** Lengths are shares of the picture's width. */
    public static function properties(): PropertySet
    {
        static $set = null;

        return $set ??= PropertySet::of(
            'effect',
            Property::choice('effect', 'Effect', [self::NONE, ...array_column(self::cases(), 'value')]),
            Property::switch('on', 'On', true),
            Property::share('mix', 'Mix'),
            Property::portion('radius', 'Radius', 0, 1, 0.01),
            Property::portion('size', 'Size', 0, 1, 0.05),
            Property::degrees('angle', 'Angle'),
            Property::factor('strength', 'Strength', -4, 4),
            Property::factor('saturation', 'Saturation', 0, 4),
            Property::factor('contrast', 'Contrast', 0, 4),
            Property::portion('brightness', 'Brightness', -1, 1),
            Property::coefficient('gamma', 'Gamma', 0.1, 10, 1),
            Property::count('steps', 'Steps', 2, 64, 4),
            Property::count('segments', 'Segments', 1, 32, 6),
            Property::share('level', 'Level', 0.5),
            Property::share('softness', 'Softness', 0.1),
            Property::portion('x', 'Centre X', -1, 2, 0.5),
            Property::portion('y', 'Centre Y', -1, 2, 0.5),
            Property::portion('extent', 'Extent', 0, 4, 0.5),
            Property::portion('amplitude', 'Amplitude', 0, 1, 0.02),
            Property::coefficient('speed', 'Speed', -60, 60),
            Property::colour('front', 'Front', 1),
            Property::colour('back', 'Back', 0),
            Property::coefficient('seed', 'Seed', 0, 65_535, 1),
        );
    }

    /**
     * The numbers that it is made of, one after another: those of a colour each for itself.
     *
     * @return list<array{Property, int}> each with its slot
     */
    public function numbers(): array
    {
        /** @var array<string, list<array{Property, int}>> $known */
        static $known = [];
        $set = self::properties();

        return $known[$this->value] ??= array_merge(
            ...array_map(
                static fn (string $name): array => array_map(
                    static fn (int $slot): array => [$set->named($name), $slot],
                    array_keys($set->named($name)->slots),
                ),
                $this->values(),
            ),
        );
    }
}
