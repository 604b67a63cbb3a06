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
use Core\Protocol\SerialDmx;
use Core\Units\InvalidValue;
use Core\Venue\FixtureType;

/**
 * Composes what lights show at a moment, and sends it: universes that go to one destination are put together from all
 * lights that have slots there.
 */
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

    /** Seconds by which a frame may come early or late without moving those after it. */
    private const SLACK = 0.002;

    private int $planned = -1;

    private ?LightRaster $kept = null;

    /** What the raster is asked for. */
    private ?Moment $of = null;

    public string $trouble = '';

    /** @param  string  $cid  16 bytes that name us as a source of sACN */
    public function __construct(
        private readonly LightState $state,
        private readonly RawFrames $frames,
        private readonly PacketSink $sink,
        private readonly string $cid,
    ) {
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
        return $this->destinations === []
            ? 0.0
            : max(array_map(static fn (array $d): float => $d['node']->rate, $this->destinations));
    }

    /** @return list<Node> */
    public function nodes(): array
    {
        return array_values(array_map(static fn (array $d): Node => $d['node'], $this->destinations));
    }

    /** When the next frame of any node is due, in seconds of the monotonic clock; null where nothing is sent. */
    public function due(): ?float
    {
        $due = array_column($this->destinations, 'due');

        return $due === [] ? null : min($due);
    }

    /** Makes ready what would be sent at an engine time, without sending it. */
    public function warm(int $engine): void
    {
        $moment = $this->state->moment($engine);
        $moment === null || $this->follow($moment);
    }

    /** Prepares for a plan that is new. */
    private function follow(Moment $moment): void
    {
        if ($this->planned !== $this->state->planned) {
            $this->planned = $this->state->planned;
            $this->prepare($moment);
        }
    }

    /**
     * Whether a frame of a destination is due, and if so, when the next one is. One that is a little early is not put
     * off by a whole one; what is late moves all that follows: frames that were missed are not caught up with, and no
     * two come closer than the rate.
     */
    private function isDue(string $key, float $seconds): bool
    {
        ['node' => $node, 'due' => $due] = $this->destinations[$key];
        if ($seconds < $due - self::SLACK) {
            return false;
        }
        $this->destinations[$key]['due'] = max($due, $seconds - self::SLACK) + 1 / $node->rate;

        return true;
    }

    /**
     * Sends what is due: one frame, however late it is.
     *
     * @param  int|null  $engine  engine time that is shown; null while it is not known
     * @param  float  $seconds  of the monotonic clock, by which frames are counted: the engine's may be set anew
     */
    public function tick(?int $engine, float $seconds): void
    {
        $moment = $engine === null ? null : $this->state->moment($engine);
        if ($moment === null || $engine === null) {
            $this->planned = -1;
            if ($this->state->isAwaited()) {
                $this->repeat($seconds);

                return;
            }
            $this->destinations !== [] && $this->prepare(null);

            return;
        }
        $this->follow($moment);
        $rasters = [];
        foreach ($this->destinations as $key => ['node' => $node, 'patches' => $patches, 'frame' => $frame]) {
            if (! $this->isDue($key, $seconds)) {
                continue;
            }
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
                    $bytes = $encoder->bytes(
                        $rasters[$surface],
                        $moment->value("patch:$patch/level", null),
                        $moment->value("patch:$patch/whiteShare", null),
                        $frame,
                    );
                }
                $this->sentLast[$patch] = $bytes;
                $first = $encoder->addressing->universe;
                foreach (str_split($bytes, FixtureType::UNIVERSE) as $u => $part) {
                    $part = str_pad($part, FixtureType::UNIVERSE, "\0");
                    $mask = str_pad(
                        substr($encoder->mask, $u * FixtureType::UNIVERSE, FixtureType::UNIVERSE),
                        FixtureType::UNIVERSE,
                        "\0",
                    );
                    // Slots that another light leaves unused belong to whoever uses them.
                    $slots[$first + $u] = isset($slots[$first + $u])
                        ? ($slots[$first + $u] & ~$mask) | ($part & $mask)
                        : $part & $mask;
                }
            }
            $this->send($key, $node, $slots, $seconds);
        }
    }

    /** One that keeps its lists from frame to frame. */
    private function rasters(Moment $moment): LightRaster
    {
        $this->of = $moment;

        return $this->kept ??= new LightRaster(
            fn (string $media, int $frame) => $this->frames->of(
                $media,
                $this->of?->plan->parts["media:$media"] ?? null,
                $frame,
            ),
            fn (string $media): int => $this->frames->version($this->of?->plan->parts["media:$media"] ?? null),
        );
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
            $universe = $this->universes[$key][$number] ??= new Universe();
            if (! $universe->isDue($bytes, $seconds, $node->onlyChanges)) {
                continue;
            }
            $sent++;
            $universe->sequence =
                $node->protocol === 'artnet' ? ($universe->sequence % 255) + 1 : ($universe->sequence + 1) & 255;
            $this->give(
                $node,
                $number,
                ...match ($node->protocol) {
                    'artnet' => [ArtNet::dmx(Universes::number('artnet', $number), $universe->sequence, $bytes)],
                    'sacn' => [
                        Sacn::data(
                            $this->cid,
                            self::SOURCE,
                            $number,
                            $universe->sequence,
                            $bytes,
                            $node->priority,
                            $sync,
                        ),
                    ],
                    'serial' => [SerialDmx::send($bytes)],
                    default => Ddp::data(
                        Universes::number('ddp', $number),
                        $bytes,
                        ($universe->sequence % 15) + 1,
                        $number === array_key_last($slots),
                    ),
                },
            );
        }
        if ($sync > 0 && $sent > 0 && in_array($node->protocol, ['artnet', 'sacn'], true)) {
            $this->signs[$key] = (($this->signs[$key] ?? 0) + 1) & 255;
            $this->give(
                $node,
                $sync,
                $node->protocol === 'artnet' ? ArtNet::sync() : Sacn::sync($this->cid, $sync, $this->signs[$key]),
            );
        }
    }

    /** Packets to where a universe of a node goes. */
    private function give(Node $node, int $universe, string ...$packets): void
    {
        foreach ($packets as $packet) {
            $this->sink->send($packet, $node->destination($universe), $node->port(), $node->interface);
        }
    }

    /** Says to all that listen to sACN which universes we send. */
    public function discover(): void
    {
        foreach ($this->destinations as $key => ['node' => $node]) {
            if ($node->protocol === 'sacn') {
                foreach (
                    Sacn::discovery($this->cid, self::SOURCE, array_keys($this->universes[$key] ?? [])) as $packet
                ) {
                    $this->sink->send(
                        $packet,
                        $node->address !== '' ? $node->address : Sacn::multicast(Sacn::DISCOVERY),
                        $node->port(),
                        $node->interface,
                    );
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
                $this->encoders[$patch] = new LightEncoder(
                    $part['type'],
                    $part,
                    (int) $part['fineness'],
                    $this->codecs,
                );
                $this->parts[$patch] = $part;
            }
            if (! isset($nodes[$part['node']])) {
                continue;
            }
            $node = Node::fromRow($nodes[$part['node']]);
            $key = $node->route();
            // In step with nodes of the same rate, so that what they show alike is composed once.
            $alike = array_filter(
                $before[0] + $this->destinations,
                static fn (array $one): bool => $one['node']->rate === $node->rate,
            );
            $this->destinations[$key] ??= [
                'node' => $node,
                'patches' => [],
                'due' => $before[0][$key]['due'] ?? (array_values($alike)[0]['due'] ?? 0.0),
                'frame' => $before[0][$key]['frame'] ?? 0,
            ];
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
                    $this->universes[$key][$number] = $before[1][$key][$number] ?? new Universe();
                }
            }
        }
        foreach ($before[1] as $key => $universes) {
            $this->end($before[0][$key]['node'] ?? null, array_diff_key($universes, $this->universes[$key] ?? []));
        }
    }

    /** What a process that takes our place has to know, as text: where what was sent last went, and its count. */
    public function saved(): string
    {
        $destinations = [];
        foreach ($this->destinations as $key => ['node' => $node]) {
            $universes = array_map(
                static fn (Universe $one): array => [$one->sequence, base64_encode($one->last())],
                $this->universes[$key] ?? [],
            );
            $destinations[$key] = [
                'node' => get_object_vars($node),
                'sign' => $this->signs[$key] ?? 0,
                'universes' => $universes,
            ];
        }

        return (string) json_encode(
            ['destinations' => $destinations, 'patches' => array_map(base64_encode(...), $this->sentLast)],
            JSON_INVALID_UTF8_SUBSTITUTE,
        );
    }

    /** Takes the place of a process that said this last; what can't be read is passed over. */
    public function resume(string $saved): void
    {
        $data = json_decode($saved, true);
        foreach ((array) ($data['destinations'] ?? []) as $key => $one) {
            try {
                $node = Node::fromRow((array) ($one['node'] ?? []));
            } catch (InvalidValue) {
                continue;
            }
            $this->destinations[$key] ??= ['node' => $node, 'patches' => [], 'due' => 0.0, 'frame' => 0];
            $this->signs[$key] = (int) ($one['sign'] ?? 0) + 20;
            foreach ((array) ($one['universes'] ?? []) as $number => $universe) {
                $this->universes[$key][(int) $number] = Universe::resumed(
                    (string) base64_decode((string) ($universe[1] ?? '')),
                    (int) ($universe[0] ?? 0),
                );
            }
        }
        $this->sentLast += array_map(
            static fn (mixed $bytes): string => (string) base64_decode((string) $bytes),
            (array) ($data['patches'] ?? []),
        );
        // What our own plan no longer has, is ended with the next.
        $this->planned = -1;
    }

    /** Sends again what another process sent last, while it is not known what is on air. */
    private function repeat(float $seconds): void
    {
        foreach ($this->destinations as $key => ['node' => $node]) {
            if ($this->isDue($key, $seconds)) {
                $this->send(
                    $key,
                    $node,
                    array_filter(
                        array_map(static fn (Universe $one): string => $one->last(), $this->universes[$key] ?? []),
                    ),
                    $seconds,
                );
            }
        }
    }

    /** Ends everything that is sent. */
    public function stop(): void
    {
        foreach ($this->universes as $key => $universes) {
            $this->end($this->destinations[$key]['node'] ?? null, $universes);
        }
    }

    /** @param  array<int, Universe>  $universes  by number */
    private function end(?Node $node, array $universes): void
    {
        if ($node === null) {
            return;
        }
        $dark = str_repeat("\0", FixtureType::UNIVERSE);
        foreach ($universes as $number => $universe) {
            if ($node->protocol === 'sacn') {
                for ($k = 0; $k < self::ENDINGS; $k++) {
                    $universe->sequence = ($universe->sequence + 1) & 255;
                    $this->give(
                        $node,
                        $number,
                        Sacn::data(
                            $this->cid,
                            self::SOURCE,
                            $number,
                            $universe->sequence,
                            $dark,
                            $node->priority,
                            0,
                            true,
                        ),
                    );
                }
            } elseif ($node->protocol === 'artnet') {
                // A node holds what it had last: it is left dark.
                $this->give(
                    $node,
                    $number,
                    ArtNet::dmx(Universes::number('artnet', $number), ($universe->sequence % 255) + 1, $dark),
                );
            }
        }
    }
}
