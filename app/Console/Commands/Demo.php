<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Demo\DemoMedia;
use App\Demo\LanternNight;
use App\Media\MediaStore;
use App\Models\Show;
use App\Show\Editor;
use Illuminate\Console\Command;

final class Demo extends Command
{
    protected $signature = 'kite:demo';

    protected $description = 'Make the demo show and its media, unless there is a show already';

    public function handle(Editor $editor): int
    {
        if (Show::query()->exists()) {
            return self::SUCCESS;
        }
        $this->line('Making the demo show');
        (new LanternNight($editor, MediaStore::ofConfig(), new DemoMedia(storage_path('kite/demo-media'))))->make();

        return self::SUCCESS;
    }
}
