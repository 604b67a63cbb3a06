<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Light\Beam;
use Core\Light\Body;
use Core\Light\Caster;
use Core\Light\Scene;
use Core\Light\Sight;
use Core\Preflight\Finding;
use Core\Preflight\Preflight;
use Core\Preflight\Shots;
use Core\Show\ResultCache;
use Core\Show\Show;
use Core\Units\InvalidValue;
use Core\Venue\Camera;
use Core\Venue\Emission;
use Core\Venue\Face;
use Core\Venue\Focus;
use Core\Venue\Lens;
use Core\Venue\Material;
use Core\Venue\Panel;
use Core\Venue\Projector;
use Core\Venue\Wall;
use PHPUnit\Framework\TestCase;

/** Lenses, luminance toward people, cameras, and the light that is around. */
final class SeeingTest extends TestCase
{
    public function test_depth_of_field_is_that_of_the_textbook(): void
    {
        // 50 mm at f/2.8 with a circle of 0.03 mm: H = 2500 / 0.084 + 50 = 29.812 m. Focused at 5 m: 4.287 to 5.998 m.
        $focus = Focus::of(50, 2.8, 0.03, 5);
        self::assertEqualsWithDelta([29.8119, 4.28699, 5.99751], [$focus->hyperfocal, $focus->near, $focus->far], 1e-3);
        // From the hyperfocal distance on, from half of it to infinity.
        $endless = Focus::of(50, 2.8, 0.03, 30);
        self::assertSame(INF, $endless->far);
        self::assertEqualsWithDelta(29.8119 / 2, Focus::of(50, 2.8, 0.03, 29.8119)->near, 0.01);
        self::assertGreaterThan(0, Focus::of(50, 2.8, 0.03, 0.0)->near);
    }

    public function test_a_lens_gives_less_light_zoomed_and_shifted_and_at_its_corners_as_it_says(): void
    {
        $lens = static fn (array $row): Lens => Lens::fromRow(
            $row + ['throwMin' => 1, 'throwMax' => 2, 'shiftXMax' => 0.5, 'shiftYMax' => 0.5],
        );
        self::assertEqualsWithDelta(1.0, $lens(['throw' => 2, 'shiftX' => 0.5])->output(), 1e-12);
        self::assertEqualsWithDelta(0.9, $lens(['throw' => 1.5, 'zoomLoss' => 0.2])->output(), 1e-12);
        self::assertEqualsWithDelta(0.8, $lens(['throw' => 5, 'zoomLoss' => 0.2])->output(), 1e-12);
        self::assertEqualsWithDelta(
            0.9 * 0.94,
            $lens(['throw' => 1.5, 'zoomLoss' => 0.2, 'shiftLoss' => 0.1, 'shiftX' => 0.1, 'shiftY' => -0.3])->output(),
            1e-12,
        );
        self::assertEqualsWithDelta(1.0, $lens(['zoomLoss' => 0.2, 'throwMax' => 1, 'throw' => 1])->output(), 1e-12);
        $uneven = $lens(['corners' => 0.7]);
        self::assertEqualsWithDelta(0.7, $uneven->evenness(0.5, -0.5) / $uneven->evenness(0, 0), 1e-12);
        $sum = 0.0;
        for ($i = 0; $i < 200; $i++) {
            for ($k = 0; $k < 200; $k++) {
                $sum += $uneven->evenness(($i + 0.5) / 200 - 0.5, ($k + 0.5) / 200 - 0.5);
            }
        }
        self::assertEqualsWithDelta(1.0, $sum / 40_000, 1e-4);
        self::assertNull($lens(['fNumber' => 2])->depthOfField());
        // Throw 2 with an imager of 20 mm and 2000 px: 40 mm, circle 0.01 mm.
        self::assertEqualsWithDelta(
            Focus::of(40, 2, 0.01, 12),
            $lens(['throw' => 2, 'fNumber' => 2, 'chipWidth' => 20, 'widthPx' => 2000, 'focus' => 12])->depthOfField(),
            1e-9,
        );
    }

