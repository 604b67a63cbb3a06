<?php

declare(strict_types=1);

namespace Core\Output;

/**
 * Shares of the light over a rectangle of an output: at the crossings of evenly spaced lines, the first and last of
 * which are the rectangle's edges; between them, interpolated from the four nearest, and none outside.
 */
final readonly class BlendMap
{
    /**
     * @param  array{int, int, int, int}  $place  x, y, width, height on the output, px
     * @param  int  $columns  lines across, two at least
     * @param  list<float>  $shares  0 to 1, row by row from the top
     */
    public function __construct(public array $place, public int $columns, public int $rows, public array $shares)
    {
    }

    public function at(float $x, float $y): float
    {
        [$left, $top, $width, $height] = $this->place;
        if ($x < $left || $y < $top || $x > $left + $width || $y > $top + $height) {
            return 0.0;
        }
        $u = max(0.0, min($this->columns - 1.0, (($x - $left) / $width) * ($this->columns - 1)));
        $v = max(0.0, min($this->rows - 1.0, (($y - $top) / $height) * ($this->rows - 1)));
        [$i, $j] = [min($this->columns - 2, (int) $u), min($this->rows - 2, (int) $v)];
        [$s, $t, $at] = [$u - $i, $v - $j, $j * $this->columns + $i];
        $p = $this->shares;

        return ($p[$at] * (1 - $s) + $p[$at + 1] * $s) * (1 - $t) +
            ($p[$at + $this->columns] * (1 - $s) + $p[$at + $this->columns + 1] * $s) * $t;
    }

    /** The place, columns and rows (32 bits each), then the shares (32-bit floats), little-endian. */
    public function toBytes(): string
    {
        return pack('l4V2', ...[...$this->place, $this->columns, $this->rows]).pack('g*', ...$this->shares);
    }

    /** The bytes of the map that some begin with, as far as these say. */
    public static function length(string $bytes): int
    {
        $head = strlen($bytes) < 24 ? false : unpack('Vcolumns/Vrows', $bytes, 16);

        return $head === false ? strlen($bytes) : 24 + 4 * $head['columns'] * $head['rows'];
    }

    /** @throws \UnexpectedValueException */
    public static function fromBytes(string $bytes): self
    {
        $head = strlen($bytes) < 24 ? false : unpack('l4place/Vcolumns/Vrows', $bytes);
        if (
            $head === false ||
            $head['columns'] < 2 ||
            $head['rows'] < 2 ||
            strlen($bytes) !== 24 + 4 * $head['columns'] * $head['rows']
        ) {
            throw new \UnexpectedValueException('This is no computed blend.');
        }

        return new self(
            [$head['place1'], $head['place2'], $head['place3'], $head['place4']],
            $head['columns'],
            $head['rows'],
            array_values((array) unpack('g*', substr($bytes, 24))),
        );
    }
}
