<?php

declare(strict_types=1);

namespace Core\Output;

/**
 * Where lines of a surface's raster land on an output, as computed from the venue: of each crossing its place on the
 * output times a weight, and that weight (its depth before the lens in metres), so that flat pieces are right in
 * perspective; null where the projector does not reach. Row by row from the top.
 */
final readonly class WarpLattice
{
    /**
     * @param  non-empty-list<float>  $xs  px of the surface's raster, rising
     * @param  non-empty-list<float>  $ys
     * @param  list<array{float, float, float}|null>  $points
     * @param  float  $error  px of the output by which places between the lines are missed at most
     */
    public function __construct(public array $xs, public array $ys, public array $points, public float $error)
    {
    }

    /**
     * Numbers of columns and rows, the error, the lines, then three doubles a crossing (weight 0 for none),
     * little-endian.
     */
    public function toBytes(): string
    {
        $bytes = pack('VVe', count($this->xs), count($this->ys), $this->error).pack('e*', ...$this->xs, ...$this->ys);
        foreach ($this->points as $point) {
            $bytes .= pack('e3', ...$point ?? [0.0, 0.0, 0.0]);
        }

        return $bytes;
    }

    /** @throws \UnexpectedValueException */
    public static function fromBytes(string $bytes): self
    {
        $head = strlen($bytes) < 16 ? false : unpack('Vcolumns/Vrows/eerror', $bytes);
        if (
            $head === false ||
            strlen($bytes) !== 16 + 8 * ($head['columns'] + $head['rows'] + 3 * $head['columns'] * $head['rows']) ||
            $head['columns'] < 2 ||
            $head['rows'] < 2
        ) {
            throw new \UnexpectedValueException('This is no computed warp.');
        }
        $numbers = array_values((array) unpack('e*', substr($bytes, 16)));
        [$n, $m] = [$head['columns'], $head['rows']];
        $points = array_map(
            static fn (array $p): ?array => $p[2] > 0.0 ? [$p[0], $p[1], $p[2]] : null,
            array_chunk(array_slice($numbers, $n + $m), 3),
        );

        [$xs, $ys] = [array_slice($numbers, 0, $n), array_slice($numbers, $n, $m)];

        return $xs === [] || $ys === []
            ? throw new \UnexpectedValueException('This is no computed warp.')
            : new self($xs, $ys, $points, $head['error']);
    }
}
