<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Engine\Guard;
use App\Engine\Wire;
use App\Lights\ConsoleInput;
use App\Lights\LightSender;
use App\Lights\LightState;
use App\Lights\NodeFinder;
use App\Lights\RawFrames;
use App\Lights\SerialPorts;
use App\Lights\UdpReceiver;
use App\Lights\UdpSink;
use App\Lights\Universe;
use App\Rig\NodeRig;
use Core\Bindings\Personality;
use Core\Effects\Effect;
use Core\Plan\PlanCompiler;
use Core\Protocol\ArtNet;
use Core\Protocol\Ddp;
use Core\Protocol\Sacn;
use Core\Show\Document;
use Core\Show\Show;
use Core\Units\Flicks;
use React\EventLoop\Loop;
use React\EventLoop\LoopInterface;
use React\EventLoop\StreamSelectLoop;
use Symfony\Component\Process\Process;

/** Pixel lights composed and sent: in process to a sink that remembers, and as real processes over real sockets. */
final class LightsTest extends ConductorCase
{
    private const S = Flicks::PER_SECOND;

    private const CID = 'abcdefghijklmnop';

    private ?Process $lights = null;

    /** @var resource|null where packets come */
    private $socket = null;

    protected function tearDown(): void
    {
        $this->lights?->stop(2);
        parent::tearDown();
    }

    /** @param  array<string, mixed>  $node */
    private static function lit(array $node = [], string $colour = '#ff0000', array $patches = []): Show
    {
        $light = static fn (string $id): array => [
            'id' => $id,
            'name' => $id,
            'kind' => 'light',
            'position' => [0, 0, 0],
            'rotation' => [0, 0, 0],
            'shape' => ['fixture' => 'bar'],
        ];

        return Show::fromRows(
            ['id' => '00000000000000000000000001', 'name' => 'Test', 'frameRate' => '25'],
            [
                'fixture' => [
                    [
                        'id' => 'bar',
                        'name' => 'Bar',
                        'columns' => 4,
                        'rows' => 1,
                        'widthMm' => 400,
                        'heightMm' => 50,
                        'channels' => 'RGBW',
                    ],
                ],
                'surface' => [$light('one'), $light('two')],
                'node' => [
                    $node + [
                        'id' => 'node',
                        'name' => 'Node',
                        'protocol' => 'artnet',
                        'address' => '10.0.0.9',
                        'rate' => 40,
                    ],
                ],
                'patch' => $patches !== []
                        ? $patches
                        : [
                            ['id' => 'p1', 'surface' => 'one', 'node' => 'node', 'universe' => 1, 'channel' => 1],
                            ['id' => 'p2', 'surface' => 'two', 'node' => 'node', 'universe' => 1, 'channel' => 17],
                        ],
                'media' => [['id' => 'red', 'name' => 'Red', 'kind' => 'solid', 'colour' => $colour]],
                'timeline' => [['id' => 'line', 'name' => 'Main', 'duration' => 20 * self::S]],
                'layer' => [['id' => 'l', 'timeline' => 'line', 'name' => 'L', 'order' => 0, 'route' => 'w']],
                'route' => [['id' => 'w', 'name' => 'Lights', 'surfaces' => ['one', 'two']]],
                'clip' => [['id' => 'c', 'layer' => 'l', 'media' => 'red', 'start' => 0, 'length' => 20 * self::S]],
                'curve' => [
                    [
                        'id' => 'k',
                        'owner' => 'l',
                        'property' => 'opacity',
                        'keyframes' => [['t' => 10 * self::S, 'v' => 1], ['t' => 12 * self::S, 'v' => 0]],
                    ],
                ],
            ],
        );
    }

    /**
     * @return array{LightState, LightSender, RememberingSink}
     */
    private static function playing(Show $show, ?PlanCompiler $compiler = null): array
    {
        $compiler ??= new PlanCompiler();
        $pack = $compiler->compile($show, 1)->toBytes();
        $state = new LightState(static fn (): string => $pack);
        $sink = new RememberingSink();
        $state->take(Wire::HELLO, Wire::encode(['show' => $show->id, 'clock' => 'boot/1']));
        $state->take(Wire::BASE, Wire::encode(['show' => $show->id, 'pack' => 'x', 'at' => 0]));
        // Running since engine time 0.
        $state->take(
            Wire::DECK,
            Wire::encode(['show' => $show->id, 'timeline' => 'line', 'on' => true, 'map' => ['p' => [[0, 0, 1]]]]),
        );

        return [$state, new LightSender($state, new RawFrames('/nowhere'), $sink, self::CID), $sink];
    }

    /** One tick at an engine time that the monotonic clock is alike. */
    private static function tick(LightSender $sender, int $engine): void
    {
        $sender->tick($engine, $engine / self::S);
    }

    public function test_lights_of_one_universe_are_put_together_and_sent_at_the_rate_of_their_node(): void
    {
        [, $sender, $sink] = self::playing(self::lit());
        self::tick($sender, 0);
        $packets = $sink->take();
        self::assertSame([['10.0.0.9', 6454]], array_map(static fn (array $p): array => [$p[1], $p[2]], $packets));
        $said = ArtNet::decode($packets[0][0]);
        // Eight pixels of red, 4 channels each: in all 32, the rest of the universe dark.
        self::assertSame(
            [0, 1, str_repeat("\xFF\0\0\0", 8).str_repeat("\0", 480)],
            [$said['address'] ?? -1, $said['sequence'] ?? -1, $said['slots'] ?? ''],
        );
        // 40 Hz: nothing is due 10 ms later.
        self::tick($sender, (int) (0.01 * self::S));
        self::assertSame([], $sink->take());
        self::tick($sender, (int) (0.025 * self::S));
        self::assertSame(2, ArtNet::decode($sink->take()[0][0])['sequence'] ?? 0);
        self::assertSame([2, 1, 40.0], [$sender->lights(), $sender->count(), $sender->rate()]);
        // At half its opacity, signals are half: light is half to the power of 2.2.
        self::tick($sender, 11 * self::S);
        self::assertSame(
            (int) round(255 * (128 / 255) ** 2.2),
            ord(ArtNet::decode($sink->take()[0][0])['slots'][0] ?? ''),
        );
    }

