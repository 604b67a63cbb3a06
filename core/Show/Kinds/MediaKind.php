<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Media\MediaItem;
use Core\Show\Kind;

final readonly class MediaKind implements Kind
{
    use Simple;

    public function name(): string
    {
        return 'media';
    }

    public function view(): string
    {
        return 'media';
    }

    public function fields(): array
    {
        return [
            'name' => ['string'], 'kind' => ['string'], 'file' => ['string?', null], 'width' => ['integer', 0], 'height' => ['integer', 0], 'colour' => ['string', '#ffffff'],
            'folder' => ['integer?', null], 'index' => ['integer?', null],
        ];
    }

    public function build(array $row, array $needed): object
    {
        return MediaItem::fromRow($row);
    }
}
