<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Rig\LineRig;
use Illuminate\Console\Command;
use React\EventLoop\Loop;

/** A device that takes lines over TCP, as a stand-in: it prints each, and answers OK. */
final class LineDevice extends Command
{
    protected $signature = 'rig:line {port : at which it listens on this machine}';

    protected $description = 'Virtual rig: be a device that takes lines over TCP, print them and answer OK';

    public function handle(): int
    {
        $loop = Loop::get();
        try {
            new LineRig($loop, '127.0.0.1:'.(int) $this->argument('port'), fn (string $line) => $this->line($line));
        } catch (\RuntimeException $taken) {
            $this->error($taken->getMessage());

            return self::FAILURE;
        }
        foreach ([SIGINT, SIGTERM] as $signal) {
            $loop->addSignal($signal, static fn () => $loop->stop());
        }
        $loop->run();

        return self::SUCCESS;
    }
}
