<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Timeline\Clip;

/** A clip of a layer, and the media that it shows. */
final readonly class ClipUse
{
    public function __construct(public string $id, public string $layer, public string $media, public Clip $clip)
    {
    }
}
