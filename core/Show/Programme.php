<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Bindings\LayerControl;
use Core\Cues\Cue;
use Core\Effects\Effect;
use Core\Media\MediaItem;
use Core\Routing\Fit;
use Core\Routing\Route;
use Core\Routing\Share;
use Core\Routing\VirtualLens;
use Core\Timeline\CuePoint;
use Core\Timeline\Marker;
use Core\Units\InvalidValue;
use Core\Values\Address;
use Core\Values\Reference;
use Core\Venue\Surface;

/** When, and how it changes: timelines with their layers, and the routes that these take. */
final readonly class Programme
{
    public const KINDS = [
        'timeline',
        'layer',
        'route',
        'share',
        'lens',
        'clip',
        'effect',
        'curve',
        'marker',
        'cue',
        'page',
        'group',
        'control',
    ];

    /**
     * @param  array<string, Timeline>  $timelines  from the bottom up
     * @param  array<string, Route>  $routes
     * @param  list<InvalidRow>  $broken
     * @param  array<string, array<string, StoredCurve>>  $curves  of routes, shares, lenses, media and effects, by id
     *     and value
     * @param  array<string, array<int, Route>>  $ways  by layer: routes besides its own that it takes at some time,
     *     by number
     * @param  array<string, Cue>  $cues
     * @param  array<string, array<int, string>>  $sources  by layer: ids of media that may be called in place of its
     *     clips, by number
     * @param  array<string, array<int, string>>  $masks  by layer: ids of media by which it may be cut out, by number
     * @param  array<string, array{object, Layer}>  $made  by id: a layer's row as it was built, and the layer with
     *     all that is on it
     * @param  array<string, list<EffectUse>>  $effects  by layer or clip, in the order in which they follow each other
     * @param  array<string, array{object, Route, list<Share>}>  $madeRoutes  by id: a route's row as it was built,
     *     the route with its shares and lenses, and those shares as they were built
     */
    private function __construct(
        public array $timelines,
        public array $routes,
        public array $broken,
        public array $curves,
        private array $ways,
        public array $cues,
        private array $sources,
        private array $masks,
        private array $made,
        private array $effects,
        private array $madeRoutes,
    ) {
    }

    /**
     * @param  array<string, array<string, object>>  $built  by kind and id
     * @param  array<string, array<string, string>>  $parents  of markers: the timeline of each, by kind and id
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
                $broken[] = new InvalidRow('clip', $id, 'The media of this clip was removed.');
            }
        }
        foreach ($built['curve'] ?? [] as $curve) {
            if ($curve instanceof StoredCurve) {
                $curves[$curve->address->id][$curve->address->value()] = $curve;
            }
        }
        [$routes, $madeRoutes] = self::routes($built, $venue, $before, $broken);
        foreach ($routes as $id => $route) {
            foreach ($route->aimed as $surface) {
                if (! isset($venue->surfaces[$surface])) {
                    $layer = $route->layer !== null ? $built['layer'][$route->layer] ?? null : null;
                    $broken[] =
                        $layer instanceof Layer
                            ? new InvalidRow(
                                'layer',
                                $layer->id,
                                "$layer->name is aimed at a surface that was removed.",
                            )
                            : new InvalidRow('route', $id, "$route->name reaches a surface that was removed.");
                }
            }
        }
        [$layers, $made] = [[], []];
        /** @var array<string, Layer> $bare */
        $bare = $built['layer'] ?? [];
        foreach ($bare as $id => $layer) {
            $old = $before?->made[$id] ?? null;
            $whole = $layer->with($clips[$id] ?? [], $curves[$id] ?? []);
            if (
                $old !== null &&
                $old[0] === $layer &&
                $old[1]->clips === $whole->clips &&
                $old[1]->curves === $whole->curves
            ) {
                $whole = $old[1];
            }
            $made[$id] = [$layer, $whole];
            $layers[$layer->timeline][] = $whole;
            if ($layer->route !== null && ! isset($routes[$layer->route])) {
                $broken[] = new InvalidRow('layer', $id, "$layer->name takes a route that was removed.");
            } elseif (
                $layer->part !== null &&
                $layer->route !== null &&
                ! self::hasPart($routes[$layer->route], $layer->part)
            ) {
                $broken[] = new InvalidRow(
                    'layer',
                    $id,
                    "$layer->name is fitted into a part that its route does not have; it is fitted into the whole pane.",
                );
            }
        }
        [$markers, $cues] = [[], []];
        foreach ($built['marker'] ?? [] as $id => $marker) {
            $markers[$parents['marker'][$id] ?? ''][$id] = $marker;
        }
        /** @var array<string, Cue> $all */
        $all = $built['cue'] ?? [];
        foreach ($all as $id => $cue) {
            $point = $cue->point();
            if ($point !== null) {
                $cues[$cue->timeline ?? ''][$id] = $point;
            }
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

        $of = array_fill_keys(
            array_merge(
                array_keys($routes),
                ...array_map(
                    static fn (Route $route): array => array_map(
                        static fn (Share|VirtualLens $part): string => $part->id,
                        [...$route->shares, ...$route->lenses],
                    ),
                    array_values($routes),
                ),
            ),
            true,
        );

        $named = self::namedByCues($all);
        $ways = self::otherWays($made, $routes, $named['route'] ?? [], $broken);
        $sources = self::callable($made, $library, $named['source'] ?? []);
        foreach (self::consoles($built['control'] ?? [], 'index') as $id) {
            isset($made[$id]) && ($sources[$id] = ($sources[$id] ?? []) + self::numbered($library));
        }
        $masks = self::cuttingOut($made, $library, $named['mask'] ?? [], $broken);
        foreach (self::consoles($built['control'] ?? [], 'mask media') as $id) {
            isset($made[$id]) && ($masks[$id] = ($masks[$id] ?? []) + self::numbered($library));
        }

        $effects = self::chains($built['effect'] ?? [], $broken);

        return new self(
            $timelines,
            $routes,
            $broken,
            array_intersect_key($curves, $of + $library->media + ($built['effect'] ?? [])),
            $ways,
            $all,
            $sources,
            $masks,
            $made,
            $effects,
            $madeRoutes,
        );
    }

    /**
     * @param  array<string, object>  $built  by id
     * @param  list<InvalidRow>  $broken
     * @return array<string, list<EffectUse>> by layer or clip
     */
    private static function chains(array $built, array &$broken): array
    {
        $chains = [];
        foreach ($built as $use) {
            $use instanceof EffectUse && ($chains[$use->on][] = $use);
        }
        foreach ($chains as $on => $chain) {
            usort($chain, static fn (EffectUse $a, EffectUse $b): int => [$a->order, $a->id] <=> [$b->order, $b->id]);
            foreach (array_slice($chain, Effect::MAX) as $more) {
                $broken[] = new InvalidRow(
                    'effect',
                    $more->id,
                    'A layer or a clip has at most '.Effect::MAX.' effects; this one is too many and does nothing.',
                );
            }
            $chains[$on] = array_slice($chain, 0, Effect::MAX);
        }

        return $chains;
    }

    /** @return list<EffectUse> the effects of a layer or of a clip, in the order in which they follow each other */
    public function effects(string $on): array
    {
        return $this->effects[$on] ?? [];
    }

    public function effect(string $id): ?EffectUse
    {
        foreach ($this->effects as $chain) {
            foreach ($chain as $use) {
                if ($use->id === $id) {
                    return $use;
                }
            }
        }

        return null;
    }

    /**
     * Routes with the shares and lenses that they have; those of before where nothing of them changed.
     *
     * @param  array<string, array<string, object>>  $built
     * @param  list<InvalidRow>  $broken
     * @return array{array<string, Route>, array<string, array{object, Route, list<Share>}>}
     */
    private static function routes(array $built, Venue $venue, ?self $before, array &$broken): array
    {
        [$shares, $lenses, $routes, $made] = [[], [], [], []];
        foreach ($built['share'] ?? [] as $id => $share) {
            if (! ($share instanceof Share) || ! isset($venue->surfaces[$share->surface])) {
                $broken[] = new InvalidRow(
                    'share',
                    (string) $id,
                    'The surface that has this share of a canvas was removed.',
                );
            } elseif (isset($shares[$share->route][$share->surface])) {
                $broken[] = new InvalidRow(
                    'share',
                    (string) $id,
                    "{$venue->surfaces[$share->surface]->name} has two shares of one canvas; the older one counts.",
                );
            } else {
                $shares[$share->route][$share->surface] = $share;
            }
        }
        foreach ($built['lens'] ?? [] as $id => $lens) {
            if (! ($lens instanceof VirtualLens)) {
                continue;
            }
            if (count($lenses[$lens->route] ?? []) >= Route::MAX_LENSES) {
                $broken[] = new InvalidRow(
                    'lens',
                    (string) $id,
                    'A route has at most '.Route::MAX_LENSES." lenses; $lens->name is one too many.",
                );

                continue;
            }
            $lenses[$lens->route][] = $lens;
            if ($lens->rig !== null && ! isset($venue->rigs[$lens->rig])) {
                $broken[] = new InvalidRow(
                    'lens',
                    (string) $id,
                    "$lens->name was carried by a rig that was removed; it stands in the venue now.",
                );
            }
        }
        foreach ($built['route'] ?? [] as $id => $row) {
            if (! ($row instanceof Route)) {
                continue;
            }
            [$ownShares, $ownLenses] = [array_values($shares[$id] ?? []), $lenses[$id] ?? []];
            $old = $before?->madeRoutes[$id] ?? null;
            $route =
                $old !== null && $old[0] === $row && $old[2] === $ownShares && $old[1]->lenses === $ownLenses
                    ? $old[1]
                    : $row->with($ownShares, $ownLenses);
            [$routes[$id], $made[$id]] = [$route, [$row, $route, $ownShares]];
            if ($route->rig !== null && ! isset($venue->rigs[$route->rig])) {
                $broken[] = new InvalidRow(
                    'route',
                    (string) $id,
                    "$route->name was carried by a rig that was removed; its centre stands in the venue now.",
                );
            }
        }

        return [$routes, $made];
    }

    /**
     * @param  array<string, array{object, Layer}>  $made
     * @param  array<string, Route>  $routes
     * @param  array<string, list<float>>  $named  numbers of routes that cues name, by layer
     * @param  list<InvalidRow>  $broken
     * @return array<string, array<int, Route>>
     */
    private static function otherWays(array $made, array $routes, array $named, array &$broken): array
    {
        [$ways, $numbered] = [[], null];
        foreach ($made as $id => [, $layer]) {
            foreach (self::numbersOf($layer, 'route', $named[$id] ?? []) as $number) {
                $numbered ??= array_column(
                    array_map(
                        static fn (Route $route): array => [Reference::number($route->id) ?? -1, $route],
                        array_values($routes),
                    ),
                    1,
                    0,
                );
                if ($number === 0 || (isset($numbered[$number]) && $numbered[$number]->id === $layer->route)) {
                    continue;
                }
                if (isset($numbered[$number])) {
                    $ways[$id][$number] = $numbered[$number];
                } else {
                    $broken[] = new InvalidRow(
                        'layer',
                        $id,
                        "$layer->name takes a route at some time that was removed; it goes as it is aimed then.",
                    );
                }
            }
        }

        return $ways;
    }

    /**
     * The rows that a layer names at some time by one of its values, as it is stored, by keyframes and by cues.
     *
     * @param  list<float>  $named  numbers that cues name
     * @return list<int> each once
     */
    private static function numbersOf(Layer $layer, string $property, array $named): array
    {
        try {
            $keyed = isset($layer->curves[$property]) ? $layer->curves[$property]->curve()->values : [];
        } catch (InvalidValue) {
            // A row that holds no curve is told by preflight.
            $keyed = [];
        }

        return array_values(
            array_unique(
                array_map(static fn (float $n): int => (int) round($n), [
                    ...$layer->stored[$property] ?? [],
                    ...$named,
                    ...$keyed,
                ]),
            ),
        );
    }

    /**
     * The routes and media that cues name for layers, as numbers.
     *
     * @param  array<string, Cue>  $cues
     * @return array<string, array<string, list<float>>> by property and layer
     */
    private static function namedByCues(array $cues): array
    {
        $named = [];
        foreach ($cues as $cue) {
            foreach ($cue->values as $value) {
                if (preg_match('~^layer:([0-9a-z]+)/(route|source|mask)$~D', $value->address, $m) === 1) {
                    $named[$m[2]][$m[1]][] = $value->value;
                }
            }
        }

        return $named;
    }

    /**
     * @param  array<string, array{object, Layer}>  $made
     * @param  array<string, list<float>>  $named  numbers of media that cues name, by layer
     * @return array<string, array<int, string>>
     */
    private static function callable(array $made, Library $library, array $named): array
    {
        [$found, $numbered] = [[], null];
        foreach ($made as $id => [, $layer]) {
            $numbers = [
                ...$layer->stored['source'] ?? [],
                ...$named[$id] ?? [],
                ...array_map(static fn (string $media): float => (float) Reference::number($media), $layer->stock),
            ];
            foreach (array_unique(array_map(static fn (float $n): int => (int) round($n), $numbers)) as $number) {
                $numbered ??= self::byNumber($library);
                if ($number !== 0 && isset($numbered[$number])) {
                    $found[$id][$number] = $numbered[$number];
                }
            }
        }

        return $found;
    }

    /**
     * @param  array<string, array{object, Layer}>  $made
     * @param  array<string, list<float>>  $named  numbers of media that cues name, by layer
     * @param  list<InvalidRow>  $broken
     * @return array<string, array<int, string>>
     */
    private static function cuttingOut(array $made, Library $library, array $named, array &$broken): array
    {
        [$found, $all] = [[], null];
        foreach ($made as $id => [, $layer]) {
            $wanted = array_flip(array_filter(self::numbersOf($layer, 'mask', $named[$id] ?? [])));
            if ($wanted === []) {
                continue;
            }
            $found[$id] = array_intersect_key($all ??= self::byNumber($library), $wanted);
            if (count($found[$id]) < count($wanted)) {
                $broken[] = new InvalidRow(
                    'layer',
                    $id,
                    "$layer->name is cut out by a media at some time that was removed; it is whole then.",
                );
            }
        }

        return $found;
    }

    /** @return array<int, string> ids of all media by the number of their reference */
    private static function byNumber(Library $library): array
    {
        $found = [];
        foreach (array_keys($library->media) as $id) {
            $number = Reference::number((string) $id);
            $number !== null && ($found[$number] = (string) $id);
        }

        return $found;
    }

    /** @return array<int, string> ids of media by which a layer may be cut out, by number */
    public function masks(Layer $layer): array
    {
        return $this->masks[$layer->id] ?? [];
    }

    /**
     * @param  array<string, object>  $controls
     * @param  string  $part  of their personalities
     * @return list<string> layers on which a console calls media by such a part
     */
    private static function consoles(array $controls, string $part): array
    {
        $layers = [];
        foreach ($controls as $control) {
            $control instanceof LayerControl && $control->personality->has($part) && ($layers[$control->layer] = true);
        }

        return array_map(strval(...), array_keys($layers));
    }

    /** @return array<int, string> ids of all media that have a folder and an index, by the number of their reference */
    private static function numbered(Library $library): array
    {
        $found = [];
        foreach ($library->media as $id => $item) {
            $reference = $item->number === null ? null : Reference::number((string) $id);
            $reference !== null && ($found[$reference] = (string) $id);
        }

        return $found;
    }

    /** @return array<int, string> ids of media that may be called in place of the clips of a layer, by number */
    public function sources(Layer $layer): array
    {
        return $this->sources[$layer->id] ?? [];
    }

    private static function hasPart(Route $route, string $part): bool
    {
        foreach ([...$route->shares, ...$route->lenses] as $one) {
            if ($one->id === $part) {
                return true;
            }
        }

        return false;
    }

    /** @return array<string, int> how many clips and stocks of layers use each media that is used */
    public function clipsByMedia(): array
    {
        $clips = [];
        foreach ($this->layers() as $layer) {
            foreach ($layer->clips as $use) {
                $clips[$use->media] = ($clips[$use->media] ?? 0) + 1;
            }
        }
        foreach ([...array_values($this->sources), ...array_values($this->masks)] as $media) {
            foreach ($media as $id) {
                $clips[$id] = ($clips[$id] ?? 0) + 1;
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

    /**
     * The timeline over whose show time a curve at an address runs: for a media and what belongs to a route, that of
     * the lowest layer that takes it; '' in a show without any.
     */
    public function timelineOf(Address $address): string
    {
        $layer = $this->made[$address->id][1] ?? null;
        if ($address->kind === 'timeline' || $layer !== null) {
            return $layer->timeline ?? $address->id;
        }
        $on = $address->kind === 'effect' ? $this->effect($address->id)?->on : null;
        foreach ($this->layers() as $one) {
            if ($on !== null && ($one->id === $on || in_array($on, array_column($one->clips, 'id'), true))) {
                return $one->timeline;
            }
            if (in_array($address->id, array_column($one->clips, 'media'), true)) {
                return $one->timeline;
            }
            foreach ($this->ways($one) as $route) {
                if ($route->id === $address->id || self::hasPart($route, $address->id)) {
                    return $one->timeline;
                }
            }
        }

        return (string) array_key_first($this->timelines);
    }

    public function route(Layer $layer): ?Route
    {
        return $layer->route === null ? null : $this->routes[$layer->route] ?? null;
    }

    /**
     * All routes that a layer takes at some time: its own first, if it has one, under 0, the others under their
     * numbers.
     *
     * @return array<int, Route>
     */
    public function ways(Layer $layer): array
    {
        $own = $this->route($layer);

        return ($own === null ? [] : [0 => $own]) + ($this->ways[$layer->id] ?? []);
    }

    /** The route that a layer takes where its value of that name is a number. */
    public function wayAt(Layer $layer, float $number): ?Route
    {
        return $this->ways[$layer->id][(int) round($number)] ?? $this->route($layer);
    }

    /**
     * The surfaces that a route reaches.
     *
     * @return list<Surface>
     */
    public static function reached(Route $route, Venue $venue): array
    {
        return array_values(
            array_filter(
                array_map(static fn (string $id): ?Surface => $venue->surfaces[$id] ?? null, $route->surfaces()),
            ),
        );
    }

    /**
     * What a layer shows where by a route: each media of its clips, as it is fitted, on each surface that it reaches,
     * once.
     *
     * @return list<array{MediaItem, Surface, Fit}>
     */
    public static function uses(Layer $layer, Route $route, Library $library, Venue $venue): array
    {
        $uses = [];
        $reached = self::reached($route, $venue);
        foreach ($layer->clips as $use) {
            $fit = $use->fit($layer);
            foreach ($reached as $surface) {
                $uses["$use->media $surface->id {$fit->fitting->value} $fit->anchorX $fit->anchorY"] ??= [
                    $library->media[$use->media],
                    $surface,
                    $fit,
                ];
            }
        }

        return array_values($uses);
    }
}
