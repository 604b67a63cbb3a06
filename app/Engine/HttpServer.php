<?php

declare(strict_types=1);

namespace App\Engine;

use App\Support\Interval;
use App\Support\RequestRules;
use GuzzleHttp\Psr7\Message;
use Psr\Http\Message\RequestInterface;
use React\EventLoop\LoopInterface;
use React\EventLoop\TimerInterface;
use React\Socket\ConnectionInterface;
use React\Socket\SocketServer;
use Symfony\Component\HttpFoundation\Response;

/** The engine's own small HTTP server: GET and JSON POST, kept-alive connections, and streams that stay open. */
final class HttpServer
{
    /** Where controls are pressed by requests, each with a token of its device. */
    public const PRESS = '/live/press';

    private const MAX_HEAD = 16_384;

    private const MAX_BODY = 262_144;

    /** Seconds in which a request has to arrive, counted from the connection for the first one. */
    private const PATIENCE = 5.0;

    /** Connections of one address that have not sent a request yet: one more ends the oldest of them. */
    private const MAX_SILENT = 64;

    /** Connections at once: waiting on more than about a thousand ends a process. */
    public const MAX_CONNECTIONS = 700;

    private int $connections = 0;

    /**
     * @var array<int, array{ConnectionInterface, string}> connections without a request so far, the oldest first, each with its address
     */
    private array $silent = [];

    /** @var array<int, ConnectionInterface> connections that wait between two requests, the longest first */
    private array $resting = [];

    public int $bad = 0;

    private readonly SocketServer $server;

    /**
     * @param  \Closure(RequestInterface, string, ConnectionInterface): ?array{int, array<string, mixed>}  $handle  answers,
     *     or takes the connection over and returns null
     * @param  int  $max  connections at once
     * @param  float  $patience  seconds that a request may take to arrive
     * @param  float|null  $idle  seconds that a connection may stand open between requests
     */
    public function __construct(
        private readonly LoopInterface $loop,
        string $address,
        private readonly RequestRules $rules,
        private readonly Guard $guard,
        private readonly \Closure $handle,
        private readonly int $max = self::MAX_CONNECTIONS,
        private readonly float $patience = self::PATIENCE,
        private readonly ?float $idle = null,
    ) {
        $this->server = new SocketServer($address, ['tcp' => ['so_reuseport' => false, 'backlog' => 128]], $loop);
        $this->server->on('connection', $guard->around('http', $this->serve(...)));
        $this->server->on('error', $guard->around('http', static fn () => null));
    }

    private function serve(ConnectionInterface $connection): void
    {
        $address = (string) parse_url((string) $connection->getRemoteAddress(), PHP_URL_HOST);
        $this->makeRoom($address);
        if ($this->connections >= $this->max) {
            $this->refuse($connection, 503, 'Too many connections are open; try again in a moment.');

            return;
        }
        $this->connections++;
        $buffer = '';
        $taken = false;
        $waiting = null;
        $id = spl_object_id($connection);
        $this->silent[$id] = [$connection, $address];
        $seconds = $this->idle ?? Interval::IdleConnection->seconds();
        $lull = fn (): TimerInterface => $this->loop->addTimer($seconds, fn () => $connection->close());
        $idle = $lull();
        $patience = function () use ($connection, &$waiting): void {
            $waiting ??= $this->loop->addTimer($this->patience, function () use ($connection): void {
                $this->bad++;
                $connection->close();
            });
        };
        $patience();
        $connection->on('close', function () use ($id, &$waiting, &$idle): void {
            $this->connections--;
            unset($this->silent[$id], $this->resting[$id]);
            $waiting !== null && $this->loop->cancelTimer($waiting);
            $this->loop->cancelTimer($idle);
        });
        $connection->on('error', static fn () => null);
        $connection->on(
            'data',
            $this->guard->around('http', function (string $bytes) use (
                $connection,
                $id,
                &$buffer,
                &$taken,
                &$waiting,
                &$idle,
                $lull,
                $patience,
            ): void {
                if ($taken) {
                    return;
                }
                $this->loop->cancelTimer($idle);
                $idle = $lull();
                unset($this->resting[$id]);
                $buffer .= $bytes;
                while ($buffer !== '' && ! $taken) {
                    $end = strpos($buffer, "\r\n\r\n");
                    if ($end === false || $end > self::MAX_HEAD) {
                        if (strlen($buffer) > self::MAX_HEAD) {
                            $this->refuse($connection, 431, 'The head of this request is too long.');
                        } else {
                            $patience();
                        }

                        return;
                    }
                    try {
                        $request = Message::parseRequest(substr($buffer, 0, $end + 4));
                    } catch (\Throwable) {
                        $this->refuse($connection, 400, 'This is no HTTP request.');

                        return;
                    }
                    $length = $request->getHeaderLine('Content-Length');
                    if ($request->hasHeader('Transfer-Encoding') || ($length !== '' && ! ctype_digit($length))) {
                        $this->refuse($connection, 411, 'The length of the body has to be stated.');

                        return;
                    }
                    if ((int) $length > self::MAX_BODY) {
                        $this->refuse($connection, 413, 'The body is longer than '.self::MAX_BODY.' bytes.');

                        return;
                    }
                    if (strlen($buffer) < $end + 4 + (int) $length) {
                        $patience();

                        return;
                    }
                    if ($waiting !== null) {
                        $this->loop->cancelTimer($waiting);
                        $waiting = null;
                    }
                    unset($this->silent[$id]);
                    $body = substr($buffer, $end + 4, (int) $length);
                    $buffer = substr($buffer, $end + 4 + (int) $length);
                    $taken = ! $this->answer($request, $body, $connection);
                    if ($taken) {
                        $this->loop->cancelTimer($idle);
                    }
                }
                if (! $taken && $connection->isWritable()) {
                    $this->resting[$id] = $connection;
                }
            }),
        );
    }

