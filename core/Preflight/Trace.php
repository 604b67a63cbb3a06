<?php

declare(strict_types=1);

namespace Core\Preflight;

use Core\Effects\EffectPass;
use Core\Output\Region;
use Core\PixelMap\Universes;
use Core\Playback\DrawStep;
use Core\Playback\Moment;
use Core\Routing\Route;
use Core\Show\Layer;
use Core\Show\Show;
use Core\Timeline\BlendMode;
use Core\Units\Timecode;
use Core\Venue\Surface;

/**
 * One walk along the chain, Media ▸ Layer ▸ Route ▸ Surface ▸ Output ▸ Device, for one surface at one moment: for each
 * link whether light gets through, and if not, why.
 */
final class Trace
{
    /**
     * @param  Moment  $moment  what every value is
     * @param  array<string, list<array{lacks?: list<string>, late?: int}>>|null  $players  by output: what the open
     *     players report; null when the show is not on air
     * @param  array<string, string>  $dark  projectors that give no light, or not what they are sent: why, as in "is off"
     * @return list<array{link: string, state: string, kind: string, id: string, name: string, message: string}> six
     *     links; state is ok, attention or fault
     */
    public static function of(Show $show, string $surfaceId, Moment $moment, ?array $players, array $dark = []): array
    {
        $surface = $show->venue->surfaces[$surfaceId] ?? null;
        if ($surface === null) {
            return [];
        }
        [$aimed, $others] = [[], []];
        foreach ($show->programme->layers() as $layer) {
            $now = self::wayNow($show, $layer, $moment);
            if (in_array($surfaceId, $now?->surfaces() ?? [], true)) {
                $aimed[] = $layer;
            } elseif (
                array_filter(
                    $show->programme->ways($layer),
                    static fn (Route $route): bool => in_array($surfaceId, $route->surfaces(), true),
                ) !== []
            ) {
                $others[] =
                    "$layer->name takes ".
                    ($now === null || $now->name === '' ? 'another route' : $now->name).
                    ' now.';
            }
        }
        [$media, $layer] = self::pictures($show, $aimed, $moment);

        return [
            $media,
            $layer,
            $aimed === []
                ? self::link(
                    'Route',
                    'fault',
                    'surface',
                    $surfaceId,
                    'no layer',
                    "No layer is aimed at $surface->name.".($others === [] ? '' : ' '.implode(' ', $others)),
                )
                : self::route($show, $aimed, $surface, $moment),
            self::link(
                'Surface',
                'ok',
                'surface',
                $surfaceId,
                $surface->name,
                $surface->carrier->inWords().", {$surface->width()} × {$surface->height()} px.",
            ),
            ...self::way($show, $surfaceId, $moment, $players, $dark),
        ];
    }

    private static function wayNow(Show $show, Layer $layer, Moment $moment): ?Route
    {
        $head = $moment->headsOf($layer->timeline)[0] ?? null;

        return $show->programme->wayAt($layer, $head === null ? 0 : $moment->value("layer:$layer->id/route", $head));
    }

