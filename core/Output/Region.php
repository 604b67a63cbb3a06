<?php

declare(strict_types=1);

namespace Core\Output;

/** Where pixels of a surface land on an output, one to one: a rectangle of the surface's raster, and its place. */
final readonly class Region
{
    private function __construct(public string $surface, public Rect $source, public Rect $place)
    {
    }

    public static function of(string $surface, Rect $source, int $x, int $y): self
    {
        return new self($surface, $source, Rect::of($x, $y, $source->width, $source->height));
    }
}
