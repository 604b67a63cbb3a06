<?php

/* Rays through the tree against a plain loop over all triangles, the cast of a whole venue, and walls compiled, at 1×, 2× and 4× the work. */

declare(strict_types=1);

use Core\Geometry\Bvh;
use Core\Geometry\Mat4;
use Core\Geometry\Mesh;
use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Light\Beam;
use Core\Light\Body;
use Core\Light\Caster;
use Core\Light\Scene;
use Core\Venue\Face;
use Core\Venue\Feeding;
use Core\Venue\Material;
use Core\Venue\PanelLibrary;
use Core\Venue\Projector;
use Core\Venue\Wall;
use Core\Venue\WallSheet;

require __DIR__.'/../vendor/autoload.php';

$time = static function (Closure $run, int $times = 3): float {
    $best = INF;
    for ($i = 0; $i < $times; $i++) {
        $began = hrtime(true);
        $run();
        $best = min($best, (hrtime(true) - $began) / 1e6);
    }

    return $best;
};

/** A rough front of so many triangles: a grid in which each corner stands out by a little. */
$front = static function (int $triangles): Mesh {
    $side = (int) round(sqrt($triangles / 2));
    [$positions, $uvs, $indices] = [[], [], []];
    for ($y = 0; $y <= $side; $y++) {
        for ($x = 0; $x <= $side; $x++) {
            array_push($positions, ($x / $side) * 40 - 20, ($y / $side) * 16, 0.4 * sin($x * 0.7) * cos($y * 0.9));
            array_push($uvs, $x / $side, 1 - $y / $side);
        }
    }
    for ($y = 0; $y < $side; $y++) {
        for ($x = 0; $x < $side; $x++) {
            $a = $y * ($side + 1) + $x;
            array_push($indices, $a, $a + 1, $a + $side + 2, $a, $a + $side + 2, $a + $side + 1);
        }
    }

    return Mesh::of($positions, $uvs, $indices);
};

echo "### Rays\n\n| triangles | tree made in | rays a second | floor: a loop over all triangles | ratio |\n|---|---|---|---|---|\n";
foreach ([50_000, 100_000, 200_000] as $n) {
    $mesh = $front($n);
    $tree = null;
    $made = $time(static function () use (&$tree, $mesh): void {
        $tree = Bvh::of($mesh->positions, $mesh->indices);
    }, 2);
    $cast = static function (int $rays) use (&$tree): void {
        for ($i = 0; $i < $rays; $i++) {
            $tree->first(0.0, 6.0, 25.0, sin($i * 1.7) * 0.7, cos($i * 2.3) * 0.25, -1.0);
        }
    };
    $many = 20_000 / ($time(static fn () => $cast(20_000)) / 1000);
    // The floor does the same test on each triangle, for a few rays.
    [$p, $index] = [$mesh->positions, $mesh->indices];
    $plain = static function () use ($p, $index): void {
        for ($i = 0; $i < 2; $i++) {
            [$dx, $dy, $dz] = [sin($i * 1.7) * 0.7, cos($i * 2.3) * 0.25, -1.0];
            $best = INF;
            for ($t = 0, $n = count($index); $t < $n; $t += 3) {
                $a = 3 * $index[$t];
                $b = 3 * $index[$t + 1];
                $c = 3 * $index[$t + 2];
                $e1x = $p[$b] - $p[$a];
                $e1y = $p[$b + 1] - $p[$a + 1];
                $e1z = $p[$b + 2] - $p[$a + 2];
                $e2x = $p[$c] - $p[$a];
                $e2y = $p[$c + 1] - $p[$a + 1];
                $e2z = $p[$c + 2] - $p[$a + 2];
                $px = $dy * $e2z - $dz * $e2y;
                $py = $dz * $e2x - $dx * $e2z;
                $pz = $dx * $e2y - $dy * $e2x;
                $det = $e1x * $px + $e1y * $py + $e1z * $pz;
                if (abs($det) < 1e-14) {
                    continue;
                }
                $sx = -$p[$a];
                $sy = 6 - $p[$a + 1];
                $sz = 25 - $p[$a + 2];
                $u = ($sx * $px + $sy * $py + $sz * $pz) / $det;
                if ($u < 0 || $u > 1) {
                    continue;
                }
                $qx = $sy * $e1z - $sz * $e1y;
                $qy = $sz * $e1x - $sx * $e1z;
                $qz = $sx * $e1y - $sy * $e1x;
                $v = ($dx * $qx + $dy * $qy + $dz * $qz) / $det;
                if ($v < 0 || $u + $v > 1) {
                    continue;
                }
                $best = min($best, ($e2x * $qx + $e2y * $qy + $e2z * $qz) / $det);
            }
        }
    };
    $few = 2 / ($time($plain, 2) / 1000);
    printf("| %s | %.0f ms | %s | %.0f | %.0f |\n", number_format($n), $made, number_format($many), $few, $many / $few);
}

