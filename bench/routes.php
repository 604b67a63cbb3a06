<?php

/*
 * An edit of one route in a show of 200 surfaces × 40 routes of each reach, until its bundle and its figures are
 * there, at 1×, 2× and
 * 4× the routes; and pixels a second of the reference raster for each reach, against a picture that is only sampled.
 */

declare(strict_types=1);

use Core\Media\Picture;
use Core\Plan\PlanCompiler;
use Core\Playback\Head;
use Core\Playback\Moment;
use Core\Playback\ReferenceRaster;
use Core\Preflight\Figures;
use Core\Show\Document;
use Core\Show\ResultCache;
use Core\Timeline\TransportMap;
use Core\Units\Flicks;

require __DIR__.'/../vendor/autoload.php';

$id = static fn (string $kind, int $n): string => sprintf('01hzz%s%020d', substr($kind, 0, 1), $n);
/** Rows of a show with as many routes of each of four reaches, every one over 20 of 200 surfaces. */
$show = static function (int $each) use ($id): array {
    $rows = [
        'panel' => [
            [
                'id' => 'panel',
                'name' => 'P',
                'widthMm' => 500,
                'heightMm' => 500,
                'widthPx' => 48,
                'heightPx' => 48,
                'kilograms' => 8,
                'wattsAverage' => 50,
                'wattsMaximum' => 150,
            ],
        ],
    ];
    for ($i = 0; $i < 200; $i++) {
        $rows['surface'][] = [
            'id' => $id('surface', $i),
            'name' => "Wall $i",
            'position' => [($i % 20) * 3, intdiv($i, 20) * 2, 0],
            'rotation' => [($i % 30) - 15, 0, 0],
            'cells' => array_fill(0, 3, array_fill(0, 5, 'panel')),
            'seams' => [0, 0, 5, 0],
        ];
    }
    $rows['media'] = [
        ['id' => $id('media', 0), 'name' => 'Card', 'kind' => 'testcard', 'width' => 640, 'height' => 360],
    ];
    $rows['timeline'] = [['id' => $id('timeline', 0), 'name' => 'Main', 'duration' => 600 * Flicks::PER_SECOND]];
    for ($r = 0; $r < 4 * $each; $r++) {
        $reach = ['skin', 'canvas', 'lens', 'globe'][$r % 4];
        $surfaces = array_map(static fn (int $n): string => $id('surface', ($r * 7 + $n) % 200), range(0, 19));
        $rows['route'][] = [
            'id' => $id('route', $r),
            'name' => "Way $r",
            'reach' => $reach,
            'width' => $reach === 'skin' ? 0 : 4096,
            'height' => $reach === 'skin' ? 0 : 2048,
            'surfaces' => $surfaces,
        ];
        foreach ($reach === 'canvas' ? $surfaces : [] as $n => $surface) {
            $rows['share'][] = [
                'id' => $id('share', 100 * $r + $n),
                'route' => $id('route', $r),
                'surface' => $surface,
                'values' => ['x' => 250 * ($n % 10), 'y' => 200 * intdiv($n, 10), 'width' => 240, 'height' => 144],
            ];
        }
        foreach ($reach === 'lens' ? [0, 1] : [] as $n) {
            $rows['lens'][] = [
                'id' => $id('lens', 10 * $r + $n),
                'route' => $id('route', $r),
                'name' => "Lens $n",
                'values' => ['x' => 20 + 10 * $n, 'y' => 5, 'z' => 30, 'angle' => 90],
            ];
        }
        $rows['layer'][] = [
            'id' => $id('layer', $r),
            'timeline' => $id('timeline', 0),
            'name' => "Layer $r",
            'order' => $r,
            'route' => $id('route', $r),
        ];
        $rows['clip'][] = [
            'id' => $id('clip', $r),
            'layer' => $id('layer', $r),
            'media' => $id('media', 0),
            'start' => 0,
            'length' => 600 * Flicks::PER_SECOND,
        ];
    }

    return $rows;
};
$head = ['id' => 'show', 'name' => 'Bench', 'frameRate' => '25'];
echo "### An edit of one route, 200 surfaces\n\n| routes | rows to document | first plan | first figures | edit of a share: p50 | p95 | of a lens: p50 | p95 | of a pane: p50 | p95 | floor: a name changed, p50 |\n|---|---|---|---|---|---|---|---|---|---|---|\n";
foreach ([10, 20, 40] as $each) {
    $rows = $show($each);
    $at = hrtime(true);
    $document = Document::of($head, $rows);
    $read = (hrtime(true) - $at) / 1e6;
    [$compiler, $cache] = [new PlanCompiler(), new ResultCache()];
    $at = hrtime(true);
    $compiler->compile($document->show, 1)->toBytes();
    $first = (hrtime(true) - $at) / 1e6;
    $at = hrtime(true);
    $figures = Figures::of($document->show, $cache);
    $told = (hrtime(true) - $at) / 1e6;
    $edits = [
        'share' => static fn (int $i): array => ['share', $id('share', 100 + ($i % 20)), ['values.x' => 5.0 + $i]],
        'lens' => static fn (int $i): array => ['lens', $id('lens', 20), ['values.yaw' => 0.5 * $i]],
        'pane' => static fn (int $i): array => ['route', $id('route', 1), ['width' => 4000 + $i]],
        'name' => static fn (int $i): array => ['layer', $id('layer', 0), ['name' => "Layer $i"]],
    ];
    $took = [];
    foreach ($edits as $name => $edit) {
        for ($i = 1; $i <= 30; $i++) {
            [$kind, $of, $fields] = $edit($i);
            $at = hrtime(true);
            $document = $document->with(
                $document->changedRows([
                    [
                        'kind' => $kind,
                        'id' => $of,
                        'op' => 'update',
                        'fields' => array_map(
                            static fn (mixed $after): array => ['before' => null, 'after' => $after],
                            $fields,
                        ),
                    ],
                ]),
            );
            $compiler->compile($document->show, $i + 1)->toBytes();
            $next = Figures::of($document->show, $cache);
            json_encode(Figures::difference($figures, $next));
            $figures = $next;
            $took[$name][] = (hrtime(true) - $at) / 1e6;
        }
        sort($took[$name]);
    }
    printf(
        "| %d | %.0f ms | %.0f ms | %.0f ms | %s | %.1f ms |\n",
        4 * $each,
        $read,
        $first,
        $told,
        implode(
            ' | ',
            array_map(
                static fn (string $name): string => sprintf('%.1f ms | %.1f ms', $took[$name][14], $took[$name][28]),
                ['share', 'lens', 'pane'],
            ),
        ),
        $took['name'][14],
    );
}

