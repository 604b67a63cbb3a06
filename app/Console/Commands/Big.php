<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Demo\BigShow;
use App\Models\Show;
use App\Show\Editor;
use Illuminate\Console\Command;

final class Big extends Command
{
    protected $signature = 'kite:big {surfaces=60} {layers=40} {clips=1000} {keyframes=20} {--engage}';

    protected $description = 'Make a large generated show, to try everything with';

    public function handle(Editor $editor): int
    {
        [$surfaces, $layers, $clips, $keyframes] = array_map(fn (string $name): int => (int) $this->argument($name), [
            'surfaces',
            'layers',
            'clips',
            'keyframes',
        ]);
        $made = Show::query()->where('name', 'The long quay')->count();
        $seed = $made === 0 ? '' : (string) $made;
        $show = Show::query()->create([
            'name' => 'The long quay',
            'frameRate' => '50',
            'revision' => 0,
            'engaged' => false,
        ]);
        foreach (array_chunk(BigShow::of($surfaces, $layers, $clips, $keyframes, $seed)->changes(), 2000) as $some) {
            $editor->apply($show, '00000000000000000000000000', 'Lay out the long quay', $some);
        }
        if ($this->option('engage')) {
            Show::query()
                ->where('engaged', true)
                ->update(['engaged' => false]);
            $show->update(['engaged' => true]);
        }
        $this->line($show->id);

        return self::SUCCESS;
    }
}
