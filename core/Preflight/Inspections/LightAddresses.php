<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\PixelMap\LightPatch;
use Core\PixelMap\SlotMap;
use Core\PixelMap\Universes;
use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\ResultCache;
use Core\Show\Show;
use Core\Venue\FixtureType;
use Core\Venue\Surface;

/**
 * Lights without a patch, addresses that two of them use, that no protocol or node has, and nodes of two networks on
 * one.
 */
final readonly class LightAddresses implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        $lights = array_map(
            static fn (Surface $s): array => [$s->name, $s->carrier],
            array_filter($show->venue->surfaces, static fn (Surface $s): bool => $s->carrier->fixture() !== null),
        );
        // A hundred thousand slots are not looked through because a projector moved.
        yield from $cache->get(
            'light addresses',
            [$lights, $show->delivery->patches, $show->delivery->nodes],
            static fn (): array => [...self::found($show)],
        );
    }

    /** @return iterable<Finding> */
    private static function found(Show $show): iterable
    {
        $patched = array_flip(
            array_map(static fn (LightPatch $patch): string => $patch->surface, $show->delivery->patches),
        );
        foreach ($show->venue->surfaces as $id => $surface) {
            if ($surface->carrier->fixture() !== null && ! isset($patched[$id])) {
                yield Finding::attention(
                    'outputs',
                    'surface',
                    (string) $id,
                    "$surface->name has no patch: nothing is sent to it.",
                );
            }
        }
        [$lights, $nodes, $names] = [[], [], []];
        foreach ($show->delivery->patches as $id => $patch) {
            $light = $show->venue->surfaces[$patch->surface];
            $type = $light->carrier->fixture();
            if ($type === null) {
                continue;
            }
            $names[$id] = $light->name;
            $node = $patch->node === null ? null : $show->delivery->nodes[$patch->node] ?? null;
            if ($node === null) {
                $patch->node === null &&
                    (yield Finding::attention(
                        'outputs',
                        'patch',
                        (string) $id,
                        "$light->name is sent to no node yet.",
                    ));

                continue;
            }
            $addressing = $patch->addressing($type);
            $last = Universes::last($node->protocol);
            if ($addressing->lastUniverse() > $last) {
                yield Finding::fault(
                    'outputs',
                    'patch',
                    (string) $id,
                    "$light->name reaches into ".
                        Universes::inWords($node->protocol, $addressing->lastUniverse()).
                        '; the last is '.
                        Universes::inWords($node->protocol, $last).
                        '.',
                );
            }
            if (count($patch->channelsOf($type)) * $type->slots() > FixtureType::UNIVERSE) {
                yield Finding::fault(
                    'outputs',
                    'patch',
                    (string) $id,
                    "A pixel of $light->name has more channels than a universe.",
                );
            }
            foreach ($patch->wiring->path as $pixel) {
                if ($pixel < 0 || $pixel >= $type->count()) {
                    yield Finding::attention(
                        'outputs',
                        'patch',
                        (string) $id,
                        "The path of $light->name names pixel ".
                            ($pixel + 1).
                            ", of {$type->count()}: it is passed over.",
                    );

                    break;
                }
            }
            $destination = $node->route();
            $lights[$destination][$id] = [$addressing, $type->header, $patch->channelsOf($type)];
            $nodes[$destination][$patch->node] = $node;
        }
        foreach ($lights as $destination => $there) {
            $map = SlotMap::of($there);
            $node = reset($nodes[$destination]);
            foreach ($map->conflicts as [$one, $other, $universe, $slot, $count]) {
                yield Finding::fault(
                    'outputs',
                    'patch',
                    $other,
                    sprintf(
                        '%s and %s both use %s of %s, from channel %d on.',
                        $names[$other],
                        $names[$one],
                        $count === 1 ? 'one channel' : "$count channels",
                        Universes::inWords($node->protocol, $universe),
                        $slot,
                    ),
                );
            }
            foreach ($map->merged as [$one, $other, $universe]) {
                yield Finding::attention(
                    'outputs',
                    'patch',
                    $other,
                    sprintf(
                        '%s and %s share channels from %s on, of which each uses its own: they are merged.',
                        $names[$other],
                        $names[$one],
                        Universes::inWords($node->protocol, $universe),
                    ),
                );
            }
            foreach ($nodes[$destination] as $id => $of) {
                if ($of->limit > 0 && count($map->universes) > $of->limit) {
                    yield Finding::fault(
                        'outputs',
                        'node',
                        (string) $id,
                        sprintf('%s is sent %d universes; it takes %d.', $of->name, count($map->universes), $of->limit),
                    );
                }
            }
        }
        yield from self::networks($show);
    }

    /** @return iterable<Finding> nodes that are reached by two addresses of ours on one network */
    private static function networks(Show $show): iterable
    {
        $seen = [];
        foreach ($show->delivery->nodes as $id => $node) {
            if ($node->interface === '') {
                continue;
            }
            $network = implode('.', array_slice(explode('.', $node->interface), 0, 3));
            $other = $seen[$network] ?? $node->interface;
            if ($other !== $node->interface) {
                yield Finding::attention(
                    'outputs',
                    'node',
                    (string) $id,
                    "$node->name is sent from $node->interface, another node from $other: two interfaces on one network, of which the system takes one for both.",
                );
            }
            $seen[$network] ??= $node->interface;
        }
    }
}
