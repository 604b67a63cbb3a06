<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Engine\Control;
use App\Engine\Guard;
use App\Rig\InputRig;
use App\Rig\NodeRig;
use Illuminate\Console\Command;
use React\EventLoop\Loop;

final class InputsCommand extends Command
{
    protected $signature = 'kite:inputs';

    protected $description = 'Devices of the virtual rig: a camera, a presenter\'s slides, nodes of the lighting network';

    public function handle(Control $control): int
    {
        $loop = Loop::get();
        $guard = new Guard();
        $nodes = new NodeRig($loop, config('kite.rig_ports'), (int) config('kite.artnet_port'), $guard);
        new InputRig($loop, '127.0.0.1:'.config('kite.inputs_port'), config('kite.hosts'), $guard, $control, $nodes);
        foreach ([SIGTERM, SIGINT] as $signal) {
            $loop->addSignal($signal, static fn () => $loop->stop());
        }
        $loop->run();

        return self::SUCCESS;
    }
}
