<?php

declare(strict_types=1);

namespace Core\Preflight;

use Core\Light\Beam;
use Core\Media\MediaItem;
use Core\Output\FedProjector;
use Core\Output\Region;
use Core\PixelMap\Universes;
use Core\Routing\BestPane;
use Core\Routing\Route;
use Core\Routing\Share;
use Core\Routing\VirtualLens;
use Core\Show\ResultCache;
use Core\Show\Show;
use Core\Timeline\MediaTrack;
use Core\Timeline\SoundClip;
use Core\Timeline\SpeedRamp;
use Core\Venue\Camera;
use Core\Venue\Surface;
use Core\Venue\WallFigures;

/**
 * What the core makes of a show for people to read: figures of surfaces, cameras and media, where pictures land, and
 * findings, each under a key of what it belongs to, so that only what changed has to be told.
 */
final class Figures
{
    /** Times at which a clip whose speed moves runs out or turns that are told. */
    private const TURNS = 400;

    /**
     * @return array{flicksPerFrame: int, surfaces: array<string, array<string, mixed>>, totals: array{litPixels: int, areaSquareMetres: float, kilograms: float, wattsAverage: float, wattsMaximum: float, lumens: float}, cameras: array<string, array<string, mixed>>, placements: array<string, array<string, mixed>>, routes: array<string, array<string, mixed>>, budgets: array<string, list<array<string, mixed>>>, outputs: array<string, array<string, mixed>>, regions: array<string, array<string, mixed>>, points: array<string, array<string, mixed>>, patches: array<string, array<string, mixed>>, personalities: array<string, array{slots: int, effects: int, channels: list<array<string, mixed>>}>, media: array<string, array{clips: int, outputs: list<string>}>, clips: array<string, array{pass: int, first: int}>, findings: array<string, list<array<string, string>>>}
     *   placements by "layer surface media", findings by "kind id"
     */
    public static function of(Show $show, ResultCache $cache = new ResultCache()): array
    {
        $placements = [];
        foreach ($show->programme->layers() as $layer) {
            $placed = Placements::of($show, $layer, $cache);
            $placements += $cache->get(
                "told $layer->id",
                [$placed],
                static fn (): array => self::placements($layer->id, $placed),
            );
        }
        $findings = [];
        foreach (Preflight::of($show, $cache) as $finding) {
            $findings["$finding->kind $finding->id"][] = get_object_vars($finding);
        }
        $cache->end();

        return [
            'flicksPerFrame' => $show->rate->flicksPerFrame,
            'surfaces' => array_map(
                static fn (Surface $surface): array => $cache->get(
                    "figures $surface->id",
                    [$surface],
                    static fn (): array => self::surface($surface, self::wall($surface, $cache)),
                ),
                $show->venue->surfaces,
            ),
            'totals' => self::totals($show, $cache),
            'cameras' => self::cameras($show, $cache),
            'placements' => $placements,
            'routes' => self::routes($show, $cache),
            'budgets' => array_map(
                static fn (array $lines): array => array_map(
                    static fn (Budget $budget, string $line): array => ['timeline' => $line] + get_object_vars($budget),
                    array_values($lines),
                    array_keys($lines),
                ),
                Budget::all($show, $cache),
            ),
            'outputs' => self::outputs($show, $cache),
            'regions' => self::regions($show, $cache),
            'points' => self::points($show),
            'patches' => self::patches($show, $cache),
            'personalities' => self::personalities($show, $cache),
            'media' => self::media($show, $cache),
            'clips' => self::clips($show, $cache),
            'findings' => $findings,
        ];
    }

