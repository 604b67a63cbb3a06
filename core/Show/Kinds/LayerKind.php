<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Show\Kind;
use Core\Show\Layer;
use Core\Timeline\BlendMode;
use Core\Timeline\MaskKey;
use Core\Units\Check;
use Core\Units\Flicks;
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
            Property::portion('pivotX', 'Pivot X', -4, 5, 0.5),
            Property::portion('pivotY', 'Pivot Y', -4, 5, 0.5),
            Property::colourGain('gain', 'Gain'),
            Property::choice('blend', 'Blend mode', array_column(BlendMode::cases(), 'value')),
            Property::switch('mute', 'Mute'),
            Property::switch('solo', 'Solo'),
            Property::factor('volume', 'Volume', 0, 4),
            Property::reference('route', 'Route over time', 'route'),
            Property::reference('source', 'Manual media', 'media'),
            Property::choice('mirror', 'Mirror', ['none', 'across', 'down', 'both']),
            Property::portion('cropLeft', 'Crop left', 0, 1),
            Property::portion('cropRight', 'Crop right', 0, 1),
            Property::portion('cropTop', 'Crop top', 0, 1),
            Property::portion('cropBottom', 'Crop bottom', 0, 1),
            Property::choice('tile', 'Tile', ['none', 'across', 'down', 'both']),
            Property::factor('speed', 'Speed', -4, 4)->onTimelineOnly(),
            Property::colour('invert', 'Invert', 0),
            Property::switch('opaque', 'Opaque'),
            Property::reference('mask', 'Mask', 'media'),
            Property::choice('maskKey', 'Mask key', array_column(MaskKey::cases(), 'value')),
            Property::switch('maskInverted', 'Mask inverted'),
            Property::share('maskWidth', 'Key width'),
            Property::colour('maskColour', 'Key colour', 1),
            Property::portion('maskX', 'Mask X', -4, 4),
            Property::portion('maskY', 'Mask Y', -4, 4),
            Property::factor('maskScale', 'Mask scale', 0, 64),
            Property::portion('maskFeather', 'Mask feather', 0, 1),
        );
    }

    public function fields(): array
    {
        return [
            'timeline' => ['id'],
            'name' => ['string'],
            'order' => ['integer', 0],
            'route' => ['id?', null],
            'part' => ['id?', null],
            'fitting' => ['string', 'cover'],
            'anchorX' => ['number', 0.5],
            'anchorY' => ['number', 0.5],
            'colour' => ['string', ''],
            'folder' => ['string', ''],
            'locked' => ['boolean', false],
            'hidden' => ['boolean', false],
            'transition' => ['integer', 0],
            'stock' => ['ids', []],
            'values' => ['values', []],
        ];
    }

    public function build(array $row, array $needed): object
    {
        GroupKind::checkColour((string) ($row['colour'] ?? ''));
        Check::whole('transition', (int) ($row['transition'] ?? 0), 0, 3600 * Flicks::PER_SECOND, 'flicks');

        return Layer::fromRow($row, $this->properties()->check((array) ($row['values'] ?? [])));
    }
}
