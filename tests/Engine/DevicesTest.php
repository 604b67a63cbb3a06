<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\Devices;
use App\Engine\Guard;
use App\Rig\ProjectorRig;
use Core\Bindings\Command;
use PHPUnit\Framework\TestCase;
use React\EventLoop\StreamSelectLoop;
use React\Socket\ConnectionInterface;
use React\Socket\TcpServer;

/** Projectors by PJLink and lines to devices, over real sockets. */
final class DevicesTest extends TestCase
{
    private StreamSelectLoop $loop;

    private Devices $devices;

    protected function setUp(): void
    {
        $this->loop = new StreamSelectLoop();
        $this->devices = new Devices($this->loop, new Guard());
    }

    private function until(string $what, \Closure $holds, float $seconds = 10): void
    {
        $until = microtime(true) + $seconds;
        while (! $holds()) {
            self::assertLessThan($until, microtime(true), "Waited for $what: ".json_encode($this->devices->health()));
            $this->loop->addTimer(0.005, $this->loop->stop(...));
            $this->loop->run();
        }
    }

    /** @return array<string, mixed> */
    private function projector(string $id): array
    {
        return (array) (((array) $this->devices->health()['projectors'])[$id] ?? []);
    }

    /** @return array{name: string, address: string, password: string} */
    private static function at(int $port, string $name, string $password = ''): array
    {
        return ['name' => $name, 'address' => "127.0.0.1:$port", 'password' => $password];
    }

    public function test_projectors_are_switched_shut_and_asked_also_while_they_warm_up(): void
    {
        [$open, $locked] = [TEST_PORTS + 50, TEST_PORTS + 51];
        $left = new ProjectorRig($this->loop, "127.0.0.1:$open", 'Left', '', 1234);
        $right = new ProjectorRig($this->loop, "127.0.0.1:$locked", 'Right', 'lantern', 2500);
        self::assertTrue($left->isListening && $right->isListening);
        $this->devices->setProjectors([
            'l' => self::at($open, 'House left'),
            'r' => self::at($locked, 'House right', 'lantern'),
            'w' => self::at($locked, 'Wrong', 'candle'),
            'n' => self::at(TEST_PORTS + 52, 'Nowhere'),
        ]);
        $this->until(
            'all to be asked',
            fn (): bool => ($this->projector('l')['hours'] ?? []) === [1234] &&
                ($this->projector('r')['hours'] ?? []) === [2500] &&
                $this->projector('w')['trouble'] !== '' &&
                $this->projector('n')['trouble'] !== '',
        );
        self::assertSame(['off', 'Left'], [$this->projector('l')['power'], $this->projector('l')['name']]);
        self::assertEquals((object) ['lamp' => 'warning'], $this->projector('r')['errors']);
        self::assertStringContainsStringIgnoringCase('password is wrong', $this->projector('w')['trouble']);
        self::assertSame(
            'It can\'t be reached at 127.0.0.1:'.(TEST_PORTS + 52).'.',
            $this->projector('n')['trouble'],
        );
        // A command for all whose name begins so; it warms up, and is on.
        self::assertNull($this->devices->perform(Command::Power, ['on' => true, 'projector' => 'House*']));
        $this->until('it to warm up', fn (): bool => $this->projector('l')['power'] === 'warming');
        // Shut while it can't be: it says so, and the link goes on.
        $this->devices->perform(Command::Shutter, ['on' => true, 'projector' => 'House left']);
        $this->until('the refusal', fn (): bool => $this->projector('l')['trouble'] === 'It can\'t do that now.');
        $this->until('it to be on', function (): bool {
            if ($this->projector('l')['power'] !== 'on') {
                $this->devices->perform(Command::Power, ['on' => true, 'projector' => 'House left']);
            }

            return $this->projector('l')['power'] === 'on';
        });
        $this->devices->perform(Command::Shutter, ['on' => true, 'projector' => 'l']);
        $this->until('it to be shut', static fn (): bool => $left->state()['shut']);
        $this->until('it to be known', fn (): bool => $this->projector('l')['shut'] === true);
        self::assertSame('has its shutter shut', $this->devices->dark()['l']);
        self::assertStringStartsWith('does not answer: it can\'t be reached', $this->devices->dark()['n']);
        $this->devices->perform(Command::Shutter, ['on' => false]);
        $this->until('it to be open', static fn (): bool => ! $left->state()['shut']);
        // Class 2: the picture is frozen, an input taken; hours of the filter.
        $this->until('its class', fn (): bool => $this->projector('l')['class'] === 2);
        $this->devices->perform(Command::Freeze, ['on' => true, 'projector' => 'l']);
        $this->until('the freeze', static fn (): bool => $left->state()['frozen']);
        $this->until('it to be known', fn (): bool => $this->projector('l')['frozen'] === true);
        $this->devices->perform(Command::Input, ['input' => '51', 'projector' => 'l']);
        $this->until('the input', static fn (): bool => $left->state()['input'] === '51');
        $this->until('it to be known', fn (): bool => $this->projector('l')['input'] === '51');
        self::assertEquals(
            (object) ['11' => 'RGB 1', '31' => 'Digital 1', '32' => 'Digital 2', '51' => 'Network 1'],
            $this->projector('l')['inputs'],
        );
        $this->devices->perform(Command::Input, ['input' => '39', 'projector' => 'l']);
        $this->until(
            'the refusal',
            fn (): bool => $this->projector('l')['trouble'] === 'It does not take this parameter.',
        );
        self::assertSame(
            'There is no input 99: write one as 31, its kind and its number.',
            $this->devices->perform(Command::Input, ['input' => '99', 'projector' => 'l']),
        );
        self::assertSame(
            'No projector of this name has an address for PJLink.',
            $this->devices->perform(Command::Power, ['projector' => 'Nobody']),
        );
        // One that is gone from the show is left alone.
        $this->devices->setProjectors([]);
        self::assertSame([], (array) $this->devices->health()['projectors']);
    }