    /** @param  array<string, mixed>  $lens */
    private static function beam(array $lens, float $lumens = 10_000): Beam
    {
        return new Beam(
            'p',
            Projector::fromRow([
                'name' => 'P',
                'lens' => $lens + [
                    'throw' => 2,
                    'throwMin' => 1,
                    'throwMax' => 3,
                    'widthPx' => 1000,
                    'heightPx' => 1000,
                ],
                'lumens' => $lumens,
                'aims' => ['f'],
            ]),
            Pose::of(Vec3::of(0, 1, 8))->matrix(),
        );
    }

    public function test_what_a_lens_loses_is_missing_on_the_face_and_what_remains_is_found_again(): void
    {
        $face = static fn (array $material): Body => new Body(
            'f',
            'f',
            Face::fromRow('flat', ['width' => 4, 'height' => 4])->mesh(),
            Pose::of(Vec3::of(0, -1, 0))->matrix(),
            Material::fromRow($material + ['gain' => 1]),
            400,
            400,
        );
        $scene = Scene::of([$face(['target' => 100, 'ambient' => 10])]);
        // Eight metres at 2.0: the picture is the face, 16 m². 10,000 lm: 625 lx, 198.94 cd/m².
        $plain = Caster::face($scene, 0, [self::beam([])], 2500)->figures;
        self::assertEqualsWithDelta([625.0, 625 / M_PI], [$plain['luxMean'], $plain['nitsMean']], 1.5);
        self::assertEqualsWithDelta($plain['nitsMean'] * 0.2918635, $plain['footLamberts'], 1e-4);
        self::assertEqualsWithDelta((10_000 * 100) / $plain['nitsMean'], $plain['lumensWanted'], 1e-6);
        // A thousand to one, and 10 lx around: (L + 3.18) / (L / 1000 + 3.18).
        self::assertEqualsWithDelta(
            ($plain['nitsMean'] + 10 / M_PI) / ($plain['nitsMean'] / 1000 + 10 / M_PI),
            $plain['contrast'],
            1e-6,
        );
        $half = Caster::face($scene, 0, [self::beam(['zoomLoss' => 0.8])], 2500)->figures;
        self::assertEqualsWithDelta(0.6 * $plain['luxMean'], $half['luxMean'], 1e-6);
        $uneven = self::beam(['corners' => 0.4]);
        $light = Caster::face($scene, 0, [$uneven], 2500);
        self::assertEqualsWithDelta($plain['luxMean'], $light->figures['luxMean'], 2);
        self::assertEqualsWithDelta(0.4, $light->figures['luxMin'] / $light->figures['luxMax'], 0.03);
        self::assertEqualsWithDelta(1.0, Caster::throwing($scene, $uneven, 64, 64, ['f' => $light])->balance, 0.02);
        self::assertEqualsWithDelta($light->figures['even'], $light->figures['evenAll'], 1e-6);
        // Half of the face dark: the lit part is even, the whole is not.
        $shifted = Caster::face($scene, 0, [self::beam(['shiftX' => 0.5])], 2500)->figures;
        self::assertGreaterThan(0.95, $shifted['even']);
        self::assertSame(0.0, $shifted['evenAll']);
        // What is not sharp is remarked on: 16 mm and f/1 at 4 m, circle 0.016 mm: 3.2 to 5.3 m.
        self::assertSame(
            ['Its faces lie from 8.00 to 8.00 m along the axis; it is sharp from 3.20 to 5.33 m.'],
            Caster::throwing($scene, self::beam(['chipWidth' => 8, 'fNumber' => 2, 'focus' => 4]))->remarks,
        );
    }

