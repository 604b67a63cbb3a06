<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Lights\LightProcess;
use App\Media\MediaStore;
use App\Support\TicketOffice;
use Illuminate\Console\Command;
use React\EventLoop\Loop;

/** Composes what pixel lights show and sends it on the lighting network, from what the conductor tells a window. */
final class LightsCommand extends Command
{
    protected $signature = 'kite:lights';

    protected $description = 'Compose and send what pixel lights show';

    public function handle(): int
    {
        @mkdir(config('kite.run'), 0770, true);
        $process = new LightProcess(
            Loop::get(),
            config('kite'),
            new TicketOffice(config('app.key')),
            MediaStore::ofConfig()->path().'/forms',
        );
        Loop::run();
        unset($process);

        return self::SUCCESS;
    }
}
