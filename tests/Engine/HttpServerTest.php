<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\Control;
use App\Engine\ControlListener;
use App\Engine\EngineClock;
use App\Engine\Guard;
use App\Engine\HttpServer;
use App\Engine\OscListener;
use App\Engine\Subscribers;
use App\Engine\Wire;
use App\Support\RequestRules;
use Core\Bindings\ControlEvent;
use Core\Protocol\Osc;
use Core\Units\Flicks;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use React\EventLoop\LoopInterface;
use React\EventLoop\StreamSelectLoop;
use React\Socket\ConnectionInterface;

/** The engine's doors one by one, on a loop of their own and over real sockets. */
final class HttpServerTest extends TestCase
{
    private const PORT = TEST_PORTS + 61;

    private LoopInterface $loop;

    protected function setUp(): void
    {
        $this->loop = new StreamSelectLoop();
    }

    /** Runs the loop until something holds. */
    private function until(string $what, \Closure $holds): void
    {
        $end = microtime(true) + 10;
        while (! $holds()) {
            if (microtime(true) > $end) {
                self::fail("Waited 10 s for $what.");
            }
            $this->loop->futureTick(fn () => $this->loop->addTimer(0.005, fn () => $this->loop->stop()));
            $this->loop->run();
        }
    }

    /** @return resource */
    private function dial()
    {
        $socket = stream_socket_client('tcp://127.0.0.1:'.self::PORT);
        self::assertIsResource($socket);
        stream_set_blocking($socket, false);

        return $socket;
    }

    /** @param  list<string>  $seen */
    private function door(array &$seen): HttpServer
    {
        return new HttpServer(
            $this->loop,
            '127.0.0.1:'.self::PORT,
            new RequestRules(['127.0.0.1']),
            new Guard(),
            static function ($request, string $body) use (&$seen): array {
                $seen[] = $request->getMethod().' '.$request->getUri()->getPath()." $body";

                return [200, ['n' => count($seen)]];
            },
        );
    }

    public function test_requests_come_in_pieces_together_and_one_after_another(): void
    {
        $seen = [];
        $door = $this->door($seen);
        $socket = $this->dial();
        $host = 'Host: 127.0.0.1:'.self::PORT."\r\n";
        $post =
            "POST /b HTTP/1.1\r\n{$host}Origin: http://127.0.0.1:".
            self::PORT.
            "\r\nContent-Type: application/json\r\nContent-Length: 8\r\n\r\n{\"a\": 1}";
        $all = "GET /a HTTP/1.1\r\n$host\r\n$post"."GET /c HTTP/1.1\r\n$host\r\n";
        foreach (str_split($all, 37) as $piece) {
            fwrite($socket, $piece);
            $this->until('a turn', static function (): bool {
                static $turns = 0;

                return $turns++ % 2 === 1;
            });
        }
        $heard = '';
        $this->until('three answers', static function () use ($socket, &$heard): bool {
            $heard .= (string) fread($socket, 65_536);

            return substr_count($heard, 'HTTP/1.1 200') === 3;
        });
        self::assertSame(['GET /a ', 'POST /b {"a": 1}', 'GET /c '], $seen);
        self::assertStringContainsString('{"n":3}', $heard);
        self::assertSame(0, $door->bad);
        $door->close();
    }

    public function test_a_handler_that_fails_is_answered_for_and_the_next_request_is_fine(): void
    {
        $calls = 0;
        $door = new HttpServer(
            $this->loop,
            '127.0.0.1:'.self::PORT,
            new RequestRules(['127.0.0.1']),
            new Guard(),
            static function () use (&$calls): array {
                return match ($calls++) {
                    0 => throw new \LogicException('Something inside is wrong.'),
                    1 => [200, ['x' => NAN, 'y' => "\xff"]],
                    default => [200, ['fine' => true]],
                };
            },
        );
        $socket = $this->dial();
        $request = 'GET /x HTTP/1.1'."\r\nHost: 127.0.0.1\r\n\r\n";
        fwrite($socket, $request);
        $heard = '';
        try {
            $this->until('an answer', static function () use ($socket, &$heard): bool {
                $heard .= (string) fread($socket, 65_536);

                return str_contains($heard, 'HTTP/1.1');
            });
            self::assertStringContainsString(
                "HTTP/1.1 500 Internal Server Error\r\nContent-Type: application/problem+json",
                $heard,
            );
            self::assertStringContainsString(
                '"title":"Internal Server Error","status":500,"detail":"The engine could not answer this."',
                $heard,
            );
            fwrite($socket, $request.$request);
            $this->until('another', static function () use ($socket, &$heard): bool {
                $heard .= (string) fread($socket, 65_536);

                return str_contains($heard, '{"fine":true}');
            });
        } finally {
            $door->close();
        }
    }

