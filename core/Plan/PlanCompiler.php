<?php

declare(strict_types=1);

namespace Core\Plan;

use Core\Bindings\LayerControl;
use Core\Geometry\Mat4;
use Core\Media\MediaItem;
use Core\Output\BlendMap;
use Core\Output\ComputedWarp;
use Core\Output\DeliveryMesh;
use Core\Output\MaskShape;
use Core\Output\Output;
use Core\Output\Region;
use Core\Routing\Route;
use Core\Routing\Share;
use Core\Routing\VirtualLens;
use Core\Show\ClipUse;
use Core\Show\EffectUse;
use Core\Show\Layer;
use Core\Show\Library;
use Core\Show\Programme;
use Core\Show\Schema;
use Core\Show\Show;
use Core\Show\StoredCurve;
use Core\Show\Venue;
use Core\Timeline\MediaTrack;
use Core\Timeline\SpeedRamp;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use Core\Values\Address;
use Core\Values\PropertySet;
use Core\Values\Track;
use Core\Values\TrackCompiler;
use Core\Venue\Surface;

/**
 * Makes the plan of a show, and of the next one only what changed. For each part it remembers the objects that it was
 * made of: as long as they are the same ones, the part is. Not a value: it goes along with a show that is being
 * edited.
 */
final class PlanCompiler
{
    /** Of a playback form, what players do not read. */
    private const NOT_PLAYED = ['strip' => 0, 'sound' => 0];

    /** Pixels of the longer side of a pattern. */
    private const LARGEST_PATTERN = 4096;

    /** Frames of a pattern that moves. */
    private const ENDLESS = 1 << 31;

    /** Frames of one that runs backwards, from the last one on: what moves is drawn with numbers of 24 bits. */
    private const BACKWARDS = 1 << 16;

    /** @var array<string, array{list<mixed>, array<string, mixed>}> by name: what it was made of, and the part */
    private array $parts = [];

    /** @var array<string, array{list<mixed>, Track|MediaTrack|SurfaceMesh|DeliveryMesh|BlendMap|null}> by address */
    private array $tracks = [];

    /**
     * @var array<string, array{list<mixed>, array<string, true>}> by layer and route: what it was made of, and the names of its parts and tracks
     */
    private array $groups = [];

    /** @var array<string, true> layers and routes of the show that is being compiled */
    private array $asked = [];

    /** @var array{string, ComputedWarp|null}|null what was last read, by its key, as long as its region is compiled */
    private ?array $read = null;

    private readonly TrackCompiler $compiler;

    /** @var array<string, true> parts and tracks of the show that is being compiled */
    private array $met = [];

    /** @var array<string, array<string, mixed>> */
    private array $changedParts = [];

    /** @var array<string, Track|MediaTrack|SurfaceMesh|DeliveryMesh|BlendMap|null> */
    private array $changedTracks = [];

    /** @param  (\Closure(string): ?string)|null  $kept  what was computed of regions, by its key */
    public function __construct(private readonly ?\Closure $kept = null)
    {
        $this->compiler = new TrackCompiler();
    }

    /** Where the guide of a surface is fetched: another address where it is another picture. */
    private static function guide(string $show, Surface $surface): string
    {
        $mesh = $surface->carrier->mesh();
        $of = hash(
            'xxh64',
            pack('e*', $surface->guide, $surface->width(), $surface->height(), ...$mesh->positions, ...$mesh->uvs),
        );

        return "/api/shows/$show/surfaces/$surface->id/guide.png?$of";
    }

