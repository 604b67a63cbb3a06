<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\Compiler;
use App\Engine\Conductor;
use App\Engine\Control;
use App\Engine\Guard;
use App\Engine\Journal;
use App\Lights\LightProcess;
use App\Rig\InputRig;
use App\Rig\NodeRig;
use App\Support\Interval;
use App\Support\TicketOffice;

/** Every process is run past its longest timer, and everything that is given to a loop is called as a loop calls it. */
final class LongRunTest extends ConductorCase
{
    private static function caught(Guard $guard): string
    {
        return $guard->figures()['last'];
    }

    public function test_everything_that_is_given_to_a_loop_takes_what_the_loop_gives(): void
    {
        $loop = new RecordingLoop();
        $config = [
            'data' => $this->data,
            'run' => "$this->data/run",
            'live_port' => TEST_PORTS + 91,
            'sacn_port' => TEST_PORTS + 98,
            'artnet_port' => TEST_PORTS + 99,
            'inputs_port' => TEST_PORTS + 93,
            'lights_interface' => '127.0.0.1',
        ];
        $tickets = new TicketOffice(config('app.key'));
        $guards = [];
        $lights = new LightProcess($loop, $config, $tickets, "$this->data/media/forms");
        $guards['lights'] = (new \ReflectionProperty($lights, 'guard'))->getValue($lights);
        $none = $this->createStub(Compiler::class);
        $conductor = new Conductor(
            $loop,
            [
                'live_port' => TEST_PORTS + 91,
                'osc_port' => TEST_PORTS + 92,
                'hosts' => ['127.0.0.1'],
                'run' => "$this->data/run",
            ],
            static fn (): Compiler => $none,
            $tickets,
            new Journal("$this->data/journal.jsonl"),
        );
        $guards['conductor'] = (new \ReflectionProperty($conductor, 'guard'))->getValue($conductor);
        $guards['rig'] = new Guard();
        new InputRig(
            $loop,
            '127.0.0.1:'.(TEST_PORTS + 93),
            ['127.0.0.1'],
            $guards['rig'],
            new Control("$this->data/run/none.sock"),
            new NodeRig(
                $loop,
                ['artnet' => TEST_PORTS + 95, 'sacn' => TEST_PORTS + 96, 'ddp' => TEST_PORTS + 97],
                TEST_PORTS + 99,
                $guards['rig'],
            ),
        );
        self::assertGreaterThan(20, $loop->callAll());
        gc_enable();
        self::assertSame(['', '', ''], array_values(array_map(self::caught(...), $guards)));
    }

    public function test_intervals_are_shortened_but_not_turned_round(): void
    {
        self::assertSame(
            [3600.0, 60.0, 3600.0],
            [Interval::Sweep->seconds(), Interval::CollectCycles->seconds(), Interval::longest()],
        );
        putenv('KITE_HASTE=600');
        try {
            self::assertSame(
                [6.0, 1.0, 1.0],
                [
                    Interval::Sweep->seconds(),
                    Interval::CollectCycles->seconds(),
                    Interval::DiscoverUniverses->seconds(),
                ],
            );
        } finally {
            putenv('KITE_HASTE');
        }
    }

    public function test_all_processes_outlive_their_longest_timer_and_lights_a_kill(): void
    {
        $socket =
            stream_socket_server('udp://127.0.0.1:'.(TEST_PORTS + 44), $code, $error, STREAM_SERVER_BIND) ?:
            self::fail($error);
        [$show, $ids] = $this->fadingShow();
        [$light, $node] = [$this->id(), $this->id()];
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Lights',
            'changes' => [
                ...$this->bar($light, 2),
                $this->created('node', $node, [
                    'name' => 'Node',
                    'protocol' => 'sacn',
                    'address' => '127.0.0.1',
                    'port' => TEST_PORTS + 44,
                    'onlyChanges' => false,
                ]),
                $this->created('patch', $this->id(), [
                    'surface' => $light,
                    'node' => $node,
                    'universe' => 6,
                    'channel' => 1,
                ]),
                $this->updated('route', $ids['route'], ['surfaces' => [[$ids['wall']], [$ids['wall'], $light]]]),
            ],
        ])->assertCreated();
        $this->ask('POST', "shows/$show/engage")->assertOk();
        $launcher = $this->launch(['KITE_HASTE' => '600']);
        $this->ticket = (new TicketOffice(config('app.key')))->issue('somebody', time());
        $receive = static fn (): string => (string) @stream_socket_recvfrom($socket, 2048);
        stream_set_blocking($socket, false);
        $this->until(
            'lights to be sent, with another process at hand',
            fn (): bool => $receive() !== '' && (self::state($this)['lights']['standby'] ?? false) === true,
        );
        $before = self::children((int) $launcher->getPid());
        self::assertCount(8, $before);
        $state = self::state($this);
        [$sequence, $gap, $last] = [null, 0.0, microtime(true)];
        $watch = function (float $seconds) use ($receive, &$sequence, &$gap, &$last): int {
            $count = 0;
            for ($until = microtime(true) + $seconds; microtime(true) < $until; usleep(2000)) {
                while (($packet = $receive()) !== '') {
                    // As a receiver counts (E1.31, 6.7.2): what is up to 20 behind is passed over.
                    $number = ord($packet[111]);
                    $step = $sequence === null ? 1 : (($number - $sequence + 384) & 255) - 128;
                    if ($step <= 0 && $step > -20) {
                        continue;
                    }
                    [$gap, $last, $sequence] = [max($gap, microtime(true) - $last), microtime(true), $number];
                    $count++;
                }
            }

            return $count;
        };
        self::assertGreaterThan(150, $watch(3600 / 600 + 1.5));
        self::assertLessThan(1.0, $gap);
        self::assertSame($before, self::children((int) $launcher->getPid()));
        self::assertStringNotContainsString('ended', $launcher->getOutput());
        $after = self::state($this);
        self::assertSame(
            [$state['pid'], $state['compiler']['pid'], $state['lights']['pid']],
            [$after['pid'], $after['compiler']['pid'], $after['lights']['pid']],
        );
        // The one that sends is killed: the other goes on, and a receiver that counts takes it.
        $gap = 0.0;
        posix_kill((int) $after['lights']['pid'], SIGKILL);
        $watch(1.5);
        self::assertLessThan(1.5, max($gap, microtime(true) - $last));
        $this->until(
            'another process at hand',
            fn (): bool => ($now = self::state($this)['lights'] ?? [])['standby'] === true &&
                $now['pid'] !== $after['lights']['pid'],
        );
        // Both are killed, and with them the engine: the next goes on with what was sent last.
        foreach (['kite:lights', 'kite:conductor'] as $what) {
            foreach (self::children((int) $launcher->getPid()) as $pid) {
                str_contains((string) @file_get_contents("/proc/$pid/cmdline"), $what) && posix_kill($pid, SIGKILL);
            }
        }
        $this->until('a packet after all of them', static fn (): bool => $receive() === '' ? false : true);
    }

    /** @return array<string, mixed> */
    private static function state(self $test): array
    {
        return @fsockopen('127.0.0.1', self::PORT) === false ? [] : $test->live('state');
    }

    /** @return list<int> processes that a process started, by number */
    private static function children(int $pid): array
    {
        $found = array_map(intval(...), array_filter(explode("\n", trim((string) shell_exec("pgrep -P $pid")))));
        sort($found);

        return $found;
    }
}
