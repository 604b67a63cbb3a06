<?php

declare(strict_types=1);

namespace Core\Output;

/**
 * How far each point of a lattice is from the nearest that is not set (Felzenszwalb and Huttenlocher 2012), in steps
 * of the lattice.
 */
final class DistanceField
{
    private const FAR = 1e12;

    /**
     * @param  list<bool>  $set  row by row
     * @return list<float> 0 where it is not set; very far where all are
     */
    public static function of(array $set, int $columns, int $rows): array
    {
        $field = array_map(static fn (bool $s): float => $s ? self::FAR : 0.0, $set);
        for ($c = 0; $c < $columns; $c++) {
            $column = [];
            for ($r = 0; $r < $rows; $r++) {
                $column[] = $field[$r * $columns + $c];
            }
            foreach (self::line($column) as $r => $v) {
                $field[$r * $columns + $c] = $v;
            }
        }
        $found = [];
        for ($r = 0; $r < $rows; $r++) {
            foreach (self::line(array_slice($field, $r * $columns, $columns)) as $v) {
                $found[] = sqrt($v);
            }
        }

        return $found;
    }

    /**
     * Squares of distances along a line, by the lower envelope of parabolas.
     *
     * @param  array<float>  $f
     * @return list<float>
     */
    private static function line(array $f): array
    {
        $f = array_values($f);
        $n = count($f);
        [$at, $from, $k] = [[0], [-INF, INF], 0];
        for ($q = 1; $q < $n; $q++) {
            do {
                $p = $at[$k];
                $s = ($f[$q] + $q * $q - $f[$p] - $p * $p) / (2 * $q - 2 * $p);
            } while ($s <= $from[$k] && --$k >= 0);
            $k++;
            [$at[$k], $from[$k], $from[$k + 1]] = [$q, $s, INF];
        }
        [$out, $k] = [[], 0];
        for ($q = 0; $q < $n; $q++) {
            while ($from[$k + 1] < $q) {
                $k++;
            }
            $out[] = ($q - $at[$k]) ** 2 + $f[$at[$k]];
        }

        return $out;
    }
}
