<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Geometry\Mesh;
use Core\Units\InvalidValue;
use Core\Venue\Face;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class FaceTest extends TestCase
{
    private static function area(Mesh $mesh): float
    {
        $sum = 0.0;
        for ($t = 0; $t < count($mesh->indices); $t += 3) {
            [$a, $b, $c] = array_map($mesh->position(...), array_slice($mesh->indices, $t, 3));
            $sum += $b->minus($a)->cross($c->minus($a))->length() / 2;
        }

        return $sum;
    }

    public function test_a_flat_face_is_a_rectangle_with_a_raster_of_its_own(): void
    {
        $face = Face::fromRow('flat', ['width' => 8, 'height' => 4.5, 'pixelsPerMetre' => 240]);
        self::assertSame([1920, 1080], [$face->rasterWidth(), $face->rasterHeight()]);
        self::assertEqualsWithDelta([36.0, 36.0], [$face->area(), self::area($face->mesh())], 1e-9);
        self::assertSame([0.0, 0.0, 0.0, 1.0, 1.0, 1.0, 1.0, 0.0], $face->mesh()->uvs);
        self::assertSame('Flat face, 8 × 4.5 m', $face->inWords());
    }

    public function test_a_drum_lies_on_its_circle_faces_outward_and_has_the_area_of_its_arc(): void
    {
        foreach ([[3.0, 180.0], [2.5, 360.0], [10.0, 45.0]] as [$radius, $arc]) {
            $face = Face::fromRow('drum', ['radius' => $radius, 'arc' => $arc, 'height' => 6]);
            $mesh = $face->mesh();
            $exact = deg2rad($arc) * $radius * 6;
            self::assertEqualsWithDelta($exact, $face->area(), 1e-9);
            // Strips of three degrees at most are at most a nine-thousandth short of the arc.
            self::assertEqualsWithDelta($exact, self::area($mesh), $exact / 8000);
            for ($i = 0; $i < $mesh->vertexCount(); $i++) {
                $p = $mesh->position($i);
                self::assertEqualsWithDelta($radius, hypot($p->x, $p->z + $radius), 1e-9);
            }
            [$a, $b, $c] = array_map($mesh->position(...), array_slice($mesh->indices, 0, 3));
            $normal = $b->minus($a)->cross($c->minus($a));
            self::assertGreaterThan(0, $normal->x * $a->x + $normal->z * ($a->z + $radius));
            self::assertSame(0.0, $mesh->uvs[0]);
            self::assertEqualsWithDelta(1.0, max($mesh->uvs), 1e-12);
        }
    }

    public function test_a_box_unfolds_its_sides_from_house_left(): void
    {
        $face = Face::fromRow('box', [
            'width' => 4,
            'depth' => 2,
            'height' => 3,
            'pixelsPerMetre' => 10,
            'sides' => 'front, left, right',
        ]);
        self::assertSame([80, 30], [$face->rasterWidth(), $face->rasterHeight()]);
        $mesh = $face->mesh();
        self::assertEqualsWithDelta(24.0, self::area($mesh), 1e-9);
        // The front lies between a quarter and three quarters of the raster, from x = −2 m to 2 m at z = 0.
        self::assertEqualsWithDelta([-2, 3, 0], $mesh->position(4)->toArray(), 1e-9);
        self::assertEqualsWithDelta([0.25, 0.0], array_slice($mesh->uvs, 8, 2), 1e-9);
        self::assertEqualsWithDelta([2, 0, 0], $mesh->position(6)->toArray(), 1e-9);
        self::assertEqualsWithDelta([0.75, 1.0], array_slice($mesh->uvs, 12, 2), 1e-9);
        foreach ([0, 6, 12] as $t) {
            [$a, $b, $c] = array_map($mesh->position(...), array_slice($mesh->indices, $t, 3));
            $normal = $b->minus($a)->cross($c->minus($a));
            self::assertGreaterThan(0, $t === 0 ? -$normal->x : ($t === 6 ? $normal->z : $normal->x));
        }
    }

    /** @return list<array{string, array<string, mixed>, string}> */
    public static function impossible(): array
    {
        return [
            ['flat', ['width' => 0], 'width'],
            ['flat', ['height' => 'tall'], 'height'],
            ['drum', ['arc' => 400], 'arc'],
            ['drum', ['radius' => -1], 'radius'],
            ['box', ['sides' => 'left,top'], 'sides'],
            ['box', ['sides' => ''], 'sides'],
            ['flat', ['width' => 1000, 'pixelsPerMetre' => 5000], 'pixelsPerMetre'],
            ['egg', [], 'kind'],
        ];
    }

    /** @param  array<string, mixed>  $shape */
    #[DataProvider('impossible')]
    public function test_what_is_not_physical_is_refused(string $kind, array $shape, string $field): void
    {
        try {
            Face::fromRow($kind, $shape);
            self::fail('It was taken.');
        } catch (InvalidValue $refused) {
            self::assertSame($field, $refused->field);
        }
    }
}
