<?php

declare(strict_types=1);

namespace App\Lights;

use App\Engine\EngineClock;
use App\Engine\Guard;
use App\Engine\LatencyStats;
use App\Engine\Wire;
use App\Support\FileLock;
use App\Support\Interval;
use App\Support\TicketOffice;
use Core\PixelMap\Node;
use Core\Protocol\TimecodeFrame;
use Core\Units\Flicks;
use Core\Units\FrameRate;
use Core\Values\MediaRun;
use React\EventLoop\LoopInterface;

/**
 * The process for pixel lights and lighting consoles. Two run at a time: one sends, the other knows all that the
 * first knows and waits for the lock that the system takes from the first however it ends.
 */
final class LightProcess
{
    /** Seconds between ticks where nothing is sent. */
    private const REST = 0.1;

    /** Seconds between two looks of the one that waits. */
    private const WATCH = 0.02;

    /** Seconds after which what another process sent last is not worth repeating. */
    private const STALE = 60.0;

    private readonly Guard $guard;

    private readonly LightState $state;

    private readonly UdpSink $sink;

    private readonly SerialPorts $serial;

    private readonly LightSender $sender;

    private readonly LiveInputs $inputs;

    private readonly EngineLink $link;

    private readonly LatencyStats $late;

    private readonly string $cid;

    private ?FileLock $lock = null;

    private ?ConsoleInput $console = null;

    private ?NodeFinder $finder = null;

    private float $due;

    private int $planned = -1;

    private string $ports = '';

    /**
     * @param  array{data: string, run: string, live_port: int, sacn_port: int, artnet_port: int, inputs_port: int, lights_interface: string}  $config
     * @param  string  $forms  folder of playback forms
     */
    public function __construct(
        private readonly LoopInterface $loop,
        private readonly array $config,
        TicketOffice $tickets,
        string $forms,
    ) {
        $packs = $config['data'].'/packs';
        $this->guard = new Guard();
        $this->late = new LatencyStats();
        $this->cid = self::cid($config['data'].'/cid');
        $this->state = new LightState(
            static fn (string $key): string => preg_match('/^[0-9a-z]+$/D', $key) === 1
                ? (string) file_get_contents("$packs/$key.pack")
                : throw new \UnexpectedValueException('This is no pack.'),
        );
        $this->sink = new UdpSink();
        $this->serial = new SerialPorts($loop);
        $this->sender = new LightSender(
            $this->state,
            new RawFrames(
                $forms,
                ($this->inputs = new LiveInputs($loop, 'http://127.0.0.1:'.$config['inputs_port'])),
            ),
            new PacketSinks($this->sink, $this->serial),
            $this->cid,
        );
        $this->link = new EngineLink($loop, '127.0.0.1:'.$config['live_port'], $tickets, $this->guard, function (
            int $type,
            string $payload,
        ): void {
            $this->state->take($type, $payload);
            $type === Wire::HELLO && $this->console?->resend();
            $type === Wire::UNIVERSES && $this->console?->listenTo($this->state->universes);
        });
        $this->due = self::now();
        // Rasters are many small numbers, which PHP would look through for cycles every few frames.
        gc_disable();
        $loop->addPeriodicTimer(Interval::CollectCycles->seconds(), static fn (): int => gc_collect_cycles());
        $loop->addPeriodicTimer(1, $this->guard->around('lights', $this->report(...)));
        $loop->addPeriodicTimer(
            Interval::DiscoverUniverses->seconds(),
            $this->guard->around('lights', fn () => $this->lock !== null && $this->sender->discover()),
        );
        $loop->addPeriodicTimer(
            Interval::CheckPorts->seconds(),
            $this->guard->around('lights', $this->checkPorts(...)),
        );
        foreach ([SIGTERM, SIGINT] as $signal) {
            $loop->addSignal($signal, $this->stop(...));
        }
        $this->watch();
    }

    /** Waits until nobody else sends, knowing what is on meanwhile. */
    private function watch(): void
    {
        $this->lock = FileLock::try($this->config['run'].'/lights.lock');
        if ($this->lock !== null) {
            $this->guard->around('lights', $this->start(...))();
            $this->tick();

            return;
        }
        $engine = $this->engine();
        $engine === null || $this->guard->around('lights', fn () => $this->sender->warm($engine))();
        $this->loop->addTimer(self::WATCH, fn () => $this->watch());
    }

    /** Takes over what another process sent, and opens the ports on which only one may receive. */
    private function start(): void
    {
        $saved = @file_get_contents($this->saved());
        clearstatcache();
        if ($saved !== false && abs(time() - (int) @filemtime($this->saved())) < self::STALE) {
            $this->sender->resume($saved);
        }
        $this->console = new ConsoleInput(
            $this->loop,
            $this->config['lights_interface'],
            (int) $this->config['sacn_port'],
            $this->cid,
            $this->serial,
        );
        $this->console->tells(
            fn (array $values, array $runs, array $fades, \Closure $done) => $this->link->send(
                '/live/console',
                [
                    'values' => (object) $values,
                    'runs' => (object) array_map(static fn (MediaRun $run): array => $run->toWords(), $runs),
                    'fades' => (object) array_map(
                        static fn (float $seconds): int => (int) round($seconds * Flicks::PER_SECOND),
                        $fades,
                    ),
                ],
                $done,
            ),
        );
        $this->console->delivers(
            fn (array $slots, \Closure $done) => $this->link->send(
                '/live/console',
                [
                    'slots' => (object) array_map(
                        static fn (?string $bytes): ?string => $bytes === null ? null : base64_encode($bytes),
                        $slots,
                    ),
                ],
                $done,
            ),
        );
        $this->console->listenTo($this->state->universes);
        $this->finder = new NodeFinder(
            $this->loop,
            $this->sink,
            $this->config['lights_interface'],
            (int) $this->config['artnet_port'],
            $this->artNetNodes(...),
            $this->console->artNet(...),
            function (TimecodeFrame $timecode, string $rate): void {
                $time = $timecode->at(FrameRate::of($rate));
                $this->link->send('/live/console', ['clock' => ['source' => 'Art-Net timecode', 'time' => $time]]);
            },
        );
        $this->due = self::now();
        $this->checkPorts();
    }