    /**
     * What all of the venue comes to: lit pixels and area, weight and power of its walls, light of its projectors.
     *
     * @return array{litPixels: int, areaSquareMetres: float, kilograms: float, wattsAverage: float, wattsMaximum: float, lumens: float}
     */
    private static function totals(Show $show, ResultCache $cache): array
    {
        $totals = [
            'litPixels' => 0,
            'areaSquareMetres' => 0.0,
            'kilograms' => 0.0,
            'wattsAverage' => 0.0,
            'wattsMaximum' => 0.0,
            'lumens' => 0.0,
        ];
        foreach ($show->venue->surfaces as $surface) {
            $wall = self::wall($surface, $cache);
            if ($wall !== null) {
                $totals['litPixels'] += $wall->litPixels;
                $totals['areaSquareMetres'] += $wall->areaSquareMetres;
                $totals['kilograms'] += $wall->kilograms;
                $totals['wattsAverage'] += $wall->wattsAverage;
                $totals['wattsMaximum'] += $wall->wattsMaximum;
            }
        }
        foreach ($show->venue->projectors as $projector) {
            $totals['lumens'] += $projector->lumens;
        }

        return $totals;
    }

    /** @return array<string, array{slots: int, effects: int, channels: list<array<string, mixed>>}> */
    private static function personalities(Show $show, ResultCache $cache): array
    {
        $told = [];
        foreach ($show->delivery->personalities as $id => $one) {
            $told[$id] = $cache->get(
                "personality $id",
                [$one],
                static fn (): array => [
                    'slots' => $one->slots(),
                    'effects' => $one->effectSlots(),
                    'channels' => $one->channels(),
                ],
            );
        }

        return $told;
    }

    /**
     * @param  list<PlacedUse>  $placed
     * @return array<string, array<string, mixed>>
     */
    private static function placements(string $layer, array $placed): array
    {
        $told = [];
        foreach ($placed as $use) {
            [$surface, $media, $fit] = [$use->surface->id, $use->item->id, $use->fit];
            $key = "$layer $surface $media";
            // A media whose clips are fitted in several ways is told once for each.
            for ($n = 2; isset($told[$key]); $n++) {
                $key = "$layer $surface $media $n";
            }
            $told[$key] = [
                'layer' => $layer,
                'surface' => $surface,
                'media' => $media,
                'fitting' => $fit->fitting->value,
                'content' => $use->content,
                'pane' => $use->pane,
                'placement' => $use->placement === null ? null : get_object_vars($use->placement),
                'landing' => $use->landing === null
                        ? null
                        : get_object_vars($use->landing) + [
                            'squash' => is_finite($use->landing->squash()) ? $use->landing->squash() : 0.0,
                            'pixelForPixel' => $use->landing->isPixelForPixel(),
                        ],
                'squashed' => $use->isSquashed(),
                'remarks' => $use->remarks(),
            ];
        }

        return $told;
    }

    /**
     * @return array<string, array<string, mixed>> by output: how it is sent, what its connector carries, and how much
     *     of its raster is used
     */
    private static function outputs(Show $show, ResultCache $cache): array
    {
        $told = [];
        foreach ($show->delivery->outputs as $id => $output) {
            $regions = $show->delivery->regions[$id];
            $told[$id] = $cache->get("output $id", [$output, $regions], static function () use (
                $output,
                $regions,
            ): array {
                $timing = $output->sent();
                $used = array_sum(
                    array_map(static fn (Region $r): int => $r->place->width * $r->place->height, $regions),
                );

                return [
                    'timing' => $timing === null
                            ? null
                            : [
                                'rule' => $timing->inWords(),
                                'width' => $timing->totalWidth,
                                'height' => $timing->totalHeight,
                                'clock' => $timing->clock,
                                'refresh' => $timing->refresh,
                                'rate' => $output->connector->rate($timing, $output->bitDepth),
                            ],
                    'limit' => $output->connector->limit(),
                    'connector' => $output->connector->label(),
                    'used' => $used / ($output->width * $output->height),
                ];
            });
        }

        return $told;
    }