    /** What is different from the show compiled before; at first, everything. */
    public function compile(Show $show, int $revision): Bundle
    {
        [$this->met, $this->asked, $this->changedParts, $this->changedTracks] = [[], [], [], []];
        $this->part(
            'show',
            [$show->id, $show->name, $show->rate->name],
            static fn (): array => [
                'id' => $show->id,
                'name' => $show->name,
                'frameRate' => $show->rate->name,
                'flicksPerFrame' => $show->rate->flicksPerFrame,
            ],
        );
        foreach ($show->venue->surfaces as $id => $surface) {
            $this->part(
                "surface:$id",
                [$surface],
                static fn (): array => [
                    'name' => $surface->name,
                    'width' => $surface->width(),
                    'height' => $surface->height(),
                    ...$surface->guide > 0 ? ['guide' => self::guide($show->id, $surface)] : [],
                ],
            );
        }
        $sets = Schema::propertySets();
        // How long the timelines are that media show: few shows have any, and no clip is looked at for them then.
        $inner = array_map(
            static fn (MediaItem $item): ?int => $show->programme->timelines[$item->timeline]->duration ?? null,
            array_filter($show->library->media, static fn (MediaItem $item): bool => $item->timeline !== null),
        );
        foreach ($show->programme->timelines as $id => $timeline) {
            $solo = array_values(
                array_map(
                    static fn (Layer $layer): string => $layer->id,
                    array_filter(
                        $timeline->layers,
                        static fn (Layer $layer): bool => isset($layer->stored['solo']) || isset($layer->curves['solo']),
                    ),
                ),
            );
            $this->part(
                "timeline:$id",
                [$timeline->name, $timeline->order, $timeline->duration, $solo],
                static fn (): array => [
                    'name' => $timeline->name,
                    'order' => $timeline->order,
                    'duration' => $timeline->duration,
                ] + ($solo === [] ? [] : ['solo' => $solo]),
            );
            $this->values('timeline', $id, $sets['timeline'], $timeline->stored, $timeline->curves);
            foreach ($timeline->layers as $layer) {
                $this->once(
                    "layer $layer->id",
                    [
                        $layer,
                        $show->programme->ways($layer),
                        $show->programme->sources($layer),
                        $show->programme->masks($layer),
                        $show->library,
                        $show->venue,
                        self::effects($show, $layer),
                        $inner === []
                            ? []
                            : array_map(static fn (ClipUse $use): ?int => $inner[$use->media] ?? null, $layer->clips),
                    ],
                    fn () => $this->layer($show, $layer, $sets),
                );
            }
        }
        // What is heard of timelines within others asks for the speeds of all layers: after those.
        $speeds = array_filter(
            array_map(
                static fn (MediaItem $item): mixed => $show->programme->curves[$item->id]['speed'] ?? null,
                $show->library->media,
            ),
        );
        foreach ($show->programme->layers() as $layer) {
            $this->once(
                "sound $layer->id",
                [$layer, $show->library, $speeds, $inner === [] ? null : $show->programme],
                fn () => $this->sound($show, $layer),
            );
        }
        foreach ($show->library->media as $id => $item) {
            if ($item->pattern !== null) {
                $this->values('media', $id, $sets['media'], $item->stored, $show->programme->curves[$id] ?? []);
            }
        }
        foreach ($show->programme->routes as $id => $route) {
            $curves = array_intersect_key(
                $show->programme->curves,
                array_fill_keys(
                    [
                        $id,
                        ...array_map(static fn (Share|VirtualLens $part): string => $part->id, [
                            ...$route->shares,
                            ...$route->lenses,
                        ]),
                    ],
                    true,
                ),
            );
            $this->once("route $id", [$route, $curves], fn () => $this->route($route, $curves, $sets));
        }
        foreach ($show->delivery->outputs as $id => $output) {
            $this->part("output:$id", [$output], static fn (): array => self::output($output));
            foreach ($show->delivery->regions[$id] as $regionId => $region) {
                $this->part("delivery:$regionId", [$id, $region], static fn (): array => self::delivery($id, $region));
                if (! $region->isPlain()) {
                    $this->track(
                        "delivery:$regionId/mesh",
                        [$region],
                        fn (): DeliveryMesh => DeliveryMesh::of($region, $this->computed($region)?->warp),
                    );
                }
                if ($region->model !== '') {
                    $this->track(
                        "delivery:$regionId/blend",
                        [$region->model],
                        fn (): ?BlendMap => $this->computed($region)?->blend,
                    );
                    $this->track(
                        "delivery:$regionId/lift",
                        [$region->model],
                        fn (): ?BlendMap => $this->computed($region)?->lift,
                    );
                }
                $this->read = null;
            }
        }
        foreach ($show->delivery->masks as $on => $masks) {
            foreach ($masks as $maskId => $mask) {
                $painted = $mask->image !== '';
                $this->part(
                    "mask:$maskId",
                    [$on, $mask],
                    static fn (): array => [
                        'on' => $on,
                        'line' => $painted ? [] : array_merge(...$mask->line()),
                        'feather' => $mask->feather,
                        'inverted' => $mask->inverted,
                    ] + ($painted ? ['painted' => true] : []),
                );
                if ($painted) {
                    $raster = $show->delivery->rasterOf((string) $on, $show->venue);
                    $this->track(
                        "mask:$maskId/image",
                        [$mask->image, $raster],
                        fn (): ?BlendMap => MaskShape::image($mask, $raster, $this->kept),
                    );
                }
            }
        }
        foreach ($show->delivery->nodes as $nodeId => $node) {
            $this->part("node:$nodeId", [$node], static fn (): array => get_object_vars($node));
        }
        foreach ($show->delivery->patches as $patchId => $patch) {
            $light = $show->venue->surfaces[$patch->surface]->carrier;
            $type = $light->fixture();
            if ($patch->node !== null && isset($show->delivery->nodes[$patch->node]) && $type !== null) {
                $this->part(
                    "light:$patchId",
                    [$patch, $light],
                    static fn (): array => ['type' => $type->toArray(), 'fineness' => $light->oversampling()] +
                        $patch->toArray(),
                );
                $this->values(
                    'patch',
                    (string) $patchId,
                    $sets['patch'],
                    $patch->stored,
                    $show->programme->curves[$patchId] ?? [],
                );
            }
        }
        foreach ($show->delivery->controls as $controlId => $control) {
            $layer = $show->programme->layer($control->layer);
            $media = match (true) {
                $layer === null => [],
                $control->personality->has('mask media') => $show->programme->masks($layer) +
                    $show->programme->sources($layer),
                $control->personality->callsMedia() => $show->programme->sources($layer),
                default => [],
            };
            $effects = array_slice(self::chain($show, $control->layer), 0, $control->personality->effectSlots());
            $this->part(
                "control:$controlId",
                [$control, $media, $effects, $show->library],
                static fn (): array => self::control($control, $media, $show->library) +
                    ($effects === [] ? [] : ['effects' => $effects]),
            );
        }
        $this->groups = array_intersect_key($this->groups, $this->asked);
        // In one go: an array that is a property is copied each time that something is added to it.
        $met = array_replace($this->met, ...array_column($this->groups, 1));
        $goneParts = array_diff_key($this->parts, $met);
        $goneTracks = array_diff_key($this->tracks, $met);
        $this->parts = $goneParts === [] ? $this->parts : array_diff_key($this->parts, $goneParts);
        $this->tracks = $goneTracks === [] ? $this->tracks : array_diff_key($this->tracks, $goneTracks);
        $lost = array_filter($goneTracks, static fn (array $made): bool => $made[1] !== null);

        return new Bundle(
            $show->id,
            $revision,
            $this->changedParts + array_fill_keys(array_keys($goneParts), null),
            $this->changedTracks + array_fill_keys(array_keys($lost), null),
        );
    }

