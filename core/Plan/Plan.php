<?php

declare(strict_types=1);

namespace Core\Plan;

use Core\Output\BlendMap;
use Core\Output\DeliveryMesh;
use Core\Show\ResultCache;
use Core\Timeline\MediaTrack;
use Core\Values\Track;

/**
 * What to draw where, and how values move: parts and tracks by name. A part that did not change is not made, sent or
 * fetched again.
 *
 * Names and data of parts: `show` (id, name, frameRate, flicksPerFrame); `timeline:ID` (name, order, duration, and
 * `solo`, the ids of layers that are soloed at some time); `layer:ID` (timeline, order, `routes`, the numbers of
 * routes besides its own that it takes at some time, and `nested`, where a clip of it shows another timeline: of each
 * of its clips that one's id, where it does, and its fade, where it has any); `surface:ID` (name, width, height);
 * `media:KEY` (kind, name and what a player has to know of it; of a pattern its number, size, and the media whose
 * values it has); `contribution:LAYER@SURFACE` (layer, surface, `by`, the number of the route where it is not the
 * layer's own, and for each clip id, media key, `fit`: the nine numbers, row by row, of the matrix that carries the
 * picture's unit square onto the pane, `fade`, where it has any: start, how long it takes to come, end, how long it
 * takes to leave; `stock`, where other media may be called in their place: number, media key, fit, frames, flicks per
 * frame of each; where the route has a pane of its own, `route` and `pane`, its width and height; and how the pane
 * gets to the surface's raster, if it is not that raster: `onto`, nine numbers, with `clip`, the part of the raster
 * that it fills: left, top, right, bottom; or `share`, the id of the share whose values say it; or `lenses`, of each
 * id, part of the pane and `frame`, the sixteen numbers, column by column, that carry the venue into what its pose is
 * given in; or `globe`, id of the route, frame and pane); `round:SURFACE`, of a drum or dome that something is thrown
 * onto (`dome`, and the `frame` of its true shape in the venue); `sound:LAYER` (layer, timeline, and for each clip
 * with a sound its id, url, channels, fade, and when which sample is heard); `output:ID` (name, width, height,
 * refresh; where they are not usual, `delay` in flicks, `light` of red, green and blue, `black`, and `gamma`);
 * `delivery:REGION` (output, surface, source, place; `mesh` where it is delivered through triangles; `blend`, the
 * widths of edges that fade, and their `curve`); `control:ID` (of a layer that a console drives: its row,
 * `personality`, and `media` by folder and index); `node:ID` (of the lighting network, as its row); `light:PATCH`
 * (its light's `type`, and its row); `mask:ID` (`on`, the surface or output, `line`, feather, inverted).
 *
 * Tracks have the address of their value; the one that says which clip of a layer is up, and which frame, is
 * `layer:ID/media`, that of the clip below it while they fade into each other `layer:ID/under`, of the next below
 * `layer:ID/under2` and so on. A value without a track rests at its default. Beside them stand, as `surface:ID/mesh`,
 * the triangles of surfaces that something is thrown onto, as `delivery:REGION/mesh` the triangles of a region, and
 * as `delivery:REGION/blend` its shares of the light.
 */
final readonly class Plan
{
    /**
     * @var array<string, array<string, mixed>> parts of the layers that have a clip which shows another timeline, by their ids
     */
    public array $nesting;

    /** What was found in it already. */
    private ResultCache $known;

    /**
     * @param  array<string, array<string, mixed>>  $parts
     * @param  array<string, Track|MediaTrack|SurfaceMesh|DeliveryMesh|BlendMap>  $tracks
     */
    public function __construct(public array $parts, public array $tracks)
    {
        $this->known = new ResultCache();
        $found = [];
        foreach ($parts as $name => $part) {
            if (isset($part['nested'])) {
                $found[substr((string) $name, strlen('layer:'))] = $part;
            }
        }
        $this->nesting = $found;
    }

    public static function empty(): self
    {
        return new self([], []);
    }

    public function with(Bundle $bundle): self
    {
        return new self(
            array_filter(array_merge($this->parts, $bundle->parts), is_array(...)),
            array_filter(array_merge($this->tracks, $bundle->tracks)),
        );
    }

    /** All of it, as a window that has just come is given it. */
    public function whole(string $show, int $revision): Bundle
    {
        return new Bundle($show, $revision, $this->parts, $this->tracks);
    }

    /**
     * Parts of one type, by what follows it in their names.
     *
     * @return array<string, array<string, mixed>>
     */
    public function of(string $type): array
    {
        $found = [];
        $length = strlen($type) + 1;
        foreach ($this->parts as $name => $part) {
            if (strncmp($name, "$type:", $length) === 0) {
                $found[substr($name, $length)] = $part;
            }
        }

        return $found;
    }

    /**
     * What reaches a surface, from the bottom up.
     *
     * @return list<array<string, mixed>>
     */
    public function contributions(string $surface): array
    {
        return $this->known->get('contributions', [], $this->bySurface(...))[$surface] ?? [];
    }

    /** @return array<string, list<array<string, mixed>>> contributions of each surface, in drawing order */
    private function bySurface(): array
    {
        $found = [];
        foreach ($this->of('contribution') as $part) {
            $layer = $this->parts["layer:$part[layer]"] ?? null;
            $timeline = $layer === null ? null : $this->parts["timeline:$layer[timeline]"] ?? null;
            if ($layer !== null && $timeline !== null) {
                $found[$part['surface']][] = [
                    [$timeline['order'], $layer['timeline'], $layer['order'], $part['layer']],
                    $part,
                ];
            }
        }

        return array_map(static function (array $list): array {
            usort($list, static fn (array $a, array $b): int => $a[0] <=> $b[0]);

            return array_column($list, 1);
        }, $found);
    }

    /**
     * The regions of an output, in drawing order.
     *
     * @return array<string, array<string, mixed>> by id
     */
    public function deliveries(string $output): array
    {
        $found = array_filter($this->of('delivery'), static fn (array $part): bool => $part['output'] === $output);
        ksort($found, SORT_STRING);

        return $found;
    }

    public function flicksPerFrame(): int
    {
        return (int) ($this->parts['show']['flicksPerFrame'] ?? 28_224_000);
    }
}