    public function test_what_does_not_change_is_sent_as_seldom_as_receivers_allow(): void
    {
        [, $sender, $sink] = self::playing(self::lit());
        for ($i = 0; $i < 80; $i++) {
            self::tick($sender, (int) ($i * 0.025 * self::S));
        }
        // Four at once, then one at 0.875 s (0.075 s and 0.8 s), one at 1.675 s.
        self::assertCount(6, $sink->take());
        [, $always, $sink] = self::playing(self::lit(['onlyChanges' => false]));
        for ($i = 0; $i < 80; $i++) {
            self::tick($always, (int) ($i * 0.025 * self::S));
        }
        self::assertCount(80, $sink->take());
        $universe = new Universe();
        self::assertSame(
            [true, true, true, true, false, true, true],
            array_map(static fn (array $one): bool => $universe->isDue($one[0], $one[1], true), [
                ['a', 0.0],
                ['a', 0.1],
                ['a', 0.2],
                ['a', 0.3],
                ['a', 0.4],
                ['b', 0.5],
                ['b', 0.6],
            ]),
        );
    }

    public function test_a_late_frame_moves_those_after_it_and_is_not_caught_up_with(): void
    {
        foreach ([44.0, 40.0, 30.0, 25.0] as $rate) {
            [, $sender, $sink] = self::playing(self::lit(['rate' => $rate, 'onlyChanges' => false]));
            $sent = [];
            mt_srand(5);
            for (
                $seconds = 0.0;
                $seconds < 60;
                $seconds =
                    max($sender->due() ?? self::fail('Something is sent.'), $seconds) +
                    mt_rand(0, 1000) / 1e6 +
                    (mt_rand(1, 40) === 1 ? mt_rand(10, 200) / 1000 : 0)
            ) {
                self::tick($sender, (int) ($seconds * self::S));
                $sink->take() === [] || ($sent[] = $seconds);
            }
            $gaps = array_map(
                static fn (float $a, float $b): float => $b - $a,
                array_slice($sent, 0, -1),
                array_slice($sent, 1),
            );
            // No two closer than the rate, but for the slack of 2 ms; and nothing is lost but what was late.
            self::assertGreaterThan(1 / $rate - 0.0021, min($gaps), "at $rate Hz");
            self::assertGreaterThan(0.85 * 60 * $rate, count($sent), "at $rate Hz");
        }
        // The clock of the engine is set anew, to its beginning: frames are counted by another.
        [, $sender, $sink] = self::playing(self::lit(['onlyChanges' => false]));
        $sender->tick(500 * self::S, 7.0);
        $sink->take();
        $sender->tick(0, 7.025);
        self::assertCount(1, $sink->take());
    }

    public function test_who_takes_the_place_of_another_goes_on_with_its_picture_and_its_count(): void
    {
        [$state, $sender, $sink] = self::playing(self::lit(['protocol' => 'sacn', 'onlyChanges' => false], '#ffffff'));
        for ($i = 0; $i < 200; $i++) {
            $sender->tick((int) ($i * 0.025 * self::S), $i * 0.025);
        }
        $last = Sacn::decode($sink->take()[199][0]);
        $saved = $sender->saved();
        // Up to two seconds go by before it is killed: what it sent then is not in what was kept.
        foreach ([0, 44, 88] as $since) {
            $sink = new RememberingSink();
            $heir = new LightSender(
                ($fresh = new LightState(static fn (): string => '')),
                new RawFrames('/nowhere'),
                $sink,
                self::CID,
            );
            $heir->resume($saved);
            $heir->tick(null, 100.0);
            $first = Sacn::decode($sink->take()[0][0]);
            self::assertSame(
                [$last['slots'] ?? '', 'data', 1],
                [$first['slots'] ?? null, $first['kind'], $first['universe'] ?? 0],
            );
            $step = ((($first['sequence'] ?? 0) - ($last['sequence'] ?? 0) - $since + 1024 + 128) & 255) - 128;
            self::assertTrue($step > 0 || $step <= -20, "a step of $step after $since more");
            $heir->tick(null, 100.025);
            self::assertCount(1, $sink->take());
            // The engine says that nothing is on air: it ends.
            $fresh->take(Wire::HELLO, Wire::encode(['show' => null, 'clock' => 'boot/1']));
            $heir->tick(200 * self::S, 100.05);
            self::assertSame(
                [true, true, true],
                array_map(static fn (array $p): bool => Sacn::decode($p[0])['ends'] ?? false, $sink->take()),
            );
        }
        // One that knows all already goes on with the show, and counts on.
        $sink = new RememberingSink();
        $heir = new LightSender($state, new RawFrames('/nowhere'), $sink, self::CID);
        $heir->warm(200 * self::S);
        self::assertSame([], $sink->take());
        $heir->resume($saved);
        $heir->tick(11 * self::S, 100.0);
        $said = Sacn::decode($sink->take()[0][0]);
        self::assertSame(
            [(int) round(255 * (128 / 255) ** 2.2), (($last['sequence'] ?? 0) + 121) & 255],
            [ord(($said['slots'] ?? '')[3]), $said['sequence'] ?? -1],
        );
        $heir->resume('no JSON');
        $heir->resume('{"destinations": {"x": {"node": {"protocol": "smoke"}}}}');
        $heir->tick(11 * self::S, 100.1);
        self::assertCount(1, $sink->take());
    }

    /** A console input on ports of its own, driven by slots of a control. */
    private static function console(LoopInterface $loop, int $controls = 1): ConsoleInput
    {
        $rows = [
            'timeline' => [['id' => 'line', 'name' => 'Main', 'duration' => 20 * self::S]],
            'layer' => array_map(
                static fn (int $i): array => [
                    'id' => "l$i",
                    'timeline' => 'line',
                    'name' => "L$i",
                    'order' => $i,
                    'route' => null,
                ],
                range(1, $controls),
            ),
            'personality' => [['id' => 'full', 'name' => 'Full', 'parts' => Personality::PRESETS['Full']]],
            'control' => array_map(
                static fn (int $i): array => [
                    'id' => "c$i",
                    'layer' => "l$i",
                    'personality' => 'full',
                    'universe' => 7,
                    'channel' => 1,
                ],
                range(1, $controls),
            ),
        ];
        $document = Document::of(['id' => 'show', 'name' => 'Test', 'frameRate' => '25'], $rows);
        $compiler = new PlanCompiler();
        $compiler->compile($document->show, 1);
        $console = new ConsoleInput($loop, '127.0.0.1', TEST_PORTS + 48, self::CID);
        $console->prepare($compiler->plan());

        return $console;
    }

