<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Light\Beam;
use Core\Light\Body;
use Core\Light\Scene;
use Core\Output\DeliveryMesh;
use Core\Output\ModelWarp;
use Core\Output\Output;
use Core\Output\ProjectedRegion;
use Core\Output\Rect;
use Core\Output\Region;
use Core\Output\SeenTriangles;
use Core\Venue\Face;
use Core\Venue\Feeding;
use Core\Venue\Material;
use Core\Venue\Projector;
use Core\Venue\Surface;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What a projector lights of a surface, against rays that are worked out here by the formulas of each shape. */
final class ModelWarpTest extends TestCase
{
    /** Pixels of the projectors here. */
    private const SIZE = [192, 120];

    private const THROW = 1.2;

    /** Pixels of the output by which a place may be missed. */
    private const MISS = 0.05;

    /**
     * @param  array<string, mixed>  $shape
     * @param  array<string, mixed>  $material
     */
    private static function surface(string $kind, array $shape, array $material = []): Surface
    {
        return new Surface(
            'f',
            'Face',
            Pose::of(Vec3::zero()),
            Face::fromRow($kind, $shape + ['rasterWidth' => 1600, 'rasterHeight' => 1000]),
            Feeding::fromRow([]),
            Material::fromRow($material),
        );
    }

    /** @param  array{float, float, float}  $at  the middle of its foot */
    private static function board(float $width, float $height, array $at, string $id = 'b'): Body
    {
        return new Body(
            $id,
            'Board',
            Face::fromRow('flat', ['width' => $width, 'height' => $height])->mesh(),
            Pose::of(Vec3::of(...$at))->matrix(),
            null,
        );
    }

    private static function scene(Surface $surface, Body ...$more): Scene
    {
        return Scene::of([
            new Body('f', 'Face', $surface->carrier->mesh(), $surface->pose->matrix(), $surface->material, 1600, 1000),
            ...array_values($more),
        ]);
    }

    /**
     * @param  array{0: float, 1: float, 2: float, 3: float, 4: float, 5: float, 6?: float}  $pose  x, y, z, yaw, pitch,
     *     roll, distortion
     */
    private static function projected(array $pose, ?Rect $source = null): ProjectedRegion
    {
        [$width, $height] = self::SIZE;
        $lens = [
            'widthPx' => $width,
            'heightPx' => $height,
            'throw' => self::THROW,
            'distortion' => $pose[6] ?? 0.0,
        ];

        return new ProjectedRegion(
            'r',
            Region::of('f', $source ?? Rect::of(0, 0, 1600, 1000), 0, 0, width: $width, height: $height),
            Rect::of(0, 0, $width, $height),
            new Beam(
                'p',
                Projector::fromRow(['name' => 'P', 'lens' => $lens]),
                Pose::of(Vec3::of($pose[0], $pose[1], $pose[2]), $pose[3], $pose[4], $pose[5])->matrix(),
            ),
        );
    }

    /**
     * A direction turned by roll, pitch and yaw, one after another.
     *
     * @param  array{float, float, float}  $v
     * @param  array{0: float, 1: float, 2: float, 3: float, 4: float, 5: float, 6?: float}  $pose
     * @return array{float, float, float}
     */
    private static function turned(array $v, array $pose): array
    {
        [$x, $y, $z] = $v;
        [, , , $yaw, $pitch, $roll] = array_map(deg2rad(...), $pose);
        [$x, $y] = [$x * cos($roll) - $y * sin($roll), $x * sin($roll) + $y * cos($roll)];
        [$y, $z] = [$y * cos($pitch) - $z * sin($pitch), $y * sin($pitch) + $z * cos($pitch)];

        return [$x * cos($yaw) + $z * sin($yaw), $y, -$x * sin($yaw) + $z * cos($yaw)];
    }

    /**
     * The direction of a pixel of the picture.
     *
     * @param  array{0: float, 1: float, 2: float, 3: float, 4: float, 5: float, 6?: float}  $pose
     * @return array{float, float, float}
     */
    private static function ray(float $px, float $py, array $pose): array
    {
        [$width, $height] = self::SIZE;
        [$x, $y] = [($px / $width - 0.5) / self::THROW, ((0.5 - $py / $height) * $height) / $width / self::THROW];
        // What a straight lens has there, this one has where r (1 + k r²) is as much: by halving.
        $far = hypot($x, $y);
        [$low, $high] = [0.0, 1.0];
        for ($i = 0; $i < 60; $i++) {
            $r = ($low + $high) / 2;
            $r * (1 + ($pose[6] ?? 0.0) * $r * $r) < $far ? ($low = $r) : ($high = $r);
        }
        $by = $far > 0 ? $low / $far : 1.0;

        return self::turned([$by * $x, $by * $y, -1.0], $pose);
    }

