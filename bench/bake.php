<?php

/* Bake speed against real time, the cost of one fader's lane, and plan compiles at 1×, 2× and 4×. */

declare(strict_types=1);

use App\Demo\BigShow;
use Core\Playback\Bake;
use Core\Playback\CueSheet;
use Core\Playback\Plan;
use Core\Playback\Transport;
use Core\Units\Flicks;

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
$s = Flicks::PER_SECOND;
echo "### Bake\n\n| lanes (animated) | one second of bake | against real time | floor: packing as many floats | ratio to floor | bytes |\n|---|---|---|---|---|---|\n";
foreach ([1, 2, 4] as $times) {
    $show = BigShow::of(10, 512 * $times, 512 * $times, 60)->core();
    $bake = Bake::of($show, Plan::compile($show, 1));
    $transport = Transport::heldAt(0, 0)->play(0, CueSheet::forShow($show));
    $bytes = '';
    $took = $median(7, static function () use ($bake, $transport, $s, &$bytes): void {
        $bytes = implode('', array_map(static fn ($c) => $c->toBytes(), $bake->chunks($transport, 10 * $s, 11 * $s)));
    });
    $values = range(0.0, 50.0);
    $floor = $median(7, static function () use ($values, $times): void {
        for ($i = 0; $i < 1536 * $times; $i++) {
            $packed = pack('g*', ...$values);
        }
    });
    printf("| %d | %.1f ms | %.0f× | %.2f ms | %.1f | %s |\n", 1536 * $times, $took, 1000 / $took, $floor, $took / $floor, number_format(strlen($bytes)));
    if ($times === 1) {
        $lane = array_values($show->mainTimeline()->layers ?? [])[3]->id.'/opacity';
        $one = $median(101, static function () use ($bake, $transport, $s, $lane, &$single): void {
            $single = implode('', array_map(static fn ($c) => $c->toBytes(), $bake->chunks($transport, 10 * $s, 12 * $s, [$lane => 0.4], [], [$lane])));
        });
        $fader = sprintf('A fader over two seconds of bake: %.3f ms and %d bytes.', $one, strlen($single));
    }
}
echo "\n$fader\n\n### Plan\n\n| surfaces | clips | rows to show | plan compile | plan as JSON | clips per ms |\n|---|---|---|---|---|---|\n";
foreach ([1, 2, 4] as $times) {
    $big = BigShow::of(100 * $times, 64 * $times, 1000 * $times, 10);
    $core = $median(5, static fn () => $big->core());
    $show = $big->core();
    $took = $median(5, static fn () => Plan::compile($show, 1));
    $plan = Plan::compile($show, 1);
    $json = $median(5, static fn () => $plan->toJson());
    printf("| %d | %d | %.1f ms | %.1f ms | %.1f ms, %s bytes | %.0f |\n", 100 * $times, 1000 * $times, $core, $took, $json, number_format(strlen($plan->toJson())), 1000 * $times / $took);
}
