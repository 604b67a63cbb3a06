<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\PixelMap\LightPatch;
use Core\Show\Kind;
use Core\Values\PropertySet;

final readonly class PatchKind implements Kind
{
    use Simple;

    private const WIRING = ['corner', 'along', 'serpentine', 'blockColumns', 'blockRows', 'serpentineBlocks'];

    public function name(): string
    {
        return 'patch';
    }

    public function view(): string
    {
        return 'outputs';
    }

    public function parent(): ?string
    {
        return 'surface';
    }

    public function properties(): PropertySet
    {
        return LightPatch::properties();
    }

    public function fields(): array
    {
        return [
            'surface' => ['id'],
            'node' => ['id?', null],
            'universe' => ['integer', 1],
            'channel' => ['integer', 1],
            'wiring' => ['settings', [], self::WIRING],
            'path' => ['numbers', []],
            'channels' => ['string', ''],
            'whites' => ['string', 'minimum'],
            'kelvin' => ['number', 0.0],
            'whiteOutput' => ['string', 'brightest'],
            'gains' => ['numbers', []],
            'dithered' => ['boolean', false],
            'radius' => ['number', 0.0],
            'values' => ['values', []],
        ];
    }

    public function build(array $row, array $needed): object
    {
        return LightPatch::fromRow($row, $this->properties()->check((array) ($row['values'] ?? [])));
    }
}