    public function plan(): Plan
    {
        return new Plan(
            array_map(static fn (array $made): array => $made[1], $this->parts),
            array_filter(
                array_map(
                    static fn (array $made): Track|MediaTrack|SurfaceMesh|DeliveryMesh|BlendMap|null => $made[1],
                    $this->tracks,
                ),
            ),
        );
    }

    /**
     * @param  array<int, string>  $media  ids by the number of their reference
     * @return array<string, mixed>
     */
    private static function control(LayerControl $control, array $media, Library $library): array
    {
        $called = [];
        foreach ($media as $reference => $id) {
            $number = $library->media[$id]->number ?? null;
            $number !== null && ($called[(string) $number->place()] = $reference);
        }

        return [
            'layer' => $control->layer,
            'personality' => ['name' => $control->personality->name, 'parts' => $control->personality->text()],
            'media' => (object) $called,
        ] + array_diff_key(get_object_vars($control), ['layer' => 0, 'personality' => 0]);
    }

    /** @return array<string, mixed> */
    private static function output(Output $output): array
    {
        $light = array_map(static fn (float $gain): float => $gain * $output->peak, $output->gain);

        return [
            'name' => $output->name,
            'width' => $output->width,
            'height' => $output->height,
            'refresh' => $output->refresh,
        ] +
            ($output->delay > 0 ? ['delay' => (int) round(($output->delay * Flicks::PER_SECOND) / 1000)] : []) +
            ($light === [1.0, 1.0, 1.0] && $output->black === 0.0
                ? []
                : ['light' => $light, 'black' => $output->black]) +
            ($output->gamma === 2.2 ? [] : ['gamma' => $output->gamma]);
    }

