<?php

declare(strict_types=1);

namespace App\Lights;

use Core\PixelMap\LightEncoder;
use Core\PixelMap\Node;
use Core\PixelMap\PixelCodec;
use Core\PixelMap\Universes;
use Core\Playback\LightRaster;
use Core\Playback\Moment;
use Core\Protocol\ArtNet;
use Core\Protocol\Ddp;
use Core\Protocol\Sacn;
use Core\Units\Flicks;
use Core\Venue\FixtureType;

/** Composes what lights show at a moment, and sends it: universes that go to one destination are put together from all lights that have slots there. */
final class LightSender
{
    /** Packets that say that a universe is sent no more (E1.31, 6.2.6). */
    private const ENDINGS = 3;

    private const SOURCE = 'Kite Lamp';

    /** @var array<string, LightEncoder> by patch */
    private array $encoders = [];

    /** @var array<string, PixelCodec> shared by lights that are alike */
    private array $codecs = [];

    /** @var array<string, array<string, mixed>> the parts that encoders were made of, by patch */
    private array $parts = [];

    /** @var array<string, array{node: Node, patches: list<string>, due: float, frame: int}> by destination */
    private array $destinations = [];

    /** @var array<string, array<int, Universe>> by destination */
    private array $universes = [];

    /** @var array<string, string> what a light was sent last, by patch: a blind one keeps it */
    private array $sentLast = [];

    /** @var array<string, int> sequence numbers of signs of synchronisation, by destination */
    private array $signs = [];

    private int $planned = -1;

    private ?LightRaster $kept = null;

    /** What the raster is asked for. */
    private ?Moment $of = null;

    public string $trouble = '';

    /** @param  string  $cid  16 bytes that name us as a source of sACN */
    public function __construct(private readonly LightState $state, private readonly RawFrames $frames, private readonly PacketSink $sink, private readonly string $cid)
    {
    }

    /** How many universes are sent. */
    public function count(): int
    {
        return array_sum(array_map(count(...), $this->universes));
    }

    public function lights(): int
    {
        return count($this->encoders);
    }

    /** The rate of the node that wants most, in frames a second; 0 where nothing is sent. */
    public function rate(): float
    {
        return $this->destinations === [] ? 0.0 : max(array_map(static fn (array $d): float => $d['node']->rate, $this->destinations));
    }

    /** @return list<Node> */
    public function nodes(): array
    {
        return array_values(array_map(static fn (array $d): Node => $d['node'], $this->destinations));
    }

    /** Sends what is due at an engine time. */
    public function tick(int $engine): void
    {
        $moment = $this->state->moment($engine);
        if ($moment === null) {
            $this->destinations !== [] && $this->prepare(null);

            return;
        }
        if ($this->planned !== $this->state->planned) {
            $this->planned = $this->state->planned;
            $this->prepare($moment);
        }
        $seconds = $engine / Flicks::PER_SECOND;
        $rasters = [];
        foreach ($this->destinations as $key => ['node' => $node, 'patches' => $patches, 'due' => $due, 'frame' => $frame]) {
            // A tick that comes a little early is not put off by a whole one.
            if ($seconds < $due - 0.002) {
                continue;
            }
            $this->destinations[$key]['due'] = max($due + 1 / $node->rate, $seconds);
            $this->destinations[$key]['frame']++;
            $slots = [];
            foreach ($patches as $patch) {
                $encoder = $this->encoders[$patch];
                $test = $this->state->testOf($patch, $engine);
                if ($test?->kind === 'blind') {
                    $bytes = $this->sentLast[$patch] ?? str_repeat("\0", strlen($encoder->mask));
                } elseif ($test !== null) {
                    $bytes = $encoder->tested($test, $seconds);
                } else {
                    $surface = $encoder->patch->surface;
                    $rasters[$surface] ??= $this->rasters($moment)->of($moment, $surface);
                    $bytes = $encoder->bytes($rasters[$surface], $moment->value("patch:$patch/level", null), $moment->value("patch:$patch/whiteShare", null), $frame);
                }
                $this->sentLast[$patch] = $bytes;
                $first = $encoder->addressing->universe;
                foreach (str_split($bytes, FixtureType::UNIVERSE) as $u => $part) {
                    $part = str_pad($part, FixtureType::UNIVERSE, "\0");
                    $mask = str_pad(substr($encoder->mask, $u * FixtureType::UNIVERSE, FixtureType::UNIVERSE), FixtureType::UNIVERSE, "\0");
                    // Slots that another light leaves unused belong to whoever uses them.
                    $slots[$first + $u] = isset($slots[$first + $u]) ? ($slots[$first + $u] & ~$mask) | ($part & $mask) : $part & $mask;
                }
            }
            $this->send($key, $node, $slots, $seconds);
        }
    }

    /** One that keeps its lists from frame to frame. */
    private function rasters(Moment $moment): LightRaster
    {
        $this->of = $moment;

        return $this->kept ??= new LightRaster(fn (string $media, int $frame) => $this->frames->of($media, $this->of?->plan->parts["media:$media"] ?? null, $frame));
    }