    /**
     * The pixel at which a place is seen.
     *
     * @param  array{float, float, float}  $place
     * @param  array{0: float, 1: float, 2: float, 3: float, 4: float, 5: float, 6?: float}  $pose
     * @return array{float, float}
     */
    private static function pixel(array $place, array $pose): array
    {
        // Its directions are the columns of the rotation.
        $to = [$place[0] - $pose[0], $place[1] - $pose[1], $place[2] - $pose[2]];
        $along = static function (array $axis) use ($to, $pose): float {
            [$x, $y, $z] = self::turned($axis, $pose);

            return $x * $to[0] + $y * $to[1] + $z * $to[2];
        };
        [$x, $y, $deep] = [$along([1.0, 0.0, 0.0]), $along([0.0, 1.0, 0.0]), -$along([0.0, 0.0, 1.0])];
        [$width, $height] = self::SIZE;
        $by = 1 + ($pose[6] ?? 0.0) * (($x / $deep) ** 2 + ($y / $deep) ** 2);

        return [
            ((self::THROW * $by * $x) / $deep + 0.5) * $width,
            (0.5 - (self::THROW * $by * $y * $width) / $deep / $height) * $height,
        ];
    }

    /**
     * Where a ray meets a rectangle.
     *
     * @param  array{float, float, float}  $o
     * @param  array{float, float, float}  $d
     * @param  array{float, float, float}  $corner
     * @param  array{float, float, float}  $right
     * @param  array{float, float, float}  $up
     * @return list<array{float, float, float, bool}> how far, along and up of it, and whether its front
     */
    private static function rectangle(array $o, array $d, array $corner, array $right, array $up): array
    {
        $n = [
            $right[1] * $up[2] - $right[2] * $up[1],
            $right[2] * $up[0] - $right[0] * $up[2],
            $right[0] * $up[1] - $right[1] * $up[0],
        ];
        $dot = static fn (array $a, array $b): float => $a[0] * $b[0] + $a[1] * $b[1] + $a[2] * $b[2];
        $against = $dot($n, $d);
        if ($against === 0.0) {
            return [];
        }
        $t = $dot($n, [$corner[0] - $o[0], $corner[1] - $o[1], $corner[2] - $o[2]]) / $against;
        $p = [];
        for ($i = 0; $i < 3; $i++) {
            $p[] = $o[$i] + $t * $d[$i] - $corner[$i];
        }
        [$s, $q] = [$dot($p, $right) / $dot($right, $right), $dot($p, $up) / $dot($up, $up)];

        return $t > 0 && $s >= 0 && $s <= 1 && $q >= 0 && $q <= 1 ? [[$t, $s, $q, $against < 0]] : [];
    }

    /**
     * Where a ray meets a drum on the axis of the widest one.
     *
     * @param  array{float, float, float}  $o
     * @param  array{float, float, float}  $d
     * @return list<array{float, float, float, bool}> how far, angle from its middle in radians, height, and whether
     *     from outside
     */
    private static function drum(
        array $o,
        array $d,
        float $radius,
        float $axis,
        float $arc,
        float $from,
        float $to,
    ): array {
        [$x, $z] = [$o[0], $o[2] - $axis];
        [$a, $b, $c] = [$d[0] ** 2 + $d[2] ** 2, $x * $d[0] + $z * $d[2], $x * $x + $z * $z - $radius ** 2];
        $root = $b * $b - $a * $c;
        $found = [];
        foreach ($root < 0 ? [] : [-1, 1] as $sign) {
            $t = (-$b + $sign * sqrt($root)) / $a;
            [$px, $py, $pz] = [$x + $t * $d[0], $o[1] + $t * $d[1], $z + $t * $d[2]];
            $angle = atan2($px, $pz);
            if ($t > 0 && abs($angle) <= deg2rad($arc / 2) && $py >= $from && $py <= $to) {
                $found[] = [$t, $angle, $py, $px * $d[0] + $pz * $d[2] < 0];
            }
        }

        return $found;
    }

