<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Engine\Frames;
use App\Models\Show;
use App\Show\Rows;
use Core\Playback\Bake;
use Core\Playback\CueSheet;
use Core\Playback\Plan;
use Core\Playback\Transport;
use Illuminate\Console\Command;

/** The child process that compiles one revision of the engaged show and bakes it, for as long as the conductor asks. */
final class Baker extends Command
{
    protected $signature = 'kite:baker {serial=0 : which compilation this is}';

    protected $description = 'Bake the engaged show for the conductor (started by it)';

    public function handle(Rows $rows): int
    {
        $show = Show::query()->where('engaged', true)->first();
        if ($show === null) {
            fwrite(STDERR, 'No show is engaged.');

            return self::FAILURE;
        }
        $core = $rows->core($show);
        $plan = Plan::compile($core, $show->revision, (int) $this->argument('serial'));
        $bake = Bake::of($core, $plan);
        $numbers = array_flip($plan->data['lanes']);
        $this->send(Frames::pack(Frames::PLAN, $plan->toJson()));
        $this->send(Frames::json(Frames::READY, ['show' => $show->id, 'revision' => $show->revision, 'sheet' => CueSheet::forShow($core)->toArray()]));
        unset($core, $rows);
        while (($line = fgets(STDIN)) !== false) {
            $request = json_decode($line, true, 8, JSON_THROW_ON_ERROR);
            $generations = array_fill(0, count($numbers), $request['base']);
            foreach ($request['lanes'] as $name => $generation) {
                if (isset($numbers[$name])) {
                    $generations[$numbers[$name]] = $generation;
                }
            }
            foreach ($bake->chunks(Transport::fromArray($request['transport']), $request['from'], $request['to'], $request['live'], $generations, $request['only']) as $chunk) {
                if ($chunk->lanes !== []) {
                    $this->send(Frames::pack(Frames::CHUNK, $chunk->toBytes()));
                }
            }
            $this->send(Frames::pack(Frames::DONE, (string) $request['id']));
        }

        return self::SUCCESS;
    }

    private function send(string $bytes): void
    {
        for ($at = 0; $at < strlen($bytes); $at += $wrote) {
            $wrote = fwrite(STDOUT, substr($bytes, $at, 65_536));
            if ($wrote === false || $wrote === 0) {
                exit(0);
            }
        }
    }
}