    /** @param  array<int, string>  $slots  512 bytes each, by universe */
    private function send(string $key, Node $node, array $slots, float $seconds): void
    {
        $sent = 0;
        $sync = $node->synchronised && $slots !== [] ? (int) min(array_keys($slots)) : 0;
        ksort($slots);
        foreach ($slots as $number => $bytes) {
            if ($number > Universes::last($node->protocol)) {
                continue;
            }
            $universe = $this->universes[$key][$number] ??= new Universe;
            if (! $universe->isDue($bytes, $seconds, $node->onlyChanges)) {
                continue;
            }
            $sent++;
            $universe->sequence = $node->protocol === 'artnet' ? $universe->sequence % 255 + 1 : ($universe->sequence + 1) & 255;
            match ($node->protocol) {
                'artnet' => $this->sink->send(ArtNet::dmx(Universes::number('artnet', $number), $universe->sequence, $bytes), $node->destination($number), $node->port(), $node->interface),
                'sacn' => $this->sink->send(Sacn::data($this->cid, self::SOURCE, $number, $universe->sequence, $bytes, $node->priority, $sync), $node->destination($number), $node->port(), $node->interface),
                default => array_map(fn (string $packet) => $this->sink->send($packet, $node->destination($number), $node->port(), $node->interface), Ddp::data(Universes::number('ddp', $number), $bytes, $universe->sequence % 15 + 1, $number === array_key_last($slots))),
            };
        }
        if ($sync > 0 && $sent > 0 && $node->protocol !== 'ddp') {
            $this->signs[$key] = (($this->signs[$key] ?? 0) + 1) & 255;
            $packet = $node->protocol === 'artnet' ? ArtNet::sync() : Sacn::sync($this->cid, $sync, $this->signs[$key]);
            $this->sink->send($packet, $node->destination($sync), $node->port(), $node->interface);
        }
    }

    /** Says to all that listen to sACN which universes we send. */
    public function discover(): void
    {
        foreach ($this->destinations as $key => ['node' => $node]) {
            if ($node->protocol === 'sacn') {
                foreach (Sacn::discovery($this->cid, self::SOURCE, array_keys($this->universes[$key] ?? [])) as $packet) {
                    $this->sink->send($packet, $node->address !== '' ? $node->address : Sacn::multicast(Sacn::DISCOVERY), $node->port(), $node->interface);
                }
            }
        }
    }

    /** Makes what is sent anew of a plan; what is sent no more, is ended. */
    private function prepare(?Moment $moment): void
    {
        $plan = $moment?->plan;
        $this->frames->forget();
        $this->kept = null;
        $nodes = $plan === null ? [] : $plan->of('node');
        $lights = $plan === null ? [] : $plan->of('light');
        $before = [$this->destinations, $this->universes];
        [$this->destinations, $this->trouble] = [[], ''];
        foreach ($lights as $patch => $part) {
            $patch = (string) $patch;
            if (! isset($this->encoders[$patch]) || $this->parts[$patch] !== $part) {
                $this->encoders[$patch] = new LightEncoder($part['type'], $part, (int) $part['fineness'], $this->codecs);
                $this->parts[$patch] = $part;
            }
            if (! isset($nodes[$part['node']])) {
                continue;
            }
            $node = Node::fromRow($nodes[$part['node']]);
            $key = implode(' ', [$node->protocol, $node->address, $node->port(), $node->address === '' ? $node->interface : '']);
            $this->destinations[$key] ??= ['node' => $node, 'patches' => [], 'due' => $before[0][$key]['due'] ?? 0.0, 'frame' => $before[0][$key]['frame'] ?? 0];
            $this->destinations[$key]['patches'][] = $patch;
        }
        $this->encoders = array_intersect_key($this->encoders, $lights);
        $this->sentLast = array_intersect_key($this->sentLast, $lights);
        $this->universes = [];
        foreach ($this->destinations as $key => ['patches' => $patches]) {
            foreach ($patches as $patch) {
                $addressing = $this->encoders[$patch]->addressing;
                for ($u = 0; $u < $addressing->universes(); $u++) {
                    $number = $addressing->universe + $u;
                    $this->universes[$key][$number] = $before[1][$key][$number] ?? new Universe;
                }
            }
        }
        $this->end($before[0], array_map(fn (array $all, string $key): array => array_diff_key($all, $this->universes[$key] ?? []), $before[1], array_keys($before[1])), array_keys($before[1]));
    }

    /** Ends everything that is sent. */
    public function stop(): void
    {
        $this->end($this->destinations, array_values($this->universes), array_keys($this->universes));
    }

    /**
     * @param  array<string, array{node: Node, patches: list<string>, due: float, frame: int}>  $destinations
     * @param  list<array<int, Universe>>  $gone
     * @param  list<string>  $keys
     */
    private function end(array $destinations, array $gone, array $keys): void
    {
        foreach ($gone as $i => $universes) {
            $node = ($destinations[$keys[$i]] ?? null)['node'] ?? null;
            foreach ($node === null ? [] : $universes as $number => $universe) {
                $dark = str_repeat("\0", FixtureType::UNIVERSE);
                if ($node->protocol === 'sacn') {
                    for ($k = 0; $k < self::ENDINGS; $k++) {
                        $universe->sequence = ($universe->sequence + 1) & 255;
                        $this->sink->send(Sacn::data($this->cid, self::SOURCE, $number, $universe->sequence, $dark, $node->priority, 0, true), $node->destination($number), $node->port(), $node->interface);
                    }
                } elseif ($node->protocol === 'artnet') {
                    // A node holds what it had last: it is left dark.
                    $this->sink->send(ArtNet::dmx(Universes::number('artnet', $number), $universe->sequence % 255 + 1, $dark), $node->destination($number), $node->port(), $node->interface);
                }
            }
        }
    }
}