echo "\n### The reference raster, one layer\n\n| reach | pixels a ms | floor: sampling a picture, a ms | ratio to floor |\n|---|---|---|---|\n";
$picture = Picture::of(640, 360, str_repeat("\x40\x80\xc0\xff", 640 * 360));
$at = hrtime(true);
for ($i = 0; $i < 60_000; $i++) {
    $light = $picture->sample((($i % 640) + 0.3) / 640, (($i % 359) + 0.3) / 360);
}
$floor = 60_000 / ((hrtime(true) - $at) / 1e6);
assert($light[3] === 1.0);
$core = Document::of($head, $show(1))->show;
$compiler = new PlanCompiler();
$compiler->compile($core, 1);
foreach (['skin', 'canvas', 'lens', 'globe'] as $r => $reach) {
    $surface = $id('surface', $r * 7 + 3);
    $parts = array_filter(
        $compiler->plan()->parts,
        static fn (string $name): bool => ! str_starts_with($name, 'contribution:') ||
            str_starts_with($name, 'contribution:'.$id('layer', $r)),
        ARRAY_FILTER_USE_KEY,
    );
    $plan = new Core\Plan\Plan($parts, $compiler->plan()->tracks);
    $raster = new ReferenceRaster(
        new Moment($plan, [Head::of($id('timeline', 0), TransportMap::standing(0, 0))], [], 0),
        static fn (): Picture => $picture,
    );
    $raster->surfacePixel($surface, 0, 0);
    $n = 0;
    $at = hrtime(true);
    for ($y = 0; $y < 144; $y += 2) {
        for ($x = 0; $x < 240; $x += 2) {
            $raster->surfacePixel($surface, $x, $y);
            $n++;
        }
    }
    $rate = $n / ((hrtime(true) - $at) / 1e6);
    printf("| %s | %.0f | %.0f | %.2f |\n", $reach, $rate, $floor, $floor / $rate);
}
