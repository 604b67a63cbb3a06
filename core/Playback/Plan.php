<?php

declare(strict_types=1);

namespace Core\Playback;

use Core\Routing\Placement;
use Core\Show\Layer;
use Core\Show\MediaItem;
use Core\Show\Show;
use Core\Show\Surface;

/**
 * What to draw where. It changes only when somebody edits; how values move is in the bake, by lane.
 *
 * The array form, which players read: `serial` (which compilation this is; chunks name it), `lanes` (a name for each lane number), `media` by key, `surfaces` by id with their
 * raster and, from the bottom up, the layers that reach them (lane numbers, and for each clip the media key and the
 * rectangle of its whole picture in raster pixels), `outputs` by id with their regions in drawing order.
 */
final readonly class Plan
{
    public const MASTER = 0;

    /** The lanes of a layer, in the order of their numbers. */
    public const LAYER_LANES = ['opacity', 'x', 'y', 'clip', 'frame'];

    /** @param  array<string, mixed>  $data */
    private function __construct(public array $data)
    {
    }

    public static function compile(Show $show, int $revision, int $serial = 0): self
    {
        $timeline = $show->mainTimeline();
        $lanes = ['master'];
        $surfaces = [];
        foreach ($show->surfaces as $surface) {
            $surfaces[$surface->id] = ['name' => $surface->name, 'width' => $surface->width(), 'height' => $surface->height(), 'layers' => []];
        }
        $media = [];
        foreach ($timeline->layers ?? [] as $layer) {
            $numbers = [];
            foreach (self::LAYER_LANES as $lane) {
                $numbers[$lane] = count($lanes);
                $lanes[] = "$layer->id/$lane";
            }
            foreach ($layer->aims as $aim) {
                $surface = $show->surfaces[$aim] ?? null;
                if ($surface === null) {
                    continue;
                }
                $clips = [];
                foreach ($layer->clips as $use) {
                    $item = $show->media[$use['media']];
                    $key = self::mediaKey($item, $surface);
                    $media[$key] ??= self::media($item, $surface);
                    $clips[] = ['id' => $use['id'], 'media' => $key, 'rect' => self::placement($layer, $item, $surface)?->rectangle];
                }
                $surfaces[$aim]['layers'][] = ['id' => $layer->id, 'lanes' => $numbers, 'clips' => $clips];
            }
        }
        $outputs = [];
        foreach ($show->outputs as $id => $output) {
            $regions = [];
            foreach ($show->regions[$id] as $regionId => $region) {
                $source = $region->source;
                $regions[] = [
                    'id' => (string) $regionId, 'surface' => $region->surface,
                    'source' => [$source->x, $source->y, $source->width, $source->height],
                    'place' => [$region->place->x, $region->place->y],
                ];
            }
            $outputs[$id] = ['name' => $output->name, 'width' => $output->width, 'height' => $output->height, 'refresh' => $output->refresh, 'regions' => $regions];
        }

        return new self([
            'serial' => $serial,
            'revision' => $revision,
            'show' => ['id' => $show->id, 'name' => $show->name, 'frameRate' => $show->rate->name, 'flicksPerFrame' => $show->rate->flicksPerFrame],
            'lanes' => $lanes,
            'media' => $media,
            'surfaces' => $surfaces,
            'outputs' => $outputs,
        ]);
    }

    /** @param  array<string, mixed>  $data as toJson() gave it */
    public static function fromArray(array $data): self
    {
        return new self($data);
    }

    public function toJson(): string
    {
        $data = $this->data;
        foreach (['media', 'surfaces', 'outputs'] as $map) {
            $data[$map] = (object) $data[$map];
        }

        return json_encode($data, JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE);
    }

    /** Where a media lands on a surface when this layer shows it; null when it has no picture yet. */
    public static function placement(Layer $layer, MediaItem $item, Surface $surface): ?Placement
    {
        [$width, $height] = self::contentSize($item, $surface);

        return $width < 1 || $height < 1 ? null
            : Placement::of($width, $height, $item->pixelAspect, $surface->width(), $surface->height(), $layer->fitting, $layer->anchorX, $layer->anchorY);
    }

    /** @return array{int, int} a pattern without a size of its own is as large as its surface */
    public static function contentSize(MediaItem $item, Surface $surface): array
    {
        return $item->kind !== 'file' && $item->width === 0 ? [$surface->width(), $surface->height()] : [$item->width, $item->height];
    }

    private static function mediaKey(MediaItem $item, Surface $surface): string
    {
        return $item->kind === 'testcard' && $item->width === 0 ? "$item->id@$surface->id" : $item->id;
    }

    /** @return array<string, mixed> */
    private static function media(MediaItem $item, Surface $surface): array
    {
        [$width, $height] = self::contentSize($item, $surface);

        return match (true) {
            $item->kind === 'solid' => ['kind' => 'solid', 'name' => $item->name, 'colour' => $item->colour],
            $item->kind === 'testcard' => [
                'kind' => 'still', 'name' => $item->name, 'width' => $width, 'height' => $height,
                'card' => $item->width === 0 ? $surface->name : $item->name,
                'url' => '/api/patterns/testcard.png?'.http_build_query(['width' => $width, 'height' => $height, 'name' => $item->width === 0 ? $surface->name : $item->name]),
            ],
            $item->trouble() !== null => ['kind' => 'none', 'name' => $item->name, 'why' => $item->trouble()],
            default => ['name' => $item->name, 'shownWidth' => $item->width, 'shownHeight' => $item->height, 'frames' => $item->frames] + $item->form,
        };
    }
}