    public function test_a_wall_seen_obliquely_gives_what_its_viewing_angle_says(): void
    {
        $panel = Panel::of('P', 500, 500, 200, 200, 1, 1, 1, candela: 1000, viewAcross: 120, viewDown: 90);
        $emission = Emission::ofWall(
            Wall::grid($panel, 1, 1),
            Material::fromRow(['ambient' => 500, 'reflectance' => 0.05]),
        );
        self::assertNotNull($emission);
        // Half at half the angle, each way.
        self::assertEqualsWithDelta(
            [1000.0, 500.0, 500.0, 250.0, 0.0],
            [
                $emission->toward(0, 0),
                $emission->toward(M_PI / 3, 0),
                $emission->toward(0, -M_PI / 4),
                $emission->toward(-M_PI / 3, M_PI / 4),
                $emission->toward(M_PI / 2, 0),
            ],
            1e-6,
        );
        self::assertEqualsWithDelta((500 * 0.05) / M_PI, $emission->ambient, 1e-9);
        self::assertNull(
            Emission::ofWall(Wall::grid(Panel::of('Q', 500, 500, 10, 10, 1, 1, 1), 1, 1), Material::fromRow([])),
        );
        $wall = Wall::grid($panel, 1, 1);
        $scene = Scene::of([
            new Body('w', 'w', $wall->mesh(), Pose::of(Vec3::of(0, -0.25, 0))->matrix(), null, 200, 200, $emission),
        ]);
        $at = static fn (float $degrees): ?Sight => Sight::of(
            $scene,
            0,
            200 * sin(deg2rad($degrees)),
            0,
            200 * cos(deg2rad($degrees)),
        );
        self::assertEqualsWithDelta([1000.0, 500.0], [$at(0)->nits ?? 0, $at(-60)->nits ?? 0], 2);
        self::assertEqualsWithDelta((1000 + (500 * 0.05) / M_PI) / ((500 * 0.05) / M_PI), $at(0)->contrast ?? 0, 1);
        // Two panels of unlike brightness, by area.
        $two = Wall::of(
            [[$panel, Panel::of('Half', 500, 500, 200, 200, 1, 1, 1, candela: 500, viewAcross: 180, viewDown: 180)]],
            [0],
        );
        self::assertEqualsWithDelta(750.0, Emission::ofWall($two, Material::fromRow([]))->nits ?? 0, 1e-9);
    }

    public function test_a_diffuser_gives_back_no_more_than_falls_on_it(): void
    {
        $remarks = static fn (array $row): array => Material::fromRow($row)->remarks();
        self::assertSame([], $remarks(['gain' => 1.3]));
        self::assertSame([], $remarks(['translucent' => true, 'gain' => 0.6, 'transmission' => 0.4]));
        self::assertSame(
            [
                'A gain of 0.80 and a transmission of 40 % are more light than falls on it, unless it concentrates what it gives back.',
            ],
            $remarks(['translucent' => true, 'gain' => 0.8, 'transmission' => 0.4]),
        );
        self::assertSame([], $remarks(['translucent' => true, 'rear' => true, 'gain' => 1.2, 'transmission' => 0.5]));
        self::assertEqualsWithDelta(
            [(100 * 0.8) / M_PI, (100 * 0.04) / M_PI],
            [
                Material::fromRow(['ambient' => 100])->ambientLuminance(false),
                Material::fromRow(['ambient' => 100])->ambientLuminance(true),
            ],
            1e-9,
        );
    }

