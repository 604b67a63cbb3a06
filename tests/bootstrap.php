<?php

declare(strict_types=1);

require __DIR__.'/../vendor/autoload.php';

/**
 * The first of a hundred ports, TCP and UDP, that nobody has when tests begin: engines that are tested side by side, or
 * beside a show, do not meet.
 */
define(
    'TEST_PORTS',
    (static function (): int {
        $isFree = static function (string $at): bool {
            $flags = str_starts_with($at, 'udp') ? STREAM_SERVER_BIND : STREAM_SERVER_BIND | STREAM_SERVER_LISTEN;
            $socket = @stream_socket_server($at, $code, $message, $flags);

            return $socket !== false && fclose($socket);
        };
        for ($n = 0; $n < 100; $n++) {
            $first = 20_000 + (((int) getmypid() + $n) % 100) * 100;
            $free = true;
            for ($port = $first; $port < $first + 100 && $free; $port++) {
                $free = $isFree("tcp://127.0.0.1:$port") && $isFree("udp://127.0.0.1:$port");
            }
            if ($free) {
                return $first;
            }
        }

        throw new RuntimeException('No hundred ports after one another are free between 20000 and 30000.');
    })(),
);
