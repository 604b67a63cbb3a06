<?php

declare(strict_types=1);

namespace Core\Routing;

use Core\Units\Check;
use Core\Units\InvalidValue;
use Core\Values\Property;
use Core\Values\PropertySet;

/**
 * A lens of a route: from where, how wide and with which edges it throws its part of the pane, and how the lens that
 * shot the plate bent it.
 */
final readonly class VirtualLens
{
    /**
     * @param  array{int, int, int, int}  $part  x, y, width, height of the pane that it throws; a width or height of
     *     0 takes what is left of the pane
     * @param  string|null  $rig  that it rides on
     * @param  array<string, non-empty-list<float>>  $stored  by property and slot
     * @param  float  $sensorWidth  mm, by which its field of view is told as a focal length
     */
    private function __construct(
        public string $id,
        public string $route,
        public string $name,
        public array $part,
        public ?string $rig,
        public array $stored,
        public float $sensorWidth,
    ) {
    }

    /**
     * @param  array<string, mixed>  $row  id, route, name, part (x, y, width, height px, or nothing for the whole
     *     pane), rig
     * @param  array<string, non-empty-list<float>>  $stored
     *
     * @throws InvalidValue
     */
    public static function fromRow(array $row, array $stored): self
    {
        $part = array_map(intval(...), array_values((array) ($row['part'] ?? [])));
        if (count($part) !== 0 && count($part) !== 4) {
            throw InvalidValue::because(
                'part',
                'The part of the pane that a lens throws is x, y, width and height, or nothing for the whole pane.',
            );
        }
        [$x, $y, $width, $height] = count($part) === 4 ? $part : [0, 0, 0, 0];
        foreach (['x' => $x, 'y' => $y, 'width' => $width, 'height' => $height] as $name => $pixels) {
            Check::whole("part $name", $pixels, 0, Route::MAX_PANE, 'px');
        }

        return new self(
            (string) ($row['id'] ?? ''),
            (string) ($row['route'] ?? ''),
            Check::name('name', (string) $row['name']),
            [$x, $y, $width, $height],
            isset($row['rig']) ? (string) $row['rig'] : null,
            $stored,
            Check::number('sensorWidth', (float) ($row['sensorWidth'] ?? 36), 1, 200, 'mm'),
        );
    }

    public static function properties(): PropertySet
    {
        return PropertySet::of(
            'lens',
            ...[
                ...PlacedValues::properties(),
                Property::angle('angle', 'Field of view', 1, 170, 60),
                Property::portion('shiftX', 'Shift across', -2, 2),
                Property::portion('shiftY', 'Shift up', -2, 2),
                Property::portion('featherLeft', 'Feather left', 0, 1),
                Property::portion('featherRight', 'Feather right', 0, 1),
                Property::portion('featherTop', 'Feather top', 0, 1),
                Property::portion('featherBottom', 'Feather bottom', 0, 1),
                Property::coefficient('curve', 'Feather curve', 0.25, 8, 1),
                Property::coefficient('k1', 'Distortion k1', -2, 2),
                Property::coefficient('k2', 'Distortion k2', -2, 2),
                Property::coefficient('k3', 'Distortion k3', -2, 2),
                Property::coefficient('p1', 'Distortion p1', -1, 1),
                Property::coefficient('p2', 'Distortion p2', -1, 1),
                Property::switch('occlusion', 'Occlusion'),
                ...PlateWarp::properties(),
            ],
        );
    }

    /** Whether the venue stands in its way, by what is stored. */
    public function isOccluded(): bool
    {
        return ($this->stored['occlusion'][0] ?? 0.0) >= 0.5;
    }

    /**
     * The part of the pane that it throws.
     *
     * @param  array{int, int}  $pane
     * @return array{int, int, int, int} x, y, width, height in pane pixels
     */
    public function rectangle(array $pane): array
    {
        [$x, $y, $width, $height] = $this->part;

        return [$x, $y, $width > 0 ? $width : max(1, $pane[0] - $x), $height > 0 ? $height : max(1, $pane[1] - $y)];
    }
}
