<?php

declare(strict_types=1);

namespace Tests\Feature;

use App\Demo\FerryArray;
use App\Demo\NightSurround;
use Core\Geometry\Mat4;
use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Media\Picture;
use Core\Plan\PlanCompiler;
use Core\Playback\Head;
use Core\Playback\Moment;
use Core\Playback\ReferenceRaster;
use Core\Show\Show;
use Core\Timeline\TransportMap;
use Core\Units\Flicks;
use PHPUnit\Framework\TestCase;

/**
 * Plates of six bent lenses, thrown again from six lenses that undo it, against the surround that they were shot of.
 */
final class PlatesTest extends TestCase
{
    /** Pixels of the wall for each metre: it is 4 × 2 m. */
    private const DENSITY = 400;

    /** Degrees of a pixel in the middle of a plate: 34° on 320 px. */
    private const PLATE = 34 / 320;

    /** @var list<Picture> */
    private static array $plates = [];

    public static function setUpBeforeClass(): void
    {
        self::$plates = array_map(
            static fn (array $lens): Picture => NightSurround::plate($lens, FerryArray::WIDTH, FerryArray::HEIGHT),
            FerryArray::lenses(),
        );
    }

    /**
     * @param  array<string, list<float>>  $rig  position and rotation
     * @param  list<array<string, float>>  $lenses
     */
    private static function raster(array $rig, array $lenses): ReferenceRaster
    {
        $file = static fn (string $id, int $width, int $height): array => [
            'id' => $id,
            'name' => $id,
            'kind' => 'file',
            'state' => 'ready',
            'facts' => ['width' => $width, 'height' => $height],
            'form' => ['kind' => 'still', 'url' => "/$id.png"],
        ];
        [$width, $height] = FerryArray::pane();
        $rows = [
            'panel' => [
                [
                    'id' => 'panel',
                    'name' => 'P',
                    'widthMm' => 500,
                    'heightMm' => 500,
                    'widthPx' => self::DENSITY / 2,
                    'heightPx' => self::DENSITY / 2,
                    'kilograms' => 1,
                    'wattsAverage' => 1,
                    'wattsMaximum' => 2,
                ],
            ],
            'surface' => [
                [
                    'id' => 'wall',
                    'name' => 'Wall',
                    'position' => [0, 0, -2],
                    'rotation' => [0, 0, 0],
                    'cells' => array_fill(0, 4, array_fill(0, 8, 'panel')),
                    'seams' => array_fill(0, 7, 0),
                ],
            ],
            'rig' => [['id' => 'ferry', 'name' => 'Ferry'] + $rig],
            'timeline' => [['id' => 'line', 'name' => 'Main', 'duration' => Flicks::PER_SECOND]],
            'route' => [
                [
                    'id' => 'plates',
                    'name' => 'Plates',
                    'reach' => 'lens',
                    'width' => $width,
                    'height' => $height,
                    'surfaces' => ['wall'],
                ],
            ],
        ];
        foreach ($lenses as $i => $lens) {
            $rows['media'][] = $file("plate$i", FerryArray::WIDTH, FerryArray::HEIGHT);
            $rows['lens'][] = [
                'id' => "lens$i",
                'route' => 'plates',
                'name' => "Camera $i",
                'rig' => 'ferry',
                'part' => FerryArray::part($i),
                'values' => ['x' => 0, 'y' => 1, 'z' => 0, 'featherLeft' => 0.2, 'featherRight' => 0.2] + $lens,
            ];
            $rows['layer'][] = [
                'id' => "layer$i",
                'timeline' => 'line',
                'name' => "Plate $i",
                'order' => $i,
                'route' => 'plates',
                'part' => "lens$i",
                'fitting' => 'stretch',
                'values' => ['blend' => 'add'],
            ];
            $rows['clip'][] = [
                'id' => "clip$i",
                'layer' => "layer$i",
                'media' => "plate$i",
                'start' => 0,
                'length' => Flicks::PER_SECOND,
            ];
        }
        $show = Show::fromRows(['id' => 'show', 'name' => 'Test', 'frameRate' => '25'], $rows);
        self::assertSame([], $show->broken);

        return self::drawn($show, static fn (string $key): Picture => self::$plates[(int) substr($key, 5)]);
    }