    /**
     * @return array<string, array<string, mixed>> by region: its place, the corners where they are pinned, its
     *     lattice where it is bent, and what it feeds
     */
    private static function regions(Show $show, ResultCache $cache): array
    {
        $told = [];
        foreach ($show->delivery->regions as $output => $regions) {
            foreach ($regions as $id => $region) {
                $feed = $show->delivery->feedOf((string) $output, $region);
                $told[$id] = $cache->get(
                    "region $id",
                    [$region, $feed],
                    static fn (): array => [
                        'place' => [
                            $region->place->x,
                            $region->place->y,
                            $region->place->width,
                            $region->place->height,
                        ],
                        'corners' => $region->corners(),
                        'oneToOne' => $region->isOneToOne(),
                        'warped' => $region->isWarped(),
                        'lattice' => self::lattice($region),
                        'feed' => $feed?->name,
                        'projector' => $feed?->projector,
                    ],
                );
            }
        }

        return $told;
    }

    /**
     * @return array<string, array<string, mixed>> by patch: how many pixels, channels and universes it takes, where
     *     it begins and ends as the protocol counts it, and what is left over
     */
    private static function patches(Show $show, ResultCache $cache): array
    {
        $told = [];
        foreach ($show->delivery->patches as $id => $patch) {
            $type = $show->venue->surfaces[$patch->surface]->carrier->fixture();
            $protocol = $show->delivery->protocolOf($patch);
            if ($type !== null) {
                $told[$id] = $cache->get("patch $id", [$patch, $type, $protocol], static function () use (
                    $patch,
                    $type,
                    $protocol,
                ): array {
                    $addressing = $patch->addressing($type);
                    $counts = $addressing->pixelsByUniverse();

                    return [
                        'pixels' => count($addressing->order),
                        'channels' => count($addressing->order) * count($patch->channelsOf($type)) * $addressing->slots +
                            $addressing->header[1],
                        'universes' => $addressing->universes(),
                        'from' => Universes::inWords($protocol, $addressing->universe),
                        'to' => Universes::inWords($protocol, $addressing->lastUniverse()),
                        'lastUniverse' => $addressing->lastUniverse(),
                        'lastChannel' => $addressing->lastChannel(),
                        'pixelsByUniverse' => array_map(
                            static fn (int $universe, int $count): array => [$universe, $count],
                            array_keys($counts),
                            $counts,
                        ),
                        'left' => $addressing->left,
                    ];
                });
            }
        }

        return $told;
    }

    /**
     * @return array<string, array<string, mixed>> by alignment point: where it is expected on the output, and where
     *     it was found there; null where its projector is fed by none, or it lies behind that
     */
    private static function points(Show $show): array
    {
        $told = [];
        foreach ($show->delivery->points as $id => $point) {
            $part = $show->delivery->partOf($point->projector);
            $fed =
                $part === null
                    ? null
                    : new FedProjector(
                        $part,
                        new Beam(
                            $point->projector,
                            $show->venue->projectors[$point->projector],
                            $show->venue->world($point->projector),
                        ),
                    );
            $at = $fed?->pixel(...$point->place);
            $told[$id] = [
                'expected' => $at === null ? null : [$at[0] / $at[2], $at[1] / $at[2]],
                'found' => $fed === null || $point->pixel === null ? null : $fed->onOutput(...$point->pixel),
            ];
        }

        return $told;
    }

    /**
     * @return list<array{float, float}> where the points of a region's warp are on the output; none where it is not
     *     bent
     */
    private static function lattice(Region $region): array
    {
        $pinned = $region->pinned();

        return array_map(static fn (array $p): array => $pinned->point($p[0], $p[1]), $region->lines->points ?? []);
    }

    /**
     * @return array<string, array<string, mixed>> by route: the surfaces that it reaches, panes that would suit them,
     *     and where it is thrown, what of each is reached and how densely
     */
    private static function routes(Show $show, ResultCache $cache): array
    {
        $told = [];
        foreach ($show->programme->routes as $id => $route) {
            $surfaces = array_values(
                array_filter(
                    array_map(
                        static fn (string $one): ?Surface => $show->venue->surfaces[$one] ?? null,
                        $route->surfaces(),
                    ),
                ),
            );
            $coverage = Coverages::of($show, $route, $cache);
            $told[$id] = $cache->get(
                "route $id",
                [$route, $surfaces, $coverage],
                static fn (): array => self::route($route, $surfaces, $coverage),
            );
        }

        return $told;
    }

