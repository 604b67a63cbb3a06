<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Console\ReadsText;
use Core\Protocol\Osc;
use Illuminate\Console\Command;

/** A stand-in for a control desk on the network: sends one OSC message. */
final class OscSend extends Command
{
    use ReadsText;

    protected $signature = 'rig:osc {address : such as /kite/go} {arguments?* : numbers with a point go as floats, whole ones as integers, the rest as strings} {--to= : host:port, by default the engine\'s}';

    protected $description = 'Virtual rig: send an OSC message over UDP';

    public function handle(): int
    {
        $to = self::text($this->option('to')) ?: '127.0.0.1:'.config('kite.osc_port');
        $arguments = array_map(
            static fn (string $a): int|float|string => match (true) {
                preg_match('/^-?\d+$/', $a) === 1 => (int) $a,
                is_numeric($a) => (float) $a,
                default => $a,
            },
            array_values(array_map(self::text(...), (array) $this->argument('arguments'))),
        );
        $socket = stream_socket_client("udp://$to", $code, $error);
        if ($socket === false) {
            $this->error("Nothing can be sent to $to: $error");

            return self::FAILURE;
        }
        $packet = Osc::encode(self::text($this->argument('address')), $arguments);
        fwrite($socket, $packet);
        $this->line('Sent '.strlen($packet)." bytes to $to");

        return self::SUCCESS;
    }
}
