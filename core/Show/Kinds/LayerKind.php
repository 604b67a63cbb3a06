<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Show\Kind;
use Core\Show\Layer;
use Core\Timeline\BlendMode;
use Core\Values\Property;
use Core\Values\PropertySet;

final readonly class LayerKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'layer';
    }

    public function view(): string
    {
        return 'timeline';
    }

    public function parent(): ?string
    {
        return 'timeline';
    }

    public function properties(): PropertySet
    {
        return PropertySet::of(
            'layer',
            Property::share('opacity', 'Opacity'),
            Property::pixels('x', 'Position X'),
            Property::pixels('y', 'Position Y'),
            Property::factor('scale', 'Scale', 0, 64),
            Property::degrees('turn', 'Rotation'),
            Property::colourGain('gain', 'Gain'),
            Property::choice('blend', 'Blend mode', array_column(BlendMode::cases(), 'value')),
            Property::switch('mute', 'Mute'),
        );
    }

    public function fields(): array
    {
        return [
            'timeline' => ['id'], 'name' => ['string'], 'order' => ['integer', 0], 'route' => ['id?', null], 'fitting' => ['string', 'cover'],
            'anchorX' => ['number', 0.5], 'anchorY' => ['number', 0.5], 'values' => ['values', []],
        ];
    }

    public function build(array $row, array $needed): object
    {
        return Layer::fromRow($row, $this->properties()->check((array) ($row['values'] ?? [])));
    }
}