    /**
     * @param  list<Surface>  $surfaces
     * @param  array<string, Coverage>  $coverage  by surface
     * @return array<string, mixed>
     */
    private static function route(Route $route, array $surfaces, array $coverage): array
    {
        $rasters = array_map(static fn (Surface $s): array => [$s->width(), $s->height()], $surfaces);
        $degrees =
            $surfaces === [] ? null : $route->reach->strategy()->degreesPerPixel($route, $route->pane($surfaces[0]));

        return [
            'surfaces' => array_map(static fn (Surface $s): string => $s->id, $surfaces),
            'largest' => BestPane::largest($rasters),
            'shapeOfMost' => BestPane::shapeOfMost($rasters),
            'coverage' => array_map(get_object_vars(...), $coverage),
            'perDegree' => $degrees === null ? null : 1 / max(...$degrees),
            'focals' => array_column(
                array_map(
                    static fn (VirtualLens $lens): array => [
                        $lens->id,
                        Camera::focalFor(
                            $lens->sensorWidth,
                            $lens->stored['angle'][0] ?? VirtualLens::properties()->named('angle')->default,
                        ),
                    ],
                    $route->lenses,
                ),
                1,
                0,
            ),
            'placedAs' => array_column(
                array_map(static fn (Share $share): array => [$share->id, $share->valuesOf()], $route->shares),
                1,
                0,
            ),
        ];
    }

    /**
     * @return array<string, array{clips: int, outputs: list<string>}> by media: how many clips use it, and the
     *     outputs that fetch it
     */
    private static function media(Show $show, ResultCache $cache): array
    {
        $clips = $show->programme->clipsByMedia();
        [$to, $outputs] = [Budget::outputsByLayer($show, $cache), []];
        foreach ($show->programme->layers() as $layer) {
            foreach ($layer->clips as $use) {
                $outputs[$use->media] = ($outputs[$use->media] ?? []) + $to[$layer->id];
            }
        }

        return array_map(
            static fn (MediaItem $item): array => [
                'clips' => $clips[$item->id] ?? 0,
                'outputs' => array_map(strval(...), array_keys($outputs[$item->id] ?? [])),
            ],
            $show->library->media,
        );
    }

    /**
     * @return array<string, array{pass: int, first: int, turns?: list<int>, heard?: list<array<string, mixed>>, over?: int}> by
     *     clip, of what has frames: how long
     *   one run of it takes, and when after its start it has run out, in flicks; where the speed of its layer moves,
     *   when it runs out or
     *   turns, and what is heard of it; and how long it takes to come out of the clip below it
     */
    private static function clips(Show $show, ResultCache $cache): array
    {
        $told = [];
        foreach ($show->programme->layers() as $layer) {
            $told += $cache->get(
                "clips $layer->id",
                [$layer->clips, $layer->curves['speed'] ?? ($layer->stored['speed'] ?? null), $show->library],
                static function () use ($layer, $show): array {
                    $passes = [];
                    $speed = $layer->speed();
                    $over = MediaTrack::crossfades(array_column($layer->clips, 'clip'));
                    foreach ($layer->clips as $i => $use) {
                        $item = $show->library->media[$use->media];
                        $ramp = SpeedRamp::of($use->clip, $speed, $show->rate->flicksPerFrame);
                        if ($item->frames > 1 && $item->pattern === null) {
                            $passes[$use->id] =
                                $use->clip->passes($item->flicksPerFrame, $item->frames) +
                                ($ramp === null
                                    ? []
                                    : ['turns' => $ramp->turns($item->flicksPerFrame, $item->frames, self::TURNS)]);
                        }
                        $sound = $ramp === null || $item->pattern !== null ? null : $item->sound();
                        if ($ramp !== null && $sound !== null) {
                            $heard = array_map(
                                static fn (SoundClip $one): array => $one->toArray(),
                                SoundClip::of(
                                    $use->clip,
                                    $sound['samples'],
                                    null,
                                    $item->isSound() ? null : [$item->flicksPerFrame, $item->frames],
                                )->ramped($ramp),
                            );
                            $passes[$use->id] = ($passes[$use->id] ?? ['pass' => 0, 'first' => $use->clip->length]) + [
                                'heard' => $heard,
                            ];
                        }
                        if ($over[$i] > 0) {
                            $passes[$use->id] = ($passes[$use->id] ?? ['pass' => 0, 'first' => $use->clip->length]) + [
                                'over' => $over[$i],
                            ];
                        }
                    }

                    return $passes;
                },
            );
        }

        return $told;
    }