    /** @param  list<resource>  $sockets */
    private function heard(array $sockets, \Closure $holds): void
    {
        $heard = array_fill(0, count($sockets), '');
        $this->until('answers', static function () use ($sockets, &$heard, $holds): bool {
            foreach ($sockets as $i => $socket) {
                $heard[$i] .= (string) fread($socket, 65_536);
            }

            return $holds($heard);
        });
    }

    public function test_where_all_connections_are_taken_the_one_that_rests_longest_gives_way_and_streams_stay(): void
    {
        $handle = static function ($request, string $body, ConnectionInterface $connection): ?array {
            if ($request->getUri()->getPath() === '/stream') {
                $connection->write("HTTP/1.1 200 OK\r\n\r\n");

                return null;
            }

            return [200, ['fine' => true]];
        };
        $door = new HttpServer(
            $this->loop,
            '127.0.0.1:'.self::PORT,
            new RequestRules(['127.0.0.1']),
            new Guard(),
            $handle,
            max: 3,
        );
        $ask = static fn ($socket, string $path) => fwrite($socket, "GET /$path HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n");
        $fine = static fn (array $heard): bool => str_starts_with($heard[0], 'HTTP/1.1 200');
        try {
            [$stream, $resting, $other] = [$this->dial(), $this->dial(), $this->dial()];
            foreach ([[$stream, 'stream'], [$resting, 'x'], [$other, 'x']] as [$socket, $path]) {
                $ask($socket, $path);
                $this->heard([$socket], $fine);
            }
            $next = $this->dial();
            $ask($next, 'stream');
            $this->heard([$next], $fine);
            $this->until(
                'the longest resting to be closed',
                static fn (): bool => fread($resting, 10) === '' && feof($resting),
            );
            $ask($other, 'stream');
            $this->heard([$other], $fine);
            // Nobody is left who would not be missed.
            $refused = $this->dial();
            $this->heard([$refused], static fn (array $heard): bool => str_starts_with($heard[0], 'HTTP/1.1 503'));
            $this->until('the refused one to be closed', static fn (): bool => feof($refused));
            self::assertFalse(feof($stream));
            fclose($stream);
            $this->until(
                'the door to see it',
                fn (): bool => (new \ReflectionProperty($door, 'connections'))->getValue($door) === 2,
            );
            $last = $this->dial();
            $ask($last, 'x');
            $this->heard([$last], $fine);
        } finally {
            $door->close();
        }
    }

    public function test_hundreds_of_silent_connections_do_not_keep_a_request_waiting(): void
    {
        $door = new HttpServer(
            $this->loop,
            '127.0.0.1:'.self::PORT,
            new RequestRules(['127.0.0.1']),
            new Guard(),
            static fn (): array => [200, ['fine' => true]],
        );
        $accepted = 0;
        (new \ReflectionProperty($door, 'server'))
            ->getValue($door)
            ->on('connection', static function () use (&$accepted): void {
                $accepted++;
            });
        try {
            $silent = [];
            for ($i = 0; $i < 700; $i++) {
                $silent[] = $this->dial();
                // What is begun and never ended counts as silent, too.
                $i % 2 === 0 && fwrite($silent[$i], "GET /x HTTP/1.1\r\nHost: 127");
                if ($i % 50 === 49) {
                    // The system keeps no more than 128 waiting.
                    $before = $accepted;
                    $this->until('them to be accepted', function () use (&$accepted, $before): bool {
                        return $accepted - $before === 50;
                    });
                }
            }
            $began = microtime(true);
            $socket = $this->dial();
            fwrite($socket, "GET /x HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n");
            $this->heard([$socket], static fn (array $heard): bool => str_starts_with($heard[0], 'HTTP/1.1 200'));
            self::assertLessThan(2.0, microtime(true) - $began);
            self::assertLessThanOrEqual(65, (new \ReflectionProperty($door, 'connections'))->getValue($door));
        } finally {
            $door->close();
        }
    }

