<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Geometry\Halving;
use Core\Geometry\Mat3;
use Core\Geometry\Polygon;

/**
 * The triangles through which a region is delivered. Six numbers a corner: the place on the output times its weight
 * (2), that weight, the pixel of the surface's raster (2), and how deep it lies before the lens, in metres. Within a
 * triangle all six are linear in the same measure, so that one triangle is in perspective where the weights of its
 * corners differ. Of several at one place the nearest is seen; of equal ones the last. A depth below 0 is that of
 * something that shows nothing and hides what is farther; what is only set by hand has none, 0.
 */
final readonly class DeliveryMesh
{
    public const NUMBERS = 6;

    /**
     * Pixels by which flat pieces may miss a patch in either direction, unless it takes more lines than there may be.
     */
    private const TOLERANCE = 0.05;

    private const MOST_LINES = 129;

    /** How often an edge of what a projector sees is halved at most, where it is bent by hand. */
    private const DEEPEST = 7;

    private function __construct(public string $bytes)
    {
    }

    public static function fromBytes(string $bytes): self
    {
        return new self($bytes);
    }

    /** A region by what is set by hand: over a computed warp where it has one. */
    public static function of(Region $region, ProjectedMesh|WarpLattice|null $model = null): self
    {
        $pin = $region->pinned();
        $onto = $region->unit()->inverse() ?? Mat3::identity();
        if ($model instanceof ProjectedMesh) {
            return self::over($region, $pin, $model);
        }
        if ($model !== null) {
            return self::through($region, $pin, $model);
        }
        [$us, $vs] = self::lines($region);
        $polygon = array_map(static fn (array $p): array => $region->unit()->point($p[0], $p[1]), $region->polygon);
        $ears = $polygon === [] ? [] : Polygon::triangles($polygon);
        $corners = [];
        foreach ($vs as $v) {
            $row = [];
            foreach ($us as $u) {
                [$x, $y] = $region->grid?->at($u, $v) ?? [$u, $v];
                $row[] = [...self::carried($pin, $x, $y, 1.0), ...$onto->point($u, $v), 0.0];
            }
            $corners[] = $row;
        }
        $bytes = '';
        for ($j = 0, $m = count($vs) - 1; $j < $m; $j++) {
            for ($i = 0, $n = count($us) - 1; $i < $n; $i++) {
                [$a, $b, $c, $d] = [
                    $corners[$j][$i],
                    $corners[$j][$i + 1],
                    $corners[$j + 1][$i + 1],
                    $corners[$j + 1][$i],
                ];
                $at = [[$us[$i], $vs[$j]], [$us[$i + 1], $vs[$j]], [$us[$i + 1], $vs[$j + 1]], [$us[$i], $vs[$j + 1]]];
                foreach (
                    [[[$a, $b, $c], [$at[0], $at[1], $at[2]]], [[$a, $c, $d], [$at[0], $at[2], $at[3]]]] as [$triangle, $places]
                ) {
                    $bytes .= $ears === [] ? self::packed($triangle) : self::clipped($triangle, $places, $ears);
                }
            }
        }

        return new self($bytes);
    }

    /** @return list<float> six numbers for each corner */
    public function numbers(): array
    {
        return $this->bytes === '' ? [] : array_values((array) unpack('g*', $this->bytes));
    }

    public function corners(): int
    {
        return intdiv(strlen($this->bytes), 4 * self::NUMBERS);
    }

    /**
     * What is set by hand over what a projector sees: its picture plane is moved, whatever is on it. Where it is bent,
     * triangles are divided until they follow.
     */
    private static function over(Region $region, Mat3 $pin, ProjectedMesh $model): self
    {
        $place = $region->place;
        $grid = $region->grid;
        if ($grid === null && $region->pin === []) {
            return new self($model->bytes);
        }
        /** @param  list<float>  $corner  as the model has it */
        $moved = static function (array $corner) use ($place, $grid, $pin): array {
            [$x, $y, $w] = $corner;
            [$u, $v] = [($x / $w - $place->x) / $place->width, ($y / $w - $place->y) / $place->height];
            [$u, $v] = $grid?->at($u, $v) ?? [$u, $v];

            return [...self::carried($pin, $u, $v, $w), $corner[3], $corner[4], $corner[5]];
        };
        // Each with where it goes.
        $middle = static function (array $from, array $to) use ($moved): ?array {
            [[$a, $p], [$b, $q]] = [$from, $to];
            $half = array_map(static fn (float $one, float $other): float => ($one + $other) / 2, $a, $b);
            $goes = $moved($half);
            [$w, $v] = [$p[2] + $q[2], $goes[2]];
            if ($w === 0.0 || $v === 0.0) {
                return null;
            }
            $miss = hypot(($p[0] + $q[0]) / $w - $goes[0] / $v, ($p[1] + $q[1]) / $w - $goes[1] / $v);

            return $miss > self::TOLERANCE ? [$half, $goes] : null;
        };
        $bytes = '';
        foreach ($model->triangles() as $t) {
            [$a, $b, $c] = array_chunk($t, self::NUMBERS);
            $whole = [[$a, $moved($a)], [$b, $moved($b)], [$c, $moved($c)]];
            foreach ($grid === null ? [$whole] : Halving::of($whole, $middle, self::DEEPEST) as $piece) {
                $bytes .= self::packed(array_column($piece, 1));
            }
        }

        return new self($bytes);
    }

    /** What is set by hand over a computed warp: the computed place is taken as one of the place's unit square. */
    private static function through(Region $region, Mat3 $pin, WarpLattice $model): self
    {
        $place = $region->place;
        $corners = [];
        foreach ($model->points as $at => $point) {
            if ($point === null) {
                $corners[$at] = null;

                continue;
            }
            [$X, $Y, $w] = $point;
            [$u, $v] = [($X / $w - $place->x) / $place->width, ($Y / $w - $place->y) / $place->height];
            [$u, $v] = $region->grid?->at($u, $v) ?? [$u, $v];
            $corners[$at] = [
                ...self::carried($pin, $u, $v, $w),
                $model->xs[$at % count($model->xs)],
                $model->ys[intdiv($at, count($model->xs))],
                0.0,
            ];
        }
        $across = count($model->xs);
        $bytes = '';
        for ($j = 0, $m = count($model->ys) - 1; $j < $m; $j++) {
            for ($i = 0, $n = $across - 1; $i < $n; $i++) {
                // Where the surface jumps, two lines lie on one another.
                if ($model->xs[$i + 1] - $model->xs[$i] < 0.01 || $model->ys[$j + 1] - $model->ys[$j] < 0.01) {
                    continue;
                }
                [$a, $b, $c, $d] = [
                    $corners[$j * $across + $i],
                    $corners[$j * $across + $i + 1],
                    $corners[($j + 1) * $across + $i + 1],
                    $corners[($j + 1) * $across + $i],
                ];
                if ($a !== null && $b !== null && $c !== null && $d !== null) {
                    $bytes .= self::packed([$a, $b, $c]).self::packed([$a, $c, $d]);
                }
            }
        }

        return new self($bytes);
    }

    /** @return array{float, float, float} */
    private static function carried(Mat3 $pin, float $u, float $v, float $weight): array
    {
        $m = $pin->m;

        return [
            ($m[0] * $u + $m[1] * $v + $m[2]) * $weight,
            ($m[3] * $u + $m[4] * $v + $m[5]) * $weight,
            ($m[6] * $u + $m[7] * $v + $m[8]) * $weight,
        ];
    }

    /** @param  array<list<float>>  $triangle */
    private static function packed(array $triangle): string
    {
        $bytes = '';
        foreach ($triangle as $corner) {
            $bytes .= pack('g6', ...$corner);
        }

        return $bytes;
    }

    /**
     * The parts of a triangle that lie within a polygon.
     *
     * @param  array{list<float>, list<float>, list<float>}  $triangle
     * @param  array{array{float, float}, array{float, float}, array{float, float}}  $places  its corners on the unit
     *     square
     * @param  list<array{array{float, float}, array{float, float}, array{float, float}}>  $ears
     */
    private static function clipped(array $triangle, array $places, array $ears): string
    {
        [[$ax, $ay], [$bx, $by], [$cx, $cy]] = $places;
        $det = ($bx - $ax) * ($cy - $ay) - ($by - $ay) * ($cx - $ax);
        $bytes = '';
        foreach ($ears as $ear) {
            $common = Polygon::common($places, $ear);
            $found = array_map(static function (array $p) use ($triangle, $ax, $ay, $bx, $by, $cx, $cy, $det): array {
                $s = (($p[0] - $ax) * ($cy - $ay) - ($p[1] - $ay) * ($cx - $ax)) / $det;
                $t = (($bx - $ax) * ($p[1] - $ay) - ($by - $ay) * ($p[0] - $ax)) / $det;

                return array_map(
                    static fn (float $a, float $b, float $c): float => $a + $s * ($b - $a) + $t * ($c - $a),
                    ...$triangle,
                );
            }, $common);
            for ($k = 2, $n = count($found); $k < $n; $k++) {
                $bytes .= self::packed([$found[0], $found[$k - 1], $found[$k]]);
            }
        }

        return $bytes;
    }

    /**
     * Lines of the unit square between which the region is drawn as flat pieces.
     *
     * @return array{non-empty-list<float>, non-empty-list<float>}
     */
    private static function lines(Region $region): array
    {
        $grid = $region->grid;
        if ($grid === null) {
            return [[0.0, 1.0], [0.0, 1.0]];
        }
        $across = $grid->across();
        $size = max($region->place->width, $region->place->height);
        foreach ($region->corners() as $i => $corner) {
            $next = $region->corners()[($i + 1) % 4];
            $size = max($size, hypot($next[0] - $corner[0], $next[1] - $corner[1]));
        }
        [$bendX, $bendY, $twist] = [0.0, 0.0, 0.0];
        $down = 3 * $grid->rows() + 1;
        $p = $grid->points;
        for ($r = 0; $r < $down; $r++) {
            for ($c = 0; $c < $across; $c++) {
                $at = $r * $across + $c;
                $c + 2 < $across && ($bendX = max($bendX, self::bend($p[$at], $p[$at + 1], $p[$at + 2])));
                $r + 2 < $down && ($bendY = max($bendY, self::bend($p[$at], $p[$at + $across], $p[$at + 2 * $across])));
                if ($c + 1 < $across && $r + 1 < $down) {
                    $twist = max(
                        $twist,
                        9 *
                            hypot(
                                $p[$at][0] - $p[$at + 1][0] - $p[$at + $across][0] + $p[$at + $across + 1][0],
                                $p[$at][1] - $p[$at + 1][1] - $p[$at + $across][1] + $p[$at + $across + 1][1],
                            ),
                    );
                }
            }
        }
        // A cubic piece misses its chord by at most 6·b / 8n², with b the largest second difference; a twisted one
        // its two triangles by t / 4n².
        $pieces = static fn (float $bend, int $patches): int => max(
            1,
            min(
                intdiv(self::MOST_LINES - 1, $patches),
                (int) ceil(sqrt((max((6 * $bend) / 8, $twist / 4) * $size) / self::TOLERANCE)),
            ),
        );

        return [
            self::divided($grid->us, $pieces($bendX, $grid->columns())),
            self::divided($grid->vs, $pieces($bendY, $grid->rows())),
        ];
    }

    /**
     * @param  array{float, float}  $a
     * @param  array{float, float}  $b
     * @param  array{float, float}  $c
     */
    private static function bend(array $a, array $b, array $c): float
    {
        return hypot($a[0] - 2 * $b[0] + $c[0], $a[1] - 2 * $b[1] + $c[1]);
    }

    /**
     * @param  non-empty-list<float>  $lines
     * @return non-empty-list<float>
     */
    private static function divided(array $lines, int $pieces): array
    {
        $all = [$lines[0]];
        for ($i = 1, $n = count($lines); $i < $n; $i++) {
            for ($k = 1; $k <= $pieces; $k++) {
                $all[] = $k === $pieces ? $lines[$i] : $lines[$i - 1] + (($lines[$i] - $lines[$i - 1]) * $k) / $pieces;
            }
        }

        return $all;
    }
}
