<?php

declare(strict_types=1);

namespace App\Engine;

use React\EventLoop\LoopInterface;
use React\Socket\ConnectionInterface;
use React\Socket\UnixServer;

/** Takes lines of JSON from our own processes over a Unix socket that only we can open. */
final class ControlListener
{
    private const LONGEST = 67_108_864;

    /**
     * @param  \Closure(array<string, mixed>, \Closure(array<string, mixed>): void): void  $asked  a message, and
     *     where its answer goes
     */
    public function __construct(LoopInterface $loop, string $path, Guard $guard, \Closure $asked)
    {
        if (file_exists($path)) {
            unlink($path);
        }
        $server = new UnixServer($path, $loop);
        chmod($path, 0660);
        $server->on('error', static fn () => null);
        $server->on(
            'connection',
            $guard->around('control', static function (ConnectionInterface $connection) use ($asked, $guard): void {
                $buffer = '';
                $connection->on('error', static fn () => null);
                $connection->on(
                    'data',
                    $guard->around('control', static function (string $bytes) use (
                        $connection,
                        &$buffer,
                        $asked,
                    ): void {
                        $buffer .= $bytes;
                        if (strlen($buffer) > self::LONGEST) {
                            $connection->close();

                            return;
                        }
                        while (($end = strpos($buffer, "\n")) !== false) {
                            $message = json_decode(substr($buffer, 0, $end), true);
                            $buffer = substr($buffer, $end + 1);
                            if (is_array($message)) {
                                $asked($message, static function (array $answer) use ($connection): void {
                                    $connection->write(Wire::encode($answer)."\n");
                                });
                            }
                        }
                    }),
                );
            }),
        );
    }
}