    public function test_a_request_that_never_ends_and_a_connection_that_says_nothing_are_let_go(): void
    {
        $door = new HttpServer(
            $this->loop,
            '127.0.0.1:'.self::PORT,
            new RequestRules(['127.0.0.1']),
            new Guard(),
            static fn (): array => [200, []],
            patience: 0.05,
            idle: 0.2,
        );
        try {
            [$half, $body, $silent, $busy, $resting] = array_map(fn (): mixed => $this->dial(), range(0, 4));
            $ask = "GET /x HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n";
            fwrite($half, "GET /x HTTP/1.1\r\nHost: 127");
            fwrite($body, "POST /x HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 10\r\n\r\n{");
            array_map(static fn ($socket) => fwrite($socket, $ask), [$busy, $resting]);
            foreach (['half a head' => $half, 'half a body' => $body, 'silence' => $silent] as $what => $socket) {
                $this->until("$what to be given up", static fn (): bool => fread($socket, 10) === '' && feof($socket));
            }
            self::assertSame(3, $door->bad);
            // One that asks now and then outlives one that asked once.
            $answers = 0;
            $this->until('one at rest to be given up', function () use ($resting, $busy, $ask, &$answers): bool {
                fwrite($busy, $ask);
                $answers += substr_count((string) fread($busy, 65_536), 'HTTP/1.1 200');

                return fread($resting, 1000) === '' && feof($resting);
            });
            self::assertFalse(feof($busy));
            self::assertGreaterThan(1, $answers);
        } finally {
            $door->close();
        }
    }

    /** @return array<string, array{string, int}> */
    public static function heads(): array
    {
        $host = "Host: 127.0.0.1\r\n";

        return [
            'no HTTP' => ["hello\r\n\r\n", 400],
            'empty lines' => ["\r\n\r\n", 400],
            'bytes that are no text' => ["\x16\x03\x01\x02\x00\r\n\r\n", 400],
            'a head without an end' => [str_repeat('a', 20_000), 431],
            'a long head' => ["GET /x HTTP/1.1\r\nX: ".str_repeat('a', 20_000)."\r\n\r\n", 431],
            'a chunked body' => ["POST /x HTTP/1.1\r\n{$host}Transfer-Encoding: chunked\r\n\r\n0\r\n\r\n", 411],
            'a length below nothing' => ["POST /x HTTP/1.1\r\n{$host}Content-Length: -1\r\n\r\n", 411],
            'two lengths' => ["POST /x HTTP/1.1\r\n{$host}Content-Length: 1\r\nContent-Length: 2\r\n\r\nxx", 411],
            'a body that is too long' => ["POST /x HTTP/1.1\r\n{$host}Content-Length: 262145\r\n\r\n", 413],
            'a length beyond all numbers' => [
                "POST /x HTTP/1.1\r\n{$host}Content-Length: 99999999999999999999999\r\n\r\n",
                413,
            ],
            'another host' => ["GET /x HTTP/1.1\r\nHost: elsewhere.example\r\n\r\n", 421],
            'no host' => ["GET /x HTTP/1.1\r\n\r\n", 421],
        ];
    }

    #[DataProvider('heads')]
    public function test_what_is_no_request_is_refused_with_a_problem_and_counted(string $bytes, int $status): void
    {
        $seen = [];
        $door = $this->door($seen);
        try {
            $socket = $this->dial();
            fwrite($socket, $bytes);
            $this->heard(
                [$socket],
                static fn (array $heard): bool => str_starts_with($heard[0], "HTTP/1.1 $status") &&
                    str_contains($heard[0], 'application/problem+json'),
            );
            self::assertSame([[], 1], [$seen, $door->bad]);
        } finally {
            $door->close();
        }
    }

    public function test_when_too_much_waits_for_all_together_the_one_that_is_furthest_behind_goes(): void
    {
        $windows = new Subscribers(static fn () => null, 3_000_000);
        $door = new HttpServer(
            $this->loop,
            '127.0.0.1:'.self::PORT,
            new RequestRules(['127.0.0.1']),
            new Guard(),
            static function ($request, string $body, ConnectionInterface $connection) use ($windows, &$ids): ?array {
                $ids[] = $windows->add($connection, 'mira');

                return null;
            },
        );
        $ids = [];
        try {
            $sockets = array_map(fn (): mixed => $this->dial(), range(0, 2));
            foreach ($sockets as $n => $socket) {
                fwrite($socket, "GET /live/stream HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n");
                $this->until('a window', static fn (): bool => $windows->count() === $n + 1);
            }
            // Nobody reads: the loop does not turn meanwhile, so that what is given waits in the engine.
            [$one, $two, $three] = array_pad($ids, 3, 0);
            $windows->give($two, str_repeat('x', 1_500_000));
            $windows->give($one, str_repeat('x', 800_000));
            self::assertSame(0, $windows->dropped);
            $windows->give($three, str_repeat('x', 900_000));
            self::assertSame([1, 2], [$windows->dropped, $windows->count()]);
            self::assertSame([true, false, true], [$windows->has($one), $windows->has($two), $windows->has($three)]);
            // No number follows from another, and each is its owner's.
            self::assertGreaterThan(1_000_000, min(abs($one - $two), abs($two - $three), abs($one - $three)));
            self::assertSame([true, false], [$windows->isOf($one, 'mira'), $windows->isOf($one, 'tam')]);
            $windows->give($two, 'to one that is gone');
            self::assertSame(1, $windows->dropped);
        } finally {
            $door->close();
        }
    }