    public function test_a_console_is_heard_through_a_flood_of_all_other_universes(): void
    {
        $loop = new StreamSelectLoop();
        $console = self::console($loop);
        $sink = new UdpSink();
        for ($universe = 1; $universe <= 63_999; $universe++) {
            $sink->send(
                Sacn::data(str_repeat('f', 16), 'Flood', $universe === 7 ? 8 : $universe, 1, "\xFF"),
                '127.0.0.1',
                TEST_PORTS + 48,
            );
            if ($universe % 100 === 0) {
                $loop->futureTick(static fn () => $loop->addTimer(0.007, static fn () => $loop->stop()));
                $loop->run();
            }
        }
        self::assertSame([], $console->figures()['sources']);
        self::assertGreaterThan(10_000, $console->foreign);
        $sink->send(Sacn::data(str_repeat('c', 16), 'Console', 7, 1, "\x80"), '127.0.0.1', TEST_PORTS + 48);
        $heard = $this->until('the console', static function () use ($loop, $console): ?array {
            $loop->futureTick(static fn () => $loop->addTimer(0.03, static fn () => $loop->stop()));
            $loop->run();

            return $console->figures()['values'] === [] ? null : $console->figures();
        });
        self::assertSame(['Console'], array_column($heard['sources'], 'name'));
    }

    public function test_what_is_told_of_consoles_stays_small(): void
    {
        $loop = new StreamSelectLoop();
        $console = self::console($loop, 300);
        $merge = (new \ReflectionProperty($console, 'merge'))->getValue($console);
        for ($i = 0; $i < 16; $i++) {
            $merge->hear(
                'sacn 7',
                str_repeat(chr(65 + $i), 16),
                str_repeat("\x7F", 512),
                100,
                hrtime(true) / 1e9,
                60,
                str_repeat('N', 63),
            );
        }
        $console->tick(hrtime(true) / 1e9);
        $figures = $console->figures();
        self::assertLessThan(131_072, strlen((string) json_encode($figures)));
        self::assertSame(300, count($figures['controls']) + $figures['more']['controls']);
        self::assertGreaterThan(0, $figures['more']['controls']);
        self::assertGreaterThan(0, $figures['more']['values']);
    }

    public function test_known_nodes_are_refreshed_however_many_there_are(): void
    {
        $finder = new NodeFinder(
            new StreamSelectLoop(),
            new UdpSink(),
            '127.0.0.1',
            TEST_PORTS + 49,
            static fn (): array => [],
        );
        $heard = (new \ReflectionMethod($finder, 'heard'))->getClosure($finder);
        for ($i = 0; $i < 600; $i++) {
            $heard(ArtNet::reply('10.0.0.1', "Node $i", '', [0], 1), '10.0.'.intdiv($i, 250).'.'.$i % 250);
        }
        self::assertCount(500, $finder->found());
        $heard(ArtNet::reply('10.0.0.1', 'Renamed', '', [0], 1), '10.0.0.0');
        self::assertContains('Renamed', array_column($finder->found(), 'name'));
        self::assertCount(500, $finder->found());
    }

    public function test_another_program_at_our_port_is_found(): void
    {
        $ours = new UdpReceiver('127.0.0.1', TEST_PORTS + 48);
        self::assertSame(['', []], [$ours->trouble, $ours->sharers()]);
        $other = new Process([
            'php',
            '-r',
            '$s = socket_create(AF_INET, SOCK_DGRAM, SOL_UDP); socket_set_option($s, SOL_SOCKET, SO_REUSEADDR, 1); socket_bind($s, "0.0.0.0", (int) $argv[1]); echo "open"; sleep(20);',
            '--',
            (string) (TEST_PORTS + 48),
        ]);
        $other->start();
        $this->until('the other program', static fn (): bool => $other->getOutput() === 'open');
        self::assertSame(['php ('.$other->getPid().')'], $ours->sharers());
        $other->stop(0);
        $this->until('it to be gone', static fn (): bool => $ours->sharers() === []);
        // One of which the port is not ours does not count.
        $elsewhere = new UdpReceiver('127.0.0.9', TEST_PORTS + 48);
        self::assertSame([], $elsewhere->sharers());
        self::assertStringContainsString(
            'can\'t be opened',
            (new UdpReceiver('203.0.113.9', TEST_PORTS + 48))->trouble,
        );
    }

    public function test_sacn_has_its_source_priority_and_synchronisation_and_says_when_it_ends(): void
    {
        $compiler = new PlanCompiler();
        $patches = [
            ['id' => 'p1', 'surface' => 'one', 'node' => 'node', 'universe' => 7, 'channel' => 1],
            ['id' => 'p2', 'surface' => 'two', 'node' => 'node', 'universe' => 300, 'channel' => 500],
        ];
        [$state, $sender, $sink] = self::playing(
            self::lit(
                ['protocol' => 'sacn', 'address' => '', 'priority' => 150, 'synchronised' => true],
                '#ffffff',
                $patches,
            ),
            $compiler,
        );
        self::tick($sender, 0);
        $packets = $sink->take();
        // The second light's pixels of four channels from 500 on: three in universe 300, one in 301.
        self::assertSame(['239.255.0.7', '239.255.1.44', '239.255.1.45', '239.255.0.7'], array_column($packets, 1));
        $said = array_map(static fn (array $p): array => Sacn::decode($p[0]), $packets);
        self::assertSame(
            [['data', 7, 150, 7, self::CID], ['data', 300, 150, 7, self::CID], ['data', 301, 150, 7, self::CID]],
            array_map(
                static fn (array $s): array => [
                    $s['kind'],
                    $s['universe'] ?? 0,
                    $s['priority'] ?? 0,
                    $s['sync'] ?? 0,
                    $s['cid'],
                ],
                array_slice($said, 0, 3),
            ),
        );
        self::assertSame(['sync', 7], [$said[3]['kind'], $said[3]['universe'] ?? 0]);
        self::assertSame(
            [str_repeat("\0\0\0\xFF", 3), str_repeat("\0\0\0\xFF", 1).str_repeat("\0", 508)],
            [substr($said[1]['slots'] ?? '', 499, 12), $said[2]['slots'] ?? ''],
        );
        $sender->discover();
        self::assertSame([7, 300, 301], Sacn::decode($sink->take()[0][0])['universes'] ?? []);
        // One light less: its universes end, three times, and the other goes on.
        $fewer = $compiler->compile(
            self::lit(['protocol' => 'sacn', 'address' => '', 'priority' => 150, 'synchronised' => true], '#ffffff', [
                $patches[0],
            ]),
            2,
        );
        $state->take(Wire::DELTA, pack('e', self::S).str_pad($fewer->show, 26).$fewer->toBytes());
        self::tick($sender, (int) (0.5 * self::S));
        self::assertNotContains(
            true,
            array_map(static fn (array $p): bool => Sacn::decode($p[0])['ends'] ?? false, $sink->take()),
        );
        self::tick($sender, self::S);
        $ended = array_filter(
            array_map(static fn (array $p): array => Sacn::decode($p[0]), $sink->take()),
            static fn (array $s): bool => $s['ends'] ?? false,
        );
        self::assertSame([300 => 3, 301 => 3], array_count_values(array_column($ended, 'universe')));
        $sender->stop();
        self::assertSame(
            [7, 7, 7],
            array_map(
                static fn (array $p): int => Sacn::decode($p[0])['ends'] ?? false
                    ? Sacn::decode($p[0])['universe'] ?? 0
                    : 0,
                $sink->take(),
            ),
        );
        // No show on air any more: nothing is sent.
        $state->take(Wire::AIR, Wire::encode(['show' => null]));
        self::tick($sender, 2 * self::S);
        $sink->take();
        self::tick($sender, 3 * self::S);
        self::assertSame([], $sink->take());
    }

