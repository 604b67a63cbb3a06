<?php

declare(strict_types=1);

namespace Core\Geometry;

/**
 * A 4×4 matrix, column-major as WebGL reads it: element (row r, column c) is $m[4c + r]. Points are columns, on the
 * right.
 */
final readonly class Mat4
{
    /** @param  non-empty-list<float>  $m sixteen numbers */
    private function __construct(public array $m)
    {
    }

    /** @param  list<float>  $m sixteen numbers, column by column */
    public static function of(array $m): self
    {
        if (count($m) !== 16) {
            throw new \InvalidArgumentException('A matrix has sixteen numbers.');
        }

        return new self($m);
    }

    public static function identity(): self
    {
        return new self([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]);
    }

    public static function translation(Vec3 $by): self
    {
        return new self([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, $by->x, $by->y, $by->z, 1]);
    }

    /** Right-handed rotation about X, Y or Z by an angle in radians. */
    public static function rotation(string $axis, float $radians): self
    {
        [$c, $s] = [cos($radians), sin($radians)];

        return new self(
            match ($axis) {
                'x' => [1, 0, 0, 0, 0, $c, $s, 0, 0, -$s, $c, 0, 0, 0, 0, 1],
                'y' => [$c, 0, -$s, 0, 0, 1, 0, 0, $s, 0, $c, 0, 0, 0, 0, 1],
                'z' => [$c, $s, 0, 0, -$s, $c, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1],
                default => throw new \InvalidArgumentException("There is no axis \"$axis\"."),
            },
        );
    }

    /** This matrix applied after the other one. */
    public function times(self $other): self
    {
        [$a, $b, $out] = [$this->m, $other->m, []];
        for ($c = 0; $c < 16; $c += 4) {
            for ($r = 0; $r < 4; $r++) {
                $out[] = $a[$r] * $b[$c] + $a[$r + 4] * $b[$c + 1] + $a[$r + 8] * $b[$c + 2] + $a[$r + 12] * $b[$c + 3];
            }
        }

        return new self($out);
    }

    public function point(Vec3 $p): Vec3
    {
        $m = $this->m;

        return Vec3::of(
            $m[0] * $p->x + $m[4] * $p->y + $m[8] * $p->z + $m[12],
            $m[1] * $p->x + $m[5] * $p->y + $m[9] * $p->z + $m[13],
            $m[2] * $p->x + $m[6] * $p->y + $m[10] * $p->z + $m[14],
        );
    }

    /** A direction turned, not moved. */
    public function direction(Vec3 $d): Vec3
    {
        $m = $this->m;

        return Vec3::of(
            $m[0] * $d->x + $m[4] * $d->y + $m[8] * $d->z,
            $m[1] * $d->x + $m[5] * $d->y + $m[9] * $d->z,
            $m[2] * $d->x + $m[6] * $d->y + $m[10] * $d->z,
        );
    }

    public function origin(): Vec3
    {
        return Vec3::of($this->m[12], $this->m[13], $this->m[14]);
    }

    /** The inverse of a rotation and translation. */
    public function rigidInverse(): self
    {
        $m = $this->m;
        $move = static fn (int $i): float => -($m[$i] * $m[12] + $m[$i + 1] * $m[13] + $m[$i + 2] * $m[14]);

        return new self([
            $m[0],
            $m[4],
            $m[8],
            0,
            $m[1],
            $m[5],
            $m[9],
            0,
            $m[2],
            $m[6],
            $m[10],
            0,
            $move(0),
            $move(4),
            $move(8),
            1,
        ]);
    }
}
