<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Routing\VirtualLens;
use Core\Show\Kind;
use Core\Values\PropertySet;

final readonly class LensKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'lens';
    }

    public function view(): string
    {
        return 'routes';
    }

    public function parent(): ?string
    {
        return 'route';
    }

    public function properties(): PropertySet
    {
        return VirtualLens::properties();
    }

    public function fields(): array
    {
        return [
            'route' => ['id'],
            'name' => ['string'],
            'part' => ['numbers', []],
            'rig' => ['id?', null],
            'sensorWidth' => ['number', 36.0],
            'values' => ['values', []],
        ];
    }

    public function build(array $row, array $needed): object
    {
        return VirtualLens::fromRow($row, $this->properties()->check((array) ($row['values'] ?? [])));
    }
}
