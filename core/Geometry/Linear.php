<?php

declare(strict_types=1);

namespace Core\Geometry;

/** Small dense systems of equations; matrices are lists of rows. */
final class Linear
{
    /**
     * The solution of A·x = b, by elimination with the largest pivot.
     *
     * @param  array<int, array<int, float>>  $a  n × n
     * @param  list<float>  $b
     * @return list<float>|null null where the equations do not tell: a pivot below 10⁻¹² of the largest number
     */
    public static function solve(array $a, array $b): ?array
    {
        $n = count($b);
        $largest = 0.0;
        foreach ($a as $row) {
            foreach ($row as $v) {
                $largest = max($largest, abs($v));
            }
        }
        for ($c = 0; $c < $n; $c++) {
            $pivot = $c;
            for ($r = $c + 1; $r < $n; $r++) {
                if (abs($a[$r][$c]) > abs($a[$pivot][$c])) {
                    $pivot = $r;
                }
            }
            if (abs($a[$pivot][$c]) <= 1e-12 * $largest) {
                return null;
            }
            [$a[$c], $a[$pivot], $b[$c], $b[$pivot]] = [$a[$pivot], $a[$c], $b[$pivot], $b[$c]];
            for ($r = $c + 1; $r < $n; $r++) {
                $f = $a[$r][$c] / $a[$c][$c];
                if ($f !== 0.0) {
                    for ($k = $c; $k < $n; $k++) {
                        $a[$r][$k] -= $f * $a[$c][$k];
                    }
                    $b[$r] -= $f * $b[$c];
                }
            }
        }
        $x = array_fill(0, $n, 0.0);
        for ($r = $n - 1; $r >= 0; $r--) {
            $sum = $b[$r];
            for ($k = $r + 1; $k < $n; $k++) {
                $sum -= $a[$r][$k] * $x[$k];
            }
            $x[$r] = $sum / $a[$r][$r];
        }

        return array_values($x);
    }

    /**
     * Eigenvalues and eigenvectors of a symmetric matrix, the least first, by Jacobi's rotations.
     *
     * @param  array<int, array<int, float>>  $a
     * @return array{list<float>, list<list<float>>} values, and a unit vector for each
     */
    public static function eigen(array $a): array
    {
        $n = count($a);
        $v = [];
        for ($i = 0; $i < $n; $i++) {
            $v[] = array_map(static fn (int $j): float => $i === $j ? 1.0 : 0.0, range(0, $n - 1));
        }
        for ($sweep = 0; $sweep < 100; $sweep++) {
            [$off, $all] = [0.0, 0.0];
            for ($i = 0; $i < $n; $i++) {
                for ($j = 0; $j < $n; $j++) {
                    $all += $a[$i][$j] ** 2;
                    $i !== $j && ($off += $a[$i][$j] ** 2);
                }
            }
            if ($off <= 1e-30 * $all) {
                break;
            }
            for ($p = 0; $p < $n - 1; $p++) {
                for ($q = $p + 1; $q < $n; $q++) {
                    if ($a[$p][$q] === 0.0) {
                        continue;
                    }
                    $theta = ($a[$q][$q] - $a[$p][$p]) / (2 * $a[$p][$q]);
                    $t = ($theta >= 0 ? 1 : -1) / (abs($theta) + sqrt($theta * $theta + 1));
                    $c = 1 / sqrt($t * $t + 1);
                    $s = $t * $c;
                    for ($k = 0; $k < $n; $k++) {
                        [$x, $y] = [$a[$k][$p], $a[$k][$q]];
                        [$a[$k][$p], $a[$k][$q]] = [$c * $x - $s * $y, $s * $x + $c * $y];
                    }
                    for ($k = 0; $k < $n; $k++) {
                        [$x, $y] = [$a[$p][$k], $a[$q][$k]];
                        [$a[$p][$k], $a[$q][$k]] = [$c * $x - $s * $y, $s * $x + $c * $y];
                        [$x, $y] = [$v[$k][$p], $v[$k][$q]];
                        [$v[$k][$p], $v[$k][$q]] = [$c * $x - $s * $y, $s * $x + $c * $y];
                    }
                }
            }
        }
        $order = range(0, $n - 1);
        usort($order, static fn (int $i, int $j): int => $a[$i][$i] <=> $a[$j][$j]);

        return [
            array_map(static fn (int $i): float => $a[$i][$i], $order),
            array_map(static fn (int $i): array => array_column($v, $i), $order),
        ];
    }
}