    /** @return array<string, mixed> */
    private static function delivery(string $output, Region $region): array
    {
        $blend = $region->blend;

        return [
            'output' => $output,
            'surface' => $region->surface,
            'source' => [$region->source->x, $region->source->y, $region->source->width, $region->source->height],
            'place' => [$region->place->x, $region->place->y],
        ] +
            ($region->isPlain() ? [] : ['mesh' => true]) +
            ($region->model === '' || $region->pin === [] ? [] : ['unpin' => $region->unpinned()->m]) +
            ($blend->fades() && $region->model === '' ? ['blend' => $blend->widths, 'curve' => $blend->curve] : []);
    }

    /** What was computed of a region; null where it is gone, or there is none. */
    private function computed(Region $region): ?ComputedWarp
    {
        if ($region->model === '' || $this->kept === null) {
            return null;
        }
        if ($this->read === null || $this->read[0] !== $region->model) {
            $bytes = ($this->kept)($region->model);
            try {
                $this->read = [$region->model, $bytes === null ? null : ComputedWarp::fromBytes($bytes)];
            } catch (\UnexpectedValueException) {
                $this->read = [$region->model, null];
            }
        }

        return $this->read[1];
    }

    /**
     * What belongs together and depends on the same things is made at once, and passed over while they are the same.
     *
     * @param  list<mixed>  $madeOf
     * @param  \Closure(): void  $make
     */
    private function once(string $group, array $madeOf, \Closure $make): void
    {
        $this->asked[$group] = true;
        if (($this->groups[$group][0] ?? null) !== $madeOf) {
            $before = $this->met;
            $this->met = [];
            $make();
            $this->groups[$group] = [$madeOf, $this->met];
            $this->met = $before;
        }
    }

    /**
     * The values of a route, its shares and lenses.
     *
     * @param  array<string, array<string, StoredCurve>>  $curves  by id and value
     * @param  array<string, PropertySet>  $sets  by kind
     */
    private function route(Route $route, array $curves, array $sets): void
    {
        foreach ($route->parts() as $part) {
            $this->values($part->kind, $part->id, $sets[$part->kind], $part->stored, $curves[$part->id] ?? []);
        }
    }