    private static function drawn(Show $show, \Closure $source): ReferenceRaster
    {
        $compiler = new PlanCompiler();
        $compiler->compile($show, 1);

        return new ReferenceRaster(
            new Moment($compiler->plan(), [Head::of('line', TransportMap::standing(0, 0))], [], 0),
            $source,
        );
    }

    /** @return array{float, float} azimuth and elevation of a pixel of the wall, from the rig's middle one metre up */
    private static function towards(Mat4 $into, float $x, float $y): array
    {
        $p = $into->point(Vec3::of(($x + 0.5) / self::DENSITY - 2, 2 - ($y + 0.5) / self::DENSITY, -2));

        return NightSurround::towards($p->x, $p->y - 1, $p->z);
    }

    /**
     * Mean and greatest difference to the truth in 255ths, over what the plates show.
     *
     * @return array{float, float, int} and how many places were looked at
     */
    private static function difference(ReferenceRaster $raster, Mat4 $into, float $elevation = 7): array
    {
        [$sum, $most, $n] = [0.0, 0.0, 0];
        for ($y = 3; $y < 2 * self::DENSITY; $y += 19) {
            for ($x = 3; $x < 4 * self::DENSITY; $x += 19) {
                [$a, $e] = self::towards($into, $x, $y);
                if (abs($a) > 60 || abs($e - 2) > $elevation) {
                    continue;
                }
                foreach ($raster->surfacePixel('wall', $x, $y) as $c => $value) {
                    $off = abs($value - 255 * NightSurround::at($a, $e)[$c]);
                    [$sum, $most, $n] = [$sum + $off, max($most, $off), $n + 1];
                }
            }
        }

        return [$sum / max(1, $n), $most, $n];
    }

    /** @return array{array<string, list<float>>, Mat4} where the ferry is, and the venue into its place */
    private static function ferry(float $x, float $z, float $yaw): array
    {
        return [
            ['position' => [$x, 0, $z], 'rotation' => [$yaw, 0, 0]],
            Pose::of(Vec3::of($x, 0, $z), $yaw)->matrix()->rigidInverse(),
        ];
    }

    public function test_the_stitched_wall_is_the_surround_and_stays_it_when_the_array_is_moved(): void
    {
        foreach ([[0.0, 0.0, 0.0], [0.5, -0.4, 20.0]] as $where) {
            [$rig, $into] = self::ferry(...$where);
            [$mean, $most, $n] = self::difference(self::raster($rig, FerryArray::lenses()), $into);
            self::assertGreaterThan(1500, $n);
            // Rounding of plate and wall, and what lies between the pixels of a plate; most at the horizon, where the
            // light jumps.
            self::assertLessThan(1.0, $mean);
            self::assertLessThan(60, $most);
        }
    }

    public function test_lanterns_on_the_seams_stand_where_they_are(): void
    {
        [$rig, $into] = self::ferry(0, 0, 0);
        $raster = self::raster($rig, FerryArray::lenses());
        $seen = 0;
        // Cameras look 22° apart: their pictures meet at 0, 22 and 44°.
        foreach (NightSurround::LANTERNS as [$azimuth, $elevation]) {
            if (! in_array($azimuth, [0, 20, -20, 41, -40], true)) {
                continue;
            }
            $seen++;
            $x = (int) round((2 * tan(deg2rad($azimuth)) + 2) * self::DENSITY);
            $y = (int) round((1 - (2 / cos(deg2rad($azimuth))) * tan(deg2rad($elevation))) * self::DENSITY);
            $found = self::centre(
                $into,
                $x,
                $y,
                $azimuth,
                $elevation,
                static fn (int $px, int $py): float => $raster->surfacePixel('wall', $px, $py)[0] / 255,
            );
            $true = self::centre(
                $into,
                $x,
                $y,
                $azimuth,
                $elevation,
                static fn (int $px, int $py): float => NightSurround::at(...self::towards($into, $px, $py))[0],
            );
            $off = hypot($found[0] - $true[0], $found[1] - $true[1]);
            self::assertLessThan(self::PLATE, $off, "The lantern at {$azimuth}° is off by {$off}°.");
        }
        self::assertSame(5, $seen);
    }

