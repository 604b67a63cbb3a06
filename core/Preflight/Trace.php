<?php

declare(strict_types=1);

namespace Core\Preflight;

use Core\Playback\Bake;
use Core\Playback\Plan;
use Core\Show\Layer;
use Core\Show\Show;
use Core\Units\Timecode;

/**
 * One walk along the chain, Media ▸ Layer ▸ Route ▸ Surface ▸ Output ▸ Device, for one surface at one moment: for each
 * link whether light gets through, and if not, why.
 */
final class Trace
{
    /**
     * @param  int  $time  show time, flicks
     * @param  array<string, float>  $live  loose values and the master, by lane name
     * @param  array<string, list<array{lacks?: list<string>, late?: int}>>  $players  by output: what the open players report
     * @return list<array{link: string, state: string, kind: string, id: string, name: string, sentence: string}> six links; state is ok, attention or fault
     */
    public static function of(Show $show, string $surfaceId, int $time, array $live, array $players): array
    {
        $surface = $show->surfaces[$surfaceId] ?? null;
        if ($surface === null) {
            return [];
        }
        $aimed = array_values(array_filter($show->mainTimeline()->layers ?? [], static fn (Layer $l): bool => in_array($surfaceId, $l->aims, true)));
        [$media, $layer] = self::pictures($show, $aimed, $time, $live);

        return [
            $media,
            $layer,
            $aimed === []
                ? self::link('Route', 'fault', 'surface', $surfaceId, 'no layer', "No layer is aimed at $surface->name.")
                : self::route($show, $aimed, $surfaceId),
            self::link('Surface', 'ok', 'surface', $surfaceId, $surface->name, $surface->carrier->inWords().", {$surface->width()} × {$surface->height()} px."),
            ...self::way($show, $surfaceId, $live, $players),
        ];
    }

    /**
     * @param  list<Layer>  $aimed
     * @param  array<string, float>  $live
     * @return array{array{link: string, state: string, kind: string, id: string, name: string, sentence: string}, array{link: string, state: string, kind: string, id: string, name: string, sentence: string}}
     */
    private static function pictures(Show $show, array $aimed, int $time, array $live): array
    {
        $bake = Bake::of($show, Plan::compile($show, 0));
        $at = Timecode::format($time, $show->rate);
        $dark = null;
        foreach (array_reverse($aimed) as $layer) {
            [$i] = $bake->frame($layer, $time);
            if ($i < 0) {
                $dark ??= [self::unknown('Media'), self::link('Layer', 'fault', 'layer', $layer->id, $layer->name, "No clip of $layer->name is up at $at.")];

                continue;
            }
            $item = $show->media[$layer->clips[$i]['media']];
            [$stratum, $opacity] = $bake->value($layer, 'opacity', $time, $live);
            $trouble = $item->trouble();
            if ($trouble !== null) {
                $dark = [self::link('Media', 'fault', 'media', $item->id, $item->name, $trouble), self::link('Layer', 'ok', 'layer', $layer->id, $layer->name, "A clip of $layer->name is up.")];

                continue;
            }
            if ($opacity <= 0) {
                $dark = [self::link('Media', 'ok', 'media', $item->id, $item->name, "$item->name is ready."), self::link('Layer', 'fault', 'layer', $layer->id, $layer->name, "$layer->name is at 0 % opacity at $at (".strtolower($stratum->name).').')];

                continue;
            }

            return [
                self::link('Media', 'ok', 'media', $item->id, $item->name, "$item->name is ready."),
                self::link('Layer', 'ok', 'layer', $layer->id, $layer->name, sprintf('%s is up at %.0f %%.', $layer->name, $opacity * 100)),
            ];
        }

        return $dark ?? [self::unknown('Media'), self::link('Layer', 'fault', 'timeline', $show->mainTimeline()->id ?? '', 'no layer', 'No layer leads here.')];
    }

    /**
     * @param  list<Layer>  $aimed
     * @return array{link: string, state: string, kind: string, id: string, name: string, sentence: string}
     */
    private static function route(Show $show, array $aimed, string $surfaceId): array
    {
        $remarks = [];
        $squashed = false;
        foreach ($aimed as $layer) {
            foreach ($layer->clips as $use) {
                $placement = Plan::placement($layer, $show->media[$use['media']], $show->surfaces[$surfaceId]);
                $squashed = $squashed || ($placement !== null && abs($placement->squash - 1) > 0.01);
                foreach ($placement?->remarks() ?? [] as $remark) {
                    $remarks["{$show->media[$use['media']]->name}: $remark"] = true;
                }
            }
        }
        $names = implode(', ', array_map(static fn (Layer $l): string => $l->name, $aimed));

        return self::link('Route', $squashed ? 'attention' : 'ok', 'layer', $aimed[0]->id, 'skin', $remarks === [] ? "$names, straight onto its skin." : (string) array_key_first($remarks));
    }

    /**
     * @param  array<string, float>  $live
     * @param  array<string, list<array{lacks?: list<string>, late?: int}>>  $players
     * @return array{array{link: string, state: string, kind: string, id: string, name: string, sentence: string}, array{link: string, state: string, kind: string, id: string, name: string, sentence: string}}
     */
    private static function way(Show $show, string $surfaceId, array $live, array $players): array
    {
        foreach ($show->regions as $outputId => $regions) {
            foreach ($regions as $region) {
                if ($region->surface !== $surfaceId) {
                    continue;
                }
                $output = $show->outputs[$outputId];
                $link = match (true) {
                    ($live['master'] ?? 1.0) <= 0 => self::link('Output', 'fault', 'output', $outputId, $output->name, 'The master is at 0 %.'),
                    ! $output->raster()->contains($region->place) => self::link('Output', 'attention', 'output', $outputId, $output->name, "The region does not lie wholly within $output->name."),
                    default => self::link('Output', 'ok', 'output', $outputId, $output->name, "At {$region->place->x}, {$region->place->y} on $output->name."),
                };
                $open = $players[$outputId] ?? [];
                $lacks = array_merge(...array_map(static fn (array $p): array => $p['lacks'] ?? [], $open));

                return [$link, match (true) {
                    $open === [] => self::link('Device', 'fault', 'output', $outputId, 'no player', "The player for $output->name is not open."),
                    $lacks !== [] => self::link('Device', 'fault', 'output', $outputId, 'player', "The player for $output->name lacks: ".implode('; ', $lacks).'.'),
                    default => self::link('Device', 'ok', 'output', $outputId, 'player', "The player for $output->name is drawing."),
                }];
            }
        }

        return [
            self::link('Output', 'fault', 'surface', $surfaceId, 'no region', $show->surfaces[$surfaceId]->name.' has no region on any output.'),
            self::unknown('Device'),
        ];
    }

    /** @return array{link: string, state: string, kind: string, id: string, name: string, sentence: string} */
    private static function unknown(string $link): array
    {
        return self::link($link, 'attention', '', '', '—', 'Nothing leads this far.');
    }

    /** @return array{link: string, state: string, kind: string, id: string, name: string, sentence: string} */
    private static function link(string $link, string $state, string $kind, string $id, string $name, string $sentence): array
    {
        return ['link' => $link, 'state' => $state, 'kind' => $kind, 'id' => $id, 'name' => $name, 'sentence' => $sentence];
    }
}