    /** @param  array<string, PropertySet>  $sets  by kind */
    private function layer(Show $show, Layer $layer, array $sets): void
    {
        $ways = $show->programme->ways($layer);
        $others = array_values(array_diff(array_keys($ways), [0]));
        $nested = self::nested($show, $layer);
        $this->part(
            "layer:$layer->id",
            [$layer->timeline, $layer->order, $others, $nested],
            static fn (): array => ['timeline' => $layer->timeline, 'order' => $layer->order] +
                ($others === [] ? [] : ['routes' => $others]) +
                ($nested === [] ? [] : ['nested' => $nested]),
        );
        $this->values('layer', $layer->id, $sets['layer'], $layer->stored, $layer->curves);
        foreach (self::effects($show, $layer) as [$effect, $curves]) {
            $this->values('effect', $effect->id, $sets['effect'], $effect->stored, $curves);
        }
        $media = array_map(static fn ($use): MediaItem => $show->library->media[$use->media], $layer->clips);
        $rate = $show->rate->flicksPerFrame;
        $deepest = max(2, MediaTrack::deepest(array_column($layer->clips, 'clip')));
        for ($depth = 0; $depth < $deepest; $depth++) {
            $name = MediaTrack::nameAt($depth);
            // A timeline has the show's frames, as many as it lasts.
            $lasting = array_map(
                static fn (MediaItem $item): int => intdiv(
                    $show->programme->timelines[$item->timeline ?? '']->duration ?? 0,
                    $rate,
                ),
                $media,
            );
            $speed = SpeedRamp::heeded($this->speed($layer));
            $this->track(
                "layer:$layer->id/$name",
                [$layer->clips, $media, $rate, $lasting, $speed],
                static function () use ($layer, $media, $rate, $depth, $lasting, $speed): ?MediaTrack {
                    $track =
                        $layer->clips === []
                            ? null
                            : MediaTrack::ofClips(
                                array_map(
                                    static fn (ClipUse $use, MediaItem $item, int $frames): array => match (true) {
                                        $item->timeline !== null => [$use->clip, $rate, max(1, $frames)],
                                        $item->pattern?->moves() === true => [
                                            $use->clip,
                                            $rate,
                                            $use->clip->isBackwards() ? self::BACKWARDS : self::ENDLESS,
                                        ],
                                        default => [$use->clip, $item->flicksPerFrame, $item->frames],
                                    },
                                    $layer->clips,
                                    $media,
                                    $lasting,
                                ),
                                $depth,
                                $speed,
                                $rate,
                            );

                    return $depth > 0 &&
                        $track !== null &&
                        array_filter($track->segments, static fn (array $segment): bool => $segment[2] >= 0) === []
                        ? null
                        : $track;
                },
            );
        }
        foreach ($ways as $number => $route) {
            $this->contributions($show, $layer, $media, $route, $number);
        }
    }

    /**
     * @return list<array{EffectUse, array<string, StoredCurve>}> those of a layer and of its clips, with their curves
     */
    private static function effects(Show $show, Layer $layer): array
    {
        $programme = $show->programme;

        return array_map(
            static fn (EffectUse $use): array => [$use, $programme->curves[$use->id] ?? []],
            array_merge(
                $programme->effects($layer->id),
                ...array_map(static fn (ClipUse $use): array => $programme->effects($use->id), $layer->clips),
            ),
        );
    }

    /** @return list<string> ids of the effects of a layer or a clip */
    private static function chain(Show $show, string $on): array
    {
        return array_column($show->programme->effects($on), 'id');
    }

    /**
     * @return list<array{timeline?: string, fade?: array{int, int, int, int}}> of each clip, where one of them shows
     *     another timeline
     */
    private static function nested(Show $show, Layer $layer): array
    {
        $timelines = array_map(
            static fn (ClipUse $use): ?string => isset(
                $show->programme->timelines[$show->library->media[$use->media]->timeline ?? ''],
            )
                ? $show->library->media[$use->media]->timeline
                : null,
            $layer->clips,
        );

        return array_filter($timelines) === []
            ? []
            : array_map(
                static fn (ClipUse $use, ?string $timeline, int $crossfade): array => ($timeline === null
                    ? []
                    : ['timeline' => $timeline]) + self::faded($use, $crossfade),
                $layer->clips,
                $timelines,
                MediaTrack::crossfades(array_column($layer->clips, 'clip')),
            );
    }

    /** @return array{fade?: array{int, int, int, int}} */
    private static function faded(ClipUse $use, int $crossfade): array
    {
        $fade = $use->clip->fade($crossfade);

        return $fade[1] === 0 && $fade[3] === 0 ? [] : ['fade' => $fade];
    }

    /** What is heard of a layer, where any of its clips has a sound, or shows a timeline that may. */
    private function sound(Show $show, Layer $layer): void
    {
        $compiler = new SoundCompiler($show, $this->speed(...));
        if (! $compiler->sounds($layer)) {
            return;
        }
        $clips = $compiler->of($layer);
        $this->part(
            "sound:$layer->id",
            [$layer->timeline, $clips],
            static fn (): array => ['layer' => $layer->id, 'timeline' => $layer->timeline, 'clips' => $clips],
        );
    }

