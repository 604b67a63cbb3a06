<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Engine\EngineClock;
use App\Engine\Guard;
use App\Engine\LatencyStats;
use App\Engine\Wire;
use App\Lights\ConsoleInput;
use App\Lights\EngineLink;
use App\Lights\LightSender;
use App\Lights\LightState;
use App\Lights\NodeFinder;
use App\Lights\RawFrames;
use App\Lights\UdpSink;
use App\Media\MediaStore;
use App\Support\TicketOffice;
use Core\PixelMap\Node;
use Core\Units\Flicks;
use Core\Values\MediaRun;
use Illuminate\Console\Command;
use React\EventLoop\Loop;

/** Composes what pixel lights show and sends it on the lighting network, from what the conductor tells a window. */
final class LightsCommand extends Command
{
    protected $signature = 'kite:lights';

    protected $description = 'Compose and send what pixel lights show';

    /** Seconds between ticks where nothing is sent. */
    private const REST = 0.1;

    /** Seconds between looks for what is held by circles alone. */
    private const COLLECT = 60;

    public function handle(): int
    {
        $loop = Loop::get();
        $guard = new Guard;
        $packs = config('kite.data').'/packs';
        $state = new LightState(static fn (string $key): string => preg_match('/^[0-9a-z]+$/D', $key) === 1 ? (string) file_get_contents("$packs/$key.pack") : throw new \UnexpectedValueException('This is no pack.'));
        $sink = new UdpSink;
        $sender = new LightSender($state, new RawFrames(MediaStore::ofConfig()->path().'/forms'), $sink, $cid = self::cid());
        $console = new ConsoleInput($loop, (int) config('kite.sacn_port'), $cid);
        $link = new EngineLink($loop, '127.0.0.1:'.config('kite.live_port'), new TicketOffice(config('app.key')), $guard, static function (int $type, string $payload) use ($state, $console): void {
            $state->take($type, $payload);
            if ($type === Wire::HELLO) {
                $console->anew();
            }
        });
        $console->tells(static fn (array $values, array $runs, array $fades, \Closure $done) => $link->tell('/live/console', ['values' => (object) $values, 'runs' => (object) array_map(static fn (MediaRun $run): array => $run->toWords(), $runs), 'fades' => (object) array_map(static fn (float $seconds): int => (int) round($seconds * Flicks::PER_SECOND), $fades)], $done));
        $late = new LatencyStats;
        $finder = new NodeFinder($loop, $sink, (int) config('kite.artnet_port'), static fn (): array => array_values(array_unique(array_map(static fn (Node $node): array => [$node->interface, $node->destination(1), $node->port()], array_filter($sender->nodes(), static fn (Node $node): bool => $node->protocol === 'artnet')), SORT_REGULAR)), $console->artNet(...));
        $due = hrtime(true) / 1e9;
        $planned = -1;
        $tick = function () use (&$tick, &$due, &$planned, $loop, $guard, $state, $sender, $late, $console): void {
            $began = hrtime(true) / 1e9;
            if ($sender->rate() > 0) {
                $late->note(max(0.0, ($began - $due) * 1000));
            }
            $origin = (int) (explode('/', $state->clock)[1] ?? 0);
            if ($origin > 0) {
                $guard->around('lights', static function () use ($sender, $state, $console, $origin, &$planned): void {
                    $now = (new EngineClock($origin))->now();
                    $sender->tick($now);
                    if ($planned !== $state->planned) {
                        $planned = $state->planned;
                        $console->prepare($state->moment($now)?->plan);
                    }
                    // What an earlier process of this kind had the engine hold is ours to let go of.
                    $bound = $planned > 0 && ! $console->adopted ? $state->bound() : null;
                    if ($bound !== null) {
                        $console->adopt($bound, hrtime(true) / 1e9);
                    }
                })();
            }
            $every = $sender->rate() > 0 ? 1 / $sender->rate() : self::REST;
            $now = hrtime(true) / 1e9;
            // What took too long is not caught up with.
            $due = max($due + $every, $now);
            $loop->addTimer($due - $now, $tick);
        };
        // Rasters are many small numbers, which PHP would look through for circles every few frames.
        gc_disable();
        $loop->addPeriodicTimer(self::COLLECT, gc_collect_cycles(...));
        $tick();
        $loop->addPeriodicTimer(10, $guard->around('lights', $sender->discover(...)));
        $loop->addPeriodicTimer(1, static function () use ($link, $sender, $sink, $late, $finder, $guard, $console): void {
            $link->tell('/live/lights', [
                'pid' => getmypid(), 'lights' => $sender->lights(), 'universes' => $sender->count(), 'rate' => $sender->rate(), 'sent' => $sink->sent, 'failed' => $sink->failed, 'trouble' => $sink->trouble, 'late' => $late->figures(), 'nodes' => $finder->found(), 'bad' => $finder->bad, 'caught' => $guard->figures(), 'console' => $console->figures(),
            ]);
        });
        foreach ([SIGTERM, SIGINT] as $signal) {
            $loop->addSignal($signal, static function () use ($loop, $sender): void {
                $sender->stop();
                $loop->stop();
            });
        }
        $loop->run();

        return self::SUCCESS;
    }

    /** 16 bytes that name us for good: a UUID by chance (RFC 9562, version 4). */
    private static function cid(): string
    {
        $path = config('kite.data').'/cid';
        $kept = @file_get_contents($path);
        if ($kept !== false && strlen($kept) === 16) {
            return $kept;
        }
        $cid = random_bytes(16);
        $cid[6] = chr(ord($cid[6]) & 0x0F | 0x40);
        $cid[8] = chr(ord($cid[8]) & 0x3F | 0x80);
        file_put_contents($path, $cid);

        return $cid;
    }
}
