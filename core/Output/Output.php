<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Units\Check;

/** One connector of a media server: its raster in pixels and its refresh rate in hertz. */
final readonly class Output
{
    private function __construct(public string $name, public int $width, public int $height, public float $refresh)
    {
    }

    public static function of(string $name, int $width, int $height, float $refresh): self
    {
        return new self(
            Check::name('name', $name),
            Check::pixels('width', $width),
            Check::pixels('height', $height),
            Check::number('refresh', $refresh, 1, 480, 'Hz'),
        );
    }

    public function raster(): Rect
    {
        return Rect::of(0, 0, $this->width, $this->height);
    }
}
