<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Engine\Control;
use App\Engine\Guard;
use App\Rig\FaderBox;
use App\Rig\InputRig;
use App\Rig\LineRig;
use App\Rig\NodeRig;
use App\Rig\ProjectorRig;
use Illuminate\Console\Command;
use React\EventLoop\Loop;

final class InputsCommand extends Command
{
    private const PROJECTORS = 6;

    protected $signature = 'kite:inputs';

    protected $description = 'Devices of the virtual rig: a camera, a presenter\'s slides, a fader box, projectors, a device that takes lines, nodes of the lighting network';

    public function handle(Control $control): int
    {
        $loop = Loop::get();
        $guard = new Guard();
        $nodes = new NodeRig($loop, config('kite.rig_ports'), (int) config('kite.artnet_port'), $guard);
        $box = new FaderBox($loop, (int) config('kite.rtp_port'));
        $address = '127.0.0.1:'.config('kite.inputs_port');
        new InputRig($loop, $address, config('kite.hosts'), $guard, $control, $nodes, $box);
        $port = (int) config('kite.pjlink_port');
        for ($i = 0; $port > 0 && $i < self::PROJECTORS; $i++) {
            new ProjectorRig(
                $loop,
                long2ip(ip2long(ProjectorRig::FIRST) + $i).":$port",
                'Projector '.($i + 1),
                '',
                300 * $i,
                true,
            );
        }
        $port > 0 &&
            ProjectorRig::answerSearches(
                $loop,
                array_map(
                    static fn (int $i): string => long2ip(ip2long(ProjectorRig::FIRST) + $i).":$port",
                    range(0, self::PROJECTORS - 1),
                ),
                $port,
            );
        try {
            $line = (int) config('kite.line_port');
            $line > 0 && new LineRig($loop, LineRig::ADDRESS.":$line", static fn () => null);
        } catch (\RuntimeException) {
            // Another rig of this machine has it.
        }
        foreach ([SIGTERM, SIGINT] as $signal) {
            $loop->addSignal($signal, static fn () => $loop->stop());
        }
        $loop->run();

        return self::SUCCESS;
    }
}
