<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Light\Guide;
use Core\Light\SurfaceChart;
use Core\Units\InvalidValue;
use Core\Venue\Face;
use Core\Venue\Feeding;
use Core\Venue\Material;
use Core\Venue\Surface;
use PHPUnit\Framework\TestCase;

/** Squares of a real size, against lengths by hand. */
final class GuideTest extends TestCase
{
    /** @param  array<string, mixed>  $shape */
    private static function guide(string $kind, array $shape, float $size): Guide
    {
        $surface = new Surface(
            'f',
            'Face',
            Pose::of(Vec3::zero()),
            Face::fromRow($kind, $shape + ['rasterWidth' => 1000, 'rasterHeight' => 800]),
            Feeding::fromRow([]),
            Material::fromRow([]),
        );
        $world = Pose::of(Vec3::of(3, 1, -2), 30, 10, 0)->matrix();

        return Guide::of(SurfaceChart::of($surface, $world), 1000, 800, $size);
    }

    public function test_a_flat_face_has_squares_from_its_middle_and_its_top(): void
    {
        // 5 × 4 m in 1000 × 800: half a metre is 100 px.
        $guide = self::guide('flat', ['width' => 5, 'height' => 4], 0.5);
        self::assertCount(8, $guide->rows);
        foreach ($guide->rows as $k => $row) {
            self::assertEqualsWithDelta([100 * $k, 100 * $k + 100], [$row['top'], $row['bottom']], 1e-6);
            self::assertEqualsWithDelta(range(100, 900, 100), $row['lines'], 1e-6);
        }
        // What does not end on a line has a part of a square at both sides, and at the bottom.
        $guide = self::guide('flat', ['width' => 5, 'height' => 4], 1.2);
        self::assertEqualsWithDelta([0, 240, 480, 720], array_column($guide->rows, 'top'), 1e-6);
        self::assertEqualsWithDelta([20, 260, 500, 740, 980], $guide->rows[1]['lines'], 1e-6);
    }

    public function test_squares_stay_square_on_every_tier(): void
    {
        // The raster goes round the widest tier: 2 m · 180° are 6.2832 m in 1000 px. On a tier of 1 m, as many metres
        // take as many pixels at half the angle of which there is twice as much: its own arc is 500 px wide.
        $guide = self::guide('drums', ['tiers' => '2 × 1; 1 × 0.5', 'arc' => 180], 0.25);
        // From the top: the upper tier is a third of the height, 266.7 px, and has two rows; the lower one four.
        self::assertEqualsWithDelta(
            [0, 133.333, 266.667, 400, 533.333, 666.667],
            array_column($guide->rows, 'top'),
            0.01,
        );
        $px = 1000 / (2 * M_PI);
        foreach ($guide->rows as $k => $row) {
            $lines = $row['lines'];
            $middle = array_search(500.0, array_map(static fn (float $x): float => round($x, 6), $lines), true);
            self::assertIsInt($middle);
            self::assertEqualsWithDelta(0.25 * $px, $lines[$middle + 1] - $lines[$middle], 0.01, "row $k");
            self::assertEqualsWithDelta(0.25 * $px, $lines[$middle] - $lines[$middle - 1], 0.01);
        }
        // π m along the lower tier either way are 12 lines, half as much along the upper one 6.
        self::assertCount(25, $guide->rows[3]['lines']);
        self::assertCount(13, $guide->rows[0]['lines']);
    }

    public function test_round_things_are_measured_along_themselves(): void
    {
        $guide = self::guide('drum', ['radius' => 1.5, 'arc' => 120, 'height' => 2], 0.3);
        $arc = 1.5 * deg2rad(120);
        self::assertEqualsWithDelta(1000 * (0.5 + 0.3 / $arc), $guide->rows[0]['lines'][6] ?? 0, 0.01);
        // Down the middle of a dome an arc is as long as its angle.
        $dome = self::guide('dome', ['radius' => 2, 'arc' => 90], 0.5);
        self::assertEqualsWithDelta(800 * (0.5 / (2 * deg2rad(90))), $dome->rows[1]['top'], 0.01);
    }

    public function test_its_picture_has_lines_fields_and_names(): void
    {
        $picture = self::guide('flat', ['width' => 5, 'height' => 4], 0.5)->picture();
        self::assertSame([1000, 800], [$picture->width, $picture->height]);
        foreach ([[100, 50], [500, 250], [30, 300], [999, 700]] as [$x, $y]) {
            self::assertSame([240, 236, 224, 255], $picture->pixel($x, $y), "a line at $x, $y");
        }
        // Squares beside one another and below one another differ.
        $fields = [$picture->pixel(110, 90), $picture->pixel(210, 90), $picture->pixel(110, 190)];
        self::assertSame($fields[1], $fields[2]);
        self::assertNotSame($fields[0], $fields[1]);
        $words = 0;
        for ($y = 101; $y < 200; $y++) {
            for ($x = 201; $x < 300; $x++) {
                $words += $picture->pixel($x, $y) === [255, 214, 160, 255] ? 1 : 0;
            }
        }
        self::assertGreaterThan(100, $words);
    }

    public function test_rows_go_on_after_z(): void
    {
        self::assertSame(
            ['A', 'Z', 'AA', 'AZ', 'BA', 'ZZ', 'AAA'],
            array_map(Guide::letter(...), [0, 25, 26, 51, 52, 701, 702]),
        );
    }

    public function test_too_many_squares_are_refused(): void
    {
        foreach ([0.0, 0.001, 0.01, NAN] as $size) {
            try {
                self::guide('flat', ['width' => 5, 'height' => 4], $size);
                self::fail("$size is refused");
            } catch (InvalidValue $refused) {
                self::assertSame('guide', $refused->field);
            }
        }
    }
}