    /**
     * @param  list<Layer>  $aimed
     * @return array{array{link: string, state: string, kind: string, id: string, name: string, message: string}, array{link: string, state: string, kind: string, id: string, name: string, message: string}}
     */
    private static function pictures(Show $show, array $aimed, Moment $moment): array
    {
        [$dark, $darkening] = [null, null];
        foreach (array_reverse($aimed) as $layer) {
            $head = $moment->headsOf($layer->timeline)[0] ?? null;
            $timeline = $show->programme->timelines[$layer->timeline]->name ?? '';
            if ($head === null) {
                $dark ??= [
                    self::unknown('Media'),
                    self::link(
                        'Layer',
                        'fault',
                        'layer',
                        $layer->id,
                        $layer->name,
                        "$layer->name is on $timeline, which is not on.",
                    ),
                ];

                continue;
            }
            $at = Timecode::format($head->map->at($moment->engine), $show->rate);
            [$i] = $moment->media($layer->id, $head);
            $item = isset($layer->clips[$i]) ? $show->library->media[$layer->clips[$i]->media] : null;
            if ($item === null) {
                $dark ??= [
                    self::unknown('Media'),
                    self::link(
                        'Layer',
                        'fault',
                        'layer',
                        $layer->id,
                        $layer->name,
                        "No clip of $layer->name is up at $at.",
                    ),
                ];

                continue;
            }
            $trouble = $item->trouble();
            if ($trouble !== null) {
                $dark = [
                    self::link('Media', 'fault', 'media', $item->id, $item->name, $trouble),
                    self::link('Layer', 'ok', 'layer', $layer->id, $layer->name, "A clip of $layer->name is up."),
                ];

                continue;
            }
            $ready = self::link('Media', 'ok', 'media', $item->id, $item->name, "$item->name is ready.");
            $opacity = $moment->value("layer:$layer->id/opacity", $head);
            $level = $moment->value("timeline:$layer->timeline/level", $head);
            $by = static fn (string $property): string => $moment
                ->holder("layer:$layer->id/$property")
                ?->stratum->word() ?? (isset($layer->curves[$property]) ? 'keyframed' : 'stored');
            if ($moment->isMuted($layer->id, $head)) {
                $muted = $moment->value("layer:$layer->id/mute", $head) >= 0.5;
                $dark = [
                    $ready,
                    self::link(
                        'Layer',
                        'fault',
                        'layer',
                        $layer->id,
                        $layer->name,
                        $muted
                            ? "$layer->name is muted at $at ({$by('mute')})."
                            : "$layer->name is not soloed, and another layer is.",
                    ),
                ];

                continue;
            }
            if ($opacity <= 0) {
                $dark = [
                    $ready,
                    self::link(
                        'Layer',
                        'fault',
                        'layer',
                        $layer->id,
                        $layer->name,
                        "$layer->name is at 0 % opacity at $at ({$by('opacity')}).",
                    ),
                ];

                continue;
            }
            if (max($moment->colour("layer:$layer->id/gain", $head)) <= 0) {
                $dark = [
                    $ready,
                    self::link(
                        'Layer',
                        'fault',
                        'layer',
                        $layer->id,
                        $layer->name,
                        "$layer->name is at 0 % gain in red, green and blue at $at ({$by('gain')}).",
                    ),
                ];

                continue;
            }
            if ($level <= 0) {
                $dark = [
                    $ready,
                    self::link(
                        'Layer',
                        'fault',
                        'timeline',
                        $layer->timeline,
                        $timeline,
                        "The level of $timeline is at 0 %.",
                    ),
                ];

                continue;
            }

            $chain = array_column(
                [...$show->programme->effects($layer->clips[$i]->id), ...$show->programme->effects($layer->id)],
                'id',
            );
            $through = array_map(
                static fn (EffectPass $pass): string => $pass->effect->value,
                DrawStep::effects($moment, $chain, $head),
            );
            $lit = [
                $ready,
                self::link(
                    'Layer',
                    'ok',
                    'layer',
                    $layer->id,
                    $layer->name,
                    sprintf(
                        '%s is up at %.0f %%%s.',
                        $layer->name,
                        $opacity * $level * 100,
                        $through === [] ? '' : ', through '.implode(', ', $through),
                    ),
                ),
            ];
            $blend = BlendMode::numbered($moment->value("layer:$layer->id/blend", $head));
            if (! $blend->needsLightBelow()) {
                return $darkening === null ? $lit : [$darkening[0], $darkening[1]];
            }
            // It darkens what is below it, so that something has to be.
            $darkening ??= [...$lit, $blend === BlendMode::Multiply ? 'is multiplied with' : 'darkens'];
        }
        if ($darkening !== null) {
            [$media, ['id' => $id, 'name' => $name], $how] = $darkening;

            return [
                $media,
                self::link(
                    'Layer',
                    'fault',
                    'layer',
                    $id,
                    $name,
                    "$name $how what is below it, and nothing is lit there.",
                ),
            ];
        }

        return $dark ?? [
            self::unknown('Media'),
            self::link(
                'Layer',
                'fault',
                'timeline',
                (string) array_key_first($show->programme->timelines),
                'no layer',
                'No layer is routed here.',
            ),
        ];
    }

