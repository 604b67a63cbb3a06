<?php

declare(strict_types=1);

namespace Core\Plan;

use Core\Media\MediaItem;
use Core\Routing\Route;
use Core\Show\Layer;
use Core\Show\Schema;
use Core\Show\Show;
use Core\Show\StoredCurve;
use Core\Timeline\MediaTrack;
use Core\Units\InvalidValue;
use Core\Values\Address;
use Core\Values\PropertySet;
use Core\Values\Track;
use Core\Values\TrackCompiler;
use Core\Venue\Surface;

/**
 * Makes the plan of a show, and of the next one only what changed. For each part it remembers the objects that it was made
 * of: as long as they are the same ones, the part is. Not a value: it goes along with a show that is being edited.
 */
final class PlanCompiler
{
    /** @var array<string, array{list<mixed>, array<string, mixed>}> by name: what it was made of, and the part */
    private array $parts = [];

    /** @var array<string, array{list<mixed>, Track|MediaTrack|null}> by address */
    private array $tracks = [];

    /** @var array<string, array{list<mixed>, array<string, true>}> by layer: what it was made of, and the names of its parts and tracks */
    private array $layers = [];

    private readonly TrackCompiler $compiler;

    /** @var array<string, true> parts and tracks of the show that is being compiled */
    private array $met = [];

    /** @var array<string, array<string, mixed>> */
    private array $changedParts = [];

    /** @var array<string, Track|MediaTrack|null> */
    private array $changedTracks = [];

    public function __construct()
    {
        $this->compiler = new TrackCompiler;
    }

    /** What is different from the show compiled before; at first, everything. */
    public function compile(Show $show, int $revision): Bundle
    {
        [$this->met, $this->changedParts, $this->changedTracks] = [[], [], []];
        $this->part('show', [$show->id, $show->name, $show->rate->name], static fn (): array => ['id' => $show->id, 'name' => $show->name, 'frameRate' => $show->rate->name, 'flicksPerFrame' => $show->rate->flicksPerFrame]);
        foreach ($show->venue->surfaces as $id => $surface) {
            $this->part("surface:$id", [$surface], static fn (): array => ['name' => $surface->name, 'width' => $surface->width(), 'height' => $surface->height()]);
        }
        $sets = Schema::propertySets();
        foreach ($show->programme->timelines as $id => $timeline) {
            $this->part("timeline:$id", [$timeline->name, $timeline->order, $timeline->duration], static fn (): array => ['name' => $timeline->name, 'order' => $timeline->order, 'duration' => $timeline->duration]);
            $this->values('timeline', $id, $sets['timeline'], $timeline->stored, $timeline->curves);
            foreach ($timeline->layers as $layer) {
                $madeOf = [$layer, $show->programme->route($layer), $show->library, $show->venue];
                if (($this->layers[$layer->id][0] ?? null) === $madeOf) {
                    $this->met += $this->layers[$layer->id][1];

                    continue;
                }
                $before = $this->met;
                $this->met = [];
                $this->layer($show, $layer, $sets['layer']);
                $this->layers[$layer->id] = [$madeOf, $this->met];
                $this->met += $before;
            }
        }
        foreach ($show->delivery->outputs as $id => $output) {
            $this->part("output:$id", [$output], static fn (): array => ['name' => $output->name, 'width' => $output->width, 'height' => $output->height, 'refresh' => $output->refresh]);
            foreach ($show->delivery->regions[$id] as $regionId => $region) {
                $this->part("delivery:$regionId", [$id, $region], static fn (): array => [
                    'output' => $id, 'surface' => $region->surface, 'source' => [$region->source->x, $region->source->y, $region->source->width, $region->source->height],
                    'place' => [$region->place->x, $region->place->y],
                ]);
            }
        }
        $this->layers = array_intersect_key($this->layers, array_fill_keys(array_map(static fn (Layer $layer): string => $layer->id, iterator_to_array($show->programme->layers(), false)), true));
        $goneParts = array_diff_key($this->parts, $this->met);
        $goneTracks = array_diff_key($this->tracks, $this->met);
        $this->parts = array_diff_key($this->parts, $goneParts);
        $this->tracks = array_diff_key($this->tracks, $goneTracks);
        $lost = array_filter($goneTracks, static fn (array $made): bool => $made[1] !== null);

        return new Bundle($show->id, $revision, $this->changedParts + array_fill_keys(array_keys($goneParts), null), $this->changedTracks + array_fill_keys(array_keys($lost), null));
    }