    /** The speed of a layer over show time; 1 where it has a row that holds no curve, which preflight tells. */
    private function speed(Layer $layer): Track
    {
        $track = $this->tracks["layer:$layer->id/speed"][1] ?? null;

        return $track instanceof Track ? $track : Track::constant(1.0);
    }

    /**
     * What a layer shows by one of the routes that it takes.
     *
     * @param  list<MediaItem>  $media  of its clips
     * @param  int  $number  of the route where it is not its own
     */
    private function contributions(Show $show, Layer $layer, array $media, Route $route, int $number): void
    {
        $frames = self::frames($route, $show->venue);
        $occluded =
            array_filter(
                $route->lenses,
                static fn (VirtualLens $lens): bool => $lens->isOccluded() ||
                    isset($show->programme->curves[$lens->id]['occlusion']),
            ) !== [];
        $stock = array_map(
            static fn (string $id): MediaItem => $show->library->media[$id],
            $show->programme->sources($layer),
        );
        // A timeline is no picture to cut out by.
        $masks = array_filter(
            array_map(static fn (string $id): MediaItem => $show->library->media[$id], $show->programme->masks($layer)),
            static fn (MediaItem $item): bool => $item->timeline === null,
        );
        $chain = self::chain($show, $layer->id);
        $chains = array_map(static fn (ClipUse $use): array => self::chain($show, $use->id), $layer->clips);
        foreach (Programme::reached($route, $show->venue) as $surface) {
            if ($route->reach->isThrown()) {
                $world = $show->venue->world($surface->id);
                if ($occluded) {
                    $this->track(
                        'venue/solids',
                        [$show->venue],
                        static fn (): SurfaceMesh => SurfaceMesh::solids($show->venue->solids()),
                    );
                }
                $round = SurfaceMesh::round($surface);
                if ($round !== null) {
                    $this->part(
                        "round:$surface->id",
                        [$surface, $world->m],
                        static fn (): array => $round->moved($world)->toArray(),
                    );
                }
                $this->track(
                    "surface:$surface->id/mesh",
                    [$surface, $world->m],
                    static fn (): SurfaceMesh => SurfaceMesh::of($surface, $world),
                );
            }
            $made = [
                $layer->clips,
                $media,
                $chain,
                $chains,
                $stock,
                $masks,
                $show->rate->flicksPerFrame,
                $layer->fit,
                ...$route->toward($surface->id, $layer->part),
                $surface,
                $frames,
            ];
            $this->part(
                "contribution:$layer->id@$surface->id".($number === 0 ? '' : " $number"),
                $made,
                static fn (): array => [
                    'layer' => $layer->id,
                    'surface' => $surface->id,
                    ...$number === 0 ? [] : ['by' => $number],
                    'clips' => array_map(
                        static fn (ClipUse $use, MediaItem $item, int $fade, array $chain): array => self::clip(
                            $use,
                            $item,
                            $route,
                            $surface,
                            $layer,
                            $fade,
                            $chain,
                        ),
                        $layer->clips,
                        $media,
                        MediaTrack::crossfades(array_column($layer->clips, 'clip')),
                        $chains,
                    ),
                ] +
                    ($chain === [] ? [] : ['effects' => $chain]) +
                    ($stock === []
                        ? []
                        : [
                            'stock' => array_map(
                                static fn (MediaItem $item, int $number): array => self::called(
                                    $item,
                                    $number,
                                    $route,
                                    $surface,
                                    $layer,
                                    $show->rate->flicksPerFrame,
                                ),
                                $stock,
                                array_keys($stock),
                            ),
                        ]) +
                    ($masks === []
                        ? []
                        : [
                            'masks' => array_map(
                                static fn (MediaItem $item, int $number): array => self::numbered(
                                    $item,
                                    $number,
                                    $route,
                                    $surface,
                                    $layer,
                                    $show->rate->flicksPerFrame,
                                ),
                                $masks,
                                array_keys($masks),
                            ),
                        ]) +
                    ($route->hasPane() ? ['route' => $route->id, 'pane' => $route->pane($surface)] : []) +
                    $route->reach->strategy()->contribution($route, $surface, $frames),
            );
            $room = self::whole($route->room($surface, $layer->part));
            foreach ([...$media, ...array_values($stock), ...array_values($masks)] as $item) {
                if ($item->timeline !== null) {
                    continue;
                }
                $instead = $item->standIn === null ? null : $show->library->media[$item->standIn] ?? null;
                $this->part(
                    'media:'.self::mediaKey($item, $surface, $room),
                    [$item, $instead, $surface, $room],
                    static fn (): array => self::media($item, $room, $surface->name) +
                        ($instead === null || $instead->kind === 'input'
                            ? []
                            : ['standIn' => self::media($instead, $room, $surface->name)]),
                );
            }
        }
    }

