<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Bindings\Command;
use Core\Exchange\ObjWriter;
use Core\Geometry\Mat4;
use Core\Geometry\Mesh;
use Core\Geometry\MeshMaker;
use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Light\SurfaceChart;
use Core\Plan\SurfaceMesh;
use Core\Routing\Reach;
use Core\Routing\Reaches\ReachStrategy;
use Core\Venue\Carrier;
use Core\Venue\Feeding;
use Core\Venue\FlatCarrier;
use Core\Venue\Material;
use Core\Venue\Surface;
use PHPUnit\Framework\TestCase;

/** What a new thing of a kind takes: that one class is enough, and that nothing elsewhere asks what it is. */
final class NewThingsTest extends TestCase
{
    /** A sail of one triangle that projectors light. */
    private static function sail(): Carrier
    {
        return new class implements Carrier
        {
            use FlatCarrier;

            public function rasterWidth(): int
            {
                return 120;
            }

            public function rasterHeight(): int
            {
                return 80;
            }

            public function mesh(): Mesh
            {
                $maker = new MeshMaker();
                $maker->add([-1.0, 0.0, 0.0, 0.0, 1.0], [1.0, 0.0, 0.0, 1.0, 1.0], [0.0, 2.0, 0.0, 0.5, 0.0]);

                return $maker->mesh();
            }

            public function triangles(): int
            {
                return 1;
            }

            public function area(): float
            {
                return 2.0;
            }

            public function inWords(): string
            {
                return 'Sail, 2 m²';
            }
        };
    }

    public function test_a_carrier_is_one_class(): void
    {
        $surface = new Surface(
            's',
            'Sail',
            Pose::of(Vec3::of(0, 0, 0)),
            self::sail(),
            Feeding::fromRow([]),
            Material::fromRow([]),
        );
        self::assertSame(
            [120, 80, false, null],
            [$surface->width(), $surface->height(), $surface->shines(), $surface->wall()],
        );
        $mesh = SurfaceMesh::of($surface, Mat4::identity());
        self::assertSame(3, $mesh->corners());
        self::assertNull(SurfaceMesh::round($surface));
        // The middle of its raster is half way up; what lies beside the triangle is nowhere.
        $chart = SurfaceChart::of($surface, Mat4::identity());
        self::assertEqualsWithDelta([0.0, 1.0, 0.0], array_slice($chart->place(0.5, 0.5) ?? [], 0, 3), 1e-9);
        self::assertNull($chart->place(0.05, 0.05));
        self::assertStringContainsString(
            'vt',
            ObjWriter::write(
                [['name' => 'Sail', 'mesh' => self::sail()->mesh(), 'matrix' => Mat4::identity()]],
                'Sails',
            ),
        );
    }

    public function test_a_reach_is_one_class_and_none_is_without_one(): void
    {
        foreach (Reach::cases() as $reach) {
            $strategy = $reach->strategy();
            self::assertInstanceOf(ReachStrategy::class, $strategy);
            self::assertSame(ucfirst($reach->value).'Reach', (new \ReflectionClass($strategy))->getShortName());
        }
        $where = [];
        foreach (
            new \RecursiveIteratorIterator(
                new \RecursiveDirectoryIterator(dirname(__DIR__, 2).'/core', \FilesystemIterator::SKIP_DOTS),
            ) as $file
        ) {
            preg_match('/Reach::(Skin|Lens|Globe)\b/', (string) file_get_contents($file->getPathname())) === 1 &&
                ($where[] = $file->getFilename());
        }
        sort($where);
        // What makes rows of lenses and shares.
        self::assertSame(['Routing.php'], $where);
    }

    public function test_a_command_is_one_case(): void
    {
        $file = (string) file_get_contents(dirname(__DIR__, 2).'/resources/js/api/commands.ts');
        $described = (string) file_get_contents(dirname(__DIR__, 2).'/docs/openapi.json');
        foreach (Command::controls() as $command) {
            self::assertStringContainsString("/kite/$command->value", $file);
        }
        foreach (Command::windows() as $command) {
            self::assertStringContainsString("\"description\": \"{$command->label()}\"", $described);
        }
    }
}
