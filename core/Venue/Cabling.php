<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Units\Refused;

/** Cuts the way through a wall into runs, none longer than its circuit or port bears. */
final class Cabling
{
    /**
     * Power runs: watts at most on each circuit.
     *
     * @return list<CableRun>
     *
     * @throws Refused when one panel alone is more than a circuit bears
     */
    public static function power(Wall $wall, Supply $supply, CablePath $path, bool $fromRight = false, bool $fromBottom = false): array
    {
        $limit = $supply->wattsPerCircuit();

        return self::runs($path->order($wall, $fromRight, $fromBottom), $limit, static function (array $run): float {
            return array_sum(array_map(static fn (array $cell): float => $cell[2]->wattsMaximum, $run));
        }, static fn (Panel $p): string => sprintf('One "%s" draws %.0f W, more than the %.0f W of a circuit.', $p->name, $p->wattsMaximum, $limit));
    }

    /**
     * Data runs: pixels at most on each port.
     *
     * @param  bool  $byRectangle  whether a port is charged with the rectangle round its run, not with its panels
     * @return list<CableRun>
     *
     * @throws Refused when one panel alone is more than a port carries
     */
    public static function data(Wall $wall, DataLink $link, CablePath $path, bool $byRectangle = false, bool $fromRight = false, bool $fromBottom = false): array
    {
        $limit = $link->pixels();
        $widths = $wall->columnWidthsPx();
        $heights = $wall->rowHeightsPx();

        return self::runs($path->order($wall, $fromRight, $fromBottom), $limit, static function (array $run) use ($byRectangle, $widths, $heights): float {
            if (! $byRectangle) {
                return array_sum(array_map(static fn (array $cell): int => $cell[2]->widthPx * $cell[2]->heightPx, $run));
            }
            [$rows, $columns] = [array_column($run, 0), array_column($run, 1)];

            return array_sum(array_slice($widths, min($columns), max($columns) - min($columns) + 1)) * array_sum(array_slice($heights, min($rows), max($rows) - min($rows) + 1));
        }, static fn (Panel $p): string => sprintf('One "%s" has %d px, more than the %d px of a port.', $p->name, $p->widthPx * $p->heightPx, $limit));
    }

    /**
     * @param  list<array{int, int, Panel}>  $order
     * @param  \Closure(non-empty-list<array{int, int, Panel}>): (float|int)  $load
     * @param  \Closure(Panel): string  $tooMuch
     * @return list<CableRun>
     */
    private static function runs(array $order, float $limit, \Closure $load, \Closure $tooMuch): array
    {
        /** @var list<non-empty-list<array{int, int, Panel}>> $cut */
        $cut = [];
        $run = [];
        foreach ($order as $cell) {
            if ($load([$cell]) > $limit) {
                throw Refused::because('cells', $tooMuch($cell[2]));
            }
            if ($run !== [] && $load([...$run, $cell]) > $limit) {
                $cut[] = $run;
                $run = [];
            }
            $run[] = $cell;
        }
        if ($run !== []) {
            $cut[] = $run;
        }

        return array_map(static fn (array $cells, int $i): CableRun => new CableRun($i + 1, array_map(static fn (array $c): array => [$c[0], $c[1]], $cells), (float) $load($cells), $limit), $cut, array_keys($cut));
    }
}
