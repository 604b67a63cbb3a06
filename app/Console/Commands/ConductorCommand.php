<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Engine\CompilerProcess;
use App\Engine\Conductor;
use App\Engine\Guard;
use App\Engine\Journal;
use App\Models\Show;
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
        // The clock goes first; what compiles for it goes behind. Without the right to, all stay equal.
        @proc_nice(-10);
        // Without the JIT, which takes 0.7 s of each start and gains next to nothing on what changes with an edit.
        $options = ['-d', 'opcache.enable_cli=1', '-d', 'opcache.jit=off', '-d', 'memory_limit=1G'];
        $compiler = static fn (
            string $show,
            \Closure $onFrame,
            \Closure $onEnd,
            Guard $guard,
        ): CompilerProcess => new CompilerProcess(
            Loop::get(),
            [
                'nice',
                '-n',
                '5',
                PHP_BINARY,
                ...$options,
                base_path('artisan'),
                'kite:compiler',
                ...$show === '' ? [] : [$show],
            ],
            $guard,
            $onFrame,
            $onEnd,
        );
        $conductor = new Conductor(
            Loop::get(),
            $config,
            $compiler,
            new TicketOffice(config('app.key')),
            new Journal($config['data'].'/journal.jsonl'),
            exists: static fn (string $show): bool => Show::query()->whereKey($show)->exists(),
        );
        foreach ([SIGTERM, SIGINT] as $signal) {
            Loop::addSignal($signal, static fn () => Loop::stop());
        }
        Loop::run();
        unset($conductor);

        return self::SUCCESS;
    }
}