    /**
     * @param  list<Layer>  $aimed
     * @return array{link: string, state: string, kind: string, id: string, name: string, message: string}
     */
    private static function route(Show $show, array $aimed, Surface $surface, Moment $moment): array
    {
        $remarks = [];
        $squashed = false;
        foreach ($aimed as $layer) {
            $route = self::wayNow($show, $layer, $moment);
            if ($route === null) {
                continue;
            }
            foreach ($layer->clips as $use) {
                $placed = PlacedUse::of(
                    $route,
                    $show->library->media[$use->media],
                    $surface,
                    $use->fit($layer),
                    $layer->part,
                );
                $squashed = $squashed || $placed->isSquashed();
                foreach ($placed->remarks() as $remark) {
                    $remarks["{$placed->item->name}: $remark"] = true;
                }
            }
        }
        $names = implode(', ', array_map(static fn (Layer $l): string => $l->name, $aimed));
        $named = array_unique(
            array_filter(
                array_map(static fn (Layer $l): string => self::wayNow($show, $l, $moment)->name ?? '', $aimed),
            ),
        );

        return self::link(
            'Route',
            $squashed ? 'attention' : 'ok',
            'layer',
            $aimed[0]->id,
            $named === [] ? 'skin' : implode(', ', $named),
            $remarks === [] ? "$names, straight onto its skin." : (string) array_key_first($remarks),
        );
    }

    /**
     * The output and the device of a surface: of several, the first by which something is wrong. A standby output
     * counts where there is no other.
     *
     * @param  array<string, list<array{lacks?: list<string>, late?: int}>>|null  $players
     * @param  array<string, string>  $dark
     * @return array{array{link: string, state: string, kind: string, id: string, name: string, message: string}, array{link: string, state: string, kind: string, id: string, name: string, message: string}}
     */
    private static function way(Show $show, string $surfaceId, Moment $moment, ?array $players, array $dark): array
    {
        [$main, $standby] = [[], []];
        foreach ($show->delivery->regions as $outputId => $regions) {
            $server = $show->delivery->outputs[$outputId]->server;
            $backup = $server !== null && ($show->delivery->servers[$server]->role ?? '') === 'backup';
            foreach ($regions as $region) {
                if ($region->surface === $surfaceId) {
                    $way = self::wayBy(
                        $show,
                        (string) $outputId,
                        $region,
                        $moment,
                        $players === null ? null : $players[$outputId] ?? [],
                        $dark,
                    );
                    $backup ? ($standby[] = $way) : ($main[] = $way);
                }
            }
        }
        $ways = $main === [] ? $standby : $main;
        foreach ($ways as $way) {
            if (in_array('fault', array_column($way, 'state'), true)) {
                return $way;
            }
        }
        foreach ($ways as $way) {
            if (in_array('attention', array_column($way, 'state'), true)) {
                return $way;
            }
        }
        if ($ways !== []) {
            return $ways[0];
        }

        if ($show->venue->surfaces[$surfaceId]->carrier->fixture() !== null) {
            return self::wayOfLight($show, $surfaceId, $moment);
        }

        return [
            self::link(
                'Output',
                'fault',
                'surface',
                $surfaceId,
                'no region',
                $show->venue->surfaces[$surfaceId]->name.' has no region on any output.',
            ),
            self::unknown('Device'),
        ];
    }

    /**
     * The patch of a pixel light, and the node that it is sent to.
     *
     * @return array{array{link: string, state: string, kind: string, id: string, name: string, message: string}, array{link: string, state: string, kind: string, id: string, name: string, message: string}}
     */
    private static function wayOfLight(Show $show, string $surfaceId, Moment $moment): array
    {
        $light = $show->venue->surfaces[$surfaceId]->name;
        foreach ($show->delivery->patches as $id => $patch) {
            if ($patch->surface !== $surfaceId) {
                continue;
            }
            $node = $patch->node === null ? null : $show->delivery->nodes[$patch->node] ?? null;
            if ($node === null) {
                return [
                    self::link('Output', 'fault', 'patch', $id, 'no node', "The patch of $light names no node."),
                    self::unknown('Device'),
                ];
            }
            $from = Universes::inWords($node->protocol, $patch->universe)." channel $patch->channel";
            $level = $moment->value("patch:$id/level", null);

            return [
                match (true) {
                    $moment->master() <= 0 => self::link(
                        'Output',
                        'fault',
                        'patch',
                        $id,
                        $from,
                        'The master is at 0 %.',
                    ),
                    $level <= 0 => self::link('Output', 'fault', 'patch', $id, $from, "The patch of $light is at 0 %."),
                    default => self::link('Output', 'ok', 'patch', $id, $from, "$light begins at $from."),
                },
                self::link(
                    'Device',
                    'ok',
                    'node',
                    (string) $patch->node,
                    $node->name,
                    "Sent to $node->name at ".$node->destination($patch->universe).'.',
                ),
            ];
        }

        return [
            self::link(
                'Output',
                'fault',
                'surface',
                $surfaceId,
                'no patch',
                "$light has no patch: nothing is sent to it.",
            ),
            self::unknown('Device'),
        ];
    }