    /** @param  array<string, mixed>  $camera */
    private static function filmed(array $camera): Show
    {
        $panel = [
            'id' => 'p',
            'name' => 'P',
            'widthMm' => 500,
            'heightMm' => 500,
            'widthPx' => 200,
            'heightPx' => 200,
            'kilograms' => 1,
            'wattsAverage' => 1,
            'wattsMaximum' => 2,
        ];

        return Show::fromRows(
            ['id' => 's', 'name' => 'S', 'frameRate' => '25'],
            [
                'panel' => [$panel],
                'surface' => [
                    [
                        'id' => 'w',
                        'name' => 'Wall',
                        'kind' => 'wall',
                        'position' => [0, -0.5, 0],
                        'rotation' => [0, 0, 0],
                        'cells' => [['p', 'p'], ['p', 'p']],
                        'seams' => [0],
                    ],
                    [
                        'id' => 'f',
                        'name' => 'Front',
                        'kind' => 'flat',
                        'position' => [0, -2, -5],
                        'rotation' => [0, 0, 0],
                        'cells' => [],
                        'seams' => [],
                        'shape' => ['width' => 4, 'height' => 4],
                    ],
                    [
                        'id' => 'b',
                        'name' => 'Behind',
                        'kind' => 'flat',
                        'position' => [0, -2, 30],
                        'rotation' => [180, 0, 0],
                        'cells' => [],
                        'seams' => [],
                    ],
                ],
                'camera' => [
                    $camera + [
                        'id' => 'c',
                        'name' => 'Crane',
                        'position' => [0, 0, 10],
                        'rotation' => [0, 0, 0],
                        'sensorWidth' => 24,
                        'sensorHeight' => 13.5,
                        'focal' => 48,
                        'pixels' => 2400,
                        'fNumber' => 4,
                        'focus' => 10,
                    ],
                ],
            ],
        );
    }

    public function test_a_camera_is_told_how_wide_it_sees_and_where_rasters_beat(): void
    {
        // 24 mm over 48 mm: half the distance wide. 2.5 mm of pitch at 10 m are 0.012 mm on the sensor, whose pixels
        // are 0.01 mm: 1.2.
        $show = self::filmed([]);
        $shots = Shots::of($show, 'c', new ResultCache());
        self::assertSame(['Wall', 'Front'], array_column($shots, 'name'));
        self::assertEqualsWithDelta(
            [10.0, 5.0, 1.2, 15.0, 7.5, 0.0],
            [
                $shots[0]->distance,
                $shots[0]->width,
                $shots[0]->pitchPixels,
                $shots[1]->distance,
                $shots[1]->width,
                $shots[1]->pitchPixels,
            ],
            1e-9,
        );
        self::assertSame([true, true, false], [$shots[0]->moire, $shots[0]->sharp, $shots[1]->moire]);
        $said = static fn (Show $s): array => array_values(
            array_filter(
                array_map(static fn (Finding $f): string => $f->message, Preflight::of($s)),
                static fn (string $t): bool => str_contains($t, 'moiré'),
            ),
        );
        self::assertSame(
            ['Crane may show moiré on Wall: a pitch of its panels is 1.20 sensor pixels at 10.0 m.'],
            $said($show),
        );
        // A finer sensor tells the rasters apart; one that is focused elsewhere blurs them.
        self::assertSame(
            [[], []],
            [$said(self::filmed(['pixels' => 4800])), $said(self::filmed(['focus' => 1, 'fNumber' => 1]))],
        );
        // Asked again of the same venue nothing is worked out, also where only what plays has changed.
        $cache = new ResultCache();
        Shots::of($show, 'c', $cache);
        $made = $cache->made;
        $cache->end();
        self::assertEquals($shots, Shots::of($show, 'c', $cache));
        $cache->end();
        self::assertSame($made, $cache->made);
        // Looking away, it sees none; from the side, what a corner of is in the picture.
        self::assertSame(
            ['Behind'],
            array_column(Shots::of(self::filmed(['rotation' => [180, 0, 0]]), 'c', new ResultCache()), 'name'),
        );
        self::assertSame([], Shots::of(self::filmed(['rotation' => [90, 0, 0]]), 'c', new ResultCache()));
        $camera = Camera::fromRow(['name' => 'C', 'sensorWidth' => 36, 'focal' => 50]);
        self::assertEqualsWithDelta(7.2, $camera->widthAt(10), 1e-9);
        $this->expectException(InvalidValue::class);
        Camera::fromRow(['name' => 'C', 'fNumber' => 0]);
    }
}