    /**
     * What of a surface each ray meets first; what is in its way counts as met in the back.
     *
     * @return iterable<string, array{Surface, list<Body>, list<array{0: float, 1: float, 2: float, 3: float, 4: float, 5: float, 6?: float}>, \Closure, \Closure}>
     */
    public static function venues(): iterable
    {
        // Of each: the surface, bodies, poses; what a ray meets, as distance, u, v, front; and where u, v is.
        [$w, $d, $h] = [3.0, 2.0, 2.5];
        $around = 2 * ($w + $d);
        $sides = [
            [[-$w / 2, 0.0, -$d], [0.0, 0.0, $d], 0.0, $d],
            [[-$w / 2, 0.0, 0.0], [$w, 0.0, 0.0], $d, $w],
            [[$w / 2, 0.0, 0.0], [0.0, 0.0, -$d], $d + $w, $d],
            [[$w / 2, 0.0, -$d], [-$w, 0.0, 0.0], 2 * $d + $w, $w],
        ];
        yield 'a box' => [
            self::surface('box', ['width' => $w, 'depth' => $d, 'height' => $h, 'sides' => 'left,front,right,back']),
            [],
            [[-4.0, 1.2, 4.0, -45.0, 0.0, 0.0], [0.2, 1.0, 5.0, 4.0, 2.0, 7.0], [3.9, 4.0, -6.0, 140.0, -20.0, 0.0]],
            static function (array $o, array $r) use ($sides, $h, $around): array {
                $met = [];
                foreach ($sides as [$corner, $right, $from, $length]) {
                    foreach (self::rectangle($o, $r, $corner, $right, [0.0, $h, 0.0]) as [$t, $s, $q, $front]) {
                        $met[] = [$t, ($from + $s * $length) / $around, 1 - $q, $front];
                    }
                }

                return $met;
            },
            static function (float $u, float $v) use ($sides, $h, $around): array {
                foreach ($sides as [$corner, $right, $from, $length]) {
                    $s = ($u * $around - $from) / $length;
                    if ($s <= 1 + 1e-9) {
                        break;
                    }
                }

                return [$corner[0] + $s * $right[0], $h * (1 - $v), $corner[2] + $s * $right[2]];
            },
        ];
        foreach ([[1.7, 180.0], [3.0, 360.0], [0.4, 90.0]] as [$radius, $arc]) {
            yield "a drum of $radius m, {$arc}°" => [
                self::surface('drum', ['radius' => $radius, 'arc' => $arc, 'height' => 2]),
                [],
                [
                    [0.0, 1.0, 2.5 * $radius + 1, 0.0, 0.0, 0.0],
                    [-2.1 * $radius, 1.8, 2.0 * $radius, -50.0, -8.0, 5.0],
                    [2.4 * $radius, 0.3, 1.5 * $radius, 48.0, 12.0, 0.0],
                ],
                static fn (array $o, array $r): array => array_map(
                    static fn (array $m): array => [$m[0], 0.5 + $m[1] / deg2rad($arc), 1 - $m[2] / 2, $m[3]],
                    self::drum($o, $r, $radius, -$radius, $arc, 0, 2),
                ),
                static function (float $u, float $v) use ($radius, $arc): array {
                    $a = deg2rad($arc) * ($u - 0.5);

                    return [$radius * sin($a), 2 * (1 - $v), $radius * (cos($a) - 1)];
                },
            ];
        }
        $tiers = [[2.0, 0.0, 1.0], [1.4, 1.0, 1.8], [0.8, 1.8, 2.5]];
        $across = 2.0 * deg2rad(200);
        yield 'stacked tiers' => [
            self::surface('drums', ['tiers' => '2 × 1; 1.4 × 0.8; 0.8 × 0.7', 'arc' => 200]),
            [],
            [[0.5, 1.2, 5.0, 6.0, 0.0, 0.0], [-3.0, 4.0, 2.0, -50.0, -35.0, 0.0], [2.0, 0.2, 3.0, 30.0, 20.0, -12.0]],
            static function (array $o, array $r) use ($tiers, $across): array {
                $met = [];
                foreach ($tiers as [$radius, $from, $to]) {
                    foreach (self::drum($o, $r, $radius, -2.0, 200, $from, $to) as [$t, $a, $y, $front]) {
                        $met[] = [$t, 0.5 + ($a * $radius) / $across, 1 - $y / 2.5, $front];
                    }
                }

                return $met;
            },
            static function (float $u, float $v) use ($tiers, $across): array {
                $y = 2.5 * (1 - $v);
                foreach ($tiers as [$radius, , $to]) {
                    if ($y <= $to) {
                        break;
                    }
                }
                $a = (($u - 0.5) * $across) / $radius;

                return [$radius * sin($a), $y, $radius * cos($a) - 2];
            },
        ];
        foreach (
            [
                [5.0, 170.0, 40.0, false, [[0.0, 0.0, 2.0, 0.0, 35.0, 0.0], [1.5, -0.5, 1.0, 20.0, 60.0, 0.0]]],
                [2.0, 160.0, 0.0, true, [[0.5, 0.4, 6.0, 4.0, -2.0, 9.0], [-4.5, 1.0, 1.5, -70.0, -8.0, 0.0]]],
                [15.0, 180.0, 90.0, false, [[3.0, 0.5, 8.0, 15.0, 40.0, 0.0]]],
                [25.0, 150.0, 60.0, false, [[0.0, 0.0, 12.0, 0.0, 50.0, 0.0]]],
            ] as [$radius, $arc, $tilt, $outside, $poses]
        ) {
            $turn = deg2rad($outside ? -$tilt : $tilt);
            $toward = $outside ? 1 : -1;
            yield "a dome of $radius m, {$arc}°, ".($outside ? 'from outside' : 'from within') => [
                self::surface('dome', [
                    ...['radius' => $radius, 'arc' => $arc, 'tilt' => $tilt, 'outside' => $outside],
                    ...['rasterWidth' => 1600, 'rasterHeight' => 1000],
                ]),
                [],
                $poses,
                static function (array $o, array $r) use ($radius, $arc, $turn, $outside, $toward): array {
                    $dot = static fn (array $a, array $b): float => $a[0] * $b[0] + $a[1] * $b[1] + $a[2] * $b[2];
                    [$a, $b, $c] = [$dot($r, $r), $dot($o, $r), $dot($o, $o) - $radius ** 2];
                    $root = $b * $b - $a * $c;
                    $met = [];
                    foreach ($root < 0 ? [] : [-1, 1] as $sign) {
                        $t = (-$b + $sign * sqrt($root)) / $a;
                        [$x, $y, $z] = [$o[0] + $t * $r[0], $o[1] + $t * $r[1], $o[2] + $t * $r[2]];
                        // Before it was tilted, seen along its pole.
                        [$py, $pz] = [
                            $y * cos($turn) + $z * sin($turn),
                            $toward * (-$y * sin($turn) + $z * cos($turn)),
                        ];
                        $polar = acos(max(-1.0, min(1.0, $pz / $radius)));
                        if ($t <= 0 || $polar > deg2rad($arc / 2)) {
                            continue;
                        }
                        $far = $polar / deg2rad($arc / 2) / 2;
                        $round = atan2($py, $x);
                        $outer = $x * $r[0] + $y * $r[1] + $z * $r[2] < 0;
                        $met[] = [$t, 0.5 + $far * cos($round), 0.5 - $far * sin($round), $outer === $outside];
                    }

                    return $met;
                },
                static function (float $u, float $v) use ($radius, $arc, $turn, $toward): array {
                    [$dx, $dy] = [$u - 0.5, 0.5 - $v];
                    $polar = deg2rad($arc / 2) * 2 * hypot($dx, $dy);
                    $round = atan2($dy, $dx);
                    [$y, $z] = [$radius * sin($polar) * sin($round), $toward * $radius * cos($polar)];

                    return [
                        $radius * sin($polar) * cos($round),
                        $y * cos($turn) - $z * sin($turn),
                        $y * sin($turn) + $z * cos($turn),
                    ];
                },
            ];
        }
        // A picture of 4.5 × 2.8 m, at any place.
        $far = 4.5 * self::THROW;
        yield 'a façade of 40 × 12 m' => [
            self::surface('flat', ['width' => 40, 'height' => 12]),
            [],
            [
                [0.0, 6.0, $far, 0.0, 0.0, 0.0],
                [-17.1, 1.5, $far, 0.0, 0.0, 0.0],
                [13.3, 9.7, $far, -20.0, 5.0, 0.0],
                [19.5, 11.5, $far, 0.0, 0.0, 45.0],
            ],
            static fn (array $o, array $r): array => array_map(
                static fn (array $m): array => [$m[0], $m[1], 1 - $m[2], $m[3]],
                self::rectangle($o, $r, [-20.0, 0.0, 0.0], [40.0, 0.0, 0.0], [0.0, 12.0, 0.0]),
            ),
            static fn (float $u, float $v): array => [40 * $u - 20, 12 * (1 - $v), 0.0],
        ];
        // Bars of 8 cm, 12 cm apart, two metres before a face: through each gap a strip of it is lit.
        $bars = array_map(
            static fn (int $k): Body => self::board(0.08, 4, [-1.5 + 0.2 * $k, 0.0, 2.0], "b$k"),
            range(0, 15),
        );
        yield 'a back face behind frames' => [
            self::surface('flat', ['width' => 3, 'height' => 2]),
            $bars,
            [[0.0, 1.0, 5.0, 0.0, 0.0, 0.0], [1.0, 1.5, 4.5, 14.0, -6.0, 0.0]],
            static function (array $o, array $r): array {
                $met = array_map(
                    static fn (array $m): array => [$m[0], $m[1], 1 - $m[2], $m[3]],
                    self::rectangle($o, $r, [-1.5, 0.0, 0.0], [3.0, 0.0, 0.0], [0.0, 2.0, 0.0]),
                );
                for ($k = 0; $k < 16; $k++) {
                    $corner = [-1.5 + 0.2 * $k - 0.04, 0.0, 2.0];
                    foreach (self::rectangle($o, $r, $corner, [0.08, 0.0, 0.0], [0.0, 4.0, 0.0]) as [$t]) {
                        $met[] = [$t, 0.0, 0.0, false];
                    }
                }

                return $met;
            },
            static fn (float $u, float $v): array => [3 * $u - 1.5, 2 * (1 - $v), 0.0],
        ];
    }

