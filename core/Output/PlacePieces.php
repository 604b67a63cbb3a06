<?php

declare(strict_types=1);

namespace Core\Output;

/** Squares of pixels of a place map, each as two flat triangles, divided until they are flat. */
final class PlacePieces
{
    /** Of pixels beside one another, how much steeper the way between them may be than the way on, px. */
    private const SLACK = 0.5;

    /** The triangles so far, as `DeliveryMesh` has them. */
    public string $bytes = '';

    /**
     * @param  array<int, list<float>>  $rows  of the map, x and y for each pixel; with those above and below what is
     *     asked for, where there are such
     * @param  int  $width  of the map, px
     * @param  float  $tolerance  px of the raster by which a place may be missed
     * @param  float  $overlap  px of the output by which a piece reaches beyond its pixels
     */
    public function __construct(
        private readonly array $rows,
        private readonly int $width,
        private readonly int $height,
        private readonly float $tolerance,
        private readonly float $overlap,
    ) {
    }

    /** Adds what lies in a square of so many pixels, a power of two; nothing where nothing is shown. */
    public function add(int $left, int $top, int $side): void
    {
        if ($left >= $this->width || $top >= $this->height) {
            return;
        }
        if ($left + $side <= $this->width && $top + $side <= $this->height) {
            $lit = $this->lit($left, $top, $side);
            if ($lit === 0) {
                return;
            }
            if ($lit === 1 && $this->isFlat($left, $top, $side)) {
                $this->put($left, $top, $side);

                return;
            }
        }
        $half = intdiv($side, 2);
        foreach ([[0, 0], [$half, 0], [0, $half], [$half, $half]] as [$x, $y]) {
            $this->add($left + $x, $top + $y, $half);
        }
    }

    /** Whether all of a square is shown (1), none (0), or some (-1). */
    private function lit(int $left, int $top, int $side): int
    {
        $isLit = ! is_nan($this->rows[$top][2 * $left]);
        for ($y = $top; $y < $top + $side; $y++) {
            $row = $this->rows[$y];
            for ($at = 2 * $left, $end = $at + 2 * $side; $at < $end; $at += 2) {
                if (is_nan($row[$at]) === $isLit) {
                    return -1;
                }
            }
        }

        return $isLit ? 1 : 0;
    }

    /** Whether two triangles through the corners' middles have all others within the tolerance. */
    private function isFlat(int $left, int $top, int $side): bool
    {
        if ($side === 1) {
            return true;
        }
        $n = $side - 1;
        if ($n === 1) {
            return $this->goesOn($left, $top);
        }
        for ($k = 0; $k < 2; $k++) {
            [$first, $last] = [$this->rows[$top], $this->rows[$top + $n]];
            [$a, $b] = [$first[2 * $left + $k], $first[2 * ($left + $n) + $k]];
            [$c, $d] = [$last[2 * $left + $k], $last[2 * ($left + $n) + $k]];
            [$right, $down, $left2, $up] = [($b - $a) / $n, ($c - $a) / $n, ($d - $c) / $n, ($d - $b) / $n];
            for ($j = 0; $j < $side; $j++) {
                $row = $this->rows[$top + $j];
                for ($i = 0, $at = 2 * $left + $k; $i < $side; $i++, $at += 2) {
                    $flat = $i + $j <= $n ? $a + $i * $right + $j * $down : $d - ($n - $i) * $left2 - ($n - $j) * $up;
                    if (abs($flat - $row[$at]) > $this->tolerance) {
                        return false;
                    }
                }
            }
        }

        return true;
    }

    /** Whether four pixels go on as those beside them do: what jumps between them is the edge of something. */
    private function goesOn(int $left, int $top): bool
    {
        foreach (
            [[$left, $top, 1, 0], [$left, $top + 1, 1, 0], [$left, $top, 0, 1], [$left + 1, $top, 0, 1]] as [$x, $y, $dx, $dy]
        ) {
            $step = $this->step($x, $y, $dx, $dy);
            $sides = [$this->step($x - $dx, $y - $dy, $dx, $dy), $this->step($x + $dx, $y + $dy, $dx, $dy)];
            $near = array_filter(
                $sides,
                static fn (?array $side): bool => $side !== null &&
                    $step !== null &&
                    hypot($side[0] - $step[0], $side[1] - $step[1]) <=
                        self::SLACK * max(1.0, hypot($side[0], $side[1])),
            );
            if ($near === []) {
                return false;
            }
        }

        return true;
    }

    /** @return array{float, float}|null from a pixel to the next; null where one of them is not shown */
    private function step(int $x, int $y, int $dx, int $dy): ?array
    {
        [$from, $to] = [$this->rows[$y] ?? null, $this->rows[$y + $dy] ?? null];
        if ($from === null || $to === null || $x < 0 || $x + $dx >= $this->width) {
            return null;
        }
        [$a, $b] = [2 * $x, 2 * ($x + $dx)];
        $step = [$to[$b] - $from[$a], $to[$b + 1] - $from[$a + 1]];

        return is_nan($step[0]) ? null : $step;
    }

    /** @return array{float, float} the gentler of the steps to a pixel and from it; none where there are none */
    private function slope(int $x, int $y, int $dx, int $dy): array
    {
        $steps = array_filter([$this->step($x - $dx, $y - $dy, $dx, $dy), $this->step($x, $y, $dx, $dy)]);
        usort($steps, static fn (array $a, array $b): int => hypot(...$a) <=> hypot(...$b));

        return $steps[0] ?? [0.0, 0.0];
    }

    private function put(int $left, int $top, int $side): void
    {
        $n = $side - 1;
        $at = fn (int $x, int $y): array => [$this->rows[$y][2 * $x], $this->rows[$y][2 * $x + 1]];
        [$a, $d] = [$at($left, $top), $at($left + $n, $top + $n)];
        if ($n === 0) {
            $right = $alsoRight = $this->slope($left, $top, 1, 0);
            $down = $alsoDown = $this->slope($left, $top, 0, 1);
        } else {
            [$b, $c] = [$at($left + $n, $top), $at($left, $top + $n)];
            $way = static fn (array $from, array $to): array => [($to[0] - $from[0]) / $n, ($to[1] - $from[1]) / $n];
            [$right, $down, $alsoRight, $alsoDown] = [$way($a, $b), $way($a, $c), $way($c, $d), $way($b, $d)];
        }
        [$x0, $y0, $x1, $y1] = [
            $left - $this->overlap,
            $top - $this->overlap,
            $left + $side + $this->overlap,
            $top + $side + $this->overlap,
        ];
        $corner = static fn (float $x, float $y, array $of, int $ox, int $oy, array $gx, array $gy): array => [
            $x,
            $y,
            1.0,
            $of[0] + ($x - $ox - 0.5) * $gx[0] + ($y - $oy - 0.5) * $gy[0],
            $of[1] + ($x - $ox - 0.5) * $gx[1] + ($y - $oy - 0.5) * $gy[1],
            0.0,
        ];
        $upper = static fn (float $x, float $y): array => $corner($x, $y, $a, $left, $top, $right, $down);
        $lower = static fn (float $x, float $y): array => $corner(
            $x,
            $y,
            $d,
            $left + $n,
            $top + $n,
            $alsoRight,
            $alsoDown,
        );
        $this->bytes .= pack(
            'g36',
            ...$upper($x0, $y0),
            ...$upper($x1, $y0),
            ...$upper($x0, $y1),
            ...$lower($x1, $y1),
            ...$lower($x0, $y1),
            ...$lower($x1, $y0),
        );
    }
}
