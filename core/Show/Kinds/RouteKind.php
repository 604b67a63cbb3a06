<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Routing\Reach;
use Core\Routing\Route;
use Core\Show\Kind;
use Core\Values\PropertySet;

final readonly class RouteKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'route';
    }

    public function view(): string
    {
        return 'routes';
    }

    public function parent(): ?string
    {
        return 'layer';
    }

    public function properties(): PropertySet
    {
        return Reach::properties();
    }

    public function fields(): array
    {
        return [
            'name' => ['string', ''],
            'reach' => ['string', 'skin'],
            'surfaces' => ['ids', []],
            'layer' => ['id?', null],
            'width' => ['integer', 0],
            'height' => ['integer', 0],
            'fittings' => ['words', []],
            'rig' => ['id?', null],
            'values' => ['values', []],
        ];
    }

    public function build(array $row, array $needed): object
    {
        return Route::fromRow($row, $this->properties()->check((array) ($row['values'] ?? [])));
    }
}
