<?php

/* Tracks of many keyframes, one curve after an edit, a plan and what an edit changes of it, 2,000 values at one moment: at 1×, 2× and 4×. */

declare(strict_types=1);

use App\Demo\BigShow;
use Core\Plan\PlanCompiler;
use Core\Playback\Head;
use Core\Playback\Moment;
use Core\Preflight\Figures;
use Core\Show\Document;
use Core\Show\ResultCache;
use Core\Show\Schema;
use Core\Show\Show;
use Core\Timeline\TransportMap;
use Core\Units\Flicks;
use Core\Values\Curve;
use Core\Values\Property;
use Core\Values\TrackCompiler;

require __DIR__.'/../vendor/autoload.php';

/** @return float the median of several runs, in ms */
$median = static function (int $runs, callable $run): float {
    $run();
    $took = [];
    for ($i = 0; $i < $runs; $i++) {
        $began = hrtime(true);
        $run();
        $took[] = (hrtime(true) - $began) / 1e6;
    }
    sort($took);

    return $took[intdiv($runs, 2)];
};
$rows = static function (int $count, int $shapes): array {
    mt_srand(3);
    $list = [];
    for ($k = 0; $k < $count; $k++) {
        $list[] =
            ['t' => $k * 360_000_000, 'v' => (($k * 37) % 100) / 100, 'i' => ['linear', 'smooth', 'bezier'][$k % 3]] +
            ($shapes === 0
                ? []
                : [
                    'h' => [
                        mt_rand(0, $shapes) / $shapes,
                        mt_rand(0, $shapes) / $shapes,
                        mt_rand(0, $shapes) / $shapes,
                        mt_rand(0, $shapes) / $shapes,
                    ],
                ]);
    }

    return $list;
};
$opacity = Property::share('opacity', 'Opacity');
$floor = static function (int $count) use ($median): float {
    $numbers = array_fill(0, 4 * $count, 0.5);

    return $median(5, static fn () => pack('g*', ...$numbers));
};
echo "### Tracks\n\n| keyframes | handles | compiled | keyframes a ms | floor: packing four numbers each | ratio to floor | as bytes |\n|---|---|---|---|---|---|---|\n";
foreach ([[10_000, 0], [20_000, 0], [40_000, 0], [100_000, 0], [10_000, 1000], [100_000, 1000]] as [$count, $shapes]) {
    $curves = array_map(
        static fn (array $some): Curve => Curve::fromRows(array_values($some), $opacity),
        array_chunk($rows($count, $shapes), 1000),
    );
    $bytes = 0;
    $took = $median(3, static function () use ($curves, $opacity, &$bytes): void {
        $compiler = new TrackCompiler();
        $bytes = 0;
        foreach ($curves as $curve) {
            $bytes += strlen($compiler->compile($curve, $opacity)->toBytes());
        }
    });
    printf(
        "| %s | %s | %.1f ms | %.0f | %.2f ms | %.0f | %s |\n",
        number_format($count),
        $shapes === 0 ? 'usual' : 'all different',
        $took,
        $count / $took,
        $floor($count),
        $took / $floor($count),
        number_format($bytes),
    );
}
$json = (string) json_encode($rows(1000, 0));
$warm = new TrackCompiler();
printf(
    "\nOne curve of 1,000 keyframes after an edit: from JSON to keyframes %.2f ms, to a track %.2f ms.\n",
    $median(9, static fn () => Curve::fromRows((array) json_decode($json, true), $opacity)),
    $median(9, static fn () => $warm->compile(Curve::fromRows((array) json_decode($json, true), $opacity), $opacity)) -
        $median(9, static fn () => Curve::fromRows((array) json_decode($json, true), $opacity)),
);

