<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Media\Picture;
use Core\Playback\Bake;
use Core\Playback\Chunk;
use Core\Playback\CueSheet;
use Core\Playback\LaneStore;
use Core\Playback\Plan;
use Core\Playback\ReferenceRaster;
use Core\Playback\Shelf;
use Core\Playback\Transport;
use Core\Show\Show;
use Core\Units\Flicks;
use PHPUnit\Framework\TestCase;

final class PlaybackTest extends TestCase
{
    private const S = Flicks::PER_SECOND;

    /**
     * A wall of 40 × 20 px, a red solid below, and above it a clip of a video of 50 frames from 1 s on that fades in from 1 s to 3 s.
     *
     * @param  array<string, mixed>  $layer
     */
    public static function show(array $layer = []): Show
    {
        $video = ['id' => 'video', 'name' => 'Tide', 'kind' => 'file', 'state' => 'ready', 'facts' => ['width' => 20, 'height' => 10, 'pixelAspect' => 1], 'form' => ['kind' => 'video', 'frameRate' => '25', 'frames' => 50, 'url' => '/tide.mp4']];

        return Show::fromRows(['id' => 'show', 'name' => 'Test', 'frameRate' => '25'], [
            'panel' => [['id' => 'panel', 'name' => 'P', 'widthMm' => 500, 'heightMm' => 500, 'widthPx' => 20, 'heightPx' => 20, 'kilograms' => 1, 'wattsAverage' => 1, 'wattsMaximum' => 2]],
            'surface' => [['id' => 'wall', 'name' => 'Wall', 'position' => [0, 0, 0], 'rotation' => [0, 0, 0], 'cells' => [['panel', 'panel']], 'seams' => [0]]],
            'media' => [$video, ['id' => 'red', 'name' => 'Red', 'kind' => 'solid', 'colour' => '#ff0000']],
            'timeline' => [['id' => 'line', 'name' => 'Main', 'duration' => 20 * self::S]],
            'layer' => [
                ['id' => 'ground', 'timeline' => 'line', 'name' => 'Ground', 'order' => 0, 'aims' => ['wall']],
                $layer + ['id' => 'top', 'timeline' => 'line', 'name' => 'Top', 'order' => 1, 'aims' => ['wall']],
            ],
            'clip' => [
                ['id' => 'c0', 'layer' => 'ground', 'media' => 'red', 'start' => 0, 'length' => 20 * self::S, 'in' => 0, 'pastEnd' => 'hold'],
                ['id' => 'c1', 'layer' => 'top', 'media' => 'video', 'start' => self::S, 'length' => 4 * self::S, 'in' => 0, 'pastEnd' => 'loop'],
            ],
            'curve' => [['id' => 'k', 'layer' => 'top', 'property' => 'opacity', 'keyframes' => [['t' => self::S, 'v' => 0], ['t' => 3 * self::S, 'v' => 1]]]],
            'cue' => [['id' => 'q', 'timeline' => 'line', 'time' => 4 * self::S, 'number' => '1', 'name' => 'Wait', 'holds' => true]],
            'output' => [['id' => 'out', 'name' => 'Output 1', 'width' => 100, 'height' => 50, 'refresh' => 60]],
            'region' => [['id' => 'r', 'output' => 'out', 'surface' => 'wall', 'source' => [0, 0, 40, 20], 'x' => 30, 'y' => 10]],
        ]);
    }

    public function test_the_plan_says_what_to_draw_where(): void
    {
        $plan = Plan::compile(self::show(), 7, 3)->data;
        self::assertSame([7, 3], [$plan['revision'], $plan['serial']]);
        self::assertSame(['master', 'ground/opacity', 'ground/x', 'ground/y', 'ground/clip', 'ground/frame', 'top/opacity'], array_slice($plan['lanes'], 0, 7));
        self::assertSame(['ground', 'top'], array_column($plan['surfaces']['wall']['layers'], 'id'));
        self::assertEqualsWithDelta([0, 0, 40, 20], $plan['surfaces']['wall']['layers'][1]['clips'][0]['rect'], 1e-9);
        self::assertSame(['id' => 'r', 'surface' => 'wall', 'source' => [0, 0, 40, 20], 'place' => [30, 10]], $plan['outputs']['out']['regions'][0]);
    }