    public function test_projectors_of_a_network_are_found_by_a_search(): void
    {
        $port = TEST_PORTS + 52;
        $addresses = ["127.0.0.21:$port", "127.0.0.22:$port"];
        self::assertTrue(ProjectorRig::answerSearches($this->loop, $addresses, $port));
        $devices = new Devices($this->loop, new Guard(), ['127.255.255.255'], $port);
        self::assertNull($devices->perform(Command::Search, []));
        $this->until('two answers', static fn (): bool => count((array) $devices->health()['found']) === 2);
        self::assertEquals(
            ['127.0.0.21' => '02:00:5A:17:00:01', '127.0.0.22' => '02:00:5A:17:00:02'],
            (array) $devices->health()['found'],
        );
    }

    public function test_a_hostile_projector_is_given_up_in_words_and_never_stops_the_loop(): void
    {
        $says = [
            "\x00\xff\r",
            'PJLINK 0',
            str_repeat('x', 5000),
            "PJLINK 0\r%1POWR=9\r",
            "PJLINK 0\r\r\r%1XXXX=1\r",
            "PJLINK 1 zz\r",
        ];
        $projectors = [];
        foreach ($says as $i => $bytes) {
            $server = new TcpServer('127.0.0.1:'.(TEST_PORTS + 53 + $i), $this->loop);
            $server->on('connection', static fn (ConnectionInterface $c) => $c->write($bytes));
            $projectors["p$i"] = self::at(TEST_PORTS + 53 + $i, "P $i");
        }
        // One that never stops.
        $flood = new TcpServer('127.0.0.1:'.(TEST_PORTS + 59), $this->loop);
        $flood->on('connection', function (ConnectionInterface $c): void {
            $c->on('error', static fn () => null);
            $timer = $this->loop->addPeriodicTimer(
                0.001,
                static fn () => $c->write(str_repeat("PJLINK 0\r%1POWR=", 100)),
            );
            $c->on('close', fn () => $this->loop->cancelTimer($timer));
        });
        $projectors['flood'] = self::at(TEST_PORTS + 59, 'Flood');
        $before = memory_get_usage();
        $this->devices->setProjectors($projectors);
        $this->until('all to be given up', function () use ($projectors): bool {
            return array_filter(
                array_keys($projectors),
                fn (string $id): bool => $this->projector($id)['trouble'] === '',
            ) === [];
        });
        self::assertLessThan(2_000_000, memory_get_usage() - $before);
        $this->devices->setProjectors([]);
    }

    public function test_lines_go_by_udp_tcp_and_http_and_what_came_of_them_is_told(): void
    {
        $udp =
            stream_socket_server('udp://127.0.0.1:'.(TEST_PORTS + 60), $code, $error, STREAM_SERVER_BIND) ?:
            self::fail();
        $tcp = '';
        (new TcpServer('127.0.0.1:'.(TEST_PORTS + 60), $this->loop))->on('connection', static function (
            ConnectionInterface $c,
        ) use (&$tcp): void {
            $c->on('data', static function (string $bytes) use (&$tcp, $c): void {
                $tcp .= $bytes;
                str_starts_with($bytes, 'POST /x ') && $c->write("HTTP/1.1 204 No Content\r\n\r\n");
                str_starts_with($bytes, 'GET /y ') && $c->write("HTTP/1.1 500 No\r\n\r\n");
            });
        });
        $port = TEST_PORTS + 60;
        foreach (
            [
                "udp 127.0.0.1:$port on\\r",
                "tcp 127.0.0.1:$port off\\n",
                "http http://127.0.0.1:$port/x a=1",
                "http http://127.0.0.1:$port/y",
                'tcp 127.0.0.1:'.(TEST_PORTS + 52).' x',
            ] as $line
        ) {
            self::assertNull($this->devices->perform(Command::Send, ['line' => $line]));
        }
        self::assertNotNull($this->devices->perform(Command::Send, ['line' => 'fax']));
        $this->until('all lines', fn (): bool => count($this->devices->health()['lines']) === 5);
        self::assertSame("on\r", stream_socket_recvfrom($udp, 100));
        $this->until(
            'what came',
            static fn (): bool => str_contains($tcp, "off\n") && str_contains($tcp, "\r\n\r\na=1"),
        );
        $faults = array_column($this->devices->health()['lines'], 'fault', 'text');
        self::assertNull($faults["udp 127.0.0.1:$port on\\r"]);
        self::assertNull($faults["http http://127.0.0.1:$port/x a=1"]);
        self::assertSame('It answers with 500.', $faults["http http://127.0.0.1:$port/y"]);
        self::assertSame('It can\'t be reached.', $faults['tcp 127.0.0.1:'.(TEST_PORTS + 52).' x']);
    }
}