    public function test_two_lights_share_an_address_where_each_leaves_what_the_other_uses(): void
    {
        $patches = [
            [
                'id' => 'p1',
                'surface' => 'one',
                'node' => 'node',
                'universe' => 1,
                'channel' => 1,
                'channels' => 'red, green, blue, unused',
            ],
            [
                'id' => 'p2',
                'surface' => 'two',
                'node' => 'node',
                'universe' => 1,
                'channel' => 1,
                'channels' => 'unused, unused, unused, white',
            ],
        ];
        [, $sender, $sink] = self::playing(self::lit([], '#ffff80', $patches));
        self::tick($sender, 0);
        $blue = (int) round(255 * (128 / 255) ** 2.2);
        self::assertSame(
            str_repeat("\xFF\xFF".chr($blue).chr($blue), 4),
            substr(ArtNet::decode($sink->take()[0][0])['slots'] ?? '', 0, 16),
        );
    }

    public function test_ddp_is_one_frame_of_bytes(): void
    {
        $patches = [
            ['id' => 'p1', 'surface' => 'one', 'node' => 'node', 'universe' => 1, 'channel' => 1],
            ['id' => 'p2', 'surface' => 'two', 'node' => 'node', 'universe' => 2, 'channel' => 1],
        ];
        [, $sender, $sink] = self::playing(self::lit(['protocol' => 'ddp'], '#00ff00', $patches));
        self::tick($sender, 0);
        self::assertSame(
            [[0, 512, false], [512, 512, true]],
            array_map(static function (array $p): array {
                $d = Ddp::decode($p[0]);

                return [$d['offset'], strlen($d['bytes']), $d['push']];
            }, $sink->take()),
        );
    }

    public function test_a_test_takes_the_place_of_the_show_until_it_ends(): void
    {
        [$state, $sender, $sink] = self::playing(self::lit(['onlyChanges' => false]));
        $slots = static function (float $seconds) use ($sender, $sink): string {
            self::tick($sender, (int) ($seconds * self::S));

            return substr(ArtNet::decode($sink->take()[0][0])['slots'] ?? '', 0, 32);
        };
        $test = static fn (array $test, float $until = 10) => $state->take(
            Wire::LIGHTS,
            Wire::encode(['patch' => 'p1', 'until' => (int) ($until * self::S), 'test' => $test]),
        );
        $red = str_repeat("\xFF\0\0\0", 4);
        self::assertSame($red.$red, $slots(0));
        $test(['kind' => 'pixel', 'number' => 2, 'colour' => [0, 1, 0]]);
        self::assertSame(str_repeat("\0", 8)."\0\xFF\0\0".str_repeat("\0", 4).$red, $slots(0.1));
        $test(['kind' => 'channel', 'number' => 3]);
        self::assertSame(str_repeat("\0\0\0\xFF", 4).$red, $slots(0.2));
        $test(['kind' => 'colour', 'colour' => [1, 1, 1]]);
        self::assertSame(str_repeat("\0\0\0\xFF", 4), substr($slots(0.3), 0, 16));
        $test(['kind' => 'chase', 'number' => 2]);
        self::assertSame(
            [0, 1, 1, 2, 0],
            array_map(static fn (float $at): int => intdiv((int) strpos($slots($at), "\xFF"), 4), [
                4.2,
                4.5,
                4.9,
                5.1,
                6.0,
            ]),
        );
        $test(['kind' => 'identify']);
        self::assertSame(["\xFF", "\0"], [$slots(7.1)[3], $slots(7.3)[3]]);
        // Blind: what it had last stays, whatever the show does.
        $test(['kind' => 'colour', 'colour' => [0, 0, 1]], 20);
        $blue = substr($slots(7.4), 0, 16);
        $test(['kind' => 'blind'], 20);
        self::assertSame($blue, substr($slots(9), 0, 16));
        // It ends when it is told to, or by itself.
        $state->take(Wire::LIGHTS, Wire::encode(['patch' => 'p1', 'until' => 0, 'test' => null]));
        self::assertSame($red, substr($slots(9.1), 0, 16));
        $test(['kind' => 'pixel', 'number' => 0, 'colour' => [0, 1, 0]], 9.3);
        self::assertSame(["\0", "\xFF"], [$slots(9.2)[0], $slots(9.4)[0]]);
        foreach (['rubbish', '{}', '{"patch":1}', '{"patch":"p1","test":{"kind":"sing"}}', '[]'] as $nonsense) {
            $state->take(Wire::LIGHTS, $nonsense);
        }
        self::assertSame($red, substr($slots(9.6), 0, 16));
    }

