<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Engine\Control;
use App\Engine\Guard;
use App\Rig\InputRig;
use Illuminate\Console\Command;
use React\EventLoop\Loop;

final class InputsCommand extends Command
{
    protected $signature = 'kite:inputs';

    protected $description = 'The video devices of the virtual rig: a camera and a presenter\'s slides';

    public function handle(Control $control): int
    {
        $loop = Loop::get();
        new InputRig($loop, '127.0.0.1:'.config('kite.inputs_port'), config('kite.hosts'), new Guard, $control);
        foreach ([SIGTERM, SIGINT] as $signal) {
            $loop->addSignal($signal, static fn () => $loop->stop());
        }
        $loop->run();

        return self::SUCCESS;
    }
}
