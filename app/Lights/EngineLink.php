<?php

declare(strict_types=1);

namespace App\Lights;

use App\Engine\Guard;
use App\Engine\Wire;
use App\Support\TicketOffice;
use React\EventLoop\LoopInterface;
use React\Socket\ConnectionInterface;
use React\Socket\Connector;

/**
 * The live stream of the conductor, as a window has it: comes back by itself when it breaks, and what was heard goes
 * on meanwhile.
 */
final class EngineLink
{
    /** Seconds between two tries. */
    private const AGAIN = 0.25;

    /** Seconds without a word after which the stream is given up. */
    private const SILENT = 5.0;

    private ?ConnectionInterface $connection = null;

    private float $heard = 0;

    public bool $up = false;

    /** @param  \Closure(int, string): void  $frame  type and payload */
    public function __construct(
        private readonly LoopInterface $loop,
        private readonly string $address,
        private readonly TicketOffice $tickets,
        private readonly Guard $guard,
        private readonly \Closure $frame,
    ) {
        $this->connect();
        $loop->addPeriodicTimer(1, function (): void {
            if ($this->connection !== null && $this->now() - $this->heard > self::SILENT) {
                $this->connection->close();
            }
        });
    }

    private function connect(): void
    {
        (new Connector(['timeout' => 2.0], $this->loop))->connect("tcp://$this->address")->then(
            function (ConnectionInterface $connection): void {
                $this->connection = $connection;
                $this->heard = $this->now();
                $wire = new Wire();
                [$head, $buffer] = [true, ''];
                $connection->on(
                    'data',
                    $this->guard->around('lights', function (string $bytes) use (
                        $connection,
                        $wire,
                        &$head,
                        &$buffer,
                    ): void {
                        $this->heard = $this->now();
                        $buffer .= $bytes;
                        if ($head) {
                            $end = strpos($buffer, "\r\n\r\n");
                            if ($end === false) {
                                return;
                            }
                            if (! str_starts_with($buffer, 'HTTP/1.1 200')) {
                                $connection->close();

                                return;
                            }
                            [$head, $this->up] = [false, true];
                            $buffer = substr($buffer, $end + 4);
                        }
                        foreach ($wire->feed($this->chunks($buffer)) as [$type, $payload]) {
                            ($this->frame)($type, $payload);
                        }
                    }),
                );
                $connection->on('close', function (): void {
                    [$this->connection, $this->up] = [null, false];
                    $this->loop->addTimer(self::AGAIN, $this->connect(...));
                });
                $ticket = $this->tickets->issue('lights', time());
                $connection->write(
                    "GET /live/stream HTTP/1.1\r\nHost: $this->address\r\nAuthorization: Bearer $ticket\r\n\r\n",
                );
            },
            function (): void {
                $this->loop->addTimer(self::AGAIN, $this->connect(...));
            },
        );
    }

    /** What whole chunks of the transfer coding hold; the rest stays. */
    private function chunks(string &$buffer): string
    {
        [$bytes, $at] = ['', 0];
        while (($end = strpos($buffer, "\r\n", $at)) !== false) {
            $size = (int) hexdec(substr($buffer, $at, $end - $at));
            if ($size === 0 || strlen($buffer) < $end + 2 + $size + 2) {
                break;
            }
            $bytes .= substr($buffer, $end + 2, $size);
            $at = $end + 2 + $size + 2;
        }
        $buffer = substr($buffer, $at);

        return $bytes;
    }

    /**
     * Tells the conductor something.
     *
     * @param  array<string, mixed>  $said
     * @param  (\Closure(): void)|null  $done  called once: when it was answered, or could not be told
     */
    public function send(string $path, array $said, ?\Closure $done = null): void
    {
        $once = static function () use (&$done): void {
            [$then, $done] = [$done, null];
            $then === null || $then();
        };
        if (! $this->up) {
            $once();

            return;
        }
        (new Connector(['timeout' => 1.0], $this->loop))
            ->connect("tcp://$this->address")
            ->then(function (ConnectionInterface $connection) use ($path, $said, $once): void {
                $body = (string) json_encode(
                    $said,
                    JSON_INVALID_UTF8_SUBSTITUTE | JSON_PARTIAL_OUTPUT_ON_ERROR | JSON_PRESERVE_ZERO_FRACTION,
                );
                $connection->on('data', static fn () => $connection->close());
                $connection->on('close', $once);
                $connection->write(
                    "POST $path HTTP/1.1\r\nHost: $this->address\r\nOrigin: http://$this->address\r\nContent-Type: application/json\r\nAuthorization: Bearer {$this->tickets->issue(
                        'lights',
                        time(),
                    )}\r\nConnection: close\r\nContent-Length: ".
                        strlen($body).
                        "\r\n\r\n$body",
                );
            }, $once);
    }

    private function now(): float
    {
        return hrtime(true) / 1e9;
    }
}