echo "\n### All values of so many layers, a minute with a keyframe a second\n\n| layers | moving values | keyframes | first plan | ratio to floor | bundle | all values at one moment |\n|---|---|---|---|---|---|---|\n";
foreach ([16, 64, 256] as $count) {
    $properties = array_filter(
        Schema::properties('layer')->properties,
        static fn (Property $p): bool => $p->type->mixes(),
    );
    $made = [
        'timeline' => [['id' => 't', 'name' => 'T', 'duration' => 60 * Flicks::PER_SECOND, 'order' => 0]],
        'layer' => [],
        'curve' => [],
    ];
    $addresses = [];
    for ($l = 0; $l < $count; $l++) {
        $made['layer'][] = ['id' => "l$l", 'timeline' => 't', 'name' => "L $l", 'order' => $l];
        foreach ($properties as $property) {
            // As far as a show moves things: a few hundred pixels or degrees, twice the light or size.
            $span = min($property->max - $property->min, $property->unit === '%' ? 2 : 400);
            foreach (array_keys($property->slots) as $slot) {
                $keys = array_map(
                    static fn (int $k): array => [
                        't' => $k * Flicks::PER_SECOND,
                        'v' => min(
                            $property->max,
                            max($property->min, $property->default - $span / 2) + ($span * (($k * 37) % 100)) / 100,
                        ),
                        'i' => ['linear', 'smooth', 'bezier'][$k % 3],
                    ],
                    range(0, 59),
                );
                $made['curve'][] = [
                    'id' => "c$l $property->name $slot",
                    'ownerKind' => 'layer',
                    'owner' => "l$l",
                    'property' => $property->name,
                    'slot' => $slot,
                    'keyframes' => $keys,
                ];
                $addresses[] = "layer:l$l/$property->name".($slot === 0 ? '' : "#$slot");
            }
        }
    }
    $show = Show::fromRows(['id' => 'many', 'name' => 'Many', 'frameRate' => '50'], $made);
    $took = $median(3, static fn () => (new PlanCompiler())->compile($show, 1));
    $compiler = new PlanCompiler();
    $bytes = strlen($compiler->compile($show, 1)->toBytes());
    $moment = new Moment($compiler->plan(), [Head::of('t', TransportMap::standing(0, 1234 * 2_822_400))], [], 0);
    $keyframes = 60 * count($addresses);
    printf(
        "| %d | %s | %s | %.1f ms | %.0f | %s B | %.2f ms |\n",
        $count,
        number_format(count($addresses)),
        number_format($keyframes),
        $took,
        $took / $floor($keyframes),
        number_format($bytes),
        $median(5, static function () use ($moment, $addresses): void {
            foreach ($addresses as $address) {
                $moment->value($address, $moment->heads[0]);
            }
        }),
    );
}

echo "\n### A show, and one edit of it (a clip moved)\n\n| surfaces | clips | keyframes | rows to document | first plan | bundle | edit: document | edit: plan | edit: figures | edit: bytes |\n|---|---|---|---|---|---|---|---|---|---|\n";
foreach ([[1, 100], [2, 100], [4, 100], [1, 500]] as [$times, $keyframes]) {
    $big = BigShow::of(100 * $times, 67 * $times, 1000 * $times, $keyframes);
    $head = ['id' => 'big', 'name' => 'Big', 'frameRate' => '50'];
    $read = $median(3, static fn () => Document::of($head, $big->rows));
    $document = Document::of($head, $big->rows);
    $first = $median(3, static fn () => (new PlanCompiler())->compile($document->show, 1));
    $compiler = new PlanCompiler();
    $cache = new ResultCache();
    $bytes = strlen($compiler->compile($document->show, 1)->toBytes());
    $figures = Figures::of($document->show, $cache);
    [$steps, $sent, $start] = [[[], [], []], 0, 0];
    for ($i = 0; $i < 15; $i++) {
        $clip = $big->rows['clip'][7 * $i]['id'];
        $at = hrtime(true);
        $document = $document->with(
            $document->changedRows([
                [
                    'kind' => 'clip',
                    'id' => $clip,
                    'op' => 'update',
                    'fields' => ['start' => ['before' => 0, 'after' => ($start += Flicks::PER_SECOND)]],
                ],
            ]),
        );
        $steps[0][] = (hrtime(true) - $at) / 1e6;
        $at = hrtime(true);
        $bundle = $compiler->compile($document->show, $i + 2)->toBytes();
        $steps[1][] = (hrtime(true) - $at) / 1e6;
        $at = hrtime(true);
        $next = Figures::of($document->show, $cache);
        $difference = Figures::difference($figures, $next);
        $figures = $next;
        $steps[2][] = (hrtime(true) - $at) / 1e6;
        $sent = strlen($bundle);
    }
    array_walk($steps, static fn (array &$list) => sort($list));
    printf(
        "| %d | %s | %s | %.0f ms | %.0f ms | %s B | %.1f ms | %.1f ms | %.1f ms | %s |\n",
        100 * $times,
        number_format(1000 * $times),
        number_format(67 * $times * 3 * $keyframes),
        $read,
        $first,
        number_format($bytes),
        $steps[0][7],
        $steps[1][7],
        $steps[2][7],
        number_format($sent),
    );
}

echo "\n### Values at one moment, in PHP\n\n| values | all of them | a value |\n|---|---|---|\n";
foreach ([667, 1334, 2668] as $layers) {
    $show = BigShow::of(4, $layers, $layers, 20)->core();
    $compiler = new PlanCompiler();
    $compiler->compile($show, 1);
    $plan = $compiler->plan();
    $line = (string) array_key_first($show->programme->timelines);
    $addresses = array_merge(
        ...array_map(
            static fn ($layer): array => ["layer:$layer->id/opacity", "layer:$layer->id/x", "layer:$layer->id/y"],
            $show->programme->timelines[$line]->layers,
        ),
    );
    $at = 0;
    $took = $median(9, static function () use ($plan, $line, $addresses, &$at): void {
        $moment = new Moment($plan, [Head::of($line, TransportMap::standing(0, $at += 28_224_000))], [], 0);
        foreach ($addresses as $address) {
            $moment->value($address, $moment->heads[0]);
        }
    });
    printf("| %s | %.2f ms | %.2f µs |\n", number_format(count($addresses)), $took, (1000 * $took) / count($addresses));
}
