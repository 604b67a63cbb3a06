<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Media\MediaItem;
use Core\Routing\Route;
use Core\Timeline\CuePoint;
use Core\Timeline\Marker;
use Core\Venue\Surface;

/** When, and how it changes: timelines with their layers, and the routes that these take. */
final readonly class Programme
{
    public const KINDS = ['timeline', 'layer', 'route', 'clip', 'curve', 'marker', 'cue'];

    /**
     * @param  array<string, Timeline>  $timelines  from the bottom up
     * @param  array<string, Route>  $routes
     * @param  list<Broken>  $broken
     * @param  array<string, array{object, Layer}>  $made  by id: a layer's row as it was built, and the layer with all that is on it
     */
    private function __construct(public array $timelines, public array $routes, public array $broken, private array $made)
    {
    }

    /**
     * @param  array<string, array<string, object>>  $built  by kind and id
     * @param  array<string, array<string, string>>  $parents  of markers, cues: the timeline of each, by kind and id
     * @param  self|null  $before  whose layers are taken over where nothing of them changed
     */
    public static function of(array $built, array $parents, Library $library, Venue $venue, ?self $before = null): self
    {
        [$broken, $clips, $curves] = [[], [], []];
        /** @var array<string, ClipUse> $uses */
        $uses = $built['clip'] ?? [];
        foreach ($uses as $id => $use) {
            if (isset($library->media[$use->media])) {
                $clips[$use->layer][] = $use;
            } else {
                $broken[] = new Broken('clip', $id, 'The media of this clip was removed.');
            }
        }
        foreach ($built['curve'] ?? [] as $curve) {
            if ($curve instanceof StoredCurve) {
                $curves[$curve->address->id][$curve->address->value()] = $curve;
            }
        }
        /** @var array<string, Route> $routes */
        $routes = $built['route'] ?? [];
        foreach ($routes as $id => $route) {
            foreach ($route->surfaces as $surface) {
                if (! isset($venue->surfaces[$surface])) {
                    $layer = $route->layer !== null ? ($built['layer'][$route->layer] ?? null) : null;
                    $broken[] = $layer instanceof Layer ? new Broken('layer', $layer->id, "$layer->name is aimed at a surface that was removed.") : new Broken('route', $id, "$route->name reaches a surface that was removed.");
                }
            }
        }
        [$layers, $made] = [[], []];
        /** @var array<string, Layer> $bare */
        $bare = $built['layer'] ?? [];
        foreach ($bare as $id => $layer) {
            $old = $before?->made[$id] ?? null;
            $whole = $layer->with($clips[$id] ?? [], $curves[$id] ?? []);
            if ($old !== null && $old[0] === $layer && $old[1]->clips === $whole->clips && $old[1]->curves === $whole->curves) {
                $whole = $old[1];
            }
            $made[$id] = [$layer, $whole];
            $layers[$layer->timeline][] = $whole;
            if ($layer->route !== null && ! isset($routes[$layer->route])) {
                $broken[] = new Broken('layer', $id, "$layer->name takes a route that was removed.");
            }
        }
        [$markers, $cues] = [[], []];
        foreach ($built['marker'] ?? [] as $id => $marker) {
            $markers[$parents['marker'][$id] ?? ''][$id] = $marker;
        }
        foreach ($built['cue'] ?? [] as $id => $cue) {
            $cues[$parents['cue'][$id] ?? ''][$id] = $cue;
        }
        $timelines = [];
        /** @var array<string, Timeline> $lines */
        $lines = $built['timeline'] ?? [];
        uasort($lines, static fn (Timeline $a, Timeline $b): int => [$a->order, $a->id] <=> [$b->order, $b->id]);
        foreach ($lines as $id => $line) {
            $own = $layers[$id] ?? [];
            usort($own, static fn (Layer $a, Layer $b): int => [$a->order, $a->id] <=> [$b->order, $b->id]);
            /** @var array<string, Marker> $ownMarkers */
            $ownMarkers = $markers[$id] ?? [];
            uasort($ownMarkers, static fn (Marker $a, Marker $b): int => $a->time <=> $b->time);
            /** @var array<string, CuePoint> $ownCues */
            $ownCues = $cues[$id] ?? [];
            uasort($ownCues, static fn (CuePoint $a, CuePoint $b): int => $a->time <=> $b->time);
            $timelines[$id] = $line->with($own, $ownMarkers, $ownCues, $curves[$id] ?? []);
        }

        return new self($timelines, $routes, $broken, $made);
    }

    /** @return array<string, int> how many clips use each media that is used */
    public function clipsByMedia(): array
    {
        $clips = [];
        foreach ($this->layers() as $layer) {
            foreach ($layer->clips as $use) {
                $clips[$use->media] = ($clips[$use->media] ?? 0) + 1;
            }
        }

        return $clips;
    }

    /** @return iterable<Layer> of all timelines, from the bottom up */
    public function layers(): iterable
    {
        foreach ($this->timelines as $timeline) {
            yield from $timeline->layers;
        }
    }

    public function layer(string $id): ?Layer
    {
        return $this->made[$id][1] ?? null;
    }

    public function route(Layer $layer): ?Route
    {
        return $layer->route === null ? null : ($this->routes[$layer->route] ?? null);
    }

    /**
     * The surfaces that a layer reaches.
     *
     * @return list<Surface>
     */
    public function reached(Layer $layer, Venue $venue): array
    {
        return array_values(array_filter(array_map(static fn (string $id): ?Surface => $venue->surfaces[$id] ?? null, $this->route($layer)->surfaces ?? [])));
    }

    /**
     * What a layer shows where: each media of its clips on each surface that it reaches, once.
     *
     * @return list<array{MediaItem, Surface}>
     */
    public function uses(Layer $layer, Library $library, Venue $venue): array
    {
        $uses = [];
        foreach ($layer->clips as $use) {
            foreach ($this->reached($layer, $venue) as $surface) {
                $uses["$use->media $surface->id"] ??= [$library->media[$use->media], $surface];
            }
        }

        return array_values($uses);
    }
}
