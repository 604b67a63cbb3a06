<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Console\ReadsText;
use App\Models\Show;
use App\Show\ShowRepository;
use App\Show\WarpStore;
use Core\Plan\PlanCompiler;
use Core\Playback\Delivered;
use Illuminate\Console\Command;

/** Which pixel of which surface is shown at places of an output: for tests, and for whoever doubts a projection. */
final class Place extends Command
{
    use ReadsText;

    protected $signature = 'kite:place {output : id of an output} {places* : x,y in pixels of the output; the middle of its first pixel is 0.5,0.5}';

    protected $description = 'Say as a line of JSON for each place of an output what of which surface it shows, or null';

    public function handle(ShowRepository $rows): int
    {
        $output = self::text($this->argument('output'));
        foreach (Show::query()->orderByDesc('engaged')->orderBy('created_at')->get() as $show) {
            $core = $rows->core($show);
            if (! isset($core->delivery->outputs[$output])) {
                continue;
            }
            $compiler = new PlanCompiler(WarpStore::read(...));
            $compiler->compile($core, $show->revision);
            $delivered = Delivered::of($compiler->plan(), $output);
            foreach ((array) $this->argument('places') as $place) {
                if (preg_match('/^(-?\d+(?:\.\d+)?),(-?\d+(?:\.\d+)?)$/', (string) $place, $m) !== 1) {
                    $this->error("\"$place\" is no place of an output: write x,y in pixels, such as 960.5,600.5.");

                    return self::INVALID;
                }
                $found = $delivered->place((float) $m[1], (float) $m[2]);
                $this->line(
                    (string) json_encode(
                        $found === null
                            ? null
                            : [
                                'surface' => $found['surface'],
                                'x' => round($found['x'], 4),
                                'y' => round($found['y'], 4),
                                'weight' => round($found['weight'], 4),
                            ],
                        JSON_PRESERVE_ZERO_FRACTION,
                    ),
                );
            }

            return self::SUCCESS;
        }
        $this->error("No show has an output \"$output\": take the id from its address, /player/ID.");

        return self::INVALID;
    }
}