echo "\n### 12 projectors × 64 × 36 rays\n\n| triangles | with the tree made anew | of it the rays |\n|---|---|---|\n";
foreach ([50_000, 100_000, 200_000] as $n) {
    $body = new Body('front', 'Front', $front($n), Mat4::identity(), Material::fromRow([]), 4000, 1600);
    $beams = array_map(
        static fn (int $i): Beam => new Beam(
            "p$i",
            Projector::fromRow(['name' => "P $i", 'lens' => ['throw' => 2.5, 'throwMax' => 3]]),
            Pose::of(Vec3::of(-16.5 + 3 * $i, 7, 24), 0, 2)->matrix(),
        ),
        range(0, 11),
    );
    $rays = 0.0;
    $whole = $time(static function () use ($body, $beams, &$rays): void {
        $scene = Scene::of([$body]);
        $began = hrtime(true);
        foreach ($beams as $beam) {
            Caster::throwing($scene, $beam);
        }
        $rays = (hrtime(true) - $began) / 1e6;
    }, 2);
    printf("| %s | %.0f ms | %.0f ms |\n", number_format($n), $whole, $rays);
}

echo "\n### Cells of a face (12 projectors, 50,000 triangles)\n\n| cells | time |\n|---|---|\n";
$scene = Scene::of([new Body('front', 'Front', $front(50_000), Mat4::identity(), Material::fromRow([]), 4000, 1600)]);
foreach ([900, 1_800, 3_600] as $cells) {
    printf(
        "| %s | %.0f ms |\n",
        number_format($cells),
        $time(static fn () => Caster::face($scene, 0, $beams, $cells), 2),
    );
}

echo "\n### Walls\n\n| panels | from rows to figures, sheet and mesh | floor: going through as many cells | ratio |\n|---|---|---|---|\n";
$panel = array_values(
    array_filter(PanelLibrary::panels(), static fn ($p): bool => $p->name === 'Indoor 2.6 · 500 × 500'),
)[0];
foreach ([[50, 50], [100, 50], [100, 100]] as [$columns, $rows]) {
    $cells = array_fill(0, $rows, array_fill(0, $columns, $panel));
    $compile = $time(static function () use ($cells, $columns): void {
        $wall = Wall::of($cells, array_fill(0, $columns - 1, 1.5));
        WallSheet::of($wall, Feeding::fromRow([]));
        $wall->mesh();
    });
    $floor = $time(static function () use ($cells): void {
        $sum = 0.0;
        foreach ($cells as $row) {
            foreach ($row as $p) {
                $sum += $p->wattsMaximum + $p->kilograms + $p->widthMm * $p->heightMm;
            }
        }
    });
    printf("| %s | %.1f ms | %.2f ms | %.0f |\n", number_format($columns * $rows), $compile, $floor, $compile / $floor);
}

echo "\n### Shapes of faces\n\n| face | made in | triangles |\n|---|---|---|\n";
$reliefs = [];
for ($i = 0; $i < 200; $i++) {
    [$x, $y] = [($i % 20) * 0.9 - 9, intdiv($i, 20) * 0.75 + 0.2];
    $reliefs[] = ['depth' => -0.3, 'points' => [$x, $y, $x + 0.5, $y, $x + 0.5, $y + 0.5, $x, $y + 0.5]];
}
foreach ([50, 100, 200] as $n) {
    $mesh = null;
    $ms = $time(static function () use ($reliefs, $n, &$mesh): void {
        $mesh = Face::fromRow('relief', ['width' => 20, 'height' => 8], array_slice($reliefs, 0, $n))->mesh();
    });
    printf("| a front with %d openings | %.1f ms | %d |\n", $n, $ms, $mesh?->triangleCount() ?? 0);
}
