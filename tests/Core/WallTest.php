<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Units\InvalidValue;
use Core\Venue\Panel;
use Core\Venue\Wall;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class WallTest extends TestCase
{
    private static function panel(float $width = 500, int $pixels = 192): Panel
    {
        return Panel::of('Indoor 2.6', $width, 500, $pixels, 192, 8.1, 55, 165);
    }

    public function test_a_wall_of_twelve_by_six_has_the_figures_worked_out_by_hand(): void
    {
        $figures = Wall::grid(self::panel(), 12, 6)->figures();
        self::assertSame(
            [2304, 1152, 72, 2_654_208],
            [$figures->rasterWidth, $figures->rasterHeight, $figures->panels, $figures->litPixels],
        );
        self::assertEqualsWithDelta(
            [6.0, 3.0, 18.0, 583.2, 3960.0, 11_880.0, 2.6041666667, 2.6041666667],
            [
                $figures->widthMetres,
                $figures->heightMetres,
                $figures->areaSquareMetres,
                $figures->kilograms,
                $figures->wattsAverage,
                $figures->wattsMaximum,
                $figures->pitchX,
                $figures->pitchY,
            ],
            1e-9,
        );
    }

    public function test_a_missing_panel_counts_for_nothing_but_keeps_its_pixels_in_the_raster(): void
    {
        $p = self::panel();
        $figures = Wall::of([[$p, null, $p], [$p, $p, $p]], [0, 0])->figures();
        self::assertSame([576, 384, 5], [$figures->rasterWidth, $figures->rasterHeight, $figures->panels]);
        self::assertEqualsWithDelta(1.25, $figures->areaSquareMetres, 1e-12);
        self::assertSame(
            5 * 2,
            Wall::of([[$p, null, $p], [$p, $p, $p]], [0, 0])
                ->mesh()
                ->triangleCount(),
        );
    }

    public function test_each_panel_of_the_mesh_is_a_quad_with_the_uv_of_its_pixels(): void
    {
        $mesh = Wall::grid(self::panel(), 2, 1)->mesh();
        self::assertSame(8, $mesh->vertexCount());
        self::assertEqualsWithDelta(
            [-0.5, 0.5, 0, -0.5, 0, 0, 0, 0, 0, 0, 0.5, 0],
            array_slice($mesh->positions, 0, 12),
            1e-12,
        );
        self::assertEqualsWithDelta([0, 0, 0, 1, 0.5, 1, 0.5, 0, 0.5, 0, 0.5, 1, 1, 1, 1, 0], $mesh->uvs, 1e-12);
        // Counter-clockwise seen from the audience: the normal of the first triangle points to +Z.
        [$a, $b, $c] = array_map($mesh->position(...), array_slice($mesh->indices, 0, 3));
        self::assertGreaterThan(0, $b->minus($a)->cross($c->minus($a))->z);
    }

    public function test_seams_turn_the_columns_and_the_chord_shortens_as_trigonometry_says(): void
    {
        // Two panels of 0.5 m at 90°: the chord is 0.5·√2, the middle comes toward +Z or away from it by 0.5/√2.
        foreach ([90 => -1, -90 => 1] as $angle => $sign) {
            $mesh = Wall::of([[self::panel(), self::panel()]], [(float) $angle])->mesh();
            $chord = $mesh->position(7)->minus($mesh->position(0))->length();
            self::assertEqualsWithDelta(0.5 * sqrt(2), $chord, 1e-12);
            self::assertEqualsWithDelta(
                ($sign * 0.5) / sqrt(2),
                $mesh->position(3)->z - $mesh->position(0)->z,
                1e-12,
                "at {$angle}°",
            );
            self::assertEqualsWithDelta(0.5, $mesh->position(3)->minus($mesh->position(0))->length(), 1e-12);
        }
    }

    public function test_columns_may_differ_in_width_but_not_within_themselves(): void
    {
        $figures = Wall::of([[self::panel(), self::panel(250, 96)]], [0])->figures();
        self::assertSame(288, $figures->rasterWidth);
        self::assertEqualsWithDelta(0.75, $figures->widthMetres, 1e-12);
        $this->expectExceptionMessage('Column 1 holds panels of different widths.');
        Wall::of([[self::panel()], [self::panel(250, 96)]], []);
    }

    /** @return list<array{\Closure(): mixed, string}> */
    public static function impossible(): array
    {
        return [
            [static fn () => Wall::grid(self::panel(), 0, 4), 'columns must be between 1'],
            [static fn () => Wall::grid(self::panel(), 200, 200), 'at most 10000 panels'],
            [static fn () => Wall::of([], []), 'at least one column'],
            [static fn () => Wall::of([[null]], []), 'at least one panel'],
            [static fn () => Wall::of([[self::panel(), self::panel()]], []), '1 seams; 0 were given'],
            [static fn () => Wall::of([[self::panel(), self::panel()]], [120]), 'seams must be between -90 and 90'],
            [static fn () => Panel::of('x', 0, 500, 1, 1, 0, 0, 0), 'widthMm must be between 1'],
            [static fn () => Panel::of('x', NAN, 500, 1, 1, 0, 0, 0), 'widthMm must be a finite number'],
            [static fn () => Panel::of('x', 500, 500, 1, 1, -1, 0, 0), 'kilograms must be between 0'],
            [static fn () => Panel::of('x', 500, 500, 1, 1, 1, 100, 50), 'wattsMaximum must be between 100'],
            [static fn () => Panel::of(' ', 500, 500, 1, 1, 1, 0, 0), 'name must not be empty'],
        ];
    }

    /** @param  \Closure(): mixed  $make */
    #[DataProvider('impossible')]
    public function test_what_is_not_physical_is_refused_with_field_and_limit(\Closure $make, string $message): void
    {
        $this->expectException(InvalidValue::class);
        $this->expectExceptionMessage($message);
        $make();
    }
}
