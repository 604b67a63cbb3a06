<?php

declare(strict_types=1);

namespace App\Console\Commands;

use Illuminate\Console\Command;
use React\EventLoop\Loop;
use React\Socket\ConnectionInterface;
use React\Socket\TcpServer;

/** A device that takes lines over TCP, as a stand-in: it prints each, and answers OK. */
final class LineDevice extends Command
{
    /** Bytes of a line; who sends more without an end is cut off. */
    private const LONGEST = 4096;

    protected $signature = 'rig:line {port : at which it listens on this machine}';

    protected $description = 'Virtual rig: be a device that takes lines over TCP, print them and answer OK';

    public function handle(): int
    {
        $loop = Loop::get();
        try {
            $server = new TcpServer('127.0.0.1:'.(int) $this->argument('port'), $loop);
        } catch (\RuntimeException $taken) {
            $this->error($taken->getMessage());

            return self::FAILURE;
        }
        $server->on('connection', function (ConnectionInterface $connection): void {
            $buffer = '';
            $take = function (string $line) use ($connection): void {
                $this->line(mb_scrub($line));
                $connection->write("OK\r\n");
            };
            $connection->on('error', static fn () => null);
            $connection->on('data', static function (string $bytes) use (&$buffer, $take, $connection): void {
                $buffer .= $bytes;
                while (preg_match('/^(.*?)(?:\r\n|\r|\n)(.*)$/sD', $buffer, $m) === 1) {
                    $take($m[1]);
                    $buffer = $m[2];
                }
                strlen($buffer) > self::LONGEST && $connection->close();
            });
            // A line that ends with the connection is one, too.
            $connection->on('end', static function () use (&$buffer, $take): void {
                $buffer === '' || $take($buffer);
            });
        });
        foreach ([SIGINT, SIGTERM] as $signal) {
            $loop->addSignal($signal, static fn () => $loop->stop());
        }
        $loop->run();

        return self::SUCCESS;
    }
}
