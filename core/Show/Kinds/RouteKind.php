<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Routing\Route;
use Core\Show\Kind;

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

    public function fields(): array
    {
        return ['name' => ['string', ''], 'reach' => ['string', 'skin'], 'surfaces' => ['ids', []], 'layer' => ['id?', null]];
    }

    public function build(array $row, array $needed): object
    {
        return Route::fromRow($row);
    }
}