    /**
     * @return array<string, array<string, mixed>> by camera: degrees taken in, metres that are sharp (farthest 0:
     *     without an end), and how each surface before it is seen
     */
    private static function cameras(Show $show, ResultCache $cache): array
    {
        $told = [];
        foreach ($show->venue->cameras as $id => $camera) {
            $shots = [];
            foreach (Shots::of($show, (string) $id, $cache) as $shot) {
                $shots[] = get_object_vars($shot);
            }
            $focus = $camera->depthOfField();
            $told[$id] = [
                'across' => $camera->angleAcross(),
                'down' => $camera->angleDown(),
                'near' => $focus->near,
                'far' => is_finite($focus->far) ? $focus->far : 0.0,
                'hyperfocal' => $focus->hyperfocal,
                'shots' => $shots,
            ];
        }

        return $told;
    }

    /** What a wall comes to; null of what is none. */
    private static function wall(Surface $surface, ResultCache $cache): ?WallFigures
    {
        return $cache->get(
            "wall figures $surface->id",
            [$surface],
            static fn (): ?WallFigures => $surface->wall()?->figures(),
        );
    }

    /** @return array<string, mixed> */
    private static function surface(Surface $surface, ?WallFigures $wall): array
    {
        return [
            'rasterWidth' => $surface->width(),
            'rasterHeight' => $surface->height(),
            'physicalWidth' => $surface->carrier->rasterWidth(),
            'physicalHeight' => $surface->carrier->rasterHeight(),
            'areaSquareMetres' => $surface->carrier->area(),
            'words' => $surface->carrier->inWords(),
        ] + ($wall === null ? [] : get_object_vars($wall));
    }

    /**
     * As they go out as JSON: groups are objects, also when they are empty.
     *
     * @param  array<string, mixed>  $figures
     * @return array<string, mixed>
     */
    public static function objects(array $figures): array
    {
        return array_map(static fn (mixed $group): mixed => is_array($group) ? (object) $group : $group, $figures);
    }

    /**
     * What is different between two of them.
     *
     * @param  array<string, mixed>  $before
     * @param  array<string, mixed>  $after
     * @return array<string, mixed> the same shape, with null for entries that are gone; groups without a difference
     *     are left out
     */
    public static function difference(array $before, array $after): array
    {
        $different = [];
        foreach ($after as $group => $entries) {
            if (! is_array($entries)) {
                if (($before[$group] ?? null) !== $entries) {
                    $different[$group] = $entries;
                }

                continue;
            }
            $old = (array) ($before[$group] ?? []);
            $changed = array_fill_keys(array_keys(array_diff_key($old, $entries)), null);
            foreach ($entries as $key => $entry) {
                if (! array_key_exists($key, $old) || $old[$key] !== $entry) {
                    $changed[$key] = $entry;
                }
            }
            if ($changed !== []) {
                $different[$group] = $changed;
            }
        }

        return $different;
    }
}
