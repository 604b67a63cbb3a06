<?php

declare(strict_types=1);

namespace Core\Show\Kinds;

use Core\Media\MediaItem;
use Core\Media\Pattern;
use Core\Show\Kind;
use Core\Values\PropertySet;

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

    public function properties(): PropertySet
    {
        return Pattern::properties();
    }

    public function fields(): array
    {
        return [
            'name' => ['string'],
            'kind' => ['string'],
            'file' => ['string?', null],
            'width' => ['integer', 0],
            'height' => ['integer', 0],
            'colour' => ['string', '#ffffff'],
            'folder' => ['integer?', null],
            'index' => ['integer?', null],
            'pattern' => ['string', ''],
            'text' => ['string', ''],
            'standIn' => ['id?', null],
            'timeline' => ['id?', null],
            'values' => ['values', []],
            'versions' => ['hashes', []],
        ];
    }

    public function build(array $row, array $needed): object
    {
        return MediaItem::fromRow($row, $this->properties()->check((array) ($row['values'] ?? [])));
    }
}