    /** @return array<string, list<float>> the venue into what a thrown route's poses are given in, by lens or route */
    private static function frames(Route $route, Venue $venue): array
    {
        $frames = [];
        foreach ($route->parts() as $part) {
            if ($part->posed) {
                $frames[$part->id] =
                    $part->rig === null || ! isset($venue->rigs[$part->rig])
                        ? Mat4::identity()->m
                        : $venue->world($part->rig)->rigidInverse()->m;
            }
        }

        return $frames;
    }

    /**
     * @param  array{float, float, float, float}  $room
     * @return array{int, int} its size in whole pixels
     */
    private static function whole(array $room): array
    {
        return [max(1, (int) round($room[2])), max(1, (int) round($room[3]))];
    }

    /**
     * @param  list<string>  $chain  ids of its effects
     * @return array<string, mixed>
     */
    private static function clip(
        ClipUse $use,
        MediaItem $item,
        Route $route,
        Surface $surface,
        Layer $layer,
        int $crossfade,
        array $chain,
    ): array {
        // What shows another timeline is drawn where the layers of that go.
        $placement = $item->timeline !== null ? null : $route->place($item, $surface, $use->fit($layer), $layer->part);

        return self::faded($use, $crossfade) + [
            'id' => $use->id,
            'media' => self::mediaKey($item, $surface, self::whole($route->room($surface, $layer->part))),
            'fit' => $placement?->matrix()->m,
        ] +
            ($chain === [] ? [] : ['effects' => $chain]);
    }

    /**
     * @return array<string, mixed> what is shown of a media that is called in place of a layer's clips: it runs from
     *     that moment on, again and again
     */
    private static function called(
        MediaItem $item,
        int $number,
        Route $route,
        Surface $surface,
        Layer $layer,
        int $rate,
    ): array {
        return self::numbered($item, $number, $route, $surface, $layer, $rate) + [
            'fit' => $route->place($item, $surface, $layer->fit, $layer->part)?->matrix()->m,
        ];
    }

    /**
     * @return array{number: int, media: string, frames: int, flicks: int} a media that is named by its number, and
     *     how it runs
     */
    private static function numbered(
        MediaItem $item,
        int $number,
        Route $route,
        Surface $surface,
        Layer $layer,
        int $rate,
    ): array {
        $moves = $item->pattern?->moves() === true;

        return [
            'number' => $number,
            'media' => self::mediaKey($item, $surface, self::whole($route->room($surface, $layer->part))),
            'frames' => $moves ? self::BACKWARDS : $item->frames,
            'flicks' => $moves ? $rate : $item->flicksPerFrame,
        ];
    }

