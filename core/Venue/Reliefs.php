<?php

declare(strict_types=1);

namespace Core\Venue;

use Core\Geometry\Mesh;
use Core\Geometry\MeshMaker;
use Core\Units\Check;
use Core\Units\InvalidValue;

/**
 * A back face with reliefs before it and openings in it: polygons, each at a depth of its own (metres, positive
 * toward the audience; a window's glass lies below zero). Where they overlap, the later one covers. The picture lies
 * on all of them as it is seen straight from the front, so that no place of it is there twice; the reveals between
 * depths show the picture's edge.
 *
 * The front is cut into trapezoids between the heights of all corners and crossings; in each, the last polygon that
 * covers its middle owns it.
 */
final class Reliefs
{
    public const MAX = 500;

    private const EPS = 1e-7;

    /**
     * @param  list<array{depth: float, points: list<array{float, float}>}>  $reliefs  x from the middle, y from the
     *     floor
     */
    public static function mesh(float $width, float $height, array $reliefs): Mesh
    {
        $pieces = [
            [
                'depth' => 0.0,
                'points' => [[-$width / 2, 0.0], [$width / 2, 0.0], [$width / 2, $height], [-$width / 2, $height]],
            ],
        ];
        foreach ($reliefs as $relief) {
            $pieces[] = [
                'depth' => $relief['depth'],
                'points' => array_map(
                    static fn (array $p): array => [
                        max(-$width / 2, min($width / 2, $p[0])),
                        max(0.0, min($height, $p[1])),
                    ],
                    $relief['points'],
                ),
            ];
        }
        $levels = self::levels($pieces);
        $maker = new MeshMaker();
        $corner = static fn (float $x, float $y, float $z): array => [$x, $y, $z, $x / $width + 0.5, 1 - $y / $height];
        $below = [];
        for ($i = 0; $i + 1 < count($levels); $i++) {
            [$y0, $y1] = [$levels[$i], $levels[$i + 1]];
            $slab = self::slab($pieces, $y0, $y1);
            foreach ($slab as $k => [$x00, $x10, $x01, $x11, $z]) {
                // Where a polygon ends in a point, its trapezoid is a triangle.
                $maker->add(
                    ...array_merge(
                        $x10 - $x00 > self::EPS
                            ? [$corner($x00, $y0, $z), $corner($x10, $y0, $z)]
                            : [$corner($x00, $y0, $z)],
                        $x11 - $x01 > self::EPS
                            ? [$corner($x11, $y1, $z), $corner($x01, $y1, $z)]
                            : [$corner($x01, $y1, $z)],
                    ),
                );
                $next = $slab[$k + 1] ?? null;
                if ($next !== null && abs($next[4] - $z) > self::EPS) {
                    // The reveal stands on the common edge and looks toward the deeper side.
                    [$bx, $tx, $zn] = [$x10, $x11, $next[4]];
                    $maker->add(
                        $corner($bx, $y0, $z),
                        $corner($bx, $y0, $zn),
                        $corner($tx, $y1, $zn),
                        $corner($tx, $y1, $z),
                    );
                }
            }
            foreach (
                self::steps($below, array_map(static fn (array $t): array => [$t[0], $t[1], $t[4]], $slab)) as [$x0, $x1, $under, $over]
            ) {
                $maker->add(
                    $corner($x0, $y0, $under),
                    $corner($x1, $y0, $under),
                    $corner($x1, $y0, $over),
                    $corner($x0, $y0, $over),
                );
            }
            $below = array_map(static fn (array $t): array => [$t[2], $t[3], $t[4]], $slab);
        }

        return $maker->mesh();
    }

    /**
     * Heights between which no edge begins, ends or crosses another.
     *
     * @param  list<array{depth: float, points: list<array{float, float}>}>  $pieces
     * @return list<float>
     */
    private static function levels(array $pieces): array
    {
        $edges = [];
        $levels = [];
        foreach ($pieces as $piece) {
            $n = count($piece['points']);
            foreach ($piece['points'] as $i => $p) {
                $q = $piece['points'][($i + 1) % $n];
                $levels[] = $p[1];
                abs($p[1] - $q[1]) > self::EPS && ($edges[] = [$p[0], $p[1], $q[0], $q[1]]);
            }
        }
        foreach ($edges as $i => [$ax, $ay, $bx, $by]) {
            for ($k = 0; $k < $i; $k++) {
                [$cx, $cy, $dx, $dy] = $edges[$k];
                $det = ($bx - $ax) * ($dy - $cy) - ($by - $ay) * ($dx - $cx);
                if (abs($det) < 1e-12) {
                    continue;
                }
                $t = (($cx - $ax) * ($dy - $cy) - ($cy - $ay) * ($dx - $cx)) / $det;
                $s = (($cx - $ax) * ($by - $ay) - ($cy - $ay) * ($bx - $ax)) / $det;
                if ($t > 0 && $t < 1 && $s > 0 && $s < 1) {
                    $levels[] = $ay + $t * ($by - $ay);
                }
            }
        }
        sort($levels);
        $kept = [];
        foreach ($levels as $y) {
            ($kept === [] || $y - $kept[count($kept) - 1] > self::EPS) && ($kept[] = $y);
        }

        return $kept;
    }

