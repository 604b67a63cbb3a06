<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Engine\Conductor;
use App\Engine\Journal;
use App\Support\TicketOffice;
use Illuminate\Console\Command;
use React\EventLoop\Loop;

final class ConductorCommand extends Command
{
    protected $signature = 'kite:conductor';

    protected $description = 'Run the conductor: clock, transport, live stream, OSC';

    public function handle(): int
    {
        $config = config('kite');
        @mkdir($config['run'], 0770, true);
        // The clock goes first; what bakes for it goes behind. Without the right to, all stay equal.
        @proc_nice(-10);
        $fast = ['-d', 'opcache.enable_cli=1', '-d', 'opcache.jit=tracing', '-d', 'opcache.jit_buffer_size=64M'];
        $baker = ['nice', '-n', '12', PHP_BINARY, ...$fast, base_path('artisan'), 'kite:baker'];
        $conductor = new Conductor(Loop::get(), $config, $baker, new TicketOffice(config('app.key')), new Journal($config['data'].'/journal.jsonl'));
        foreach ([SIGTERM, SIGINT] as $signal) {
            Loop::addSignal($signal, static fn () => Loop::stop());
        }
        Loop::run();
        unset($conductor);

        return self::SUCCESS;
    }
}