    /**
     * @param  list<Body>  $bodies
     * @param  list<array{0: float, 1: float, 2: float, 3: float, 4: float, 5: float, 6?: float}>  $poses
     * @param  \Closure(array{float, float, float}, array{float, float, float}): list<array{float, float, float, bool}>  $meets
     * @param  \Closure(float, float): array{float, float, float}  $place
     */
    #[DataProvider('venues')]
    public function test_every_pixel_shows_the_place_that_it_lights_and_no_other(
        Surface $surface,
        array $bodies,
        array $poses,
        \Closure $meets,
        \Closure $place,
    ): void {
        $scene = self::scene($surface, ...$bodies);
        [$width, $height] = self::SIZE;
        // By straight lenses, and by some that draw the corners out and in.
        foreach ([...$poses, [...$poses[0], 0.25], [...$poses[count($poses) - 1], -0.2]] as $n => $pose) {
            $first = static function (float $x, float $y) use ($pose, $meets): ?array {
                $met = $meets([$pose[0], $pose[1], $pose[2]], self::ray($x, $y, $pose));
                usort($met, static fn (array $a, array $b): int => $a[0] <=> $b[0]);

                return $met !== [] && $met[0][3] ? $met[0] : null;
            };
            $of = self::projected($pose);
            $warp = ModelWarp::of($surface, $of, $scene, 0);
            self::assertLessThanOrEqual(self::MISS, $warp->error);
            $seen = SeenTriangles::of(DeliveryMesh::of($of->region, $warp));
            [$lit, $worst, $wrong] = [0, 0.0, []];
            for ($y = 0.5; $y < $height; $y++) {
                for ($x = 0.5; $x < $width; $x++) {
                    [$true, $found] = [$first($x, $y), $seen->at($x, $y)];
                    $lit += $true === null ? 0 : 1;
                    if ($true !== null && $found !== null) {
                        $at = self::pixel($place($found[0][0] / 1600, $found[0][1] / 1000), $pose);
                        $miss = hypot($at[0] - $x, $at[1] - $y);
                        $worst = $miss > $worst && $miss < 0.5 ? $miss : $worst;
                        if ($miss <= self::MISS) {
                            continue;
                        }
                    } elseif ($true === $found) {
                        continue;
                    }
                    // At an outline, rays beside it by as much as may be missed meet something else.
                    $beside = [];
                    foreach ([[-1, 0], [1, 0], [0, -1], [0, 1], [-1, -1], [1, 1], [-1, 1], [1, -1]] as [$i, $j]) {
                        $other = $first($x + $i * self::MISS, $y + $j * self::MISS);
                        $beside[] = $other === null ? null : [round($other[1] * 20), round($other[2] * 20)];
                    }
                    if (count(array_unique($beside, SORT_REGULAR)) === 1) {
                        $wrong[] = [$x, $y, $true === null ? 'dark' : 'lit', $found === null ? 'dark' : 'lit'];
                    }
                }
            }
            self::assertSame([], array_slice($wrong, 0, 8), "pose $n: ".count($wrong).' wrong of '.$lit);
            self::assertLessThan(self::MISS, $worst);
            self::assertGreaterThan(200, $lit, "pose $n lights something");
        }
    }
}
