<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Exchange\ObjReader;
use Core\Exchange\ObjWriter;
use Core\Geometry\Mat4;
use Core\Geometry\Mesh;
use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Units\InvalidValue;
use Core\Venue\Face;
use Core\Venue\Model;
use Core\Venue\Reliefs;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class ModelTest extends TestCase
{
    /**
     * @return array{mesh: Mesh, groups: list<array{name: string, first: int, triangles: int}>, hasUvs: bool, remarks: list<string>}
     */
    private static function read(string $obj): array
    {
        return ObjReader::read(explode("\n", $obj));
    }

    private const SQUARE = "v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\n";

    public function test_polygons_groups_and_uvs_are_read(): void
    {
        $read = self::read(
            "# a comment\no Tower top\n".self::SQUARE."f 1/1 2/2 3/3 4/4\ng Base\nf -4/-4 -3/-3 \\\n -2/-2\n",
        );
        self::assertSame(
            [
                ['name' => 'Tower top', 'first' => 0, 'triangles' => 2],
                ['name' => 'Base', 'first' => 2, 'triangles' => 1],
            ],
            $read['groups'],
        );
        self::assertTrue($read['hasUvs']);
        self::assertSame(4, $read['mesh']->vertexCount());
        // The first corner is at the bottom left in the file: v is 1 here.
        self::assertSame([0.0, 1.0], array_slice($read['mesh']->uvs, 0, 2));
        self::assertEqualsWithDelta(1.5, $read['mesh']->area(), 1e-12);
        self::assertSame(['1 polygons were cut into triangles.'], $read['remarks']);
    }

    public function test_a_polygon_with_a_corner_that_goes_in_keeps_its_area(): void
    {
        // An arrow head of area 2·2/2 + … by the shoelace formula: (0,0) (4,0) (4,4) (2,1) (0,4).
        $read = self::read("v 0 0 0\nv 4 0 0\nv 4 4 0\nv 2 1 0\nv 0 4 0\nf 1 2 3 4 5\n");
        self::assertEqualsWithDelta(10.0, $read['mesh']->area(), 1e-12);
        self::assertSame(3, $read['mesh']->triangleCount());
        self::assertFalse($read['hasUvs']);
        self::assertContains('The model has no UVs; they are made here.', $read['remarks']);
        // Looked at from the side and from behind as well.
        foreach (
            [
                "v 0 0 0\nv 0 0 4\nv 0 4 4\nv 0 1 2\nv 0 4 0\nf 1 2 3 4 5\n",
                "v 0 0 0\nv 0 4 0\nv 2 1 0\nv 4 4 0\nv 4 0 0\nf 1 2 3 4 5\n",
            ] as $turned
        ) {
            self::assertEqualsWithDelta(10.0, self::read($turned)['mesh']->area(), 1e-12);
        }
    }

    public function test_what_is_odd_is_said_and_mended(): void
    {
        $read = self::read(self::SQUARE."vn 0 0 -1\nf 1/1/1 2/2/1 3/3/1\nf 1/1/1 1/1/1 2/2/1\nf 1/1/1 3/3/1 4/4/1");
        self::assertContains('1 faces without area were left out.', $read['remarks']);
        self::assertContains(
            'The faces wind against their normals, as after mirroring; they were turned round.',
            $read['remarks'],
        );
        [$a, $b, $c] = array_map($read['mesh']->position(...), array_slice($read['mesh']->indices, 0, 3));
        self::assertLessThan(0, $b->minus($a)->cross($c->minus($a))->z);
        self::assertStringContainsString(
            'probably in millimetres',
            implode(self::read(str_replace('1 ', '42000 ', self::SQUARE).'f 1 2 3')['remarks']),
        );
        self::assertStringContainsString(
            'probably in centimetres',
            implode(self::read("v 0 0 0\nv 1400 0 0\nv 0 800 0\nf 1 2 3")['remarks']),
        );
        $outside = self::read("v 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 3 0\nvt 0 -1\nf 1/1 2/2 3/3");
        self::assertStringContainsString('outside 0 to 1', implode($outside['remarks']));
        self::assertLessThanOrEqual(1.0, max($outside['mesh']->uvs));
    }

    /** @return array<string, array{string, string}> */
    public static function broken(): array
    {
        return [
            'no face' => [self::SQUARE, 'no face'],
            'a vertex that is not there' => [self::SQUARE.'f 1 2 9', 'Line 9 names vertex "9"'],
            'an index of nought' => [self::SQUARE.'f 0 1 2', 'Line 9 names vertex "0"'],
            'a UV that is not there' => [self::SQUARE.'f 1/1 2/2 3/8', 'Line 9 names UV "8"'],
            'a place beyond all venues' => [
                "v 0 1e30 0\n",
                'Line 1: 1e30 lies beyond ±10,000,000. Export the model in metres',
            ],
            'a word for a number' => ["v 0 zero 0\n", 'Line 1: "v" needs 3 numbers'],
            'not a number' => ["v 0 nan 0\n", 'Line 1'],
            'two corners' => [self::SQUARE.'f 1 2', 'at least three corners'],
            'bytes' => ["\x00\xff\x13 f f\nf \xff \xfe \xfd", 'names vertex'],
        ];
    }

    #[DataProvider('broken')]
    public function test_a_broken_file_is_refused_with_its_line(string $obj, string $message): void
    {
        $this->expectException(InvalidValue::class);
        $this->expectExceptionMessage($message);
        self::read($obj);
    }

    public function test_a_byte_order_mark_and_remarks_after_a_face_are_passed_over(): void
    {
        $read = ObjReader::read([
            "\xEF\xBB\xBFv 0 0 0",
            'v 1 0 0 # house right',
            'v 0 1 0',
            'v 0 0 1#',
            'g Quay #1',
            'f 1 2 3 # the front',
            'f 1 2 4# another',
        ]);
        self::assertSame(
            [2, [['name' => 'Quay #1', 'first' => 0, 'triangles' => 2]]],
            [$read['mesh']->triangleCount(), $read['groups']],
        );
        self::assertEqualsWithDelta([0, 0, 0, 1, 0, 0], array_slice($read['mesh']->positions, 0, 6), 1e-12);
    }

    public function test_faces_and_lines_beyond_all_measure_are_refused_before_they_are_cut(): void
    {
        $round = static fn (int $n): array => [
            ...array_map(
                static fn (int $i): string => sprintf(
                    'v %.6f %.6f 0',
                    cos((2 * M_PI * $i) / $n),
                    sin((2 * M_PI * $i) / $n),
                ),
                range(0, $n - 1),
            ),
            'f '.implode(' ', range(1, $n)),
        ];
        self::assertSame(1998, ObjReader::read($round(2000))['mesh']->triangleCount());
        foreach (
            [
                [
                    $round(4097),
                    'Line 4098: a face of 4,097 corners; at most 4,096 are read. Export the model in triangles.',
                ],
                [['v 0 0 0', str_repeat('f 1 ', 70_000)], 'Line 2 is longer than 262,144 bytes.'],
                [array_fill(0, 40_000, 'f 1 2 3 4\\'), 'Line 26215 is longer than 262,144 bytes.'],
            ] as [$lines, $message]
        ) {
            try {
                ObjReader::read($lines);
                self::fail($message);
            } catch (InvalidValue $refused) {
                self::assertSame($message, $refused->getMessage());
            }
        }
        // A long line tells how far it is, so that it can be stopped.
        $told = 0;
        ObjReader::read(
            [...array_slice($round(2000), 0, -1), 'f '.implode(' ', range(1, 2000))],
            static function () use (&$told): void {
                $told++;
            },
        );
        self::assertSame(1, $told);
    }

    public function test_reading_stops_when_told_to(): void
    {
        $this->expectExceptionMessage('enough');
        ObjReader::read(
            (static function () {
                for ($i = 0; $i < 50_000; $i++) {
                    yield 'v 0 0 0';
                }
            })(),
            static fn (int $line) => throw new \RuntimeException('enough'),
        );
    }

    public function test_out_and_in_again_keeps_places_and_uvs(): void
    {
        $meshes = [
            'drum' => ['radius' => 2.1, 'arc' => 200, 'height' => 9],
            'dome' => ['radius' => 4, 'arc' => 160, 'tilt' => 30],
            'drums' => ['tiers' => '2 × 3; 1.5 × 2'],
            'box' => [],
        ];
        foreach ($meshes as $kind => $shape) {
            $mesh = Face::fromRow($kind, $shape)->mesh();
            $pose = Pose::of(Vec3::of(10.5, 0.25, -3.125), 37, 4, -11);
            $read = ObjReader::read(
                explode(
                    "\n",
                    ObjWriter::write([['name' => 'A face', 'mesh' => $mesh, 'matrix' => $pose->matrix()]], 'Show'),
                ),
            );
            self::assertSame('A_face', $read['groups'][0]['name']);
            self::assertSame($mesh->triangleCount(), $read['mesh']->triangleCount());
            foreach ($mesh->indices as $k => $i) {
                $j = $read['mesh']->indices[$k];
                self::assertEqualsWithDelta(
                    $pose->matrix()->point($mesh->position($i))->toArray(),
                    $read['mesh']->position($j)->toArray(),
                    1e-4,
                );
                self::assertEqualsWithDelta(
                    array_slice($mesh->uvs, 2 * $i, 2),
                    array_slice($read['mesh']->uvs, 2 * $j, 2),
                    1e-6,
                );
            }
        }
    }

    /**
     * @param  array<string, mixed>  $shape
     */
    private static function model(Mesh $mesh, array $shape, bool $hasUvs = true): Model
    {
        [$min, $max] = $mesh->bounds();

        return Model::fromRow([
            'shape' => $shape,
            'geometry' => [
                'load' => static fn (): array => [
                    'positions' => pack('g*', ...$mesh->positions),
                    'uvs' => pack('g*', ...$mesh->uvs),
                    'indices' => pack('V*', ...$mesh->indices),
                ],
                'min' => $min,
                'max' => $max,
                'area' => $mesh->area(),
                'triangles' => $mesh->triangleCount(),
                'hasUvs' => $hasUvs,
            ],
        ]);
    }

    public function test_a_model_is_scaled_turned_upright_and_wound_as_wanted(): void
    {
        $flat = Face::fromRow('flat', ['width' => 2, 'height' => 1])->mesh();
        $model = self::model($flat, ['scale' => 3, 'pixelsPerMetre' => 100]);
        self::assertEqualsWithDelta(18.0, $model->area(), 1e-9);
        self::assertEqualsWithDelta(18.0, $model->mesh()->area(), 1e-5);
        self::assertSame([600, 300], [$model->rasterWidth(), $model->rasterHeight()]);
        // What was up along y lies toward the audience's side once z is taken for up.
        self::assertEqualsWithDelta(
            [[-1, 0, -1], [1, 0, 0]],
            self::model($flat, ['zUp' => true])
                ->mesh()
                ->bounds(),
            1e-6,
        );
        $flipped = self::model($flat, ['flip' => true])->mesh();
        [$a, $b, $c] = array_map($flipped->position(...), array_slice($flipped->indices, 0, 3));
        self::assertLessThan(0, $b->minus($a)->cross($c->minus($a))->z);
        $this->expectException(InvalidValue::class);
        self::model($flat, ['scale' => 999_999]);
    }

    public function test_uvs_are_made_where_the_file_has_none(): void
    {
        $box = Face::fromRow('box', [
            'width' => 2,
            'depth' => 2,
            'height' => 2,
            'sides' => 'left,front,right,back',
        ])->mesh();
        $made = self::model($box, [], false)->mesh();
        self::assertEqualsWithDelta($box->area(), $made->area(), 1e-6);
        // Each triangle has a side to itself: none covers another in the raster, and four sides take four of six
        // fields.
        $sum = 0.0;
        for ($t = 0; $t < count($made->indices); $t += 3) {
            [$a, $b, $c] = array_map(
                static fn (int $i): array => array_slice($made->uvs, 2 * $i, 2),
                array_slice($made->indices, $t, 3),
            );
            $sum += abs(($b[0] - $a[0]) * ($c[1] - $a[1]) - ($b[1] - $a[1]) * ($c[0] - $a[0])) / 2;
        }
        self::assertEqualsWithDelta(4 / 6, $sum, 1e-6);
        self::assertGreaterThanOrEqual(0, min($made->uvs));
        self::assertLessThanOrEqual(1, max($made->uvs));
        $front = self::model(
            Face::fromRow('flat', ['width' => 2, 'height' => 1])->mesh(),
            ['uv' => 'front'],
            false,
        )->mesh();
        self::assertEqualsWithDelta([0, 0, 0, 1, 1, 1, 1, 0], $front->uvs, 1e-6);
    }

    public function test_a_model_whose_file_is_not_read_yet_has_its_raster(): void
    {
        $model = Model::fromRow(['shape' => ['rasterWidth' => 1280, 'rasterHeight' => 720]]);
        self::assertSame(
            [1280, 720, 0],
            [$model->rasterWidth(), $model->rasterHeight(), $model->mesh()->triangleCount()],
        );
    }

    /** @return float area of the triangles that lie upright on z, by depth */
    private static function areaAt(Mesh $mesh, float $depth): float
    {
        $sum = 0.0;
        for ($t = 0; $t < count($mesh->indices); $t += 3) {
            [$a, $b, $c] = array_map($mesh->position(...), array_slice($mesh->indices, $t, 3));
            $normal = $b->minus($a)->cross($c->minus($a));
            if (abs($a->z - $depth) < 1e-9 && abs($b->z - $depth) < 1e-9 && abs($c->z - $depth) < 1e-9) {
                self::assertGreaterThan(0, $normal->z);
                $sum += $normal->length() / 2;
            }
        }

        return $sum;
    }

    public function test_boards_and_openings_are_cut_out_of_the_back_face(): void
    {
        $reliefs = Reliefs::of([
            ['depth' => -0.3, 'points' => [-2, 1, -1, 1, -1, 3, -2, 3]],
            ['depth' => 0.5, 'points' => [-5, 5.5, 5, 5.5, 5, 6, -5, 6]],
            ['depth' => 0.2, 'points' => [1, 1, 3, 1, 2, 3]],
        ]);
        $mesh = Reliefs::mesh(10, 6, $reliefs);
        self::assertEqualsWithDelta(2.0, self::areaAt($mesh, -0.3), 1e-9);
        self::assertEqualsWithDelta(5.0, self::areaAt($mesh, 0.5), 1e-9);
        self::assertEqualsWithDelta(2.0, self::areaAt($mesh, 0.2), 1e-9);
        self::assertEqualsWithDelta(60 - 9, self::areaAt($mesh, 0.0), 1e-9);
        // Reveals: round the window 6 m × 0.3, under the cornice 10 m × 0.5, round the triangle.
        $reveals = 6 * 0.3 + 10 * 0.5 + (2 + 2 * hypot(1, 2)) * 0.2;
        self::assertEqualsWithDelta(60 + $reveals, $mesh->area(), 1e-9);
        foreach ([0, 1] as $axis) {
            foreach (
                array_filter($mesh->uvs, static fn (int $i): bool => $i % 2 === $axis, ARRAY_FILTER_USE_KEY) as $uv
            ) {
                self::assertTrue($uv >= -1e-12 && $uv <= 1 + 1e-12);
            }
        }
    }

    public function test_where_boards_overlap_the_later_one_covers(): void
    {
        $mesh = Reliefs::mesh(
            4,
            4,
            Reliefs::of([
                ['depth' => 1, 'points' => [-1, 1, 1, 1, 1, 3, -1, 3]],
                ['depth' => 2, 'points' => [0, 0, 2, 0, 2, 2, 0, 2]],
            ]),
        );
        self::assertEqualsWithDelta(3.0, self::areaAt($mesh, 1.0), 1e-9);
        self::assertEqualsWithDelta(4.0, self::areaAt($mesh, 2.0), 1e-9);
        self::assertEqualsWithDelta(9.0, self::areaAt($mesh, 0.0), 1e-9);
        $crossed = Reliefs::mesh(4, 4, Reliefs::of([['depth' => 1, 'points' => [-1, 0, 1, 4, -1, 4, 1, 0]]]));
        self::assertEqualsWithDelta(4.0, self::areaAt($crossed, 1.0), 1e-9);
    }

    /** @return list<array{mixed}> */
    public static function impossibleBoards(): array
    {
        return [
            ['none'],
            [[['depth' => 1, 'points' => [0, 0, 1, 1]]]],
            [[['depth' => 'deep', 'points' => [0, 0, 1, 0, 1, 1]]]],
            [[['depth' => 1, 'points' => [0, 0, 1, 0, 1]]]],
            [array_fill(0, 501, ['depth' => 1, 'points' => [0, 0, 1, 0, 1, 1]])],
            [[['depth' => 99, 'points' => [0, 0, 1, 0, 1, 1]]]],
        ];
    }

    #[DataProvider('impossibleBoards')]
    public function test_boards_that_are_none_are_refused(mixed $rows): void
    {
        $this->expectException(InvalidValue::class);
        Reliefs::of($rows);
    }

    public function test_stacked_drums_and_domes_have_the_area_of_their_formulas(): void
    {
        $drums = Face::fromRow('drums', ['tiers' => '2 × 3; 1.5x2', 'arc' => 180, 'pixelsPerMetre' => 100]);
        self::assertEqualsWithDelta(M_PI * (2 * 3 + 1.5 * 2), $drums->area(), 1e-9);
        self::assertEqualsWithDelta($drums->area(), $drums->mesh()->area(), 0.01);
        self::assertSame([628, 500], [$drums->rasterWidth(), $drums->rasterHeight()]);
        foreach ([false, true] as $outside) {
            $dome = Face::fromRow('dome', ['radius' => 4, 'arc' => 120, 'outside' => $outside]);
            self::assertEqualsWithDelta(2 * M_PI * 16 * (1 - cos(M_PI / 3)), $dome->area(), 1e-9);
            self::assertEqualsWithDelta($dome->area(), $dome->mesh()->area(), 0.1);
            $mesh = $dome->mesh();
            [$a, $b, $c] = array_map($mesh->position(...), array_slice($mesh->indices, 0, 3));
            self::assertEqualsWithDelta(4.0, $a->length(), 1e-9);
            // From within, the normal looks to the middle.
            self::assertSame($outside, $b->minus($a)->cross($c->minus($a))->dot($a) > 0);
        }
        $this->expectException(InvalidValue::class);
        Face::fromRow('drums', ['tiers' => '2 by 3']);
    }

    public function test_a_raster_may_be_given_in_pixels(): void
    {
        $face = Face::fromRow('drum', ['rasterWidth' => 2048, 'rasterHeight' => 1024]);
        self::assertSame([2048, 1024], [$face->rasterWidth(), $face->rasterHeight()]);
        self::assertSame(Mat4::identity()->m, Mat4::of(Mat4::identity()->m)->m);
    }
}
