<?php

declare(strict_types=1);

namespace App\Engine;

use React\EventLoop\LoopInterface;
use React\Socket\ConnectionInterface;
use React\Socket\UnixServer;

/** Takes lines of JSON from our own processes over a Unix socket that only we can open. */
final class ControlEar
{
    private const LONGEST = 67_108_864;

    /** @param  \Closure(array<string, mixed>): ?array<string, mixed>  $told */
    public function __construct(LoopInterface $loop, string $path, \Closure $told)
    {
        if (file_exists($path)) {
            unlink($path);
        }
        $server = new UnixServer($path, $loop);
        chmod($path, 0660);
        $server->on('connection', static function (ConnectionInterface $connection) use ($told): void {
            $buffer = '';
            $connection->on('data', static function (string $bytes) use ($connection, &$buffer, $told): void {
                $buffer .= $bytes;
                if (strlen($buffer) > self::LONGEST) {
                    $connection->close();

                    return;
                }
                while (($end = strpos($buffer, "\n")) !== false) {
                    $message = json_decode(substr($buffer, 0, $end), true);
                    $buffer = substr($buffer, $end + 1);
                    if (is_array($message) && ($answer = $told($message)) !== null) {
                        $connection->write(json_encode($answer, JSON_THROW_ON_ERROR)."\n");
                    }
                }
            });
        });
    }
}
