<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Bindings\TouchItem;
use Core\Show\Kind;

final readonly class TouchItemKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'touchItem';
    }

    public function view(): string
    {
        return 'bindings';
    }

    public function parent(): ?string
    {
        return 'device';
    }

    public function fields(): array
    {
        return [
            'device' => ['id'],
            'type' => ['string', 'button'],
            'name' => ['string'],
            'label' => ['string', ''],
            'shows' => ['string', ''],
            'colour' => ['string', ''],
            'column' => ['integer', 0],
            'row' => ['integer', 0],
            'columns' => ['integer', 1],
            'rows' => ['integer', 1],
        ];
    }

    public function build(array $row, array $needed): object
    {
        return TouchItem::fromRow($row);
    }
}