    public function test_lanes_of_a_running_show_give_every_value_and_frame_at_its_engine_time(): void
    {
        $show = self::show();
        $plan = Plan::compile($show, 1, 5);
        $bake = Bake::of($show, $plan);
        $lanes = array_flip($plan->data['lanes']);
        $engine = 1000 * self::S + 123;
        $transport = Transport::heldAt(0, 0)->play($engine, CueSheet::forShow($show));
        $store = new LaneStore;
        foreach ([[0, 1.3], [1.3, 9.0]] as [$from, $to]) {
            foreach ($bake->chunks($transport, $engine + (int) ($from * self::S), $engine + (int) ($to * self::S), [], array_fill(0, 20, 4)) as $chunk) {
                $store->add(Chunk::fromBytes($chunk->toBytes()));
            }
        }
        $at = static fn (string $lane, float $seconds): float => $store->at($lanes[$lane], $engine + (int) round($seconds * self::S))['value'] ?? NAN;
        self::assertSame([-1.0, 0.0], [$at('top/clip', 0.99), $at('top/clip', 1.0)]);
        self::assertEqualsWithDelta([0.0, 0.25, 0.51, 1.0], [$at('top/opacity', 0.5), $at('top/opacity', 1.5), $at('top/opacity', 2.02), $at('top/opacity', 3.7)], 1e-6);
        for ($k = 0; $k < 75; $k++) {
            self::assertSame((float) ($k % 50), $at('top/frame', 1 + $k / 25 + 0.001), "frame $k");
            self::assertSame((float) ($k % 50), $at('top/frame', 1 + ($k + 0.97) / 25), "frame $k, late");
        }
        // The show waits at the hold point at 4 s: frame 75, however long.
        self::assertSame([25.0, 25.0], [$at('top/frame', 4.5), $at('top/frame', 4000)]);
        self::assertSame(4, $store->at($lanes['top/frame'], $engine)['generation'] ?? null);
    }

    public function test_a_standing_show_is_one_open_ended_chunk(): void
    {
        $show = self::show();
        $chunks = Bake::of($show, Plan::compile($show, 1))->chunks(Transport::heldAt(500, 2 * self::S), 900, 1000);
        self::assertCount(1, $chunks);
        self::assertSame([900, Chunk::OPEN_END, true], [$chunks[0]->start, $chunks[0]->end, $chunks[0]->allLanes]);
        self::assertEqualsWithDelta(0.5, $chunks[0]->lanes[6]['values'][0], 1e-9);
    }

    public function test_a_loose_value_beats_keyframes_and_resends_only_its_lane(): void
    {
        $show = self::show();
        $plan = Plan::compile($show, 1);
        $bake = Bake::of($show, $plan);
        $transport = Transport::heldAt(0, 0)->play(0, CueSheet::forShow($show));
        $store = new LaneStore;
        foreach ($bake->chunks($transport, 0, 3 * self::S) as $chunk) {
            $store->add($chunk);
        }
        $faded = $bake->chunks($transport, 2 * self::S, 3 * self::S, ['top/opacity' => 0.2], [6 => 1], ['top/opacity']);
        self::assertSame([6], array_keys($faded[0]->lanes));
        self::assertFalse($faded[0]->allLanes);
        self::assertLessThan(100, strlen($faded[0]->toBytes()));
        $store->add($faded[0]);
        self::assertEqualsWithDelta([0.25, 0.2], [$store->at(6, (int) (1.5 * self::S))['value'] ?? 0, $store->at(6, (int) (2.5 * self::S))['value'] ?? 0], 1e-6);
    }