    public function plan(): Plan
    {
        return new Plan(array_map(static fn (array $made): array => $made[1], $this->parts), array_filter(array_map(static fn (array $made): Track|MediaTrack|null => $made[1], $this->tracks)));
    }

    private function layer(Show $show, Layer $layer, PropertySet $set): void
    {
        $this->part("layer:$layer->id", [$layer->timeline, $layer->order], static fn (): array => ['timeline' => $layer->timeline, 'order' => $layer->order]);
        $this->values('layer', $layer->id, $set, $layer->stored, $layer->curves);
        $media = array_map(static fn ($use): MediaItem => $show->library->media[$use->media], $layer->clips);
        $this->track("layer:$layer->id/media", [$layer->clips, $media], static fn (): ?MediaTrack => $layer->clips === [] ? null
            : MediaTrack::ofClips(array_map(static fn ($use, MediaItem $item): array => [$use->clip, $item->flicksPerFrame, $item->frames], $layer->clips, $media)));
        $route = $show->programme->route($layer);
        if ($route === null) {
            return;
        }
        foreach ($show->programme->reached($layer, $show->venue) as $surface) {
            $made = [$layer->clips, $media, $layer->fitting, $layer->anchorX, $layer->anchorY, $route->reach, $surface];
            $this->part("contribution:$layer->id@$surface->id", $made, static fn (): array => [
                'layer' => $layer->id, 'surface' => $surface->id,
                'clips' => array_map(static fn ($use, MediaItem $item): array => self::clip($use->id, $item, $route, $surface, $layer), $layer->clips, $media),
            ]);
            foreach ($media as $item) {
                $this->part('media:'.self::mediaKey($item, $surface), [$item, $surface], static fn (): array => self::media($item, $route->pane($surface), $surface->name));
            }
        }
    }

    /** @return array<string, mixed> */
    private static function clip(string $id, MediaItem $item, Route $route, Surface $surface, Layer $layer): array
    {
        $placement = $route->place($item, $surface, $layer->fitting, $layer->anchorX, $layer->anchorY);

        return ['id' => $id, 'media' => self::mediaKey($item, $surface), 'fit' => $placement?->matrix()->m, 'middle' => $placement?->middle()];
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
                $value = $stored[$name][$slot] ?? $property->default;
                $this->track((string) Address::of($kind, $id, $name, $slot), [$value, $curve], function () use ($curve, $value, $property): ?Track {
                    try {
                        return $curve !== null ? $this->compiler->compile($curve->curve(), $property) : ($value === $property->default ? null : Track::constant($value));
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
     * @param  \Closure(): (Track|MediaTrack|null)  $make
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

    private static function mediaKey(MediaItem $item, Surface $surface): string
    {
        return $item->kind === 'testcard' && $item->width === 0 ? "$item->id@$surface->id" : $item->id;
    }

    /**
     * @param  array{int, int}  $pane
     * @return array<string, mixed>
     */
    private static function media(MediaItem $item, array $pane, string $surface): array
    {
        [$width, $height] = $item->contentSize($pane);
        $card = $item->width === 0 ? $surface : $item->name;

        return match (true) {
            $item->kind === 'solid' => ['kind' => 'solid', 'name' => $item->name, 'colour' => $item->colour],
            $item->kind === 'testcard' => [
                'kind' => 'still', 'name' => $item->name, 'width' => $width, 'height' => $height, 'card' => $card,
                'url' => '/api/patterns/testcard.png?'.http_build_query(['width' => $width, 'height' => $height, 'name' => $card]),
            ],
            $item->trouble() !== null => ['kind' => 'none', 'name' => $item->name, 'why' => $item->trouble()],
            default => ['name' => $item->name, 'shownWidth' => $item->width, 'shownHeight' => $item->height, 'frames' => $item->frames] + $item->form,
        };
    }
}
