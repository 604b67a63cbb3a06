<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Units\Check;

/** A rectangle of whole pixels. */
final readonly class Rect
{
    private function __construct(public int $x, public int $y, public int $width, public int $height)
    {
    }

    public static function of(int $x, int $y, int $width, int $height): self
    {
        return new self(
            Check::whole('x', $x, -65_536, 65_536, 'px'),
            Check::whole('y', $y, -65_536, 65_536, 'px'),
            Check::whole('width', $width, 1, 65_536, 'px'),
            Check::whole('height', $height, 1, 65_536, 'px'),
        );
    }

    public function contains(self $other): bool
    {
        return $other->x >= $this->x &&
            $other->y >= $this->y &&
            $other->x + $other->width <= $this->x + $this->width &&
            $other->y + $other->height <= $this->y + $this->height;
    }

    /** What both cover, or null. */
    public function overlap(self $other): ?self
    {
        $x = max($this->x, $other->x);
        $y = max($this->y, $other->y);
        $w = min($this->x + $this->width, $other->x + $other->width) - $x;
        $h = min($this->y + $this->height, $other->y + $other->height) - $y;

        return $w > 0 && $h > 0 ? new self($x, $y, $w, $h) : null;
    }
}