    public function test_a_chunk_survives_its_bytes_and_damaged_bytes_are_refused(): void
    {
        $chunk = Chunk::of(9, true, 10, 50, 20, 7, [3 => ['generation' => 2, 'kind' => Chunk::LINEAR, 'values' => [0.5, 1.5, 2.5]], 8 => ['generation' => 1, 'kind' => Chunk::CONSTANT, 'values' => [-1.0]]]);
        $bytes = $chunk->toBytes();
        self::assertEquals($chunk, Chunk::fromBytes($bytes));
        self::assertSame([3 => 2, 8 => 1], Chunk::generations($bytes));
        self::assertSame(Chunk::HEADER + 2 * 16 + 4 * 4, strlen($bytes));
        $this->expectException(\UnexpectedValueException::class);
        Chunk::fromBytes("\x02".substr($bytes, 1));
    }

    public function test_the_shelf_keeps_what_a_late_window_needs_and_nothing_else(): void
    {
        $lane = static fn (int $generation): array => ['generation' => $generation, 'kind' => Chunk::CONSTANT, 'values' => [1.0]];
        $shelf = new Shelf;
        $shelf->put($old = Chunk::of(1, true, 0, 100, 10, 0, [0 => $lane(1), 1 => $lane(1)])->toBytes());
        $shelf->put($rest = Chunk::of(1, true, 100, Chunk::OPEN_END, 10, 0, [0 => $lane(1), 1 => $lane(1)])->toBytes());
        $shelf->put($fader = Chunk::of(1, false, 60, Chunk::OPEN_END, 10, 0, [1 => $lane(2)])->toBytes());
        $shelf->clear(50);
        self::assertSame([$old, $rest, $fader], $shelf->chunks());
        $shelf->clear(150);
        self::assertSame([$rest, $fader], $shelf->chunks());
        $shelf->put($jump = Chunk::of(1, true, 160, Chunk::OPEN_END, 10, 0, [0 => $lane(3), 1 => $lane(3)])->toBytes());
        $shelf->clear(200);
        self::assertSame([$jump], $shelf->chunks());
        $shelf->put($next = Chunk::of(2, true, 210, Chunk::OPEN_END, 10, 0, [0 => $lane(4)])->toBytes());
        $shelf->clear(220, 2);
        self::assertSame([$next], $shelf->chunks());
    }

    public function test_the_reference_raster_blends_places_and_masters(): void
    {
        $plan = Plan::compile(self::show(), 1);
        $values = array_fill(0, 20, 0.0);
        [$values[0], $values[1], $values[6]] = [0.5, 1.0, 0.25];
        $blue = Picture::solid(20, 10, [0, 0, 255]);
        $raster = new ReferenceRaster($plan, static function (int $lane) use (&$values): float {
            return $values[$lane];
        }, static fn (string $media): ?Picture => $media === 'video' ? $blue : Picture::solid(1, 1, [255, 0, 0]));
        // Red under a quarter of blue, at half master: (0.75, 0, 0.25) / 2.
        self::assertSame([96, 0, 32], $raster->outputPixel('out', 30, 10));
        self::assertSame([96, 0, 32], $raster->outputPixel('out', 69, 29));
        self::assertSame([0, 0, 0], $raster->outputPixel('out', 70, 29));
        // Moved right by ten pixels, the blue leaves the left edge to the red.
        $values[7] = 10.0;
        self::assertSame([[128, 0, 0], [96, 0, 32]], [$raster->outputPixel('out', 39, 15), $raster->outputPixel('out', 40, 15)]);
    }

    public function test_sampling_between_pixels_is_linear_and_premultiplied(): void
    {
        $picture = Picture::of(2, 1, "\xff\0\0\xff\0\xff\0\0");
        self::assertEqualsWithDelta([0.5, 0.0, 0.0, 0.5], $picture->sample(0.5, 0.5), 1e-9);
        self::assertEqualsWithDelta([1.0, 0.0, 0.0, 1.0], $picture->sample(0.1, 0.5), 1e-9);
    }
}