    /**
     * Ends connections that nobody would miss before one more comes: of an address with too many that never asked
     * anything the oldest of these; where all are taken, the oldest silent one, else the one that has rested longest.
     * Streams stay.
     */
    private function makeRoom(string $address): void
    {
        $of = array_filter($this->silent, static fn (array $one): bool => $one[1] === $address);
        if (count($of) >= self::MAX_SILENT) {
            $this->bad++;
            $of[array_key_first($of)][0]->close();
        }
        if ($this->connections >= $this->max) {
            $oldest =
                $this->silent === []
                    ? ($this->resting === []
                        ? null
                        : $this->resting[array_key_first($this->resting)])
                    : $this->silent[array_key_first($this->silent)][0];
            $oldest?->close();
        }
    }

    private function answer(RequestInterface $request, string $body, ConnectionInterface $connection): bool
    {
        $origin = $request->hasHeader('Origin') ? $request->getHeaderLine('Origin') : null;
        if ($origin === null && $request->getUri()->getPath() === self::PRESS) {
            // It comes from no page: what it may do its token says, which a browser never adds by itself.
            $origin = 'http://'.$request->getHeaderLine('Host');
        }
        $refusal = $this->rules->refusal(
            $request->getMethod(),
            $request->getHeaderLine('Host'),
            $origin,
            $request->getHeaderLine('Content-Type'),
        );
        if ($refusal !== null) {
            $this->refuse($connection, $refusal[0], $refusal[1], false);

            return true;
        }
        try {
            $answer = ($this->handle)($request, $body, $connection);
        } catch (\Throwable $e) {
            $this->guard->caught('http', $e);
            $this->refuse($connection, 500, 'The engine could not answer this.', false);

            return true;
        }
        if ($answer === null) {
            return false;
        }
        $answer[0] >= 400
            ? $this->refuse($connection, $answer[0], (string) $answer[1]['detail'], false)
            : $this->send($connection, $answer[0], 'application/json', $answer[1]);

        return true;
    }

    private function refuse(ConnectionInterface $connection, int $status, string $detail, bool $close = true): void
    {
        $this->bad++;
        $this->send($connection, $status, 'application/problem+json', [
            'type' => 'about:blank',
            'title' => self::phrase($status),
            'status' => $status,
            'detail' => $detail,
        ]);
        if ($close) {
            $connection->end();
        }
    }

    private static function phrase(int $status): string
    {
        return Response::$statusTexts[$status] ?? 'Unknown';
    }

    /** @param  array<string, mixed>  $data */
    private function send(ConnectionInterface $connection, int $status, string $type, array $data): void
    {
        $json = Wire::encode($data);
        $connection->write(
            "HTTP/1.1 $status ".
                self::phrase($status).
                "\r\nContent-Type: $type\r\nContent-Length: ".
                strlen($json).
                "\r\nCache-Control: no-store\r\n\r\n$json",
        );
    }

    public function close(): void
    {
        $this->server->close();
    }
}