    /**
     * @param  list<array{depth: float, points: list<array{float, float}>}>  $pieces
     * @return list<array{float, float, float, float, float}> from left to right: x of both lower corners, x of both
     *     upper ones, depth
     */
    private static function slab(array $pieces, float $y0, float $y1): array
    {
        $middle = ($y0 + $y1) / 2;
        $edges = [];
        foreach ($pieces as $owner => $piece) {
            $n = count($piece['points']);
            foreach ($piece['points'] as $i => [$px, $py]) {
                [$qx, $qy] = $piece['points'][($i + 1) % $n];
                if (min($py, $qy) < $middle && max($py, $qy) > $middle) {
                    $at = static fn (float $y): float => $px + (($qx - $px) * ($y - $py)) / ($qy - $py);
                    $edges[] = [$at($middle), $at($y0), $at($y1), $owner];
                }
            }
        }
        usort($edges, static fn (array $a, array $b): int => $a[0] <=> $b[0]);
        $within = [];
        $out = [];
        foreach ($edges as $i => [$x, $bottom, $top, $owner]) {
            if (isset($within[$owner])) {
                unset($within[$owner]);
            } else {
                $within[$owner] = true;
            }
            $next = $edges[$i + 1] ?? null;
            if ($next === null || $within === [] || $next[0] - $x < self::EPS) {
                continue;
            }
            $depth = $pieces[max(array_keys($within))]['depth'];
            $last = array_pop($out);
            if (
                $last !== null &&
                abs($last[4] - $depth) < self::EPS &&
                abs($last[1] - $bottom) < self::EPS &&
                abs($last[3] - $top) < self::EPS
            ) {
                $out[] = [$last[0], $next[1], $last[2], $next[2], $depth];
            } else {
                $last !== null && ($out[] = $last);
                $out[] = [$bottom, $next[1], $top, $next[2], $depth];
            }
        }

        return $out;
    }

    /**
     * @param  list<array{float, float, float}>  $below  from, to, depth
     * @param  list<array{float, float, float}>  $above
     * @return list<array{float, float, float, float}> from, to, depth below, depth above, where they differ
     */
    private static function steps(array $below, array $above): array
    {
        $out = [];
        foreach ($below as [$a0, $a1, $az]) {
            foreach ($above as [$b0, $b1, $bz]) {
                [$x0, $x1] = [max($a0, $b0), min($a1, $b1)];
                if ($x1 - $x0 > self::EPS && abs($az - $bz) > self::EPS) {
                    $out[] = [$x0, $x1, $az, $bz];
                }
            }
        }

        return $out;
    }

    /**
     * @param  mixed  $rows  list of {depth, points: [x, y, x, y, …]}
     * @return list<array{depth: float, points: list<array{float, float}>}>
     *
     * @throws InvalidValue naming reliefs
     */
    public static function of(mixed $rows): array
    {
        if (! is_array($rows) || ! array_is_list($rows) || count($rows) > self::MAX) {
            throw InvalidValue::because('reliefs', 'A face has at most '.self::MAX.' reliefs and openings.');
        }
        $reliefs = [];
        foreach ($rows as $i => $row) {
            $numbers = is_array($row) ? array_values((array) ($row['points'] ?? [])) : [];
            if (
                count($numbers) < 6 ||
                count($numbers) > 200 ||
                count($numbers) % 2 !== 0 ||
                array_filter($numbers, static fn (mixed $n): bool => ! is_int($n) && ! is_float($n)) !== [] ||
                ! is_numeric($row['depth'] ?? null)
            ) {
                throw InvalidValue::because(
                    'reliefs',
                    'Relief '.($i + 1).' needs a depth and between 3 and 100 corners, x and y after one another.',
                );
            }
            $points = [];
            for ($k = 0; $k < count($numbers); $k += 2) {
                $points[] = [
                    Check::number('reliefs', (float) $numbers[$k], -500, 500, 'm'),
                    Check::number('reliefs', (float) $numbers[$k + 1], -500, 500, 'm'),
                ];
            }
            $reliefs[] = [
                'depth' => Check::number('reliefs', (float) $row['depth'], -50, 50, 'm'),
                'points' => $points,
            ];
        }

        return $reliefs;
    }
}
