<?php

declare(strict_types=1);

namespace Core\Output;

use Core\Geometry\Homography;
use Core\Geometry\Linear;
use Core\Geometry\Mat4;
use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Units\InvalidValue;
use Core\Venue\Lens;

/**
 * Where a projector really stands, from places of the venue and the pixels that light them. A place at (x, y, z)
 * before the lens (z < 0) is lit by cx + f·a·s, cy − f·b·s with a = x / −z, b = y / −z, s = 1 + k (a² + b²): f is the
 * throw ratio times the pixels of the width, cx and cy say the shift, k is the first term of the lens's distortion.
 *
 * The start is found by the direct linear transform (Hartley and Zisserman 2004, 7.1), by the homography of points in
 * a plane, and by the plan; from each, least squares are met by Levenberg's and Marquardt's way, and the best is
 * kept.
 */
final readonly class Alignment
{
    public const MAX_POINTS = 200;

    /** Share of its extent by which points have to leave a plane, or a line, to be off it. */
    private const FLAT = 0.02;

    /** The same of the pixels that light them. */
    private const NARROW = 0.01;

    /** RMS in pixels below which outliers are not searched for. */
    private const FINE = 2.0;

    /**
     * @param  Pose  $pose  in the venue
     * @param  list<float>  $residuals  pixels by which each point is missed
     * @param  float  $rms  pixels: root of the mean square distance
     * @param  float  $spread  metres: one standard deviation of the place, by what the points leave open
     * @param  int|null  $bad  number of the one point that spoils the rest; null where there is none
     */
    private function __construct(
        public Pose $pose,
        public float $throw,
        public float $shiftX,
        public float $shiftY,
        public float $radial,
        public array $residuals,
        public float $rms,
        public float $spread,
        public ?int $bad,
    ) {
    }

    /**
     * @param  list<array{place: array{float, float, float}, pixel: array{float, float}}>  $points  metres in the
     *     venue; pixels of the projector's picture, from its top left
     * @param  Lens  $lens  as planned
     * @param  Pose  $plan  where it is planned to stand
     * @param  bool  $knownLens  whether throw and shift are as planned; else they are found
     * @param  bool  $radial  whether its distortion is found as well; else it is the lens's
     *
     * @throws InvalidValue where the points do not tell, with the reason
     */
    public static function of(array $points, Lens $lens, Pose $plan, bool $knownLens, bool $radial = false): self
    {
        $least = ($knownLens ? 4 : 6) + ($radial ? 1 : 0);
        if (count($points) < $least) {
            throw InvalidValue::because(
                'points',
                sprintf(
                    '%s takes %d points at least; there are %d.',
                    $knownLens ? 'A place with a known lens' : 'An unknown lens',
                    $least,
                    count($points),
                ),
            );
        }
        if (count($points) > self::MAX_POINTS) {
            throw InvalidValue::because('points', 'At most '.self::MAX_POINTS.' points are matched.');
        }
        foreach ($points as $i => ['place' => $place, 'pixel' => $pixel]) {
            foreach ([...$place, ...$pixel] as $v) {
                if (! is_finite($v) || abs($v) > 1e6) {
                    throw InvalidValue::because(
                        "points.$i",
                        'Point '.($i + 1).' has a number that is none, or beyond a million.',
                    );
                }
            }
        }
        [$line, $plane] = self::extent(array_column($points, 'place'));
        if ($line < self::FLAT) {
            throw InvalidValue::because(
                'points',
                'The points lie on one line, or in one place: choose some beside it.',
            );
        }
        AlignmentChecks::points($points, $least);
        [$spread] = self::extent(array_map(static fn (array $one): array => [...$one['pixel'], 0.0], $points));
        if ($spread < self::NARROW) {
            throw InvalidValue::because(
                'points',
                'The pixels lie on one line, or in one place: choose points that are lit beside it.',
            );
        }
        if (! $knownLens && $plane < self::FLAT) {
            throw InvalidValue::because(
                'points',
                'The points lie in one plane, which leaves open whether the projector is near or its zoom is wide. Choose some before or behind it, or state throw and shift.',
            );
        }
        $best = self::solved($points, $lens, $plan, $knownLens, $radial, $plane);
        self::doubt($best, $points, $lens, $plan, $knownLens, $radial, $plane);
        $bad = null;
        if ($best['rms'] > self::FINE && count($points) > $least) {
            $found = INF;
            foreach (array_keys($points) as $i) {
                $others = array_values(array_diff_key($points, [$i => 0]));
                [$ownLine, $ownPlane] = self::extent(array_column($others, 'place'));
                if ($ownLine < self::FLAT || (! $knownLens && $ownPlane < self::FLAT)) {
                    continue;
                }
                $without = self::solved($others, $lens, $plan, $knownLens, $radial, $ownPlane);
                if ($without['rms'] < $found) {
                    [$found, $bad] = [$without['rms'], $i];
                }
            }
            $bad = $found < $best['rms'] / 4 ? $bad : null;
        }

        return self::made($best, $points, $lens, $knownLens, $radial, $bad);
    }

    /**
     * @param  list<array{place: array{float, float, float}, pixel: array{float, float}}>  $points
     * @return array{p: list<float>, rotation: list<float>, rms: float}
     */
    private static function solved(
        array $points,
        Lens $lens,
        Pose $plan,
        bool $knownLens,
        bool $radial,
        float $plane,
    ): array {
        [$f, $cx, $cy] = self::intrinsics($lens);
        $starts = [[$plan->matrix(), $f, $cx, $cy]];
        if (count($points) >= 6 && $plane >= self::FLAT) {
            $found = self::direct($points);
            if ($found !== null) {
                $starts[] = $knownLens ? [$found[0], $f, $cx, $cy] : $found;
            }
        }
        if ($knownLens || $plane < 5 * self::FLAT) {
            foreach (self::planar($points, $f, $cx, $cy) as $matrix) {
                $starts[] = [$matrix, $f, $cx, $cy];
            }
        }
        $best = null;
        foreach ($starts as [$matrix, $focal, $x, $y]) {
            $met = self::met(
                $points,
                $matrix,
                $knownLens ? $f : $focal,
                $knownLens ? $cx : $x,
                $knownLens ? $cy : $y,
                $lens->distortion,
                $knownLens,
                $radial,
            );
            if ($met !== null && ($best === null || $met['rms'] < $best['rms'])) {
                $best = $met;
            }
        }

        return $best ??
            throw InvalidValue::because(
                'points',
                'No place of the projector throws these pixels onto these points: look whether two of them were exchanged.',
            );
    }

    /**
     * Refuses what the points do not tell: a mirrored picture, a place behind the wall, and a place that a pixel of
     * error moves far.
     *
     * @param  array{p: list<float>, rotation: list<float>, rms: float}  $best
     * @param  list<array{place: array{float, float, float}, pixel: array{float, float}}>  $points
     *
     * @throws InvalidValue
     */
    private static function doubt(
        array $best,
        array $points,
        Lens $lens,
        Pose $plan,
        bool $knownLens,
        bool $radial,
        float $plane,
    ): void {
        ['p' => $p, 'rotation' => $o] = $best;
        if ($plane < self::FLAT) {
            AlignmentChecks::side($points, self::placed($p, $o), $plan->matrix());
        } elseif ($best['rms'] > self::FINE) {
            $mirrored = array_map(
                static fn (array $one): array => [
                    'place' => $one['place'],
                    'pixel' => [$lens->widthPx - $one['pixel'][0], $one['pixel'][1]],
                ],
                $points,
            );
            try {
                $other = self::solved($mirrored, $lens, $plan, $knownLens, $radial, $plane)['rms'];
            } catch (InvalidValue) {
                $other = INF;
            }
            if ($other < $best['rms'] / 10) {
                throw InvalidValue::because(
                    'points',
                    'The points fit a picture that is mirrored: left and right were exchanged, or the projector shows its picture mirrored.',
                );
            }
        }
        $depths = array_map(
            static fn (array $one): float => -(
                $o[6] * ($one['place'][0] - $p[0]) +
                $o[7] * ($one['place'][1] - $p[1]) +
                $o[8] * ($one['place'][2] - $p[2])
            ),
            $points,
        );
        $distance = array_sum($depths) / count($depths);
        $free = [0, 1, 2, 3, 4, 5, ...$knownLens ? [] : [6, 7, 8], ...$radial ? [9] : []];
        $f = exp($p[6]);
        $candidates = [];
        foreach ([0, 1, 2] as $row) {
            foreach ([0, 1, 2] as $column) {
                $places = [];
                // At the distance of the others, and a fifth nearer.
                foreach ([$distance, 0.8 * $distance] as $deep) {
                    $x = ((($column + 0.5) / 3) * $lens->widthPx - $p[7]) / $f;
                    $y = ($p[8] - (($row + 0.5) / 3) * $lens->heightPx) / $f;
                    $places[] = [
                        $p[0] + $deep * ($o[0] * $x + $o[3] * $y - $o[6]),
                        $p[1] + $deep * ($o[1] * $x + $o[4] * $y - $o[7]),
                        $p[2] + $deep * ($o[2] * $x + $o[5] * $y - $o[8]),
                    ];
                }
                $candidates[] = [$places, $column, $row];
            }
        }
        AlignmentChecks::looseness(
            static function (array $more) use ($points, $p, $o, $free): array {
                $all = [
                    ...$points,
                    ...array_map(static fn (array $place): array => ['place' => $place, 'pixel' => [0.0, 0.0]], $more),
                ];

                return self::normal($all, $p, $o, $free, self::residuals($all, $p, $o) ?? [])[0];
            },
            $candidates,
            $distance,
        );
    }

    /**
     * @param  array<int, float>  $p
     * @param  list<float>  $o  right, up and back in the venue
     */
    private static function placed(array $p, array $o): Mat4
    {
        return Mat4::of([
            ...[$o[0], $o[1], $o[2], 0.0, $o[3], $o[4], $o[5], 0.0],
            ...[$o[6], $o[7], $o[8], 0.0, $p[0], $p[1], $p[2], 1.0],
        ]);
    }

    /** @return array{float, float, float} pixels: focal length, and the middle of the lens */
    private static function intrinsics(Lens $lens): array
    {
        return [
            $lens->widthPx / $lens->across,
            (0.5 - $lens->shiftX) * $lens->widthPx,
            (0.5 + $lens->shiftY) * $lens->heightPx,
        ];
    }

    /**
     * How far points leave a line and a plane, as shares of their extent.
     *
     * @param  list<array{float, float, float}>  $places
     * @return array{float, float}
     */
    private static function extent(array $places): array
    {
        $n = count($places);
        $middle = [
            array_sum(array_column($places, 0)) / $n,
            array_sum(array_column($places, 1)) / $n,
            array_sum(array_column($places, 2)) / $n,
        ];
        $sum = [[0.0, 0.0, 0.0], [0.0, 0.0, 0.0], [0.0, 0.0, 0.0]];
        foreach ($places as $p) {
            for ($r = 0; $r < 3; $r++) {
                for ($c = 0; $c < 3; $c++) {
                    $sum[$r][$c] += ($p[$r] - $middle[$r]) * ($p[$c] - $middle[$c]);
                }
            }
        }
        [$values] = Linear::eigen($sum);

        return $values[2] <= 0
            ? [0.0, 0.0]
            : [sqrt(max(0.0, $values[1]) / $values[2]), sqrt(max(0.0, $values[0]) / $values[2])];
    }

    /**
     * By the direct linear transform.
     *
     * @param  list<array{place: array{float, float, float}, pixel: array{float, float}}>  $points
     * @return array{Mat4, float, float, float}|null
     */
    private static function direct(array $points): ?array
    {
        $n = count($points);
        $mean = [0.0, 0.0, 0.0, 0.0, 0.0];
        foreach ($points as ['place' => $p, 'pixel' => $q]) {
            foreach ([...$p, ...$q] as $k => $v) {
                $mean[$k] += $v / $n;
            }
        }
        [$far, $wide] = [0.0, 0.0];
        foreach ($points as ['place' => $p, 'pixel' => $q]) {
            $far += sqrt(($p[0] - $mean[0]) ** 2 + ($p[1] - $mean[1]) ** 2 + ($p[2] - $mean[2]) ** 2) / $n;
            $wide += hypot($q[0] - $mean[3], $q[1] - $mean[4]) / $n;
        }
        if ($far <= 0 || $wide <= 0) {
            return null;
        }
        [$s, $t] = [sqrt(3) / $far, M_SQRT2 / $wide];
        $sum = array_fill(0, 12, array_fill(0, 12, 0.0));
        foreach ($points as ['place' => $p, 'pixel' => $q]) {
            [$x, $y, $z] = [($p[0] - $mean[0]) * $s, ($p[1] - $mean[1]) * $s, ($p[2] - $mean[2]) * $s];
            [$u, $v] = [($q[0] - $mean[3]) * $t, ($q[1] - $mean[4]) * $t];
            foreach (
                [
                    [$x, $y, $z, 1.0, 0.0, 0.0, 0.0, 0.0, -$u * $x, -$u * $y, -$u * $z, -$u],
                    [0.0, 0.0, 0.0, 0.0, $x, $y, $z, 1.0, -$v * $x, -$v * $y, -$v * $z, -$v],
                ] as $row
            ) {
                for ($r = 0; $r < 12; $r++) {
                    for ($c = 0; $c < 12; $c++) {
                        $sum[$r][$c] += $row[$r] * $row[$c];
                    }
                }
            }
        }
        [, $vectors] = Linear::eigen($sum);
        $h = $vectors[0];
        // Out of the coordinates brought to the middle.
        $rows = [];
        for ($r = 0; $r < 3; $r++) {
            $a = array_slice($h, 4 * $r, 4);
            $b = array_slice($h, 8, 4);
            $k = $r < 2 ? $mean[3 + $r] : 0.0;
            $row = $r < 2 ? array_map(static fn (float $x, float $y): float => $x / $t + $k * $y, $a, $b) : $b;
            $rows[] = [
                $row[0] * $s,
                $row[1] * $s,
                $row[2] * $s,
                $row[3] - $s * ($row[0] * $mean[0] + $row[1] * $mean[1] + $row[2] * $mean[2]),
            ];
        }
        $length = sqrt($rows[2][0] ** 2 + $rows[2][1] ** 2 + $rows[2][2] ** 2);
        if ($length <= 1e-12) {
            return null;
        }
        $first = $points[0]['place'];
        $sign = $rows[2][0] * $first[0] + $rows[2][1] * $first[1] + $rows[2][2] * $first[2] + $rows[2][3] < 0 ? -1 : 1;
        $rows = array_map(
            static fn (array $row): array => array_map(static fn (float $v): float => ($v * $sign) / $length, $row),
            $rows,
        );
        $m = array_map(static fn (array $row): Vec3 => Vec3::of($row[0], $row[1], $row[2]), $rows);
        $forward = $m[2];
        [$cx, $cy] = [$m[0]->dot($forward), $m[1]->dot($forward)];
        $right = $m[0]->minus($forward->times($cx));
        $f = ($right->length() + $m[1]->minus($forward->times($cy))->length()) / 2;
        $place = Linear::solve(
            array_map(static fn (array $row): array => [$row[0], $row[1], $row[2]], $rows),
            array_map(static fn (array $row): float => -$row[3], $rows),
        );
        if ($place === null || $right->length() < 1e-12) {
            return null;
        }
        $right = $right->unit();
        // X to the right, Y down and Z forward are right-handed: what is not was seen in a mirror.
        $down = $forward->cross($right);

        return $down->dot($m[1]) <= 0
            ? null
            : [self::matrix($right, $down->times(-1), $forward->times(-1), $place), $f, $cx, $cy];
    }

    /**
     * By the homography of a plane through the points.
     *
     * @param  list<array{place: array{float, float, float}, pixel: array{float, float}}>  $points
     * @return list<Mat4>
     */
    private static function planar(array $points, float $f, float $cx, float $cy): array
    {
        $n = count($points);
        $middle = Vec3::of(
            ...array_map(
                static fn (int $k): float => array_sum(
                    array_map(static fn (array $p): float => $p['place'][$k], $points),
                ) / $n,
                [0, 1, 2],
            ),
        );
        $sum = [[0.0, 0.0, 0.0], [0.0, 0.0, 0.0], [0.0, 0.0, 0.0]];
        foreach ($points as ['place' => $p]) {
            $d = Vec3::of(...$p)->minus($middle)->toArray();
            for ($r = 0; $r < 3; $r++) {
                for ($c = 0; $c < 3; $c++) {
                    $sum[$r][$c] += $d[$r] * $d[$c];
                }
            }
        }
        [, $vectors] = Linear::eigen($sum);
        $found = [];
        [$e1, $e2] = [
            Vec3::of($vectors[2][0], $vectors[2][1], $vectors[2][2]),
            Vec3::of($vectors[1][0], $vectors[1][1], $vectors[1][2]),
        ];
        $from = array_map(
            static fn (array $p): array => [
                Vec3::of(...$p['place'])->minus($middle)->dot($e1),
                Vec3::of(...$p['place'])->minus($middle)->dot($e2),
            ],
            $points,
        );
        $to = array_map(
            static fn (array $p): array => [($p['pixel'][0] - $cx) / $f, ($p['pixel'][1] - $cy) / $f],
            $points,
        );
        $h = Homography::of($from, $to)?->m;
        if ($h === null) {
            return [];
        }
        [$h1, $h2, $h3] = [Vec3::of($h[0], $h[3], $h[6]), Vec3::of($h[1], $h[4], $h[7]), Vec3::of($h[2], $h[5], $h[8])];
        $scale = 2 / ($h1->length() + $h2->length());
        foreach ([1, -1] as $sign) {
            // The plane's axes and its origin as the lens sees them: X to the right, Y down, Z forward.
            $a = $h1->times($sign * $scale)->unit();
            $b = $h2->times($sign * $scale);
            $c = $a->cross($b);
            if ($c->length() < 1e-9) {
                continue;
            }
            $c = $c->unit();
            $b = $c->cross($a);
            $t = $h3->times($sign * $scale);
            if ($t->z <= 0) {
                continue;
            }
            $e3 = $e1->cross($e2);
            // Venue directions of the lens's axes: each is the sum over the plane's axes.
            $axis = static fn (string $k): Vec3 => $e1
                ->times($a->$k)
                ->plus($e2->times($b->$k))
                ->plus($e3->times($c->$k));
            [$right, $down, $forward] = [$axis('x'), $axis('y'), $axis('z')];
            $place = $middle->minus($right->times($t->x))->minus($down->times($t->y))->minus($forward->times($t->z));
            $found[] = self::matrix($right, $down->times(-1), $forward->times(-1), $place->toArray());
        }

        return $found;
    }

    /** @param  array<float>  $place */
    private static function matrix(Vec3 $right, Vec3 $up, Vec3 $back, array $place): Mat4
    {
        [$x, $y, $z] = array_values($place);

        return Mat4::of([
            $right->x,
            $right->y,
            $right->z,
            0.0,
            $up->x,
            $up->y,
            $up->z,
            0.0,
            $back->x,
            $back->y,
            $back->z,
            0.0,
            $x,
            $y,
            $z,
            1.0,
        ]);
    }

    /**
     * Least squares from a start.
     *
     * @param  list<array{place: array{float, float, float}, pixel: array{float, float}}>  $points
     * @return array{p: list<float>, rotation: list<float>, rms: float}|null null where a point would lie behind the
     *     lens
     */
    private static function met(
        array $points,
        Mat4 $start,
        float $f,
        float $cx,
        float $cy,
        float $k,
        bool $knownLens,
        bool $radial,
    ): ?array {
        $m = $start->m;
        $rotation = [$m[0], $m[1], $m[2], $m[4], $m[5], $m[6], $m[8], $m[9], $m[10]];
        // Place, turn about the present axes, then logarithm of f, middle of the lens, distortion; what is known stays.
        $p = [$m[12], $m[13], $m[14], 0.0, 0.0, 0.0, log($f), $cx, $cy, $k];
        $free = [0, 1, 2, 3, 4, 5, ...$knownLens ? [] : [6, 7, 8], ...$radial ? [9] : []];
        $r = self::residuals($points, $p, $rotation);
        if ($r === null) {
            return null;
        }
        $cost = self::squares($r);
        $damp = 1e-3;
        for ($i = 0; $i < 100; $i++) {
            [$a, $g] = self::normal($points, $p, $rotation, $free, $r);
            $better = false;
            for ($try = 0; $try < 12 && ! $better; $try++) {
                $damped = $a;
                foreach ($free as $k => $ignored) {
                    $damped[$k][$k] += $damp * max(1e-12, $a[$k][$k]);
                }
                $step = Linear::solve($damped, array_map(static fn (float $v): float => -$v, $g));
                if ($step !== null) {
                    $next = $p;
                    foreach ($free as $k => $at) {
                        $next[$at] += $step[$k];
                    }
                    $turned = self::turned($rotation, $next[3], $next[4], $next[5]);
                    [$next[3], $next[4], $next[5]] = [0.0, 0.0, 0.0];
                    $new = self::residuals($points, $next, $turned);
                    if ($new !== null && self::squares($new) < $cost) {
                        $gained = $cost - self::squares($new);
                        [$p, $rotation, $r, $cost] = [$next, $turned, $new, self::squares($new)];
                        $better = true;
                        $damp = max(1e-12, $damp / 10);
                        if ($gained <= 1e-14 * $cost + 1e-20) {
                            break 2;
                        }
                    }
                }
                if (! $better) {
                    $damp *= 10;
                }
            }
            if (! $better) {
                break;
            }
        }

        return ['p' => $p, 'rotation' => $rotation, 'rms' => sqrt($cost / count($points))];
    }

    /**
     * JᵀJ and Jᵀr, by central differences.
     *
     * @param  list<array{place: array{float, float, float}, pixel: array{float, float}}>  $points
     * @param  list<float>  $p
     * @param  list<float>  $rotation
     * @param  list<int>  $free
     * @param  list<float>  $r
     * @return array{list<list<float>>, list<float>}
     */
    private static function normal(array $points, array $p, array $rotation, array $free, array $r): array
    {
        $columns = [];
        foreach ($free as $at) {
            $e = match (true) {
                $at < 3 => 1e-5,
                $at < 7 => 1e-6,
                $at < 9 => 1e-3,
                default => 1e-6,
            };
            [$plus, $minus] = [$p, $p];
            $plus[$at] += $e;
            $minus[$at] -= $e;
            $a = self::residuals($points, $plus, self::turned($rotation, $plus[3], $plus[4], $plus[5])) ?? $r;
            $b = self::residuals($points, $minus, self::turned($rotation, $minus[3], $minus[4], $minus[5])) ?? $r;
            $columns[] = array_map(static fn (float $x, float $y): float => ($x - $y) / (2 * $e), $a, $b);
        }
        [$matrix, $vector] = [[], []];
        foreach ($columns as $a) {
            $matrix[] = array_map(
                static fn (array $b): float => array_sum(
                    array_map(static fn (float $x, float $y): float => $x * $y, $a, $b),
                ),
                $columns,
            );
            $vector[] = (float) array_sum(array_map(static fn (float $x, float $y): float => $x * $y, $a, $r));
        }

        return [$matrix, $vector];
    }

    /**
     * @param  list<float>  $rotation  right, up and back in the venue
     * @return list<float> turned about its own axes (Rodrigues)
     */
    private static function turned(array $rotation, float $x, float $y, float $z): array
    {
        $angle = sqrt($x * $x + $y * $y + $z * $z);
        if ($angle < 1e-300) {
            return $rotation;
        }
        [$x, $y, $z] = [$x / $angle, $y / $angle, $z / $angle];
        [$c, $s] = [cos($angle), sin($angle)];
        $d = 1 - $c;
        $by = [
            [$c + $x * $x * $d, $x * $y * $d - $z * $s, $x * $z * $d + $y * $s],
            [$y * $x * $d + $z * $s, $c + $y * $y * $d, $y * $z * $d - $x * $s],
            [$z * $x * $d - $y * $s, $z * $y * $d + $x * $s, $c + $z * $z * $d],
        ];
        $out = [];
        for ($column = 0; $column < 3; $column++) {
            for ($k = 0; $k < 3; $k++) {
                $out[] =
                    $rotation[$k] * $by[0][$column] +
                    $rotation[3 + $k] * $by[1][$column] +
                    $rotation[6 + $k] * $by[2][$column];
            }
        }

        return $out;
    }

    /**
     * @param  list<array{place: array{float, float, float}, pixel: array{float, float}}>  $points
     * @param  array<int, float>  $p
     * @param  list<float>  $o  right, up and back in the venue
     * @return list<float>|null x and y of each point; null where one lies behind the lens
     */
    private static function residuals(array $points, array $p, array $o): ?array
    {
        $f = exp($p[6]);
        $r = [];
        foreach ($points as ['place' => [$x, $y, $z], 'pixel' => [$u, $v]]) {
            [$dx, $dy, $dz] = [$x - $p[0], $y - $p[1], $z - $p[2]];
            $depth = -($o[6] * $dx + $o[7] * $dy + $o[8] * $dz);
            if ($depth < 1e-3) {
                return null;
            }
            [$a, $b] = [
                ($o[0] * $dx + $o[1] * $dy + $o[2] * $dz) / $depth,
                ($o[3] * $dx + $o[4] * $dy + $o[5] * $dz) / $depth,
            ];
            $s = 1 + $p[9] * ($a * $a + $b * $b);
            $r[] = $p[7] + $f * $a * $s - $u;
            $r[] = $p[8] - $f * $b * $s - $v;
        }

        return $r;
    }

    /** @param  list<float>  $r */
    private static function squares(array $r): float
    {
        $sum = 0.0;
        foreach ($r as $v) {
            $sum += $v * $v;
        }

        return $sum;
    }

    /**
     * @param  array{p: list<float>, rotation: list<float>, rms: float}  $met
     * @param  list<array{place: array{float, float, float}, pixel: array{float, float}}>  $points
     */
    private static function made(array $met, array $points, Lens $lens, bool $knownLens, bool $radial, ?int $bad): self
    {
        ['p' => $p, 'rotation' => $o, 'rms' => $rms] = $met;
        $r = self::residuals($points, $p, $o) ?? [];
        $free = [0, 1, 2, 3, 4, 5, ...$knownLens ? [] : [6, 7, 8], ...$radial ? [9] : []];
        [$a] = self::normal($points, $p, $o, $free, $r);
        $left = count($r) - count($free);
        $spread = 0.0;
        foreach ([0, 1, 2] as $k) {
            $column = Linear::solve(
                $a,
                array_map(static fn (int $at): float => $at === $k ? 1.0 : 0.0, array_keys($free)),
            );
            $spread += $column === null || $left < 1 ? 0.0 : (max(0.0, $column[$k]) * self::squares($r)) / $left;
        }
        $f = exp($p[6]);
        $pose = Pose::fromMatrix(self::placed($p, $o));
        $long = $lens->portrait ? $lens->heightPx : $lens->widthPx;

        return new self(
            $pose,
            $f / $long,
            0.5 - $p[7] / $lens->widthPx,
            $p[8] / $lens->heightPx - 0.5,
            $p[9],
            array_map(static fn (array $xy): float => hypot($xy[0], $xy[1]), array_chunk($r, 2)),
            $rms,
            sqrt($spread),
            $bad,
        );
    }
}