    /**
     * @param  array<string, non-empty-list<float>>  $stored
     * @param  array<string, StoredCurve>  $curves
     */
    private function values(string $kind, string $id, PropertySet $set, array $stored, array $curves): void
    {
        foreach ($set->properties as $name => $property) {
            foreach (array_keys($property->slots) as $slot) {
                $curve = $curves[Address::valueOf($name, $slot)] ?? null;
                if ($curve === null && ! isset($stored[$name][$slot])) {
                    // It rests, as most do: nothing is kept of it.
                    continue;
                }
                $value = $stored[$name][$slot] ?? $property->default;
                $this->track((string) Address::of($kind, $id, $name, $slot), [$value, $curve], function () use (
                    $curve,
                    $value,
                    $property,
                ): ?Track {
                    try {
                        return $curve !== null
                            ? $this->compiler->compile($curve->curve(), $property)
                            : ($value === $property->default
                                ? null
                                : Track::constant($value));
                    } catch (InvalidValue) {
                        // A row that holds no curve is told by preflight; the value rests.
                        return Track::constant($value);
                    }
                });
            }
        }
    }

    /**
     * @param  list<mixed>  $madeOf
     * @param  \Closure(): array<string, mixed>  $make
     */
    private function part(string $name, array $madeOf, \Closure $make): void
    {
        $this->met[$name] = true;
        $old = $this->parts[$name] ?? null;
        if ($old !== null && $old[0] === $madeOf) {
            return;
        }
        $part = $make();
        $this->parts[$name] = [$madeOf, $part];
        if ($old === null || $old[1] !== $part) {
            $this->changedParts[$name] = $part;
        }
    }

    /**
     * @param  list<mixed>  $madeOf
     * @param  \Closure(): (Track|MediaTrack|SurfaceMesh|DeliveryMesh|BlendMap|null)  $make
     */
    private function track(string $name, array $madeOf, \Closure $make): void
    {
        $this->met[$name] = true;
        $old = $this->tracks[$name] ?? null;
        if ($old !== null && $old[0] === $madeOf) {
            return;
        }
        $track = $make();
        $this->tracks[$name] = [$madeOf, $track];
        if ($old === null ? $track !== null : $old[1] != $track) {
            $this->changedTracks[$name] = $track;
        }
    }

    /**
     * A pattern that takes the size of its room is another picture in each.
     *
     * @param  array{int, int}  $room  pixels
     */
    private static function mediaKey(MediaItem $item, Surface $surface, array $room): string
    {
        return match (true) {
            ! in_array($item->kind, ['testcard', 'pattern'], true) || $item->width !== 0 => $item->id,
            $room === [$surface->width(), $surface->height()] => "$item->id@$surface->id",
            default => "$item->id@$room[0]x$room[1]",
        };
    }

    /**
     * @param  array{int, int}  $room  pixels of the pane, or of the part of it, that it is fitted into
     * @return array<string, mixed>
     */
    private static function media(MediaItem $item, array $room, string $surface): array
    {
        [$width, $height] = $item->contentSize($room);
        // A pattern as large as a canvas is made smaller, in its shape: players draw it as large as it is asked for.
        $smaller = min(1, self::LARGEST_PATTERN / max(1, $width, $height));
        [$width, $height] = [max(1, (int) round($width * $smaller)), max(1, (int) round($height * $smaller))];
        $card = $item->width === 0 ? $surface : $item->name;

        return match (true) {
            $item->kind === 'solid' => ['kind' => 'solid', 'name' => $item->name, 'colour' => $item->colour],
            $item->pattern !== null => [
                'kind' => 'pattern',
                'name' => $item->name,
                'media' => $item->id,
                'pattern' => $item->pattern->number(),
                ...array_combine(['width', 'height'], $item->contentSize($room)),
                ...$item->text === null
                    ? []
                    : ['text' => [$item->text->columns, $item->text->rows, ...$item->text->numbers()]],
            ],
            $item->kind === 'testcard' => [
                'kind' => 'still',
                'name' => $item->name,
                'width' => $width,
                'height' => $height,
                'card' => $card,
                'url' => '/api/patterns/testcard.png?'.
                    http_build_query(['width' => $width, 'height' => $height, 'name' => $card]),
            ],
            $item->trouble() !== null => ['kind' => 'none', 'name' => $item->name, 'why' => $item->trouble()],
            default => [
                'name' => $item->name,
                'shownWidth' => $item->width,
                'shownHeight' => $item->height,
                'frames' => $item->frames,
            ] + array_diff_key($item->form, self::NOT_PLAYED),
        };
    }
}
