<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Geometry\Bvh;
use Core\Geometry\Mat4;
use Core\Geometry\Mesh;
use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Light\Arrival;
use Core\Light\Beam;
use Core\Light\BeamLanding;
use Core\Light\Body;
use Core\Light\Caster;
use Core\Light\Casts;
use Core\Light\FaceCells;
use Core\Light\FaceLight;
use Core\Light\LensFit;
use Core\Light\Report;
use Core\Light\SampleGrid;
use Core\Light\Scene;
use Core\Light\SceneCasts;
use Core\Light\Sight;
use Core\Units\InvalidValue;
use Core\Venue\Carrier;
use Core\Venue\Face;
use Core\Venue\Lens;
use Core\Venue\Material;
use Core\Venue\Panel;
use Core\Venue\Projector;
use Core\Venue\Wall;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class LightTest extends TestCase
{
    /** @param  array<string, mixed>  $material */
    private static function face(string $id, Face $face, Pose $pose, array $material = []): Body
    {
        return new Body(
            $id,
            $id,
            $face->mesh(),
            $pose->matrix(),
            Material::fromRow($material),
            $face->rasterWidth(),
            $face->rasterHeight(),
        );
    }

    /**
     * @param  array<string, mixed>  $lens
     * @param  list<string>  $aims
     */
    private static function beam(
        Pose $pose,
        array $lens = [],
        float $lumens = 10_000,
        array $aims = [],
        bool $mirrored = false,
    ): Beam {
        return new Beam(
            'p',
            Projector::fromRow([
                'name' => 'P',
                'lens' => $lens + ['throw' => 2.0, 'throwMin' => 0.5, 'throwMax' => 5],
                'lumens' => $lumens,
                'aims' => $aims,
                'mirrored' => $mirrored,
            ]),
            $pose->matrix(),
        );
    }

    private static function at(float $x, float $y, float $z): Pose
    {
        return Pose::of(Vec3::of($x, $y, $z));
    }

    public function test_the_tree_finds_what_a_loop_over_all_triangles_finds(): void
    {
        mt_srand(11);
        [$positions, $indices] = [[], []];
        for ($i = 0; $i < 150; $i++) {
            $middle = [mt_rand(-500, 500) / 100, mt_rand(-500, 500) / 100, mt_rand(-500, 500) / 100];
            for ($k = 0; $k < 9; $k++) {
                $positions[] = $middle[$k % 3] + mt_rand(-200, 200) / 100;
            }
            array_push($indices, 3 * $i, 3 * $i + 1, 3 * $i + 2);
        }
        $tree = Bvh::of($positions, $indices);
        $met = 0;
        for ($r = 0; $r < 200; $r++) {
            $o = [mt_rand(-900, 900) / 100, mt_rand(-900, 900) / 100, 9.0];
            $d = [mt_rand(-100, 100) / 100, mt_rand(-100, 100) / 100, -1.0];
            $best = INF;
            for ($t = 0; $t < 150; $t++) {
                // Cramer's rule on o + t·d = a + u·(b − a) + v·(c − a), independent of the tree's own test.
                $a = array_slice($positions, 9 * $t, 3);
                $b = array_slice($positions, 9 * $t + 3, 3);
                $c = array_slice($positions, 9 * $t + 6, 3);
                $m = [
                    [$d[0], $a[0] - $b[0], $a[0] - $c[0]],
                    [$d[1], $a[1] - $b[1], $a[1] - $c[1]],
                    [$d[2], $a[2] - $b[2], $a[2] - $c[2]],
                ];
                $k = [$a[0] - $o[0], $a[1] - $o[1], $a[2] - $o[2]];
                $det = static fn (array $m): float => $m[0][0] * ($m[1][1] * $m[2][2] - $m[1][2] * $m[2][1]) -
                    $m[0][1] * ($m[1][0] * $m[2][2] - $m[1][2] * $m[2][0]) +
                    $m[0][2] * ($m[1][0] * $m[2][1] - $m[1][1] * $m[2][0]);
                $replace = static function (int $column) use ($m, $k): array {
                    foreach ([0, 1, 2] as $row) {
                        $m[$row][$column] = $k[$row];
                    }

                    return $m;
                };
                $whole = $det($m);
                [$s, $u, $v] = [$det($replace(0)) / $whole, $det($replace(1)) / $whole, $det($replace(2)) / $whole];
                if ($s > 1e-6 && $u >= 0 && $v >= 0 && $u + $v <= 1 && $s < $best) {
                    $best = $s;
                }
            }
            $hit = $tree->first(...$o, ...$d);
            if ($best === INF) {
                self::assertNull($hit);
            } else {
                $met++;
                self::assertEqualsWithDelta($best, $hit[1] ?? 0, 1e-9);
            }
        }
        self::assertGreaterThan(20, $met);
        self::assertNull(Bvh::of([], [])->first(0, 0, 0, 0, 0, 1));
    }

    public function test_a_plane_straight_before_the_projector_is_lit_by_its_lumens_over_its_area(): void
    {
        // Throw 2 at 10 m: a picture of 5 × 3.125 m; the face is just as large and its middle is on the axis.
        $face = self::face('f', Face::fromRow('flat', ['width' => 5, 'height' => 3.125]), self::at(0, -1.5625, 0));
        $scene = Scene::of([$face]);
        $light = Caster::face($scene, 0, [self::beam(self::at(0, 0, 10))], 2000);
        self::assertEqualsWithDelta(1.0, $light->figures['one'], 1e-9);
        // On a plane upright to the axis, k³ · cos i / t² is 1 / 100 everywhere.
        foreach (['luxMin', 'luxMax', 'luxMean'] as $figure) {
            self::assertEqualsWithDelta(10_000 / (5 * 3.125), $light->figures[$figure], 1e-6);
        }
        self::assertEqualsWithDelta(1.0, $light->figures['even'], 1e-9);
        self::assertEqualsWithDelta((640 * 0.8) / M_PI, $light->figures['nitsMean'], 1e-6);
        // 1,920 px over 5 m, and as many a metre down.
        self::assertEqualsWithDelta(384.0, $light->figures['densityMean'], 1e-6);
        self::assertEqualsWithDelta(10_000, $light->lumens['p'], 1e-6);
        $middle = $light->maps['angle'][intdiv($light->rows, 2) * $light->columns + intdiv($light->columns, 2)];
        self::assertLessThan(1.0, $middle);
        self::assertEqualsWithDelta(rad2deg(atan(hypot(2.5, 1.5625) / 10)), $light->figures['angleMax'], 0.5);
    }

    /** @return array<string, array{string, array<string, mixed>, Pose}> */
    public static function faces(): array
    {
        return [
            'plane, turned' => ['flat', ['width' => 3, 'height' => 2], Pose::of(Vec3::of(0.4, -1, 0), 35)],
            'plane, larger than the picture' => [
                'flat',
                ['width' => 12, 'height' => 9],
                Pose::of(Vec3::of(0, -4, 0), -20),
            ],
            'drum' => ['drum', ['radius' => 1.6, 'arc' => 180, 'height' => 2.4], self::at(0, -1.2, 0)],
            'dome' => ['dome', ['radius' => 3, 'arc' => 120], self::at(0, 0, 0)],
            'stacked drums' => ['drums', ['tiers' => '1.5 × 1; 1 × 1', 'arc' => 160], self::at(0, -1, 0)],
        ];
    }

    /** @param  array<string, mixed>  $shape */
    #[DataProvider('faces')]
    public function test_lux_summed_over_a_face_with_the_spill_comes_to_the_lumens(
        string $kind,
        array $shape,
        Pose $pose,
    ): void {
        $face = self::face('f', Face::fromRow($kind, $shape), $pose);
        $scene = Scene::of([$face]);
        $beam = self::beam(self::at(0, 0, 10), ['shiftY' => 0.05]);
        $lens = $beam->projector->lens;
        // Quadrature apart from the lattice: each triangle cut into n² equal ones, E from the solid angle that each
        // takes as seen from the lens (van Oosterom and Strackee 1983), weighted by the lumens a steradian in that
        // direction.
        $n = match ($kind) {
            'flat' => 90,
            'dome' => 3,
            default => 10,
        };
        $sum = 0.0;
        $eye = Vec3::of(0, 0, 10);
        for ($t = 0; $t < $scene->triangles(); $t++) {
            $corner = array_map(
                static fn (int $i): Vec3 => Vec3::of(...array_slice($scene->mesh->positions, 3 * $i, 3)),
                array_slice($scene->mesh->indices, 3 * $t, 3),
            );
            [$e1, $e2] = [$corner[1]->minus($corner[0])->times(1 / $n), $corner[2]->minus($corner[0])->times(1 / $n)];
            for ($i = 0; $i < $n; $i++) {
                for ($j = 0; $j < $n - $i; $j++) {
                    foreach ($i + $j < $n - 1 ? [0, 1] : [0] as $upper) {
                        $a = $corner[0]->plus($e1->times($i + $upper))->plus($e2->times($j + $upper))->minus($eye);
                        [$b, $c] = $upper === 0 ? [$a->plus($e1), $a->plus($e2)] : [$a->minus($e1), $a->minus($e2)];
                        $middle = $a
                            ->plus($b)
                            ->plus($c)
                            ->times(1 / 3);
                        $pixel = $lens->pixel($middle->x, $middle->y, $middle->z);
                        if (
                            $pixel === null ||
                            $pixel[0] < 0 ||
                            $pixel[1] < 0 ||
                            $pixel[0] > $lens->widthPx ||
                            $pixel[1] > $lens->heightPx
                        ) {
                            continue;
                        }
                        $front = $e1->cross($e2)->dot($middle) < 0;
                        if (! $front || $scene->reaches(0, 0, 10, ...$middle->plus($eye)->toArray()) < 1) {
                            continue;
                        }
                        [$la, $lb, $lc] = [$a->length(), $b->length(), $c->length()];
                        $omega =
                            2 *
                            abs(
                                atan2(
                                    $a->dot($b->cross($c)),
                                    $la * $lb * $lc + $a->dot($b) * $lc + $b->dot($c) * $la + $c->dot($a) * $lb,
                                ),
                            );
                        $sum += 10_000 * $lens->sharePerArea(0, 0) * ($middle->length() / -$middle->z) ** 3 * $omega;
                    }
                }
            }
        }
        $light = Caster::face($scene, 0, [$beam], 8000);
        self::assertEqualsWithDelta($sum, $light->lumens['p'], 100, 'cells against quadrature');
        $thrown = Caster::throwing($scene, $beam, 96, 60, ['f' => $light]);
        self::assertEqualsWithDelta($sum, ($thrown->onFaces['f'] ?? 0) * 10_000, 150, 'rays against quadrature');
        self::assertEqualsWithDelta(1.0, $thrown->balance, 0.01);
        self::assertEqualsWithDelta(1.0, array_sum($thrown->onFaces) + $thrown->lostShare, 1e-9);
    }

    public function test_incidence_on_a_drum_grows_round_it_as_geometry_has_it(): void
    {
        $radius = 2.0;
        $scene = Scene::of([
            self::face(
                'f',
                Face::fromRow('drum', ['radius' => $radius, 'arc' => 170, 'height' => 0.02, 'pixelsPerMetre' => 400]),
                self::at(0, -0.01, 0),
            ),
        ]);
        $light = Caster::face($scene, 0, [self::beam(self::at(0, 0, 8))], 200);
        $eye = 8 + $radius;
        $seen = 0;
        foreach ($light->maps['angle'] as $at => $angle) {
            $round = deg2rad(170) * ((($at % $light->columns) + 0.5) / $light->columns - 0.5);
            // Seen from the axis: the angle at the drum between its normal and the line to the projector.
            $exact = rad2deg(
                abs($round) +
                    asin(
                        ($radius * sin(abs($round))) /
                            sqrt($eye ** 2 + $radius ** 2 - 2 * $eye * $radius * cos($round)),
                    ),
            );
            if ($exact > 92) {
                self::assertLessThanOrEqual(0.0, $light->maps['count'][$at]);
            } elseif ($exact < 85) {
                $seen++;
                self::assertEqualsWithDelta($exact, $angle, 1.6);
            }
        }
        self::assertGreaterThan(50, $seen);
    }

    public function test_a_thing_in_the_way_takes_the_light_and_a_gauze_lets_its_share_through(): void
    {
        $wall = self::face('wall', Face::fromRow('flat', ['width' => 10, 'height' => 6.25]), self::at(0, -3.125, 0));
        $free = Caster::face(Scene::of([$wall]), 0, [self::beam(self::at(0, 0, 10))], 10240);
        $half = Face::fromRow('flat', ['width' => 10, 'height' => 20]);
        $prop = new Body('prop', 'prop', $half->mesh(), self::at(5, -10, 5)->matrix(), null);
        $shadowed = Caster::face(Scene::of([$wall, $prop]), 0, [self::beam(self::at(0, 0, 10))], 10240);
        self::assertEqualsWithDelta($free->lumens['p'] / 2, $shadowed->lumens['p'], 150);
        $gauze = self::face(
            'gauze',
            Face::fromRow('flat', ['width' => 5, 'height' => 3.125]),
            self::at(0, -1.5625, 5),
            ['translucent' => true, 'transmission' => 0.7, 'gain' => 0.2],
        );
        $scene = Scene::of([$wall, $gauze]);
        $through = Caster::face($scene, 0, [self::beam(self::at(0, 0, 10))], 10240);
        self::assertEqualsWithDelta(0.7 * $free->figures['luxMean'], $through->figures['luxMean'], 1e-6);
        $on = Caster::face($scene, 1, [self::beam(self::at(0, 0, 10))], 10240);
        self::assertEqualsWithDelta(4 * $free->figures['luxMean'], $on->figures['luxMean'], 1e-6);
        self::assertEqualsWithDelta((4 * $free->figures['luxMean'] * 0.2) / M_PI, $on->figures['nitsMean'], 1e-6);
        $thrown = Caster::throwing($scene, self::beam(self::at(0, 0, 10)), 64, 36, [
            'wall' => $through,
            'gauze' => $on,
        ]);
        self::assertEqualsWithDelta(0.3, $thrown->onFaces['gauze'], 1e-6);
        self::assertEqualsWithDelta(0.7, $thrown->onFaces['wall'], 1e-6);
        self::assertEqualsWithDelta(1.0, $thrown->balance, 0.01);
    }

    public function test_each_cast_is_made_once_and_progress_ends_at_the_whole(): void
    {
        $scene = Scene::of([
            self::face('a', Face::fromRow('flat', ['width' => 4, 'height' => 3]), self::at(0, 0, 0)),
            self::face('b', Face::fromRow('flat', ['width' => 4, 'height' => 3]), self::at(0, 0, 1)),
        ]);
        $beams = [self::beam(self::at(0, 1, 10)), self::beam(self::at(1, 1, 10))];
        $casts = new class(new SceneCasts(static fn (): Scene => $scene, 200, 8, 8)) implements Casts
        {
            /** @var list<string> */
            public array $made = [];

            public function __construct(private readonly SceneCasts $casts)
            {
            }

            public function cells(Body $face): FaceCells
            {
                return $this->casts->cells($face);
            }

            public function arrival(Beam $beam, Body $face): Arrival
            {
                $this->made[] = $beam->world->origin()->x." $face->id";

                return $this->casts->arrival($beam, $face);
            }

            public function walk(Beam $beam): BeamLanding
            {
                $this->made[] = $beam->world->origin()->x.' walk';

                return $this->casts->walk($beam);
            }
        };
        Report::by($scene->bodies, $beams, $casts);
        self::assertSame(array_values(array_unique($casts->made)), $casts->made);
        // Two projectors, each onto two faces and once through its own picture.
        self::assertCount(6, $casts->made);
        $told = [];
        Report::of($scene, $beams, 2000, 16, 9, static function (float $share) use (&$told): void {
            $told[] = $share;
        });
        self::assertNotSame([], $told);
        self::assertLessThanOrEqual(1 + 1e-9, max($told));
        self::assertSame($told, array_values(array_unique($told)));
    }

    public function test_two_projectors_add_up_and_share_a_face(): void
    {
        $scene = Scene::of([
            self::face('f', Face::fromRow('flat', ['width' => 8, 'height' => 3.125]), self::at(0, -1.5625, 0)),
        ]);
        $both = [
            self::beam(self::at(-1.5, 0, 10)),
            new Beam('q', self::beam(self::at(0, 0, 0))->projector, self::at(1.5, 0, 10)->matrix()),
        ];
        $light = Caster::face($scene, 0, $both, 6400);
        // Two pictures 5 m wide, 3 m apart: 2 m on both, 6 m on one.
        self::assertEqualsWithDelta(0.25, $light->figures['more'], 0.01);
        self::assertEqualsWithDelta(0.75, $light->figures['one'], 0.01);
        self::assertEqualsWithDelta(1280, $light->figures['luxMax'], 1e-6);
        $report = Report::of($scene, $both, 400, 16, 9);
        self::assertSame(2, $report->sum['projectors']);
        self::assertEqualsWithDelta(20_000, $report->sum['lumens'], 1e-9);
        self::assertEqualsWithDelta(20_000 / 25, $report->sum['luxMean'], 20);
    }

    public function test_spill_and_focus_are_told(): void
    {
        // A picture of 5 × 3.125 m, a face of 4 × 3.125 m: a fifth of the pixels misses.
        $scene = Scene::of([
            self::face('f', Face::fromRow('flat', ['width' => 4, 'height' => 3.2]), self::at(0, -1.6, 0)),
        ]);
        $thrown = Caster::throwing($scene, self::beam(self::at(0, 0, 10), ['focus' => 8], 10_000, ['f']), 100, 50);
        self::assertEqualsWithDelta(0.2 * 1920 * 1200, $thrown->spillPixels, 1);
        self::assertEqualsWithDelta(2000, $thrown->spillLumens, 1);
        self::assertEqualsWithDelta(10.0, $thrown->nearest, 1e-6);
        self::assertEqualsWithDelta(10.0, $thrown->farthest, 1e-6);
        self::assertSame(8.0, $thrown->focus);
        self::assertNull($thrown->outline[0]);
        self::assertEqualsWithDelta([0, 1.5625, 0], $thrown->outline[12], 1e-6);
        self::assertSame([], $thrown->remarks);
    }

    public function test_a_picture_that_would_read_backwards_is_said(): void
    {
        $rear = self::face('gauze', Face::fromRow('flat', ['width' => 4, 'height' => 3]), self::at(0, -1.5, 0), [
            'translucent' => true,
            'rear' => true,
            'transmission' => 0.5,
        ]);
        $pose = Pose::of(Vec3::of(0, 0, -8), 180);
        $plain = Caster::throwing(Scene::of([$rear]), self::beam($pose, [], 5000, ['gauze']));
        self::assertStringContainsString('reads backwards', implode($plain->remarks));
        self::assertSame(
            [],
            Caster::throwing(Scene::of([$rear]), self::beam($pose, [], 5000, ['gauze'], true))->remarks,
        );
        // Seen from the front with the gain, as it is meant to be lit from behind.
        $light = Caster::face(Scene::of([$rear]), 0, [self::beam($pose, [], 5000, [], true)], 400);
        self::assertEqualsWithDelta(($light->figures['luxMean'] * 0.8) / M_PI, $light->figures['nitsMean'], 1e-9);
    }

    public function test_an_opaque_face_lit_from_behind_stays_dark(): void
    {
        $scene = Scene::of([
            self::face('f', Face::fromRow('flat', ['width' => 4, 'height' => 3]), self::at(0, -1.5, 0)),
        ]);
        $light = Caster::face($scene, 0, [self::beam(Pose::of(Vec3::of(0, 0, -8), 180))], 400);
        self::assertSame(1.0, $light->figures['none']);
        self::assertSame(0.0, max($light->maps['lux']));
    }

    public function test_the_lattice_has_the_area_of_the_face(): void
    {
        foreach (
            [
                ['flat', ['width' => 6, 'height' => 2], 12.0],
                ['drum', ['radius' => 2, 'arc' => 180, 'height' => 3], 2 * M_PI * 3],
                ['dome', ['radius' => 3, 'arc' => 180], 2 * M_PI * 9],
            ] as [$kind, $shape, $area]
        ) {
            $scene = Scene::of([self::face('f', Face::fromRow($kind, $shape), self::at(1, 2, 3))]);
            self::assertEqualsWithDelta($area, SampleGrid::of($scene, 0, 4000)->area(), $area * 0.01, $kind);
        }
    }

    public function test_a_lens_and_its_inverse_agree_and_a_projector_on_its_side_is_turned(): void
    {
        foreach ([false, true] as $portrait) {
            $lens = Lens::fromRow([
                'widthPx' => 1920,
                'heightPx' => 1080,
                'throw' => 1.5,
                'shiftX' => 0.1,
                'shiftY' => -0.3,
                'portrait' => $portrait,
            ]);
            self::assertSame($portrait ? [1080, 1920] : [1920, 1080], [$lens->widthPx, $lens->heightPx]);
            foreach ([[0.0, 0.0], [100.5, 700.25], [1080.0, 1080.0]] as [$x, $y]) {
                $ray = $lens->ray($x, $y)->times(7.3);
                self::assertEqualsWithDelta([$x, $y], $lens->pixel($ray->x, $ray->y, $ray->z), 1e-6);
            }
            self::assertNull($lens->pixel(0, 0, 1));
            self::assertEqualsWithDelta($portrait ? 1080 / 1920 / 1.5 : 1 / 1.5, $lens->across, 1e-12);
        }
        self::assertCount(2, Lens::fromRow(['throw' => 3, 'shiftX' => 0.5])->remarks());
        $this->expectException(InvalidValue::class);
        Lens::fromRow(['throwMin' => 2, 'throwMax' => 1]);
    }

    public function test_a_lens_that_bends_has_its_places_by_hand_and_goes_on_past_its_corners(): void
    {
        $lens = Lens::fromRow(['widthPx' => 1000, 'heightPx' => 1000, 'throw' => 1.0, 'distortion' => 0.1]);
        // r = 0.5: 1 + 0.1 · 0.25 = 1.025 times as far from the middle.
        self::assertEqualsWithDelta([807.5, 90.0], $lens->pixel(0.3, 0.4, -1), 1e-9);
        self::assertEqualsWithDelta([807.5, 90.0], $lens->pixel(0.6, 0.8, -2), 1e-9);
        $ray = $lens->ray(807.5, 90.0);
        self::assertEqualsWithDelta([0.3, 0.4, -1.0], $ray->toArray(), 1e-12);
        self::assertSame([0.0, 0.0, -1.0], $lens->ray(500, 500)->toArray());
        // Its area there is 1.025 · 1.075 times that of a straight one.
        self::assertEqualsWithDelta(1.025 * 1.075, $lens->sharePerArea(0.3, 0.4), 1e-12);
        // Along r by 1.075, across by 1.025.
        self::assertEqualsWithDelta([1075 * 0.6, 1075 * 0.8], $lens->moves(0.3, 0.4, 0.6, 0.8), 1e-9);
        self::assertEqualsWithDelta([1025 * -0.8, 1025 * 0.6], $lens->moves(0.3, 0.4, -0.8, 0.6), 1e-9);
        foreach (
            [[0.12, -0.45, 0.3, 0.0, 1.0], [-0.05, -0.45, 0.3, 0.1, 0.7]] as [$k, $shiftX, $shiftY, $from, $throw]
        ) {
            $lens = Lens::fromRow([
                ...['widthPx' => 1920, 'heightPx' => 1200, 'throw' => $throw],
                ...['shiftX' => $shiftX, 'shiftY' => $shiftY, 'distortion' => $k, 'portrait' => $from > 0],
            ]);
            // There and back, in the picture and far past it.
            foreach ([[0.0, 0.0], [1.5, 1199.0], [960.0, 3.0], [-800.0, 4000.0], [9000.0, -70.0]] as [$x, $y]) {
                $ray = $lens->ray($x, $y);
                self::assertEqualsWithDelta([$x, $y], $lens->pixel($ray->x, $ray->y, -1), 1e-7);
            }
            // Outwards it always goes outwards.
            [$cx, $cy] = $lens->pixel(0, 0, -1) ?? [];
            for ([$r, $before] = [0.01, 0.0]; $r < 20; $r += 0.01) {
                [$x, $y] = $lens->pixel(0.6 * $r, 0.8 * $r, -1) ?? [];
                self::assertGreaterThan($before, $before = hypot($x - $cx, $y - $cy));
            }
        }
    }

    public function test_a_picture_that_would_fold_back_is_refused_with_how_much_it_may_be(): void
    {
        $lens = ['widthPx' => 1600, 'heightPx' => 1200, 'throw' => 0.8, 'throwMin' => 0.5];
        // The corner is at 0.78125; r (1 − |k| r²) has its most, 2/3 r, where 3 |k| r² = 1; at the corner a slope of a
        // twentieth is left.
        try {
            Lens::fromRow($lens + ['distortion' => -0.25]);
            self::fail('It folds.');
        } catch (InvalidValue $refused) {
            self::assertSame('distortion', $refused->field);
            self::assertSame(1, preg_match('/may be (-0\.\d+) at the least/', $refused->getMessage(), $may));
        }
        $least = (float) $may[1];
        self::assertEqualsWithDelta((-4 / 27 / 0.78125 ** 2) * 0.95 * 1.025 ** 2, $least, 1e-4);
        self::assertSame($least, Lens::fromRow($lens + ['distortion' => $least])->distortion);
        $this->expectException(InvalidValue::class);
        Lens::fromRow($lens + ['distortion' => $least - 2e-4]);
    }

    public function test_a_bent_picture_loses_no_light(): void
    {
        $face = self::face('f', Face::fromRow('flat', ['width' => 24, 'height' => 20]), self::at(0, -10, 0));
        $scene = Scene::of([$face]);
        foreach ([0.15, -0.15, 0.0] as $k) {
            $beam = self::beam(self::at(1, 0.5, 10), ['throw' => 1.0, 'shiftX' => 0.1, 'distortion' => $k]);
            $light = Caster::face($scene, 0, [$beam], 40_000);
            self::assertEqualsWithDelta(10_000, $light->lumens['p'], 150, "k = $k");
            self::assertEqualsWithDelta(1.0, Caster::walk($scene, $beam, 64, 40)->on['f'], 1e-9);
        }
    }

    public function test_a_face_that_is_filled_by_a_bent_picture_lies_within_it(): void
    {
        $face = self::face('f', Face::fromRow('flat', ['width' => 8, 'height' => 5]), self::at(0, 1, 0));
        foreach ([0.2, -0.2] as $k) {
            $row = [
                'widthPx' => 1920,
                'heightPx' => 1200,
                'throwMin' => 1,
                'throwMax' => 3,
                'throw' => 2,
                'distortion' => $k,
            ];
            $filled = LensFit::from(Vec3::of(1.0, 2.0, 12.0), Lens::fromRow($row), $face, true);
            $lens = Lens::fromRow([
                ...$row,
                ...['throw' => $filled->throw, 'shiftX' => $filled->shiftX, 'shiftY' => $filled->shiftY],
            ]);
            [$xs, $ys] = [[], []];
            foreach ([[-4, 1], [4, 1], [4, 6], [-4, 6]] as [$x, $y]) {
                [$xs[], $ys[]] = $lens->pixel($x - 1.0, $y - 2.0, -12.0) ?? [];
            }
            // Where corners are drawn in, the middles of edges reach farthest; they are asked for an eighth apart.
            foreach ($k < 0 ? range(-3.75, 3.75, 0.5) : [] as $x) {
                [$xs[], $ys[]] = $lens->pixel($x - 1.0, 1.0 - 2.0, -12.0) ?? [];
                [$xs[], $ys[]] = $lens->pixel($x - 1.0, 6.0 - 2.0, -12.0) ?? [];
            }
            self::assertEqualsWithDelta(0.0, min([...$xs, ...$ys]), 0.5);
            self::assertEqualsWithDelta(1200, max($ys), 0.5);
            self::assertLessThanOrEqual(1920.5, max($xs));
        }
    }

    public function test_filling_a_face_squarely_solves_zoom_and_shift(): void
    {
        $face = self::face('f', Face::fromRow('flat', ['width' => 8, 'height' => 5]), self::at(0, 1, 0));
        $lens = Lens::fromRow([
            'widthPx' => 1920,
            'heightPx' => 1200,
            'throwMin' => 1.2,
            'throwMax' => 2.4,
            'throw' => 2,
            'shiftYMax' => 0.6,
            'shiftXMax' => 0.3,
        ]);
        $filled = LensFit::from(Vec3::of(1.0, 2.0, 16.0), $lens, $face, true);
        self::assertSame([], $filled->says);
        self::assertEqualsWithDelta([0, 0, 0], [$filled->pose->yaw, $filled->pose->pitch, $filled->pose->roll], 1e-9);
        self::assertEqualsWithDelta(2.0, $filled->throw, 1e-9);
        // The middle of the face is 1 m to the left of and 1.5 m above the lens, of 8 × 5 m.
        self::assertEqualsWithDelta(-1 / 8, $filled->shiftX, 1e-9);
        self::assertEqualsWithDelta(1.5 / 5, $filled->shiftY, 1e-9);
        $beam = new Beam(
            'p',
            Projector::fromRow([
                'name' => 'P',
                'lumens' => 1000,
                'lens' => [
                    'widthPx' => 1920,
                    'heightPx' => 1200,
                    'throw' => $filled->throw,
                    'shiftX' => $filled->shiftX,
                    'shiftY' => $filled->shiftY,
                ],
            ]),
            $filled->pose->matrix(),
        );
        $light = Caster::face(Scene::of([$face]), 0, [$beam], 2000);
        self::assertEqualsWithDelta(1.0, $light->figures['one'], 1e-9);
        self::assertEqualsWithDelta(1000, $light->lumens['p'], 1e-6);
    }

    public function test_a_pair_stands_left_and_right_of_a_face_and_each_fills_it(): void
    {
        $row = ['widthPx' => 1920, 'heightPx' => 1200, 'throwMin' => 1, 'throwMax' => 3, 'throw' => 1.6];
        // A face that looks to the east: its left is the north.
        $face = self::face('f', Face::fromRow('flat', ['width' => 4, 'height' => 3]), Pose::of(Vec3::of(2, 1, 3), 90));
        $pair = LensFit::pair(Lens::fromRow($row), $face, 25);
        foreach ($pair as $k => $fit) {
            self::assertSame([], $fit->says);
            $to = $fit->pose->position->minus(Vec3::of(2, 2.5, 3));
            self::assertEqualsWithDelta(0, $to->y, 1e-9);
            // 25° off the front, which is +X; the left one towards +Z.
            self::assertEqualsWithDelta($k === 0 ? 25 : -25, rad2deg(atan2($to->z, $to->x)), 1e-9);
            $lens = Lens::fromRow([
                ...$row,
                ...['throw' => $fit->throw, 'shiftX' => $fit->shiftX, 'shiftY' => $fit->shiftY],
            ]);
            $in = $fit->pose->matrix()->rigidInverse();
            [$us, $vs] = [[], []];
            foreach ([[1, 1], [4, 1], [4, 5], [1, 5]] as [$y, $z]) {
                $at = $in->point(Vec3::of(2, $y, $z));
                [$x, $y] = $lens->pixel($at->x, $at->y, $at->z) ?? [];
                [$us[], $vs[]] = [$x / 1920, $y / 1200];
            }
            // It lies within the picture, and fills it one way.
            self::assertEqualsWithDelta(1.0, max(max($us) - min($us), max($vs) - min($vs)), 1e-6);
            self::assertGreaterThan(-1e-6, min([...$us, ...$vs]));
            self::assertLessThan(1 + 1e-6, max([...$us, ...$vs]));
        }
        self::assertEqualsWithDelta($pair[0]->distance, $pair[1]->distance, 1e-6);
        $this->expectException(InvalidValue::class);
        LensFit::pair(Lens::fromRow($row), $face, 85);
    }

    public function test_an_aged_lamp_gives_less(): void
    {
        self::assertSame(1.0, Lens::fromRow([])->lamp());
        self::assertSame(0.7, Lens::fromRow(['lampLeft' => 0.7])->lamp());
        // Half after 2,000 hours: 0.5^(1/2) after 1,000.
        $lens = Lens::fromRow(['lampHours' => 1000, 'lampHalfLife' => 2000, 'lampLeft' => 0.9]);
        self::assertEqualsWithDelta(0.9 * M_SQRT1_2, $lens->lamp(), 1e-12);
        self::assertEqualsWithDelta(0.9 * M_SQRT1_2, $lens->output(), 1e-12);
    }

    public function test_what_a_lens_has_not_is_said_with_what_to_do(): void
    {
        $face = self::face('f', Face::fromRow('flat', ['width' => 8, 'height' => 5]), self::at(0, 1, 0));
        $lens = Lens::fromRow(['throwMin' => 1.2, 'throwMax' => 1.8, 'throw' => 1.5, 'shiftYMax' => 0.2]);
        $near = LensFit::from(Vec3::of(0, 3.5, 8), $lens, $face, true);
        self::assertStringContainsString('1.60 m farther away', $near->says[0]);
        self::assertSame(1.2, $near->throw);
        $far = LensFit::from(Vec3::of(0, 3.5, 16), $lens, $face, true);
        self::assertStringContainsString('1.60 m nearer', $far->says[0]);
        $low = LensFit::from(Vec3::of(0, 0.5, 12), $lens, $face, true);
        // 3 m below the middle of 5 m: 60 %, 40 % more than the lens has.
        self::assertStringContainsString(
            '60 % up or down; the lens has 20 %: move the projector by 2.00 m',
            $low->says[0],
        );
        self::assertSame(0.2, $low->shiftY);
        $kept = LensFit::withLens(Vec3::of(3, 0, 9), $lens, $face);
        self::assertEqualsWithDelta(12.0, $kept->distance, 1e-6);
        self::assertSame([], $kept->says);
        self::assertEqualsWithDelta([0, 3.5, 12], $kept->pose->position->toArray(), 1e-6);
        $this->expectExceptionMessage('faces away from the projector');
        LensFit::from(Vec3::of(0, 3, -9), $lens, $face, true);
    }

    public function test_a_projector_looks_where_it_is_told_to(): void
    {
        foreach ([[3, 2, -5], [-4, 0, 1], [0, 9, 0.001], [2, -3, 8]] as $p) {
            $pose = Pose::of(Vec3::of(1, 1, 1))->lookingAt(Vec3::of(...$p));
            $d = $pose->matrix()->direction(Vec3::of(0, 0, -1));
            $want = Vec3::of(...$p)->minus(Vec3::of(1, 1, 1))->unit();
            self::assertEqualsWithDelta($want->toArray(), $d->toArray(), 1e-9);
            self::assertSame(0.0, $pose->roll);
        }
    }

    public function test_a_seat_sees_fronts_and_backs_and_how_small_a_detail_reads(): void
    {
        $front = self::face(
            'front',
            Face::fromRow('flat', ['width' => 4, 'height' => 3, 'pixelsPerMetre' => 100]),
            self::at(0, -1.5, 0),
        );
        $back = self::face(
            'back',
            Face::fromRow('flat', ['width' => 1, 'height' => 1]),
            Pose::of(Vec3::of(6, -0.5, 0), 180),
        );
        $hidden = self::face('hidden', Face::fromRow('flat', ['width' => 2, 'height' => 1]), self::at(0, -0.5, -3));
        $scene = Scene::of([$front, $back, $hidden]);
        $sight = Sight::of($scene, 0, 0, 0, 20);
        self::assertNotNull($sight);
        self::assertEqualsWithDelta([1.0, 0.0], [$sight->front, $sight->back], 1e-9);
        self::assertEqualsWithDelta(20 * tan(deg2rad(1 / 60)) * 1000, $sight->detailMm, 0.05);
        self::assertEqualsWithDelta($sight->detailMm / 10, $sight->detailPx, 1e-6);
        self::assertLessThan(5, $sight->oblique);
        self::assertEqualsWithDelta(1.0, Sight::of($scene, 1, 0, 0, 20)->back ?? 0, 1e-9);
        self::assertNull(Sight::of($scene, 2, 0, 0, 20));
    }

    public function test_the_smallest_detail_in_pixels_is_that_of_the_places_that_are_seen(): void
    {
        $p = Panel::of('P', 500, 500, 200, 200, 1, 1, 1);
        $body = static fn (Carrier $c): Body => new Body(
            'w',
            'w',
            $c->mesh(),
            self::at(0, 0, 0)->matrix(),
            null,
            $c->rasterWidth(),
            $c->rasterHeight(),
        );
        // Of 2.5 mm of pitch, with and without half of its panels: a detail of so many millimetres is 1/2.5 as many
        // pixels.
        foreach ([Wall::grid($p, 6, 4), Wall::of([[$p, null, $p, null], [null, $p, null, null]], [0, 0, 0])] as $wall) {
            $sight = Sight::of(Scene::of([$body($wall)]), 0, 0, 1, 30, 400);
            self::assertEqualsWithDelta(($sight->detailMm ?? 0) / 2.5, $sight->detailPx ?? 0, 1e-6);
        }
        // Drums of unlike radii leave parts of their raster unused; their pixels are as dense everywhere.
        $drums = self::face(
            'd',
            Face::fromRow('drums', ['tiers' => '3 × 2; 1 × 2', 'arc' => 120, 'pixelsPerMetre' => 80]),
            self::at(0, 0, 0),
        );
        $sight = Sight::of(Scene::of([$drums]), 0, 0, 2, 30, 900);
        self::assertEqualsWithDelta(
            ($sight->detailMm ?? 0) * 0.08,
            $sight->detailPx ?? 0,
            0.01 * ($sight->detailPx ?? 1),
        );
        // A flat face seen under 60°: foreshortened to half, letters sixteen times the smallest detail.
        $flat = self::face('f', Face::fromRow('flat', ['width' => 0.2, 'height' => 0.2]), self::at(0, -0.1, 0));
        $sight = Sight::of(Scene::of([$flat]), 0, 100 * sin(M_PI / 3), 0, 100 * cos(M_PI / 3));
        self::assertEqualsWithDelta(
            [2 * 100 * tan(M_PI / 10_800) * 1000, 100 * tan((16 * M_PI) / 10_800) * 1000],
            [$sight->foreshortenedMm ?? 0, $sight->letterMm ?? 0],
            0.2,
        );
    }

    public function test_a_dome_that_is_tilted_up_shows_its_top_from_within_and_from_without(): void
    {
        foreach ([false, true] as $outside) {
            [$min, $max] = Face::fromRow('dome', ['radius' => 3, 'arc' => 180, 'tilt' => 90, 'outside' => $outside])
                ->mesh()
                ->bounds();
            self::assertEqualsWithDelta([0.0, 3.0], [$min[1], $max[1]], 1e-6);
            // Without a tilt it bulges away from the audience, or toward it.
            [$min, $max] = Face::fromRow('dome', ['radius' => 3, 'arc' => 180, 'outside' => $outside])
                ->mesh()
                ->bounds();
            self::assertEqualsWithDelta($outside ? [0.0, 3.0] : [-3.0, 0.0], [$min[2], $max[2]], 1e-6);
        }
    }

    public function test_the_picture_of_a_report_has_a_value_or_none_in_each_cell(): void
    {
        $scene = Scene::of([self::face('f', Face::fromRow('dome', ['radius' => 2, 'arc' => 90]), self::at(0, 0, 0))]);
        $light = Caster::face($scene, 0, [self::beam(self::at(0, 0, 6))], 900);
        foreach (FaceLight::MAPS as $map) {
            self::assertCount($light->columns * $light->rows, $light->maps[$map]);
        }
        // The corners of a dome's square raster are no part of it.
        self::assertSame(-1.0, $light->maps['count'][0]);
        self::assertGreaterThan(
            0,
            $light->maps['lux'][intdiv($light->rows, 2) * $light->columns + intdiv($light->columns, 2)],
        );
    }

    public function test_matrix_and_pose_are_one_another(): void
    {
        mt_srand(5);
        for ($i = 0; $i < 200; $i++) {
            $pose = Pose::of(
                Vec3::of(mt_rand(-99, 99), mt_rand(-99, 99), mt_rand(-99, 99)),
                mt_rand(-1800, 1800) / 10,
                $i % 10 === 0 ? ($i % 20 === 0 ? 90 : -90) : mt_rand(-890, 890) / 10,
                mt_rand(-1800, 1800) / 10,
            );
            self::assertEqualsWithDelta($pose->matrix()->m, Pose::fromMatrix($pose->matrix())->matrix()->m, 1e-6);
        }
        self::assertEqualsWithDelta(Mat4::identity()->m, Pose::fromMatrix(Mat4::identity())->matrix()->m, 1e-12);
    }

    public function test_an_empty_scene_lets_everything_by(): void
    {
        $thrown = Caster::throwing(Scene::of([]), self::beam(self::at(0, 0, 10)));
        self::assertEqualsWithDelta(1.0, $thrown->lostShare, 1e-9);
        self::assertSame(
            [],
            Report::of(Scene::of([new Body('m', 'm', Mesh::of([], [], []), Mat4::identity(), Material::fromRow([]))]), [
                self::beam(self::at(0, 0, 10)),
            ])->faces,
        );
    }
}
