<?php

declare(strict_types=1);

namespace Core\Geometry;

/**
 * A tree of boxes round triangles, by which a ray finds what it meets first without asking every triangle. Split
 * where the surface-area heuristic expects least work (MacDonald and Booth 1990), over bins of the triangles'
 * middles; triangles are met by the test of Möller and Trumbore (1997). Both sides of a triangle are met.
 */
final readonly class Bvh
{
    private const MAX_BINS = 12;

    private const LEAF = 6;

    /**
     * @param  list<float>  $triangles  nine numbers each: a corner, and the two edges from it
     * @param  list<int>  $order  the triangle as it was given, for each place
     * @param  list<float>  $boxes  six numbers a node: least and most of x, y, z
     * @param  list<int>  $links  of each node: the second child (the first is the next node), or minus the first
     *     triangle less one in a leaf
     * @param  list<int>  $counts  triangles in a leaf, 0 in a node with children
     */
    private function __construct(
        private array $triangles,
        private array $order,
        private array $boxes,
        private array $links,
        private array $counts,
    ) {
    }

    /**
     * @param  list<float>  $positions  metres
     * @param  list<int>  $indices
     */
    public static function of(array $positions, array $indices): self
    {
        $n = intdiv(count($indices), 3);
        [$lx, $ly, $lz, $hx, $hy, $hz, $cx, $cy, $cz] = [[], [], [], [], [], [], [], [], []];
        for ($t = 0; $t < $n; $t++) {
            [$a, $b, $c] = [3 * $indices[3 * $t], 3 * $indices[3 * $t + 1], 3 * $indices[3 * $t + 2]];
            [$x0, $x1, $x2] = [$positions[$a], $positions[$b], $positions[$c]];
            [$y0, $y1, $y2] = [$positions[$a + 1], $positions[$b + 1], $positions[$c + 1]];
            [$z0, $z1, $z2] = [$positions[$a + 2], $positions[$b + 2], $positions[$c + 2]];
            $lx[] = min($x0, $x1, $x2);
            $ly[] = min($y0, $y1, $y2);
            $lz[] = min($z0, $z1, $z2);
            $hx[] = max($x0, $x1, $x2);
            $hy[] = max($y0, $y1, $y2);
            $hz[] = max($z0, $z1, $z2);
            $cx[] = ($lx[$t] + $hx[$t]) / 2;
            $cy[] = ($ly[$t] + $hy[$t]) / 2;
            $cz[] = ($lz[$t] + $hz[$t]) / 2;
        }
        [$boxes, $links, $counts, $order, $packed] = [[], [], [], [], []];
        // Each waiting part: its triangles, and the node that it is the second child of, or -1.
        $waiting = $n > 0 ? [[range(0, $n - 1), -1]] : [];
        while ($waiting !== []) {
            [$part, $parent] = array_pop($waiting);
            $node = count($links);
            if ($parent >= 0) {
                $links[$parent] = $node;
            }
            [$bx0, $by0, $bz0, $bx1, $by1, $bz1] = [INF, INF, INF, -INF, -INF, -INF];
            [$mx0, $my0, $mz0, $mx1, $my1, $mz1] = [INF, INF, INF, -INF, -INF, -INF];
            foreach ($part as $t) {
                $lx[$t] < $bx0 && ($bx0 = $lx[$t]);
                $ly[$t] < $by0 && ($by0 = $ly[$t]);
                $lz[$t] < $bz0 && ($bz0 = $lz[$t]);
                $hx[$t] > $bx1 && ($bx1 = $hx[$t]);
                $hy[$t] > $by1 && ($by1 = $hy[$t]);
                $hz[$t] > $bz1 && ($bz1 = $hz[$t]);
                $cx[$t] < $mx0 && ($mx0 = $cx[$t]);
                $cy[$t] < $my0 && ($my0 = $cy[$t]);
                $cz[$t] < $mz0 && ($mz0 = $cz[$t]);
                $cx[$t] > $mx1 && ($mx1 = $cx[$t]);
                $cy[$t] > $my1 && ($my1 = $cy[$t]);
                $cz[$t] > $mz1 && ($mz1 = $cz[$t]);
            }
            array_push($boxes, $bx0, $by0, $bz0, $bx1, $by1, $bz1);
            $links[] = 0;
            $counts[] = 0;
            $size = count($part);
            $halves = null;
            if ($size > self::LEAF) {
                [$ex, $ey, $ez] = [$mx1 - $mx0, $my1 - $my0, $mz1 - $mz0];
                [$middles, $from, $extent] =
                    $ex >= $ey && $ex >= $ez ? [$cx, $mx0, $ex] : ($ey >= $ez ? [$cy, $my0, $ey] : [$cz, $mz0, $ez]);
                if ($extent > 1e-12) {
                    $halves = self::split($part, $middles, $from, $extent, $lx, $ly, $lz, $hx, $hy, $hz);
                } elseif ($size > 64) {
                    $halves = [array_slice($part, 0, intdiv($size, 2)), array_slice($part, intdiv($size, 2))];
                }
            }
            if ($halves === null) {
                $links[$node] = count($order);
                $counts[$node] = $size;
                foreach ($part as $t) {
                    $order[] = $t;
                    [$a, $b, $c] = [3 * $indices[3 * $t], 3 * $indices[3 * $t + 1], 3 * $indices[3 * $t + 2]];
                    [$x, $y, $z] = [$positions[$a], $positions[$a + 1], $positions[$a + 2]];
                    array_push(
                        $packed,
                        $x,
                        $y,
                        $z,
                        $positions[$b] - $x,
                        $positions[$b + 1] - $y,
                        $positions[$b + 2] - $z,
                        $positions[$c] - $x,
                        $positions[$c + 1] - $y,
                        $positions[$c + 2] - $z,
                    );
                }

                continue;
            }
            $waiting[] = [$halves[1], $node];
            $waiting[] = [$halves[0], -1];
        }

        return new self($packed, $order, $boxes, array_values($links), array_values($counts));
    }

    /**
     * @param  list<int>  $part
     * @param  list<float>  $middles
     * @param  list<float>  $lx
     * @param  list<float>  $ly
     * @param  list<float>  $lz
     * @param  list<float>  $hx
     * @param  list<float>  $hy
     * @param  list<float>  $hz
     * @return array{list<int>, list<int>}|null
     */
    private static function split(
        array $part,
        array $middles,
        float $from,
        float $extent,
        array $lx,
        array $ly,
        array $lz,
        array $hx,
        array $hy,
        array $hz,
    ): ?array {
        $count = count($part) < 64 ? 5 : self::MAX_BINS;
        $scale = ($count / $extent) * 0.999999;
        $empty = [0, INF, INF, INF, -INF, -INF, -INF];
        $bins = array_fill(0, $count, []);
        foreach ($part as $t) {
            $bins[(int) (($middles[$t] - $from) * $scale)][] = $t;
        }
        $boxes = [];
        foreach ($bins as $i => $bin) {
            [$k, $x0, $y0, $z0, $x1, $y1, $z1] = $empty;
            foreach ($bin as $t) {
                $k++;
                $lx[$t] < $x0 && ($x0 = $lx[$t]);
                $ly[$t] < $y0 && ($y0 = $ly[$t]);
                $lz[$t] < $z0 && ($z0 = $lz[$t]);
                $hx[$t] > $x1 && ($x1 = $hx[$t]);
                $hy[$t] > $y1 && ($y1 = $hy[$t]);
                $hz[$t] > $z1 && ($z1 = $hz[$t]);
            }
            $boxes[$i] = [$k, $x0, $y0, $z0, $x1, $y1, $z1];
        }
        $join = static fn (array $a, array $b): array => [
            $a[0] + $b[0],
            min($a[1], $b[1]),
            min($a[2], $b[2]),
            min($a[3], $b[3]),
            max($a[4], $b[4]),
            max($a[5], $b[5]),
            max($a[6], $b[6]),
        ];
        $half = static function (array $b): float {
            [$w, $h, $d] = [$b[4] - $b[1], $b[5] - $b[2], $b[6] - $b[3]];

            return $b[0] === 0 ? 0.0 : $w * $h + $h * $d + $d * $w;
        };
        $right = [];
        $sum = $empty;
        for ($i = $count - 1; $i > 0; $i--) {
            $sum = $join($sum, $boxes[$i]);
            $right[$i] = $sum[0] * $half($sum);
        }
        [$best, $at, $sum] = [INF, 0, $empty];
        for ($i = 1; $i < $count; $i++) {
            $sum = $join($sum, $boxes[$i - 1]);
            $cost = $sum[0] * $half($sum) + $right[$i];
            if ($sum[0] > 0 && $sum[0] < count($part) && $cost < $best) {
                [$best, $at] = [$cost, $i];
            }
        }
        if ($at === 0) {
            return null;
        }

        return [array_merge(...array_slice($bins, 0, $at)), array_merge(...array_slice($bins, $at))];
    }

    /**
     * What a ray meets first between two distances.
     *
     * @param  float  $dx  direction; distances are in its lengths
     * @return array{int, float, float, float}|null the triangle, the distance, and the weights of its second and
     *     third corner there
     */
    public function first(
        float $ox,
        float $oy,
        float $oz,
        float $dx,
        float $dy,
        float $dz,
        float $nearest = 1e-6,
        float $farthest = INF,
    ): ?array {
        $links = $this->links;
        if ($links === []) {
            return null;
        }
        [$boxes, $counts, $tri] = [$this->boxes, $this->counts, $this->triangles];
        $ix = 1 / ($dx == 0.0 ? 1e-300 : $dx);
        $iy = 1 / ($dy == 0.0 ? 1e-300 : $dy);
        $iz = 1 / ($dz == 0.0 ? 1e-300 : $dz);
        [$hit, $hitU, $hitV] = [-1, 0.0, 0.0];
        $stack = [0];
        $depth = 1;
        while ($depth > 0) {
            $node = $stack[--$depth];
            $b = 6 * $node;
            $near = $nearest;
            $far = $farthest;
            $t0 = ($boxes[$b] - $ox) * $ix;
            $t1 = ($boxes[$b + 3] - $ox) * $ix;
            if ($t0 < $t1) {
                $t0 > $near && ($near = $t0);
                $t1 < $far && ($far = $t1);
            } else {
                $t1 > $near && ($near = $t1);
                $t0 < $far && ($far = $t0);
            }
            $t0 = ($boxes[$b + 1] - $oy) * $iy;
            $t1 = ($boxes[$b + 4] - $oy) * $iy;
            if ($t0 < $t1) {
                $t0 > $near && ($near = $t0);
                $t1 < $far && ($far = $t1);
            } else {
                $t1 > $near && ($near = $t1);
                $t0 < $far && ($far = $t0);
            }
            $t0 = ($boxes[$b + 2] - $oz) * $iz;
            $t1 = ($boxes[$b + 5] - $oz) * $iz;
            if ($t0 < $t1) {
                $t0 > $near && ($near = $t0);
                $t1 < $far && ($far = $t1);
            } else {
                $t1 > $near && ($near = $t1);
                $t0 < $far && ($far = $t0);
            }
            // A flat box rounds its two distances against one another: the tolerance keeps what lies exactly in it.
            if ($near > $far * 1.0000001 + 1e-9) {
                continue;
            }
            $count = $counts[$node];
            if ($count === 0) {
                // The child whose middle is nearer along the ray is looked at first.
                $one = 6 * ($node + 1);
                $two = 6 * $links[$node];
                $ahead =
                    ($boxes[$two] + $boxes[$two + 3] - $boxes[$one] - $boxes[$one + 3]) * $dx +
                    ($boxes[$two + 1] + $boxes[$two + 4] - $boxes[$one + 1] - $boxes[$one + 4]) * $dy +
                    ($boxes[$two + 2] + $boxes[$two + 5] - $boxes[$one + 2] - $boxes[$one + 5]) * $dz;
                if ($ahead > 0) {
                    $stack[$depth++] = $links[$node];
                    $stack[$depth++] = $node + 1;
                } else {
                    $stack[$depth++] = $node + 1;
                    $stack[$depth++] = $links[$node];
                }

                continue;
            }
            for ($i = $links[$node], $end = $i + $count; $i < $end; $i++) {
                $k = 9 * $i;
                $e1x = $tri[$k + 3];
                $e1y = $tri[$k + 4];
                $e1z = $tri[$k + 5];
                $e2x = $tri[$k + 6];
                $e2y = $tri[$k + 7];
                $e2z = $tri[$k + 8];
                $px = $dy * $e2z - $dz * $e2y;
                $py = $dz * $e2x - $dx * $e2z;
                $pz = $dx * $e2y - $dy * $e2x;
                $det = $e1x * $px + $e1y * $py + $e1z * $pz;
                if ($det < 1e-14 && $det > -1e-14) {
                    continue;
                }
                $inv = 1 / $det;
                $sx = $ox - $tri[$k];
                $sy = $oy - $tri[$k + 1];
                $sz = $oz - $tri[$k + 2];
                $u = ($sx * $px + $sy * $py + $sz * $pz) * $inv;
                if ($u < -1e-9 || $u > 1.000000001) {
                    continue;
                }
                $qx = $sy * $e1z - $sz * $e1y;
                $qy = $sz * $e1x - $sx * $e1z;
                $qz = $sx * $e1y - $sy * $e1x;
                $v = ($dx * $qx + $dy * $qy + $dz * $qz) * $inv;
                if ($v < -1e-9 || $u + $v > 1.000000001) {
                    continue;
                }
                $t = ($e2x * $qx + $e2y * $qy + $e2z * $qz) * $inv;
                if ($t > $nearest && $t < $farthest) {
                    $farthest = $t;
                    $hit = $i;
                    $hitU = $u;
                    $hitV = $v;
                }
            }
        }

        return $hit < 0 ? null : [$this->order[$hit], $farthest, $hitU, $hitV];
    }

    public function nodeCount(): int
    {
        return count($this->links);
    }
}