    /**
     * The centre of what is bright round a lantern.
     *
     * @param  \Closure(int, int): float  $light  of a pixel of the wall, 0 to 1
     * @return array{float, float} azimuth and elevation
     */
    private static function centre(Mat4 $into, int $x, int $y, float $azimuth, float $elevation, \Closure $light): array
    {
        $sum = [0.0, 0.0, 0.0];
        for ($j = -28; $j <= 28; $j += 2) {
            for ($i = -28; $i <= 28; $i += 2) {
                [$a, $e] = self::towards($into, $x + $i, $y + $j);
                $weight = hypot($a - $azimuth, $e - $elevation) > 1.4 ? 0.0 : max(0.0, $light($x + $i, $y + $j) - 0.4);
                $sum = [$sum[0] + $weight * $a, $sum[1] + $weight * $e, $sum[2] + $weight];
            }
        }
        self::assertGreaterThan(10, $sum[2]);

        return [$sum[0] / max(1, $sum[2]), $sum[1] / max(1, $sum[2])];
    }

    public function test_what_is_left_bent_or_where_it_was_meant_to_be_is_seen(): void
    {
        [$rig, $into] = self::ferry(0, 0, 0);
        $right = self::difference(self::raster($rig, FerryArray::lenses()), $into)[0];
        $bent = array_map(
            static fn (array $lens): array => ['k1' => 0.0, 'k2' => 0.0, 'p1' => 0.0, 'p2' => 0.0] + $lens,
            FerryArray::lenses(),
        );
        self::assertGreaterThan(2 * $right, self::difference(self::raster($rig, $bent), $into)[0]);
        $meant = array_map(
            static fn (array $lens, int $i): array => ['yaw' => 55.0 - 22 * $i, 'pitch' => 2.0, 'roll' => 0.0] + $lens,
            FerryArray::lenses(),
            range(0, 5),
        );
        self::assertGreaterThan(3 * $right, self::difference(self::raster($rig, $meant), $into)[0]);
    }

    public function test_the_same_as_a_half_sphere_from_a_globe(): void
    {
        [$rig, $into] = self::ferry(0.3, -0.2, -15);
        $half = NightSurround::halfSphere(1024, 1024);
        $show = Show::fromRows(
            ['id' => 'show', 'name' => 'Test', 'frameRate' => '25'],
            [
                'panel' => [
                    [
                        'id' => 'panel',
                        'name' => 'P',
                        'widthMm' => 500,
                        'heightMm' => 500,
                        'widthPx' => self::DENSITY / 2,
                        'heightPx' => self::DENSITY / 2,
                        'kilograms' => 1,
                        'wattsAverage' => 1,
                        'wattsMaximum' => 2,
                    ],
                ],
                'surface' => [
                    [
                        'id' => 'wall',
                        'name' => 'Wall',
                        'position' => [0, 0, -2],
                        'rotation' => [0, 0, 0],
                        'cells' => array_fill(0, 4, array_fill(0, 8, 'panel')),
                        'seams' => array_fill(0, 7, 0),
                    ],
                ],
                'rig' => [['id' => 'ferry', 'name' => 'Ferry'] + $rig],
                'timeline' => [['id' => 'line', 'name' => 'Main', 'duration' => Flicks::PER_SECOND]],
                'route' => [
                    [
                        'id' => 'globe',
                        'name' => 'Globe',
                        'reach' => 'globe',
                        'width' => 1024,
                        'height' => 1024,
                        'surfaces' => ['wall'],
                        'rig' => 'ferry',
                        'values' => ['x' => 0, 'y' => 1, 'z' => 0, 'arc' => 180],
                    ],
                ],
                'media' => [
                    [
                        'id' => 'half',
                        'name' => 'Half',
                        'kind' => 'file',
                        'state' => 'ready',
                        'facts' => ['width' => 1024, 'height' => 1024],
                        'form' => ['kind' => 'still', 'url' => '/half.png'],
                    ],
                ],
                'layer' => [['id' => 'l', 'timeline' => 'line', 'name' => 'L', 'order' => 0, 'route' => 'globe']],
                'clip' => [
                    ['id' => 'c', 'layer' => 'l', 'media' => 'half', 'start' => 0, 'length' => Flicks::PER_SECOND],
                ],
            ],
        );
        [$mean, $most, $n] = self::difference(self::drawn($show, static fn (): Picture => $half), $into, 40);
        self::assertGreaterThan(2500, $n);
        self::assertLessThan(1.0, $mean);
        self::assertLessThan(60, $most);
    }
}
