<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Media\MediaItem;

/** What there is to show. */
final readonly class Library
{
    public const KINDS = ['media'];

    /** @param  array<string, MediaItem>  $media */
    public function __construct(public array $media)
    {
    }
}
