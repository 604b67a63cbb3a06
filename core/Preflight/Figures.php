<?php

declare(strict_types=1);

namespace Core\Preflight;

use Core\Media\MediaItem;
use Core\Routing\Placement;
use Core\Show\Memo;
use Core\Show\Show;
use Core\Venue\Surface;

/**
 * What the core makes of a show for people to read: figures of surfaces, cameras and media, where pictures land, and findings, each
 * under a key of what it belongs to, so that only what changed has to be told.
 */
final class Figures
{
    /**
     * @return array{flicksPerFrame: int, surfaces: array<string, array<string, mixed>>, cameras: array<string, array<string, mixed>>, placements: array<string, array<string, mixed>>, media: array<string, array{clips: int}>, findings: array<string, list<array<string, string>>>}
     *   placements by "layer surface media", findings by "kind id"
     */
    public static function of(Show $show, Memo $memo = new Memo): array
    {
        $placements = [];
        foreach ($show->programme->layers() as $layer) {
            $placed = Placements::of($show, $layer, $memo);
            $placements += $memo->get("told $layer->id", [$placed], static fn (): array => self::placements($layer->id, $placed));
        }
        $findings = [];
        foreach (Preflight::of($show, $memo) as $finding) {
            $findings["$finding->kind $finding->id"][] = get_object_vars($finding);
        }
        $memo->end();

        return [
            'flicksPerFrame' => $show->rate->flicksPerFrame,
            'surfaces' => array_map(static fn (Surface $surface): array => $memo->get("figures $surface->id", [$surface], static fn (): array => self::surface($surface)), $show->venue->surfaces),
            'cameras' => self::cameras($show, $memo),
            'placements' => $placements,
            'media' => self::media($show),
            'findings' => $findings,
        ];
    }

    /**
     * @param  list<array{MediaItem, Surface, Placement|null}>  $placed
     * @return array<string, array<string, mixed>>
     */
    private static function placements(string $layer, array $placed): array
    {
        $told = [];
        foreach ($placed as [$item, $surface, $placement]) {
            $told["$layer $surface->id $item->id"] = [
                'layer' => $layer, 'surface' => $surface->id, 'media' => $item->id, 'content' => $item->contentSize([$surface->width(), $surface->height()]),
                'placement' => $placement === null ? null : get_object_vars($placement) + ['remarks' => $placement->remarks()],
            ];
        }

        return $told;
    }

    /** @return array<string, array{clips: int}> by media: how many clips use it */
    private static function media(Show $show): array
    {
        $clips = $show->programme->clipsByMedia();

        return array_map(static fn (MediaItem $item): array => ['clips' => $clips[$item->id] ?? 0], $show->library->media);
    }

    /** @return array<string, array<string, mixed>> by camera: degrees taken in, metres that are sharp (farthest 0: without an end), and how each surface before it is seen */
    private static function cameras(Show $show, Memo $memo): array
    {
        $told = [];
        foreach ($show->venue->cameras as $id => $camera) {
            $shots = [];
            foreach (Shots::of($show, (string) $id, $memo) as $shot) {
                $shots[] = get_object_vars($shot);
            }
            $focus = $camera->depthOfField();
            $told[$id] = ['across' => $camera->angleAcross(), 'down' => $camera->angleDown(), 'near' => $focus->near, 'far' => is_finite($focus->far) ? $focus->far : 0.0, 'hyperfocal' => $focus->hyperfocal, 'shots' => $shots];
        }

        return $told;
    }

    /** @return array<string, mixed> */
    private static function surface(Surface $surface): array
    {
        $wall = $surface->wall();

        return ['rasterWidth' => $surface->width(), 'rasterHeight' => $surface->height(), 'physicalWidth' => $surface->carrier->rasterWidth(), 'physicalHeight' => $surface->carrier->rasterHeight(), 'areaSquareMetres' => $surface->carrier->area(), 'words' => $surface->carrier->inWords()]
            + ($wall === null ? [] : get_object_vars($wall->figures()));
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
     * @return array<string, mixed> the same shape, with null for entries that are gone; groups without a difference are left out
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
