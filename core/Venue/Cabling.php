<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Units\InvalidValue;

/** Cuts the way through a wall into runs, none longer than its circuit or port bears. */
final class Cabling
{
    /**
     * Power runs: watts at most on each circuit.
     *
     * @param  int  $max  panels on one run; 0 for as many as it bears
     * @return list<CableRun>
     *
     * @throws InvalidValue when one panel alone is more than a circuit bears
     */
    public static function power(
        Wall $wall,
        Supply $supply,
        CablePath $path,
        bool $fromRight = false,
        bool $fromBottom = false,
        int $max = 0,
    ): array {
        $limit = $supply->wattsPerCircuit();

        return self::runs(
            $wall,
            $path->order($wall, $fromRight, $fromBottom),
            $limit,
            $max,
            static fn (array $run, array $cell): array => [($run[0] ?? 0.0) + $cell[2]->wattsMaximum],
            static fn (Panel $p): string => sprintf(
                'One "%s" draws %.0f W, more than the %.0f W of a circuit.',
                $p->name,
                $p->wattsMaximum,
                $limit,
            ),
        );
    }

    /**
     * Data runs: pixels at most on each port.
     *
     * @param  bool  $byRectangle  whether a port is charged with the rectangle round its run, not with its panels
     * @param  int  $max  panels on one run; 0 for as many as it carries
     * @return list<CableRun>
     *
     * @throws InvalidValue when one panel alone is more than a port carries
     */
    public static function data(
        Wall $wall,
        DataLink $link,
        CablePath $path,
        bool $byRectangle = false,
        bool $fromRight = false,
        bool $fromBottom = false,
        int $max = 0,
    ): array {
        $limit = $link->pixels();
        // Pixels up to each column and row, so that a rectangle is a difference.
        $upTo = static fn (array $sizes): array => array_reduce(
            $sizes,
            static fn (array $sums, int $size): array => [...$sums, end($sums) + $size],
            [0],
        );
        [$across, $down] = [$upTo($wall->columnWidthsPx()), $upTo($wall->rowHeightsPx())];
        $add = $byRectangle
            ? static function (array $run, array $cell) use ($across, $down): array {
                [, $r0, $r1, $c0, $c1] = $run + [0, $cell[0], $cell[0], $cell[1], $cell[1]];
                [$r0, $r1, $c0, $c1] = [min($r0, $cell[0]), max($r1, $cell[0]), min($c0, $cell[1]), max($c1, $cell[1])];

                return [
                    (float) (($across[$c1 + 1] - $across[$c0]) * ($down[$r1 + 1] - $down[$r0])),
                    $r0,
                    $r1,
                    $c0,
                    $c1,
                ];
            }
            : static fn (array $run, array $cell): array => [($run[0] ?? 0.0) + $cell[2]->widthPx * $cell[2]->heightPx];

        return self::runs(
            $wall,
            $path->order($wall, $fromRight, $fromBottom),
            $limit,
            $max,
            $add,
            static fn (Panel $p): string => sprintf(
                'One "%s" has %d px, more than the %d px of a port.',
                $p->name,
                $p->widthPx * $p->heightPx,
                $limit,
            ),
        );
    }

    /**
     * @param  list<array{int, int, Panel}>  $order
     * @param  \Closure(list<float|int>, array{int, int, Panel}): non-empty-list<float|int>  $add  a run's load, with
     *     what it is told by, after one panel more
     * @param  \Closure(Panel): string  $tooMuch
     * @return list<CableRun>
     */
    private static function runs(
        Wall $wall,
        array $order,
        float $limit,
        int $max,
        \Closure $add,
        \Closure $tooMuch,
    ): array {
        // A run that is filled to the very limit is not split by the rounding of its sum.
        $bears = $limit * (1 + 1e-9);
        /** @var list<array{non-empty-list<array{int, int}>, float}> $cut */
        $cut = [];
        [$cells, $load] = [[], []];
        foreach ($order as $cell) {
            $alone = $add([], $cell);
            if ($alone[0] > $bears) {
                throw InvalidValue::because('cells', $tooMuch($cell[2]));
            }
            $with = $add($load, $cell);
            if ($cells !== [] && ($with[0] > $bears || ($max > 0 && count($cells) >= $max))) {
                $cut[] = [$cells, (float) $load[0]];
                [$cells, $with] = [[], $alone];
            }
            $cells[] = [$cell[0], $cell[1]];
            $load = $with;
        }
        if ($cells !== []) {
            $cut[] = [$cells, (float) $load[0]];
        }

        [$across, $down] = [$wall->columnMiddles(), $wall->rowMiddles()];

        return array_map(
            static fn (array $run, int $i): CableRun => new CableRun(
                $i + 1,
                $run[0],
                $run[1],
                $limit,
                self::metres($across, $down, $run[0]),
            ),
            $cut,
            array_keys($cut),
        );
    }

    /**
     * @param  list<float>  $across  middles of the columns
     * @param  list<float>  $down  middles of the rows
     * @param  non-empty-list<array{int, int}>  $cells
     */
    private static function metres(array $across, array $down, array $cells): float
    {
        $metres = 0.0;
        for ($i = 1, $n = count($cells); $i < $n; $i++) {
            [[$r0, $c0], [$r1, $c1]] = [$cells[$i - 1], $cells[$i]];
            $metres += hypot($across[$c1] - $across[$c0], $down[$r1] - $down[$r0]);
        }

        return $metres;
    }
}