    public function test_nodes_of_the_rig_take_what_real_ones_take(): void
    {
        $loop = Loop::get();
        $rig = new NodeRig(
            $loop,
            ['artnet' => TEST_PORTS + 45, 'sacn' => TEST_PORTS + 46, 'ddp' => TEST_PORTS + 47],
            TEST_PORTS + 48,
            new Guard(),
        );
        $answers =
            stream_socket_server('udp://127.0.0.1:'.(TEST_PORTS + 48), $code, $error, STREAM_SERVER_BIND) ?:
            self::fail($error);
        $sink = new UdpSink();
        $sink->send(ArtNet::dmx(3, 1, "\x05\x06"), '127.0.0.2', TEST_PORTS + 45);
        $sink->send('garbage', '127.0.0.2', TEST_PORTS + 45);
        $sink->send(ArtNet::poll(), '127.0.0.2', TEST_PORTS + 45);
        $sink->send(Sacn::data(self::CID, 'Quay', 9, 1, "\x07"), '127.0.0.3', TEST_PORTS + 46);
        $sink->send(Ddp::data(2, "\x08\x09", 1)[0], '127.0.0.4', TEST_PORTS + 47);
        for ($i = 0; $i < 20; $i++) {
            $loop->futureTick(static fn () => $loop->stop());
            $loop->run();
        }
        $state = json_decode((string) json_encode($rig->state()), true);
        self::assertSame(
            [base64_encode("\x05\x06"), base64_encode("\x07"), base64_encode("\0\0\x08\x09"), 1],
            [
                $state['universes']['artnet']['3'],
                $state['universes']['sacn']['9'],
                $state['universes']['ddp']['0'],
                $state['bad'],
            ],
        );
        $said = ArtNet::decode((string) stream_socket_recvfrom($answers, 1024));
        self::assertSame(
            ['127.0.0.2', 'Virtual node', [3]],
            [$said['ip'] ?? '', $said['name'] ?? '', $said['ports'] ?? []],
        );
        // Synchronised, it waits for the sign.
        $sink->send(ArtNet::sync(), '127.0.0.2', TEST_PORTS + 45);
        $sink->send(ArtNet::dmx(3, 2, "\x0A\x0B"), '127.0.0.2', TEST_PORTS + 45);
        $turn = static function () use ($loop): void {
            for ($i = 0; $i < 20; $i++) {
                $loop->futureTick(static fn () => $loop->stop());
                $loop->run();
            }
        };
        $turn();
        $shown = static fn (): string => (string) base64_decode(
            ((array) $rig->state()['universes']['artnet'])['3'] ?? '',
            true,
        );
        self::assertSame("\x05\x06", $shown());
        $sink->send(ArtNet::sync(), '127.0.0.2', TEST_PORTS + 45);
        $turn();
        self::assertSame("\x0A\x0B", $shown());
        $sink->send(Sacn::data(self::CID, 'Quay', 9, 2, "\0", ends: true), '127.0.0.3', TEST_PORTS + 46);
        $turn();
        self::assertSame([], (array) $rig->state()['universes']['sacn']);
        self::assertSame('', $sink->trouble);
        $sink->send('x', '127.0.0.1', TEST_PORTS + 48, '10.99.99.99');
        self::assertSame('10.99.99.99 is no address of this machine.', $sink->trouble);
    }

    private function startLights(): void
    {
        $this->lights = new Process([PHP_BINARY, base_path('artisan'), 'kite:lights'], base_path(), [
            'KITE_DATA' => $this->data,
            'KITE_RUN' => "$this->data/run",
            'KITE_PORT' => (string) (TEST_PORTS + 30),
            'KITE_LIVE_PORT' => (string) self::PORT,
            'KITE_ARTNET_PORT' => (string) (TEST_PORTS + 49),
            'KITE_SACN_PORT' => (string) (TEST_PORTS + 48),
            'APP_KEY' => config('app.key'),
        ]);
        $this->lights->setTimeout(null);
        $this->lights->start();
    }

    /** The next packet that comes of which something holds. */
    private function packet(string $what, \Closure $holds): array
    {
        return $this->until($what, function () use ($holds): ?array {
            $packet = @stream_socket_recvfrom($this->socket ?? self::fail('Nobody listens.'), 2048);

            return is_string($packet) && $packet !== '' && $holds($said = ArtNet::decode($packet)) ? $said : null;
        });
    }

