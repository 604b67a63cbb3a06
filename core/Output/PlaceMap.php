<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Units\InvalidValue;

/**
 * A warp the other way round: for the middle of each pixel of an output, which pixel of the surface's raster is shown
 * there, or none. Read row by row, since all of a large one does not have to be in memory at once.
 */
final readonly class PlaceMap
{
    /** Pixels of the output along the largest piece that is told by two triangles. */
    private const PIECE = 64;

    /** How far a piece reaches beyond its pixels, so that pieces leave no gap where they are bent by hand, px. */
    private const OVERLAP = 0.125;

    /** Pixels of the raster by which pieces may miss a place; more only where there would be too many of them. */
    private const TOLERANCES = [0.004, 0.016, 0.06, 0.25, 1.0];

    private const MOST_TRIANGLES = 250_000;

    /** Steps from pixel to pixel that are so many times the mean one are the edge of something. */
    private const JUMP = 12;

    /**
     * @param  \Closure(int): list<float>  $row  x and y in the surface's raster for each pixel of a row, px; NAN for
     *     none
     */
    public function __construct(public int $width, public int $height, private \Closure $row)
    {
    }

    /** What triangles show on an output of so many pixels. */
    public static function of(DeliveryMesh $mesh, int $width, int $height): self
    {
        $seen = SeenTriangles::of($mesh);

        return new self($width, $height, static function (int $y) use ($seen, $width): array {
            $row = [];
            for ($x = 0; $x < $width; $x++) {
                [$row[], $row[]] = $seen->place($x + 0.5, $y + 0.5) ?? [NAN, NAN];
            }

            return $row;
        });
    }

    /** @return list<float> x and y for each pixel of a row, from the top; NAN for none */
    public function row(int $y): array
    {
        return ($this->row)($y);
    }

    /**
     * The same for an output of other pixels: between four middles in a straight line; the nearest where one of them
     * shows nothing, or something else.
     *
     * @param  Rect  $source  the part of the raster that is shown
     */
    public function onto(int $width, int $height, Rect $source): self
    {
        if ($width === $this->width && $height === $this->height) {
            return $this;
        }
        $far = self::JUMP * max($source->width / $this->width, $source->height / $this->height);
        $kept = [];
        $near = function (int $y) use (&$kept): array {
            $kept = array_filter($kept, static fn (int $row): bool => abs($row - $y) <= 1, ARRAY_FILTER_USE_KEY);

            return $kept[$y] ??= $this->row($y);
        };

        return new self($width, $height, function (int $y) use ($near, $width, $height, $far): array {
            [$top, $down] = self::between($y, $height, $this->height);
            [$above, $below] = [$near($top), $near(min($this->height - 1, $top + 1))];
            $row = [];
            for ($x = 0; $x < $width; $x++) {
                [$left, $across] = self::between($x, $width, $this->width);
                $a = 2 * $left;
                $b = 2 * min($this->width - 1, $left + 1);
                $corners = [
                    [$above[$a], $above[$a + 1]],
                    [$above[$b], $above[$b + 1]],
                    [$below[$a], $below[$a + 1]],
                    [$below[$b], $below[$b + 1]],
                ];
                $nearest = $corners[($down >= 0.5 ? 2 : 0) + ($across >= 0.5 ? 1 : 0)];
                $isWhole = true;
                foreach ($corners as [$p, $q]) {
                    // What is not a number is not near.
                    $isWhole = $isWhole && abs($p - $nearest[0]) <= $far && abs($q - $nearest[1]) <= $far;
                }
                foreach ([0, 1] as $k) {
                    $row[] = $isWhole
                        ? ($corners[0][$k] * (1 - $across) + $corners[1][$k] * $across) * (1 - $down) +
                            ($corners[2][$k] * (1 - $across) + $corners[3][$k] * $across) * $down
                        : $nearest[$k];
                }
            }

            return $row;
        });
    }

    /**
     * Where the middle of a pixel lies among the middles of others: the one before it, and how far on to the next.
     *
     * @return array{int, float}
     */
    private static function between(int $pixel, int $of, int $others): array
    {
        $at = max(0.0, min($others - 1.0, (($pixel + 0.5) * $others) / $of - 0.5));

        return [(int) $at, $at - (int) $at];
    }

    /**
     * The triangles that show the same: squares of pixels, as large as they are flat, of two each. At the middle of
     * each pixel they show what the map has there, within the error that they state, and nothing where it has nothing.
     *
     * @throws InvalidValue where it is too ragged
     */
    public function mesh(): ProjectedMesh
    {
        foreach (self::TOLERANCES as $tolerance) {
            $bytes = $this->pieces($tolerance);
            if ($bytes !== null) {
                return new ProjectedMesh($bytes, $tolerance);
            }
        }
        throw InvalidValue::because(
            'warp',
            'A warp is so ragged that it takes more than '.
                number_format(self::MOST_TRIANGLES).
                ' triangles; have it smoothed where it was made.',
        );
    }

    /** @return string|null the triangles; null where there would be too many */
    private function pieces(float $tolerance): ?string
    {
        $bytes = '';
        [$before, $strip] = [null, []];
        for ($top = 0; $top < $this->height; $top += self::PIECE) {
            // A row above and one below tell how steep the outermost are.
            $rows = [];
            $last = min($this->height, $top + self::PIECE);
            for ($y = $top; $y < $last; $y++) {
                $rows[$y] = $strip[$y] ?? $this->row($y);
            }
            $strip = $last < $this->height ? [$last => $this->row($last)] : [];
            $piece = new PlacePieces(
                $rows + $strip + ($before ?? []),
                $this->width,
                $this->height,
                $tolerance,
                self::OVERLAP,
            );
            for ($left = 0; $left < $this->width; $left += self::PIECE) {
                $piece->add($left, $top, self::PIECE);
            }
            $bytes .= $piece->bytes;
            if (strlen($bytes) > self::MOST_TRIANGLES * 3 * 4 * DeliveryMesh::NUMBERS) {
                return null;
            }
            $before = [$last - 1 => $rows[$last - 1]];
        }

        return $bytes;
    }
}
