<?php

declare(strict_types=1);

namespace Core\Geometry;

use Core\Units\Check;

/** A point or direction in metres: X to house right, Y up, Z toward the audience. */
final readonly class Vec3
{
    private function __construct(public float $x, public float $y, public float $z)
    {
    }

    public static function of(float $x, float $y, float $z): self
    {
        return new self(
            Check::number('x', $x, -100_000, 100_000, 'm'),
            Check::number('y', $y, -100_000, 100_000, 'm'),
            Check::number('z', $z, -100_000, 100_000, 'm'),
        );
    }

    public static function zero(): self
    {
        return new self(0, 0, 0);
    }

    public function plus(self $other): self
    {
        return new self($this->x + $other->x, $this->y + $other->y, $this->z + $other->z);
    }

    public function minus(self $other): self
    {
        return new self($this->x - $other->x, $this->y - $other->y, $this->z - $other->z);
    }

    public function times(float $factor): self
    {
        return new self($this->x * $factor, $this->y * $factor, $this->z * $factor);
    }

    public function dot(self $other): float
    {
        return $this->x * $other->x + $this->y * $other->y + $this->z * $other->z;
    }

    public function cross(self $other): self
    {
        return new self(
            $this->y * $other->z - $this->z * $other->y,
            $this->z * $other->x - $this->x * $other->z,
            $this->x * $other->y - $this->y * $other->x,
        );
    }

    /** The same direction, one metre long; itself where it has no length. */
    public function unit(): self
    {
        $length = $this->length();

        return $length > 0 ? $this->times(1 / $length) : $this;
    }

    public function length(): float
    {
        return sqrt($this->dot($this));
    }

    /** @return array{float, float, float} */
    public function toArray(): array
    {
        return [$this->x, $this->y, $this->z];
    }
}