    /** @return list<array{string, string, int}> interface, address and port of each node of Art-Net */
    private function artNetNodes(): array
    {
        $nodes = array_filter($this->sender->nodes(), static fn (Node $node): bool => $node->protocol === 'artnet');

        return array_values(
            array_unique(
                array_map(
                    static fn (Node $node): array => [$node->interface, $node->destination(1), $node->port()],
                    $nodes,
                ),
                SORT_REGULAR,
            ),
        );
    }

    private function tick(): void
    {
        $began = self::now();
        if ($this->sender->rate() > 0 && $began >= $this->due) {
            $this->late->note(max(0.0, ($began - $this->due) * 1000));
        }
        $this->guard->around('lights', $this->send(...))();
        $now = self::now();
        $this->due = max($now, $this->sender->due() ?? $began + self::REST);
        // No longer than a rest, in which a change of what is sent is noticed.
        $this->loop->addTimer(min(self::REST, $this->due - $now), fn () => $this->tick());
    }

    private function send(): void
    {
        $engine = $this->engine();
        $this->sender->tick($engine, self::now());
        if ($engine === null) {
            return;
        }
        if ($this->planned !== $this->state->planned) {
            $this->planned = $this->state->planned;
            $this->console?->prepare($this->state->moment($engine)?->plan);
        }
        // What an earlier process of this kind had the engine hold is ours to let go of.
        $bound = $this->planned > 0 && $this->console?->adopted === false ? $this->state->bound() : null;
        if ($bound !== null) {
            $this->console?->adopt($bound, self::now());
        }
    }

    /** Engine time; null before the engine was heard. */
    private function engine(): ?int
    {
        $origin = (int) (explode('/', $this->state->clock)[1] ?? 0);

        return $origin > 0 ? (new EngineClock($origin))->now() : null;
    }

    /** Tells the engine how sending goes, and keeps what the next process has to know. */
    private function report(): void
    {
        if ($this->lock === null || $this->console === null || $this->finder === null) {
            $this->link->send('/live/lights', ['standby' => getmypid()]);

            return;
        }
        $this->serial->keepUp();
        $this->link->send('/live/lights', [
            'pid' => getmypid(),
            'lights' => $this->sender->lights(),
            'universes' => $this->sender->count(),
            'rate' => $this->sender->rate(),
            'sent' => $this->sink->sent + $this->serial->sent,
            'failed' => $this->sink->failed,
            'trouble' => implode(' ', array_filter([$this->ports, $this->sink->trouble, $this->serial->trouble])),
            'late' => $this->late->figures(),
            'nodes' => $this->finder->found(),
            'bad' => $this->finder->bad,
            'caught' => $this->guard->figures(),
            'console' => $this->console->figures(),
        ]);
        $new = $this->saved().'.new';
        @file_put_contents($new, $this->sender->saved()) !== false && @rename($new, $this->saved());
    }

    /** Finds what keeps us from receiving: ports that can't be opened, and other programs that have them open too. */
    private function checkPorts(): void
    {
        $told = [];
        foreach (
            [[$this->console, $this->config['sacn_port']], [$this->finder, $this->config['artnet_port']]] as [$receiver, $port]
        ) {
            if ($receiver === null) {
                continue;
            }
            $sharers = $receiver->sharers();
            $told[] = $receiver->trouble();
            $told[] =
                $sharers === []
                    ? ''
                    : "UDP port $port is also open in ".
                        implode(', ', $sharers).
                        ', which may take packets meant for us. End it, or give it another interface.';
        }
        $this->ports = implode(' ', array_filter($told));
    }

    private function stop(): void
    {
        $this->inputs->stop();
        [$lock, $this->lock] = [$this->lock, null];
        if ($lock !== null) {
            $this->sender->stop();
            @unlink($this->saved());
            $lock->release();
        }
        $this->loop->stop();
    }

    private function saved(): string
    {
        return $this->config['run'].'/lights.json';
    }

    private static function now(): float
    {
        return hrtime(true) / 1e9;
    }

    /** 16 bytes that name us for good: a UUID by chance (RFC 9562, version 4). */
    private static function cid(string $path): string
    {
        $kept = @file_get_contents($path);
        if ($kept !== false && strlen($kept) === 16) {
            return $kept;
        }
        $cid = random_bytes(16);
        $cid[6] = chr((ord($cid[6]) & 0x0F) | 0x40);
        $cid[8] = chr((ord($cid[8]) & 0x3F) | 0x80);
        file_put_contents($path, $cid);

        return $cid;
    }
}
