<?php

/*
 * What projections cost: the warp of a surface from the venue, blends of four projectors, and walls packed; at 1×, 2×
 * and 4× the work,
 * each beside a floor of the same run.
 */

declare(strict_types=1);

use Core\Geometry\Mesh;
use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Light\Beam;
use Core\Light\Body;
use Core\Light\Scene;
use Core\Light\SurfaceChart;
use Core\Output\ModelWarp;
use Core\Output\OverlapBlend;
use Core\Output\Packing;
use Core\Output\ProjectedRegion;
use Core\Output\Rect;
use Core\Output\Region;
use Core\Venue\Face;
use Core\Venue\Feeding;
use Core\Venue\Material;
use Core\Venue\Projector;
use Core\Venue\Surface;

require __DIR__.'/../vendor/autoload.php';

$time = static function (Closure $do): float {
    $at = hrtime(true);
    $do();

    return (hrtime(true) - $at) / 1e6;
};
$face = static fn (string $kind, array $shape): Surface => new Surface(
    'f',
    'Face',
    Pose::of(Vec3::zero()),
    Face::fromRow($kind, $shape),
    Feeding::fromRow([]),
    Material::fromRow([]),
);
$projected = static fn (Surface $surface, Pose $pose, string $id): ProjectedRegion => new ProjectedRegion(
    $id,
    Region::of('f', Rect::of(0, 0, $surface->width(), $surface->height()), 0, 0),
    Rect::of(0, 0, 1920, 1080),
    new Beam(
        $id,
        Projector::fromRow(['name' => $id, 'lens' => ['widthPx' => 1920, 'heightPx' => 1080, 'throw' => 1.5]]),
        $pose->matrix(),
    ),
);
/** A bumpy sheet of so many triangles, that stands before the face's back. */
$sheet = static function (int $triangles): Mesh {
    $n = (int) sqrt($triangles / 2);
    [$p, $uv, $i] = [[], [], []];
    for ($r = 0; $r <= $n; $r++) {
        for ($c = 0; $c <= $n; $c++) {
            array_push($p, (12 * $c) / $n - 6, 8 - (8 * $r) / $n, -0.5 + 0.2 * sin($c / 5) * sin($r / 5));
            array_push($uv, $c / $n, $r / $n);
        }
    }
    for ($r = 0; $r < $n; $r++) {
        for ($c = 0; $c < $n; $c++) {
            $a = $r * ($n + 1) + $c;
            array_push($i, $a, $a + $n + 1, $a + $n + 2, $a, $a + $n + 2, $a + 1);
        }
    }

    return Mesh::of($p, $uv, $i);
};

echo "### Warp from the venue, as the projector sees it\n\n| triangles in the venue | tree of them, ms | warp, ms | floor: the places alone, ms |\n|---|---|---|---|\n";
$drum = $face('drum', ['radius' => 3, 'arc' => 180, 'height' => 5, 'pixelsPerMetre' => 100]);
$chart = SurfaceChart::of($drum, $drum->pose->matrix());
foreach ([50_000, 100_000, 200_000] as $triangles) {
    $scene = null;
    $tree = $time(static function () use (&$scene, $drum, $sheet, $triangles): void {
        $scene = Scene::of([
            new Body(
                'f',
                'Face',
                $drum->carrier->mesh(),
                $drum->pose->matrix(),
                $drum->material,
                $drum->width(),
                $drum->height(),
            ),
            new Body('s', 'Sheet', $sheet($triangles), Pose::of(Vec3::of(0, -9, 2))->matrix(), null),
        ]);
    });
    $of = $projected($drum, Pose::of(Vec3::of(-2, 2.5, 9), -13), 'r');
    $runs = array_map(static fn (): float => $time(static fn () => ModelWarp::of($drum, $of, $scene, 0)), range(1, 5));
    $floor = $time(static function () use ($chart, $of): void {
        for ($k = 0; $k < 65 * 65; $k++) {
            $place = $chart->place(($k % 65) / 64, intdiv($k, 65) / 64);
            $place !== null && $of->pixel(...$place);
        }
    });
    sort($runs);
    printf("| %s | %.0f | %.0f | %.1f |\n", number_format($triangles), $tree, $runs[2], $floor);
}

echo "\n### Blends of four projectors of 1920 × 1080\n\n| lines across each | four maps, ms | floor: as many rays met, ms |\n|---|---|---|\n";
$wall = $face('flat', ['width' => 9, 'height' => 5]);
$scene = Scene::of([
    new Body(
        'f',
        'Face',
        $wall->carrier->mesh(),
        $wall->pose->matrix(),
        $wall->material,
        $wall->width(),
        $wall->height(),
    ),
]);
$four = array_map(
    static fn (array $at): ProjectedRegion => $projected($wall, Pose::of(Vec3::of($at[0], $at[1], 6)), "r$at[0] $at[1]"),
    [[-1.6, 1.7], [1.6, 1.7], [-1.6, 3.3], [1.6, 3.3]],
);
foreach ([201, 283, 401] as $lines) {
    $blend = $time(static fn () => (new OverlapBlend($scene, 0, $wall, $four, lines: $lines))->maps(true));
    $rows = (int) round((($lines - 1) * 1080) / 1920) + 1;
    $met = 0;
    $floor = $time(static function () use ($scene, $four, $lines, $rows, &$met): void {
        foreach ($four as $of) {
            for ($k = 0; $k < $lines * $rows; $k++) {
                [[$ox, $oy, $oz], [$dx, $dy, $dz]] = $of->ray(
                    (1920 * ($k % $lines)) / ($lines - 1),
                    (1080 * intdiv($k, $lines)) / ($rows - 1),
                );
                $met += $scene->first($ox, $oy, $oz, $dx, $dy, $dz) === null ? 0 : 1;
            }
        }
    });
    printf("| %d | %.0f | %.0f |\n", $lines, $blend, $floor);
}

echo "\n### Walls packed onto 3840 × 2160\n\n| walls | ms | outputs | least by area | used |\n|---|---|---|---|---|\n";
foreach ([60, 120, 240] as $count) {
    mt_srand(7);
    $items = [];
    for ($i = 0; $i < $count; $i++) {
        $items["w$i"] = [128 * mt_rand(1, 10), 128 * mt_rand(1, 6)];
    }
    $found = [];
    $took = $time(static function () use (&$found, $items): void {
        $found = Packing::of($items, array_fill(0, 100, [3840, 2160]), [], true);
    });
    $used = array_filter($found['used']);
    $area = array_sum(array_map(static fn (array $i): int => $i[0] * $i[1], $items));
    printf(
        "| %d | %.0f | %d | %d | %.1f %% |\n",
        $count,
        $took,
        count($used),
        (int) ceil($area / (3840 * 2160)),
        (100 * array_sum($used)) / count($used),
    );
}
