<?php

declare(strict_types=1);

namespace App\Rig;

use React\EventLoop\LoopInterface;
use React\Socket\ConnectionInterface;
use React\Socket\TcpServer;

/** A device of the virtual rig that takes lines over TCP, and answers each with OK. */
final class LineRig
{
    /** Where that of the demo is. */
    public const ADDRESS = '127.0.0.17';

    /** Bytes of a line; who sends more without an end is cut off. */
    private const LONGEST = 4096;

    /**
     * @param  string  $address  host and port
     * @param  \Closure(string): void  $onLine
     *
     * @throws \RuntimeException where the port is taken
     */
    public function __construct(LoopInterface $loop, string $address, private readonly \Closure $onLine)
    {
        $server = new TcpServer($address, $loop);
        $server->on('error', static fn () => null);
        $server->on('connection', $this->connected(...));
    }

    private function connected(ConnectionInterface $connection): void
    {
        $buffer = '';
        $take = function (string $line) use ($connection): void {
            ($this->onLine)(mb_scrub($line));
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
    }
}
