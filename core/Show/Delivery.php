<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Bindings\Binding;
use Core\Bindings\Device;
use Core\Bindings\LayerControl;
use Core\Bindings\Personality;
use Core\Bindings\TouchItem;
use Core\Output\AlignmentPoint;
use Core\Output\Feed;
use Core\Output\Mask;
use Core\Output\MaskShape;
use Core\Output\Output;
use Core\Output\Rect;
use Core\Output\Region;
use Core\Output\Server;
use Core\PixelMap\LightPatch;
use Core\PixelMap\Node;

/** Which pixels leave through which connector, in what shape, and what they feed. */
final readonly class Delivery
{
    public const KINDS = [
        'server',
        'output',
        'feed',
        'region',
        'regionGroup',
        'mask',
        'point',
        'check',
        'node',
        'patch',
        'personality',
        'control',
        'device',
        'binding',
        'touchItem',
    ];

    /**
     * @param  array<string, Server>  $servers
     * @param  array<string, Output>  $outputs
     * @param  array<string, array<string, Feed>>  $feeds  by output, then by id
     * @param  array<string, array<string, Region>>  $regions  by output, then by id, in drawing order
     * @param  array<string, array<string, Mask>>  $masks  by surface or output, then by id
     * @param  array<string, AlignmentPoint>  $points
     * @param  array<string, Node>  $nodes
     * @param  array<string, LightPatch>  $patches  of lights that are in the venue
     * @param  array<string, LayerControl>  $controls
     * @param  array<string, Personality>  $personalities
     * @param  array<string, Device>  $devices
     * @param  array<string, Binding>  $bindings  of devices that are there
     * @param  array<string, TouchItem>  $touchItems  of panels that are there
     * @param  list<InvalidRow>  $broken
     */
    private function __construct(
        public array $servers,
        public array $outputs,
        public array $feeds,
        public array $regions,
        public array $masks,
        public array $points,
        public array $nodes,
        public array $patches,
        public array $controls,
        public array $personalities,
        public array $devices,
        public array $bindings,
        public array $touchItems,
        public array $broken,
    ) {
    }

    /**
     * @param  array<string, array<string, object>>  $built  by kind and id
     * @param  \Closure(string, string): array<string, string>  $of  what rows of a kind have in a field, by id
     */
    public static function of(array $built, \Closure $of, Venue $venue): self
    {
        /** @var array<string, Server> $servers */
        $servers = $built['server'] ?? [];
        /** @var array<string, Output> $outputs */
        $outputs = $built['output'] ?? [];
        /** @var array<string, Feed> $feeds */
        $feeds = $built['feed'] ?? [];
        /** @var array<string, Region> $regions */
        $regions = $built['region'] ?? [];
        /** @var array<string, Mask> $masks */
        $masks = $built['mask'] ?? [];
        [$sorted, $fed, $masked, $broken] = [
            array_fill_keys(array_keys($outputs), []),
            array_fill_keys(array_keys($outputs), []),
            [],
            [],
        ];
        foreach ($outputs as $id => $output) {
            if ($output->server !== null && ! isset($servers[$output->server])) {
                $broken[] = new InvalidRow('output', (string) $id, "The server of $output->name was removed.");
            }
        }
        $owners = $of('feed', 'output');
        foreach ($feeds as $id => $feed) {
            if (! isset($outputs[$owners[$id]])) {
                $broken[] = new InvalidRow('feed', (string) $id, "The output of $feed->name was removed.");

                continue;
            }
            if ($feed->projector !== null && ! isset($venue->projectors[$feed->projector])) {
                $broken[] = new InvalidRow('feed', (string) $id, "The projector that $feed->name names was removed.");
            }
            $fed[$owners[$id]][$id] = $feed;
        }
        $owners = $of('region', 'output');
        foreach ($regions as $id => $region) {
            if (! isset($outputs[$owners[$id]])) {
                $broken[] = new InvalidRow('region', (string) $id, 'The output of this region was removed.');
            } elseif (! isset($venue->surfaces[$region->surface])) {
                $broken[] = new InvalidRow('region', (string) $id, 'The surface of this region was removed.');
            } else {
                $sorted[$owners[$id]][$id] = $region;
            }
        }
        [$surfaces, $owners] = [$of('mask', 'surface'), $of('mask', 'output')];
        foreach ($masks as $id => $mask) {
            $on = $surfaces[$id] !== '' ? $surfaces[$id] : $owners[$id];
            if (isset($outputs[$on]) || isset($venue->surfaces[$on])) {
                $masked[$on][$id] = $mask;
            } else {
                $broken[] = new InvalidRow('mask', (string) $id, "What $mask->name lay on was removed.");
            }
        }

        /** @var array<string, AlignmentPoint> $points */
        $points = array_filter(
            $built['point'] ?? [],
            static fn (object $point): bool => $point instanceof AlignmentPoint &&
                isset($venue->projectors[$point->projector]),
        );

        /** @var array<string, Node> $nodes */
        $nodes = $built['node'] ?? [];
        /** @var array<string, LightPatch> $patches */
        $patches = [];
        foreach ($built['patch'] ?? [] as $id => $patch) {
            if (! ($patch instanceof LightPatch)) {
                continue;
            }
            $light = $venue->surfaces[$patch->surface] ?? null;
            if ($light === null || $light->carrier->fixture() === null) {
                $broken[] = new InvalidRow(
                    'patch',
                    (string) $id,
                    $light === null
                        ? 'The light of this patch was removed.'
                        : "$light->name is no pixel light any more: its patch sends nothing.",
                );

                continue;
            }
            if ($patch->node !== null && ! isset($nodes[$patch->node])) {
                $broken[] = new InvalidRow(
                    'patch',
                    (string) $id,
                    "The node that the patch of $light->name names was removed.",
                );
            }
            $patches[(string) $id] = $patch;
        }

        /** @var array<string, LayerControl> $controls */
        $controls = $built['control'] ?? [];
        /** @var array<string, Personality> $personalities */
        $personalities = $built['personality'] ?? [];
        /** @var array<string, Device> $devices */
        $devices = $built['device'] ?? [];
        /** @var array<string, Binding> $bindings */
        $bindings = array_filter(
            $built['binding'] ?? [],
            static fn (object $binding): bool => $binding instanceof Binding && isset($devices[$binding->device]),
        );
        /** @var array<string, TouchItem> $items */
        $items = array_filter(
            $built['touchItem'] ?? [],
            static fn (object $item): bool => $item instanceof TouchItem && isset($devices[$item->panel]),
        );

        return new self(
            $servers,
            $outputs,
            $fed,
            $sorted,
            $masked,
            $points,
            $nodes,
            $patches,
            $controls,
            $personalities,
            $devices,
            $bindings,
            $items,
            $broken,
        );
    }

    /**
     * What masks of a surface or an output let through.
     *
     * @param  (\Closure(string): ?string)|null  $kept  shares of painted masks, by key
     * @return list<MaskShape>
     */
    public function maskShapes(string $on, Venue $venue, ?\Closure $kept): array
    {
        $raster = $this->rasterOf($on, $venue);

        return array_values(
            array_filter(
                array_map(
                    static fn (Mask $mask): ?MaskShape => MaskShape::of($mask, $raster, $kept),
                    $this->masks[$on] ?? [],
                ),
            ),
        );
    }

    /** @return array{int, int} pixels of a surface or an output */
    public function rasterOf(string $on, Venue $venue): array
    {
        $surface = $venue->surfaces[$on] ?? null;

        return $surface === null
            ? [$this->outputs[$on]->width, $this->outputs[$on]->height]
            : [$surface->width(), $surface->height()];
    }

    /** @return array{Region, string}|null a region, and the output that it is on */
    public function region(string $id): ?array
    {
        foreach ($this->regions as $output => $regions) {
            if (isset($regions[$id])) {
                return [$regions[$id], (string) $output];
            }
        }

        return null;
    }

    /**
     * Regions of a surface.
     *
     * @return array<string, array{Region, string}> each with the output that it is on
     */
    public function regionsOf(string $surface): array
    {
        $found = [];
        foreach ($this->regions as $output => $regions) {
            foreach ($regions as $id => $region) {
                $region->surface === $surface && ($found[(string) $id] = [$region, (string) $output]);
            }
        }

        return $found;
    }

    /** The protocol by which a light is sent; that whose universes are counted as ours where it is sent nowhere yet. */
    public function protocolOf(LightPatch $patch): string
    {
        return $patch->node === null ? 'sacn' : $this->nodes[$patch->node]->protocol ?? 'sacn';
    }

    /** The part of an output that a projector is fed first; null where it is fed by none. */
    public function partOf(string $projector): ?Rect
    {
        foreach ($this->feeds as $output => $feeds) {
            foreach ($feeds as $feed) {
                if ($feed->projector === $projector) {
                    return $feed->part($this->outputs[$output]);
                }
            }
        }

        return null;
    }

    /** The feed within which a region lies: the one that the middle of its place is in; null where none is. */
    public function feedOf(string $output, Region $region): ?Feed
    {
        $of = $this->outputs[$output];
        [$x, $y] = [
            $region->place->x + intdiv($region->place->width, 2),
            $region->place->y + intdiv($region->place->height, 2),
        ];
        foreach ($this->feeds[$output] as $feed) {
            $part = $feed->part($of);
            if ($x >= $part->x && $y >= $part->y && $x < $part->x + $part->width && $y < $part->y + $part->height) {
                return $feed;
            }
        }

        return null;
    }
}