    public function test_slots_of_a_universe_are_controls_also_through_killed_processes(): void
    {
        [$show, $ids] = $this->fadingShow();
        [$desk, $fader, $button] = [$this->id(), $this->id(), $this->id()];
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Desk',
            'changes' => [
                $this->created('device', $desk, ['name' => 'Desk', 'protocol' => 'dmx', 'port' => 'sACN 7']),
                $this->created('binding', $fader, [
                    'device' => $desk,
                    'control' => 'slot16:3',
                    'meaning' => 'value',
                    'gesture' => 'move',
                    'takeover' => 'jump',
                    'target' => "layer:$ids[layer]/opacity",
                    'to' => 65_535,
                ]),
                $this->created('binding', $button, [
                    'device' => $desk,
                    'control' => 'slot:1',
                    'target' => 'play',
                    'to' => 255,
                ]),
            ],
        ])->assertCreated();
        $this->start();
        $this->ask('POST', "shows/$show/engage")->assertOk();
        $this->startLights();
        $sink = new UdpSink();
        $sequence = 0;
        $send = static function (string $slots) use ($sink, &$sequence): void {
            $sink->send(
                Sacn::data(self::CID, 'Desk', 7, $sequence++ & 255, str_pad($slots, 512, "\0"), 100),
                '127.0.0.1',
                TEST_PORTS + 48,
            );
        };
        $opacity = fn (): ?float => $this->live('state')['live']["layer:$ids[layer]/opacity"] ?? null;
        $runs = fn (): bool => $this->live('state')['decks'][$ids['line']]['running'] ?? false;
        // Where it stands when it is heard first is no wish, however often it is sent.
        $this->until('the desk to be known', function () use ($send): bool {
            $send("\xFF\0\x40\0");

            return ($this->live('state')['lights']['console']['packets'] ?? 0) > 20;
        });
        self::assertNull($opacity());
        self::assertFalse($runs(), 'A button that was down is not pressed.');
        $send("\xFF\0\x80\x80");
        self::assertEqualsWithDelta(0x8080 / 65_535, $this->until('sixteen bits', $opacity), 1e-12);
        $send("\0\0\x80\x80");
        usleep(100_000);
        $send("\xFF\0\x80\x81");
        $this->until('the press', $runs);
        $this->until('the fine slot', static fn (): bool => abs($opacity() - 0x8081 / 65_535) < 1e-12);
        // The engine dies and comes back: where the desk stands is no wish of it, what it does next is.
        $this->conductor?->signal(SIGKILL);
        $this->until('it to be gone', fn (): bool => $this->conductor?->isRunning() === false);
        $this->start();
        $this->until('the show', fn (): bool => ($this->live('state')['compiler']['ready'] ?? false) === true);
        $this->until('the next move', static function () use ($send, $opacity): bool {
            static $v = 0;
            $v = ($v + 1) % 256;
            $send("\xFF\0\x20".chr($v));

            return abs($opacity() - 0x2000 / 65_535) < 0.01;
        });
        // A universe that no device is any more says nothing.
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Another universe',
            'changes' => [$this->updated('device', $desk, ['port' => ['sACN 7', 'Art-Net 0']])],
        ])->assertCreated();
        $this->until('the edit', fn (): bool => ($this->live('state')['compiler']['revision'] ?? 0) >= 3);
        $this->until('Art-Net', static function () use ($sink, $send, $opacity): bool {
            static $v = 0;
            $v = ($v + 1) % 256;
            $send("\0\0\xFF\xFF");
            $sink->send(ArtNet::dmx(0, 0, "\0\0\x60".chr($v)), '127.0.0.1', TEST_PORTS + 49);

            return abs($opacity() - 0x6000 / 65_535) < 0.01;
        });
    }

    /** @return array{resource, string, resource} the end of a serial interface, its port, and what keeps it open */
    private static function interface(): array
    {
        $keeper = proc_open(['sleep', '120'], [['pty'], ['pty'], ['pty']], $pipes) ?: self::fail('No pseudo-terminal.');
        for ($i = 0; $i < 100; $i++) {
            $path = (string) @readlink('/proc/'.proc_get_status($keeper)['pid'].'/fd/0');
            if (str_starts_with($path, '/dev/pts/')) {
                stream_set_blocking($pipes[0], false);

                return [$pipes[0], $path, $keeper];
            }
            usleep(10_000);
        }
        self::fail('The pseudo-terminal has no name.');
    }

    public function test_serial_interfaces_take_what_lights_are_sent_and_what_consoles_send(): void
    {
        [$show, $ids] = $this->fadingShow();
        [$out, $outPath, $one] = self::interface();
        [$in, $inPath, $two] = self::interface();
        [$light, $node, $desk] = [$this->id(), $this->id(), $this->id()];
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Line',
            'changes' => [
                ...$this->bar($light, 1),
                $this->created('node', $node, ['name' => 'Line', 'protocol' => 'serial', 'address' => $outPath]),
                $this->created('patch', $this->id(), ['surface' => $light, 'node' => $node]),
                $this->updated('route', $ids['route'], ['surfaces' => [[$ids['wall']], [$ids['wall'], $light]]]),
                $this->updated('media', $ids['media'], ['kind' => ['testcard', 'solid'], 'colour' => ['', '#ffffff']]),
                $this->created('device', $desk, ['name' => 'Desk', 'protocol' => 'dmx', 'port' => "Serial $inPath"]),
                $this->created('binding', $this->id(), [
                    'device' => $desk,
                    'control' => 'slot:2',
                    'meaning' => 'value',
                    'gesture' => 'move',
                    'takeover' => 'jump',
                    'target' => "layer:$ids[layer]/opacity",
                    'to' => 255,
                ]),
            ],
        ])->assertCreated();
        $this->start();
        $this->ask('POST', "shows/$show/engage")->assertOk();
        $this->startLights();
        $received = static fn (string $slots): string => "\x7E\x05".pack('v', strlen($slots) + 2)."\0\0$slots\xE7";
        // What the interface is sent: messages of label 6, a start code and 512 slots.
        $last = '';
        $shows = function (int $level) use ($out, &$last): bool {
            $last = substr($last.fread($out, 65_536), -2000);
            $at = strrpos(substr($last, 0, -518), "\x7E\x06\x01\x02");

            return $at !== false && substr($last, $at + 4, 4) === "\0".str_repeat(chr($level), 3);
        };
        $this->until('darkness', static fn (): bool => $shows(0));
        $n = 0;
        $this->until('full light', static function () use ($in, $received, $shows, &$n): bool {
            // Where it stands first is no wish: it has to move.
            fwrite($in, $received("\0".chr($n++ % 2 === 0 ? 254 : 255).str_repeat("\0", 22)));

            return $shows(255);
        });
        self::assertGreaterThan(0.99, $this->live('state')['live']["layer:$ids[layer]/opacity"] ?? 0);
        foreach ([$one, $two] as $keeper) {
            proc_terminate($keeper);
            proc_close($keeper);
        }
    }

    public function test_a_serial_interface_that_is_pulled_out_is_told_and_found_again(): void
    {
        $loop = new StreamSelectLoop();
        $ports = new SerialPorts($loop);
        [$end, $path, $keeper] = self::interface();
        $heard = [];
        $ports->listen([
            $path => static function (string $slots) use (&$heard): void {
                $heard[] = $slots;
            },
            '/dev/nothing' => static fn () => null,
        ]);
        self::assertSame('/dev/nothing is no serial port of this machine.', $ports->trouble);
        fwrite($end, "\x7E\x05\x04\x00\0\0\x2A\x07\xE7");
        $turn = static function () use ($loop): void {
            $loop->addTimer(0.01, $loop->stop(...));
            $loop->run();
        };
        $this->until('the slots', static function () use ($turn, &$heard): bool {
            $turn();

            return $heard !== [];
        });
        self::assertSame(["\x2A\x07"], $heard);
        $ports->send("\x7E\x06", $path, 0);
        self::assertSame(1, $ports->sent);
        proc_terminate($keeper);
        proc_close($keeper);
        $this->until('that it is gone', static function () use ($turn, $ports, $path): bool {
            $turn();

            return $ports->trouble === "$path is gone.";
        });
        $ports->send("\x7E\x06", $path, 0);
        self::assertSame(1, $ports->sent);
    }

    public function test_a_console_drives_a_layer_over_the_network(): void
    {
        [$show, $ids] = $this->fadingShow();
        [$light, $node, $patch, $personality] = [$this->id(), $this->id(), $this->id(), $this->id()];
        [$red, $control, $effect] = [$this->id(), $this->id(), $this->id()];
        $socket =
            stream_socket_server('udp://127.0.0.1:'.(TEST_PORTS + 44), $code, $error, STREAM_SERVER_BIND) ?:
            self::fail($error);
        stream_set_blocking($socket, false);
        $this->socket = $socket;
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Console',
            'changes' => [
                ...$this->bar($light, 1),
                $this->created('node', $node, [
                    'name' => 'Node',
                    'protocol' => 'artnet',
                    'address' => '127.0.0.1',
                    'port' => TEST_PORTS + 44,
                ]),
                $this->created('patch', $patch, ['surface' => $light, 'node' => $node]),
                $this->updated('route', $ids['route'], ['surfaces' => [[$ids['wall']], [$ids['wall'], $light]]]),
                $this->updated('media', $ids['media'], ['kind' => ['testcard', 'solid'], 'colour' => ['', '#ffffff']]),
                $this->created('media', $red, [
                    'name' => 'Red',
                    'kind' => 'solid',
                    'colour' => '#ff0000',
                    'folder' => 4,
                    'index' => 2,
                ]),
                $this->created('personality', $personality, [
                    'name' => 'Small',
                    'parts' => 'intensity 16, folder, index, effect, effect mix, 2 effect value 16',
                ]),
                $this->created('effect', $effect, ['layer' => $ids['layer'], 'values' => []]),
                $this->created('control', $control, [
                    'layer' => $ids['layer'],
                    'personality' => $personality,
                    'universe' => 5,
                    'channel' => 11,
                    'lost' => 'release',
                ]),
            ],
        ])->assertCreated();
        $this->start();
        $this->ask('POST', "shows/$show/engage")->assertOk();
        $this->startLights();
        $sink = new UdpSink();
        $sequence = 0;
        $send = function (string $slots, int $priority = 100, bool $ends = false) use ($sink, &$sequence): void {
            $sink->send(
                Sacn::data(
                    self::CID,
                    'Console',
                    5,
                    $sequence++ & 255,
                    str_repeat("\0", 10).$slots,
                    $priority,
                    ends: $ends,
                ),
                '127.0.0.1',
                TEST_PORTS + 48,
            );
        };
        $shows = fn (string $what, \Closure $holds): array => $this->packet(
            $what,
            static fn (array $said): bool => ($said['op'] ?? 0) === ArtNet::DMX &&
                ($said['address'] ?? -1) === 0 &&
                $holds(array_map(ord(...), str_split(substr($said['slots'], 0, 3)))),
        );
        $shows('darkness: the show is at its beginning', static fn (array $rgb): bool => $rgb === [0, 0, 0]);
        // Until it is heard, the console has to speak: the process begins to listen in its own time.
        $this->until('the console to be heard', function () use ($send): ?bool {
            $send("\xFF\xFF\0\0");
            $packet = @stream_socket_recvfrom($this->socket ?? self::fail('Nobody listens.'), 2048);
            $said = is_string($packet) && $packet !== '' ? ArtNet::decode($packet) : [];

            return ($said['op'] ?? 0) === ArtNet::DMX && ($said['slots'] ?? '')[0] === "\xFF" ? true : null;
        });
        // Sixteen bits of it: an eighth of the way, as light.
        $send("\x80\0\0\0");
        $half = (int) round(255 * (128 / 255) ** 2.2);
        $shows('half', static fn (array $rgb): bool => abs($rgb[0] - $half) <= 1 && $rgb[1] === $rgb[0]);
        // Media by folder and index.
        $send("\xFF\xFF\x04\x02");
        $shows('red', static fn (array $rgb): bool => $rgb === [255, 0, 0]);
        // An effect by its number: a third of a turn of its hue, and half of that; by 0 as it is stored, which is none.
        $third = pack('n', 32_768 + intdiv(32_768 * 2, 3) + 1);
        $send("\xFF\xFF\x04\x02".chr(Effect::Hue->number())."\xFF$third");
        $shows('green', static fn (array $rgb): bool => $rgb[0] <= 1 && $rgb[1] >= 254 && $rgb[2] <= 1);
        $send("\xFF\xFF\x04\x02".chr(Effect::Hue->number())."\x80$third");
        $shows(
            'half green, half red',
            static fn (array $rgb): bool => abs($rgb[0] - 255 * (127 / 255) ** 2.2) <= 2 &&
                abs($rgb[1] - 255 * (128 / 255) ** 2.2) <= 2 &&
                $rgb[2] <= 1,
        );
        $told = $this->stream()(
            'its report',
            self::frame(
                Wire::HEALTH,
                static fn (array $h): bool => ($h['lights']['console']['values']["effect:$effect/angle"] ?? 0) > 119,
            ),
        );
        self::assertSame('Angle 120 deg', $told['lights']['console']['controls'][$control]['parts'][5][2] ?? '');
        $send("\xFF\xFF\x04\x02");
        $shows('red again', static fn (array $rgb): bool => $rgb === [255, 0, 0]);
        $send("\xFF\xFF\0\0");
        $shows('the clip again', static fn (array $rgb): bool => $rgb === [255, 255, 255]);
        // A hand is above a console, and gives way to it.
        $this->live('command', ['action' => 'live', 'values' => ["layer:$ids[layer]/opacity" => 0.0]]);
        $shows('darkness by hand', static fn (array $rgb): bool => $rgb === [0, 0, 0]);
        $this->live('command', ['action' => 'live', 'values' => ["layer:$ids[layer]/opacity" => null]]);
        $shows('the console again', static fn (array $rgb): bool => $rgb === [255, 255, 255]);
        // It tells what it hears; nobody else may say what a console says.
        $health = $this->stream()(
            'its report',
            self::frame(Wire::HEALTH, static fn (array $h): bool => ($h['lights']['console']['packets'] ?? 0) > 3),
        );
        self::assertSame(
            [['universe' => 'sacn 5', 'name' => 'Console', 'priority' => 100]],
            $health['lights']['console']['sources'],
        );
        self::assertArrayHasKey('detail', $this->live('console', ['values' => []]));
        self::assertArrayHasKey(
            'detail',
            $this->live('command', ['action' => 'bind', 'values' => ["layer:$ids[layer]/opacity" => 0.0]]),
        );
        // The engine is killed and comes back: what the console says holds on.
        $this->conductor?->signal(SIGKILL);
        $this->until('it to be gone', fn (): bool => ! ($this->conductor?->isRunning() ?? false));
        $this->start();
        $send("\x80\0\0\0");
        $shows('half again', static fn (array $rgb): bool => abs($rgb[0] - $half) <= 1);
        // It ends: what is below comes through, the show at its beginning.
        $send('', ends: true);
        $shows('darkness of the show', static fn (array $rgb): bool => $rgb === [0, 0, 0]);
        // Killed while it is driven, and the console gone meanwhile: the next process lets go of what the one before
        // had told.
        $send("\xFF\xFF\0\0");
        $shows('the console', static fn (array $rgb): bool => $rgb === [255, 255, 255]);
        $this->lights?->signal(SIGKILL);
        $this->until('it to be gone', fn (): bool => ! ($this->lights?->isRunning() ?? false));
        $this->startLights();
        $shows('what it had told, for a while', static fn (array $rgb): bool => $rgb === [255, 255, 255]);
        $shows('darkness of the show again', static fn (array $rgb): bool => $rgb === [0, 0, 0]);
    }

    public function test_a_light_follows_the_show_over_the_network_through_kills_of_both(): void
    {
        $socket =
            stream_socket_server('udp://127.0.0.1:'.(TEST_PORTS + 44), $code, $error, STREAM_SERVER_BIND) ?:
            self::fail($error);
        stream_set_blocking($socket, false);
        $this->socket = $socket;
        [$show, $ids] = $this->fadingShow();
        [$light, $node, $patch] = [$this->id(), $this->id(), $this->id()];
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Lights',
            'changes' => [
                ...$this->bar($light, 2),
                $this->created('node', $node, [
                    'name' => 'Node',
                    'protocol' => 'artnet',
                    'address' => '127.0.0.1',
                    'port' => TEST_PORTS + 44,
                ]),
                $this->created('patch', $patch, [
                    'surface' => $light,
                    'node' => $node,
                    'universe' => 6,
                    'channel' => 3,
                ]),
                $this->updated('route', $ids['route'], ['surfaces' => [[$ids['wall']], [$ids['wall'], $light]]]),
                $this->updated('media', $ids['media'], ['kind' => ['testcard', 'solid'], 'colour' => ['', '#ffffff']]),
            ],
        ])->assertCreated();
        $this->start();
        $this->ask('POST', "shows/$show/engage")->assertOk();
        $this->startLights();
        $level = static fn (array $said): int => ($said['op'] ?? 0) === ArtNet::DMX && ($said['address'] ?? -1) === 5
            ? ord($said['slots'][2])
            : -1;
        $this->packet('the first packet, dark', static fn (array $said): bool => $level($said) === 0);
        $this->live('command', ['action' => 'jump', 'time' => 5 * self::S]);
        $half = (int) round(255 * (128 / 255) ** 2.2);
        $said = $this->packet('half of it', static fn (array $said): bool => abs($level($said) - $half) <= 1);
        self::assertSame(str_repeat(chr($level($said)), 6), substr($said['slots'], 2, 6));
        self::assertSame(["\0\0", "\0"], [substr($said['slots'], 0, 2), $said['slots'][8]]);
        // Told by hand, at one engine time.
        $this->live('command', ['action' => 'live', 'values' => ["layer:$ids[layer]/opacity" => 1.0]]);
        $this->packet('full light', static fn (array $said): bool => $level($said) === 255);
        // A test, and what is no test.
        self::assertStringContainsString(
            'kind must be one of',
            (string) json_encode(
                $this->live('command', ['action' => 'light', 'patch' => $patch, 'test' => ['kind' => 'sing']]),
            ),
        );
        $this->live('command', [
            'action' => 'light',
            'patch' => $patch,
            'test' => ['kind' => 'pixel', 'number' => 1, 'colour' => [1, 0, 0]],
        ]);
        $this->packet(
            'the second pixel, red',
            static fn (array $said): bool => ($said['address'] ?? -1) === 5 &&
                substr($said['slots'], 2, 6) === "\0\0\0\xFF\0\0",
        );
        $this->live('command', ['action' => 'light', 'patch' => $patch]);
        $this->packet('full light again', static fn (array $said): bool => $level($said) === 255);
        // What it tells of itself is seen by windows.
        $health = $this->stream()(
            'its report',
            self::frame(Wire::HEALTH, static fn (array $h): bool => ($h['lights']['universes'] ?? 0) === 1),
        );
        self::assertSame(
            [1, 0, 40],
            [$health['lights']['lights'], $health['lights']['failed'], $health['lights']['rate']],
        );
        // Nobody else may tell it.
        self::assertArrayHasKey('detail', $this->live('lights', ['universes' => 5]));
        // The conductor is killed: the light stays, and follows it again when it is back.
        $this->conductor?->signal(SIGKILL);
        $this->until('it to be gone', fn (): bool => ! ($this->conductor?->isRunning() ?? false));
        $this->packet('light without an engine', static fn (array $said): bool => $level($said) === 255);
        $this->start();
        $this->live('command', ['action' => 'live', 'values' => ["layer:$ids[layer]/opacity" => null]]);
        $this->packet('the show again', static fn (array $said): bool => abs($level($said) - $half) <= 1);
        // The process for lights is killed: another takes its place.
        $this->lights?->signal(SIGKILL);
        $this->until('it to be gone', fn (): bool => ! ($this->lights?->isRunning() ?? false));
        $this->startLights();
        $this->live('command', ['action' => 'jump', 'time' => 10 * self::S]);
        $this->packet('all of it', static fn (array $said): bool => $level($said) === 255);
        // An edit moves it to another universe; it leaves the old one dark.
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Move',
            'changes' => [$this->updated('patch', $patch, ['universe' => [6, 8]])],
        ])->assertCreated();
        $this->packet('the old universe, dark', static fn (array $said): bool => $level($said) === 0);
        $this->packet(
            'the new one, lit',
            static fn (array $said): bool => ($said['address'] ?? -1) === 7 && $said['slots'][2] === "\xFF",
        );
        // Ended in peace, it leaves dark.
        $this->lights?->signal(SIGTERM);
        $this->packet(
            'darkness at its end',
            static fn (array $said): bool => ($said['address'] ?? -1) === 7 && $said['slots'][2] === "\0",
        );
    }
}
