<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Engine\Decks;
use App\Engine\Journal;
use App\Media\MediaStore;
use App\Models\Show;
use App\Models\StoredFile;
use App\Show\EngineState;
use App\Show\ShowRepository;
use App\Show\WarpStore;
use Core\Media\Picture;
use Core\Media\TestCard;
use Core\Plan\Plan;
use Core\Plan\PlanCompiler;
use Core\Playback\Head;
use Core\Playback\Moment;
use Core\Playback\ReferenceRaster;
use Core\Timeline\TransportMap;
use Illuminate\Console\Command;
use Symfony\Component\Process\Process;

/**
 * What the core says a player shows: pixels of an output at a show time, from the original files, and the frames that
 * are up at engine times by the engine's journal. For tests, and for whoever doubts a picture.
 */
final class Reference extends Command
{
    protected $signature = 'kite:reference {output} {--time= : show time in flicks at which the first timeline is looked at} {--at= : engine time in flicks, by the engine\'s journal} {--engine=* : engine times in flicks} {--pixel=* : x,y of the output} {--whole : every pixel, as base64 of red, green and blue}';

    protected $description = 'Say as JSON what an output should show';

    public function handle(ShowRepository $rows): int
    {
        $show = Show::query()->where('engaged', true)->firstOrFail();
        $core = $rows->core($show);
        $compiler = new PlanCompiler(WarpStore::read(...));
        $compiler->compile($core, $show->revision);
        $plan = $compiler->plan();
        $last = (new Journal(config('kite.data').'/journal.jsonl'))->state() ?? [];
        $state = [
            'held' => array_map(
                static fn (mixed $one): array => is_array($one) && array_is_list($one) ? $one : [$one],
                (array) ($last['held'] ?? []),
            ),
            'heads' => Decks::restored((array) ($last['decks'] ?? []))->heads(0),
        ];
        $held = EngineState::moment($plan, ['held' => $state['held']])->held;
        $frames = static function (Moment $moment) use ($core): array {
            $up = [];
            foreach ($core->programme->layers() as $layer) {
                foreach ($moment->headsOf($layer->timeline) as $head) {
                    [$clip, $frame] = $moment->media($layer->id, $head);
                    if ($clip >= 0) {
                        $up[$layer->id] = $frame;
                    }
                }
            }

            return $up;
        };
        $answer = [];
        foreach ((array) $this->option('engine') as $engine) {
            $moment = new Moment($plan, $state['heads'], $held, (int) $engine);
            $answer['engine'][] = [
                'engine' => (int) $engine,
                'position' => ($moment->heads[0] ?? null)?->map->at((int) $engine) ?? 0,
                'frames' => (object) $frames($moment),
            ];
        }
        if ($this->option('time') !== null || $this->option('at') !== null) {
            $main = (string) array_key_first($core->programme->timelines);
            $moment =
                $this->option('at') !== null
                    ? new Moment(
                        $plan,
                        $state['heads'],
                        $held,
                        (int) $this->option('at'),
                        array_values(array_filter((array) ($last['cards'] ?? []), is_string(...))),
                    )
                    : new Moment(
                        $plan,
                        $main === '' ? [] : [Head::of($main, TransportMap::standing(0, (int) $this->option('time')))],
                        $held,
                        PHP_INT_MAX >> 8,
                    );
            $raster = new ReferenceRaster($moment, $this->source($plan));
            $named = $this->argument('output');
            $named = is_string($named) ? $named : '';
            foreach ((array) $this->option('pixel') as $pixel) {
                [$x, $y] = array_map(intval(...), explode(',', (string) $pixel));
                $answer['pixels'][] = $raster->outputPixel($named, $x, $y);
            }
            if ($this->option('whole')) {
                $output = $core->delivery->outputs[$named];
                $bytes = '';
                for ($y = 0; $y < $output->height; $y++) {
                    for ($x = 0; $x < $output->width; $x++) {
                        $bytes .= pack('C3', ...$raster->outputPixel($named, $x, $y));
                    }
                }
                $answer['whole'] = base64_encode($bytes);
            }
            $answer['frames'] = (object) $frames($moment);
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
            $media = $plan->parts["media:$key"];
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
                $process = new Process([
                    'ffmpeg',
                    '-v',
                    'error',
                    '-i',
                    $store->original($hash),
                    '-vf',
                    "select=eq(n\\,$frame),scale=in_color_matrix=$matrix:in_range={$facts['range']}:out_range=pc:flags=accurate_rnd+full_chroma_int",
                    '-frames:v',
                    '1',
                    '-f',
                    'rawvideo',
                    '-pix_fmt',
                    'rgba',
                    '-',
                ]);
                $process->mustRun();
                $made["$key $frame"] = Picture::of($facts['width'], $facts['height'], $process->getOutput());
            }

            return $made["$key $frame"];
        };
    }
}
