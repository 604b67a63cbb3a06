<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Console\ReadsText;
use Core\Protocol\Osc;
use Illuminate\Console\Command;

/** A stand-in for a clock of another machine: sends what it says, so many times a second. */
final class OscClock extends Command
{
    use ReadsText;

    protected $signature = 'rig:clock {name : as a timeline names it} {--from=0 : seconds that it says at first} {--rate=1 : how fast it runs, 0 where it stands} {--for=10 : seconds for which it sends} {--each=25 : readings a second} {--to= : host:port, by default the engine\'s}';

    protected $description = 'Virtual rig: be a clock from outside, over OSC';

    public function handle(): int
    {
        $to = self::text($this->option('to')) ?: '127.0.0.1:'.config('kite.osc_port');
        $socket = stream_socket_client("udp://$to", $code, $error);
        if ($socket === false) {
            $this->error("Nothing can be sent to $to: $error");

            return self::FAILURE;
        }
        $each = max(1.0, min(1000.0, (float) $this->option('each')));
        $count = (int) round(max(0.0, min(86_400.0, (float) $this->option('for'))) * $each);
        $began = hrtime(true);
        for ($n = 0; $n < $count; $n++) {
            time_nanosleep(0, (int) max(0, min(999_999_999, $began + ($n / $each) * 1e9 - hrtime(true))));
            @fwrite(
                $socket,
                Osc::encode('/kite/clock', [
                    self::text($this->argument('name')),
                    (float) $this->option('from') + ((float) $this->option('rate') * (hrtime(true) - $began)) / 1e9,
                ]),
            );
        }
        $this->line("Sent $count readings to $to");

        return self::SUCCESS;
    }
}
