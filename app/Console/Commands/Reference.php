<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Engine\Journal;
use App\Media\MediaStore;
use App\Models\Show;
use App\Models\StoredFile;
use App\Show\Rows;
use Core\Media\Picture;
use Core\Media\TestCard;
use Core\Playback\Bake;
use Core\Playback\CueSheet;
use Core\Playback\Plan;
use Core\Playback\ReferenceRaster;
use Core\Playback\Transport;
use Illuminate\Console\Command;
use Symfony\Component\Process\Process;

/**
 * What the core says a player shows: pixels of an output at a show time, from the original files, and the frames that are
 * up at engine times by the engine's journal. For tests, and for whoever doubts a picture.
 */
final class Reference extends Command
{
    protected $signature = 'kite:reference {output} {--time= : show time in flicks} {--engine=* : engine times in flicks} {--pixel=* : x,y of the output}';

    protected $description = 'Say as JSON what an output should show';

    public function handle(Rows $rows): int
    {
        $show = Show::query()->where('engaged', true)->firstOrFail();
        $core = $rows->core($show);
        $plan = Plan::compile($core, $show->revision);
        $bake = Bake::of($core, $plan);
        $layers = $core->mainTimeline()->layers ?? [];
        $live = [];
        $last = (new Journal(config('kite.data').'/journal.jsonl'))->last();
        if ($last !== null) {
            $live = array_map(floatval(...), $last['live']);
        }
        $frames = static function (int $time) use ($bake, $layers): array {
            $up = [];
            foreach ($layers as $layer) {
                [$clip, $frame] = $bake->frame($layer, $time);
                if ($clip >= 0) {
                    $up[$layer->id] = $frame;
                }
            }

            return $up;
        };
        $answer = [];
        foreach ((array) $this->option('engine') as $engine) {
            $position = Transport::fromArray($last['transport'] ?? [])->positionAt((int) $engine, CueSheet::forShow($core));
            $answer['engine'][] = ['engine' => (int) $engine, 'position' => $position, 'frames' => (object) $frames($position)];
        }
        if ($this->option('time') !== null) {
            $time = (int) $this->option('time');
            $numbers = array_flip($plan->data['lanes']);
            $values = [Plan::MASTER => $live['master'] ?? 1.0];
            foreach ($layers as $layer) {
                foreach (array_keys($layer->stored) as $property) {
                    $values[$numbers["$layer->id/$property"]] = $bake->value($layer, $property, $time, $live)[1];
                }
                [$values[$numbers["$layer->id/clip"]], $values[$numbers["$layer->id/frame"]]] = $bake->frame($layer, $time);
            }
            $raster = new ReferenceRaster($plan, static fn (int $lane): float => (float) $values[$lane], $this->source($plan));
            foreach ((array) $this->option('pixel') as $pixel) {
                [$x, $y] = array_map(intval(...), explode(',', (string) $pixel));
                $answer['pixels'][] = $raster->outputPixel((string) $this->argument('output'), $x, $y);
            }
            $answer['frames'] = (object) $frames($time);
        }
        $this->line((string) json_encode($answer));

        return self::SUCCESS;
    }

    /** @return \Closure(string, int): ?Picture */
    private function source(Plan $plan): \Closure
    {
        $store = MediaStore::ofConfig();
        $made = [];

        return static function (string $key, int $frame) use ($plan, $store, &$made): ?Picture {
            $media = $plan->data['media'][$key];
            if ($media['kind'] === 'solid') {
                return Picture::solid(1, 1, $media['colour']);
            }
            if ($media['kind'] === 'none') {
                return null;
            }
            if (isset($media['card'])) {
                return $made[$key] ??= TestCard::picture($media['width'], $media['height'], $media['card']);
            }
            if (! isset($made["$key $frame"])) {
                $hash = pathinfo($media['url'], PATHINFO_FILENAME);
                $facts = StoredFile::query()->findOrFail($hash)->facts ?? [];
                $matrix = in_array($facts['matrix'], ['gbr', 'rgb'], true) ? 'bt709' : $facts['matrix'];
                $process = new Process(['ffmpeg', '-v', 'error', '-i', $store->original($hash), '-vf', "select=eq(n\\,$frame),scale=in_color_matrix=$matrix:in_range={$facts['range']}:out_range=pc:flags=accurate_rnd+full_chroma_int", '-frames:v', '1', '-f', 'rawvideo', '-pix_fmt', 'rgba', '-']);
                $process->mustRun();
                $made["$key $frame"] = Picture::of($facts['width'], $facts['height'], $process->getOutput());
            }

            return $made["$key $frame"];
        };
    }
}