    /**
     * @param  list<array{lacks?: list<string>, late?: int}>|null  $open  what its players report
     * @param  array<string, string>  $dark
     * @return array{array{link: string, state: string, kind: string, id: string, name: string, message: string}, array{link: string, state: string, kind: string, id: string, name: string, message: string}}
     */
    private static function wayBy(
        Show $show,
        string $outputId,
        Region $region,
        Moment $moment,
        ?array $open,
        array $dark,
    ): array {
        $output = $show->delivery->outputs[$outputId];
        $link = match (true) {
            $moment->master() <= 0 => self::link(
                'Output',
                'fault',
                'output',
                $outputId,
                $output->name,
                'The master is at 0 %.',
            ),
            ! $output->raster()->contains($region->place) => self::link(
                'Output',
                'attention',
                'output',
                $outputId,
                $output->name,
                "The region extends beyond $output->name.",
            ),
            default => self::link(
                'Output',
                'ok',
                'output',
                $outputId,
                $output->name,
                "At {$region->place->x}, {$region->place->y} on $output->name.",
            ),
        };
        $feed = $show->delivery->feedOf($outputId, $region);
        $feedId = $feed === null ? false : array_search($feed, $show->delivery->feeds[$outputId], true);
        [$kind, $id] = $feedId === false ? ['output', $outputId] : ['feed', (string) $feedId];
        $name = static fn (string $none): string => $feed === null
            ? $none
            : ($none === 'player'
                ? $feed->name
                : "$feed->name, $none");
        $lacks = array_merge([], ...array_map(static fn (array $p): array => $p['lacks'] ?? [], $open ?? []));
        // What is fed lies past the player; nothing of it is heard yet.
        $feeds = $feed === null ? '' : " It feeds $feed->name.";

        return [
            $link,
            match (true) {
                $open === null => self::link(
                    'Device',
                    'attention',
                    $kind,
                    $id,
                    $name('not on air'),
                    'This show is open, but not on air.',
                ),
                $open === [] => self::link(
                    'Device',
                    'fault',
                    $kind,
                    $id,
                    $name('no player'),
                    "The player for $output->name is not open.",
                ),
                $lacks !== [] => self::link(
                    'Device',
                    'fault',
                    $kind,
                    $id,
                    $name('player'),
                    "The player for $output->name lacks: ".implode('; ', $lacks).'.',
                ),
                $feed?->projector !== null && isset($dark[$feed->projector]) => self::link(
                    'Device',
                    'fault',
                    'projector',
                    $feed->projector,
                    $show->venue->projectors[$feed->projector]->name ?? $feed->name,
                    ($show->venue->projectors[$feed->projector]->name ?? $feed->name)." {$dark[$feed->projector]}.",
                ),
                default => self::link(
                    'Device',
                    'ok',
                    $kind,
                    $id,
                    $name('player'),
                    "The player for $output->name is drawing.$feeds",
                ),
            },
        ];
    }

    /** @return array{link: string, state: string, kind: string, id: string, name: string, message: string} */
    private static function unknown(string $link): array
    {
        return self::link($link, 'attention', '', '', '—', 'Nothing is routed this far.');
    }

    /** @return array{link: string, state: string, kind: string, id: string, name: string, message: string} */
    private static function link(
        string $link,
        string $state,
        string $kind,
        string $id,
        string $name,
        string $message,
    ): array {
        return [
            'link' => $link,
            'state' => $state,
            'kind' => $kind,
            'id' => $id,
            'name' => $name,
            'message' => $message,
        ];
    }
}