    public function test_a_window_that_does_not_read_is_dropped_and_the_others_hear_all(): void
    {
        $windows = new Subscribers(static fn () => null);
        $door = new HttpServer(
            $this->loop,
            '127.0.0.1:'.self::PORT,
            new RequestRules(['127.0.0.1']),
            new Guard(),
            static function ($request, string $body, ConnectionInterface $connection) use ($windows): ?array {
                $windows->give($windows->add($connection), Wire::json(Wire::HELLO, ['hello' => true]));

                return null;
            },
        );
        [$lazy, $keen] = [$this->dial(), $this->dial()];
        foreach ([$lazy, $keen] as $socket) {
            fwrite($socket, "GET /live/stream HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n");
        }
        $this->until('both windows', static fn (): bool => $windows->count() === 2);
        $frame = Wire::pack(Wire::DELTA, str_repeat('x', 1_000_000));
        $read = 0;
        for ($i = 0; $i < 60 && $windows->count() === 2; $i++) {
            $windows->send($frame);
            $this->until('the keen one to have it', static function () use ($keen, &$read, $i): bool {
                $read += strlen((string) fread($keen, 8_000_000));

                return $read >= ($i + 1) * 1_000_000;
            });
        }
        self::assertSame([1, 1], [$windows->count(), $windows->dropped]);
        $windows->send(Wire::json(Wire::HELD, ['still' => 'here']));
        $tail = '';
        $this->until('the last word', static function () use ($keen, &$tail): bool {
            $tail .= (string) fread($keen, 8_000_000);

            return str_contains($tail, '{"still":"here"}');
        });
        $door->close();
    }

    public function test_a_flood_of_packets_is_counted_whole_and_the_last_are_remembered(): void
    {
        $heard = [];
        $ear = new OscListener($this->loop, '127.0.0.1:'.(TEST_PORTS + 62), new Guard(), EngineClock::starting());
        $ear->start(static function (ControlEvent $event) use (&$heard): ?string {
            $heard[] = $event->raw[0] ?? null;

            return $event->control === '/good' ? null : "Nothing listens to $event->control.";
        });
        $socket = stream_socket_client('udp://127.0.0.1:'.(TEST_PORTS + 62));
        self::assertIsResource($socket);
        for ($i = 0; $i < 600; $i++) {
            fwrite($socket, $i % 3 === 0 ? "bad\0" : Osc::encode($i % 3 === 1 ? '/good' : '/odd', [$i]));
            if ($i % 50 === 0) {
                $this->until('a turn', fn (): bool => $ear->health()['packets'] > $i);
            }
        }
        $this->until('all of them', static fn (): bool => $ear->health()['packets'] === 600);
        self::assertCount(400, $heard);
        self::assertSame(200, $ear->health()['bad']);
        self::assertCount(20, $ear->health()['last']);
        self::assertSame(
            ['/odd 599', 'Nothing listens to /odd.'],
            [$ear->health()['last'][0]['text'], $ear->health()['last'][0]['fault']],
        );
    }

    public function test_our_own_processes_tell_and_ask_over_a_socket_that_is_theirs(): void
    {
        $path = sys_get_temp_dir().'/kite-ear-'.getmypid().'.sock';
        $told = [];
        new ControlListener($this->loop, $path, new Guard(), static function (array $message, \Closure $answer) use (
            &$told,
        ): void {
            $told[] = $message;
            isset($message['ask']) && $answer(['answer' => 42]);
        });
        $control = new Control($path);
        self::assertTrue($control->send(['tell' => 'file', 'name' => "harbour \xff dusk"]));
        $this->until('the message', static function () use (&$told): bool {
            return count($told) === 1;
        });
        self::assertSame('file', $told[0]['tell']);
        self::assertSame('0660', substr(sprintf('%o', (int) fileperms($path)), -4));
        self::assertFalse((new Control("$path.none"))->send(['x' => 1]));
        self::assertNull((new Control("$path.none"))->ask(['x' => 1]));
        unlink($path);
    }

    public function test_time_of_the_engine_is_flicks_of_the_machines_own_clock(): void
    {
        $clock = new EngineClock(hrtime(true) - 5_000_000_000);
        $now = $clock->now();
        self::assertEqualsWithDelta(5 * Flicks::PER_SECOND, $now, Flicks::PER_SECOND / 10);
        self::assertGreaterThanOrEqual($now, $clock->now());
        self::assertNotSame('', \App\Engine\EngineClock::boot());
        self::assertSame(\App\Engine\EngineClock::boot(), \App\Engine\EngineClock::boot());
    }
}
