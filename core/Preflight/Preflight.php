<?php

declare(strict_types=1);

namespace Core\Preflight;

use Core\Output\RasterCheck;
use Core\Playback\Plan;
use Core\Show\Show;
use Core\Units\Timecode;
use Core\Venue\Model;
use Core\Venue\WallSheet;

/** What will go wrong with a show, before it does. */
final class Preflight
{
    private const VIEW_OF = [
        'panel' => 'venue', 'surface' => 'venue', 'media' => 'media', 'layer' => 'routes', 'clip' => 'timeline', 'curve' => 'timeline',
        'marker' => 'timeline', 'cue' => 'timeline', 'timeline' => 'timeline', 'output' => 'outputs', 'region' => 'outputs',
        'rig' => 'venue', 'projector' => 'venue', 'camera' => 'venue', 'prop' => 'venue', 'seat' => 'venue', 'variant' => 'venue',
    ];

    /** @return list<Finding> */
    public static function of(Show $show): array
    {
        return [...self::broken($show), ...self::walls($show), ...self::models($show), ...self::projectors($show), ...self::media($show), ...self::routes($show), ...self::cues($show), ...self::outputs($show)];
    }

    /** @return list<Finding> */
    private static function broken(Show $show): array
    {
        return array_map(static fn (array $b): Finding => Finding::fault(self::VIEW_OF[$b['kind']] ?? 'venue', $b['kind'], $b['id'], $b['sentence']), $show->broken);
    }

    /** @return list<Finding> */
    private static function walls(Show $show): array
    {
        $found = [];
        foreach ($show->surfaces as $surface) {
            $wall = $surface->wall();
            foreach ($wall === null ? [] : WallSheet::of($wall, $surface->feeding)->remarks as $remark) {
                $found[] = Finding::attention('venue', 'surface', $surface->id, "$surface->name: $remark");
            }
        }

        return $found;
    }

    /** @return list<Finding> */
    private static function models(Show $show): array
    {
        $found = [];
        foreach ($show->surfaces as $surface) {
            if ($surface->carrier instanceof Model && ($trouble = $surface->carrier->trouble) !== null) {
                $found[] = Finding::attention('venue', 'surface', $surface->id, "$surface->name: $trouble");
            }
        }

        return $found;
    }

    /** @return list<Finding> */
    private static function projectors(Show $show): array
    {
        $found = [];
        foreach ($show->projectors as $id => $projector) {
            foreach ($projector->lens->remarks() as $remark) {
                $found[] = Finding::attention('venue', 'projector', $id, "$projector->name: $remark");
            }
            foreach ($projector->aims as $aim) {
                isset($show->surfaces[$aim]) || $found[] = Finding::attention('venue', 'projector', $id, "$projector->name is there for a face that is gone.");
            }
        }

        return $found;
    }

    /** @return list<Finding> */
    private static function media(Show $show): array
    {
        $found = [];
        foreach ($show->media as $item) {
            if (($trouble = $item->trouble()) !== null && $item->kind === 'file') {
                $found[] = in_array($item->state, ['waiting', 'working'], true)
                    ? Finding::attention('media', 'media', $item->id, $trouble)
                    : Finding::fault('media', 'media', $item->id, $trouble);
            }
        }

        return $found;
    }

    /** @return list<Finding> */
    private static function routes(Show $show): array
    {
        $found = [];
        foreach ($show->mainTimeline()->layers ?? [] as $layer) {
            if ($layer->aims === [] && $layer->clips !== []) {
                $found[] = Finding::attention('routes', 'layer', $layer->id, "$layer->name has clips, but is aimed at nothing.");
            }
            foreach ($show->uses($layer) as [$item, $surface]) {
                $placement = Plan::placement($layer, $item, $surface);
                if ($placement !== null && abs($placement->squash - 1) > 0.01) {
                    $found[] = Finding::attention('routes', 'layer', $layer->id, "$item->name on $surface->name: ".lcfirst($placement->remarks()[0]));
                }
            }
        }

        return $found;
    }

    /** @return list<Finding> */
    private static function cues(Show $show): array
    {
        $found = [];
        $timeline = $show->mainTimeline();
        foreach ($timeline->cues ?? [] as $id => $cue) {
            if ($timeline !== null && $cue->time >= $timeline->duration) {
                $found[] = Finding::attention('timeline', 'cue', (string) $id, "Cue $cue->number \"$cue->name\" at ".Timecode::format($cue->time, $show->rate).' lies past the end of the timeline.');
            }
        }

        return $found;
    }

    /** @return list<Finding> */
    private static function outputs(Show $show): array
    {
        $found = [];
        $shown = [];
        foreach ($show->outputs as $outputId => $output) {
            $regions = $show->regions[$outputId];
            $check = RasterCheck::of($output, $regions);
            foreach ($check['outside'] as $id) {
                $found[] = Finding::fault('outputs', 'region', $id, $show->surfaces[$regions[$id]->surface]->name." does not lie wholly within $output->name ($output->width × $output->height px).");
            }
            foreach ($check['overlaps'] as [$a, $b, $common]) {
                $found[] = Finding::attention('outputs', 'region', $b, sprintf('%s and %s lie on one another on %s: %d × %d px at %d, %d.', $show->surfaces[$regions[$a]->surface]->name, $show->surfaces[$regions[$b]->surface]->name, $output->name, $common->width, $common->height, $common->x, $common->y));
            }
            foreach ($regions as $id => $region) {
                $shown[$region->surface] = true;
                $surface = $show->surfaces[$region->surface];
                if ($region->source->x < 0 || $region->source->y < 0 || $region->source->x + $region->source->width > $surface->width() || $region->source->y + $region->source->height > $surface->height()) {
                    $found[] = Finding::attention('outputs', 'region', (string) $id, "A region of $output->name takes pixels that $surface->name ({$surface->width()} × {$surface->height()} px) does not have.");
                }
            }
        }
        foreach ($show->surfaces as $surface) {
            if (! isset($shown[$surface->id])) {
                $found[] = Finding::attention('outputs', 'surface', $surface->id, "$surface->name has no region on any output.");
            }
        }

        return $found;
    }
}
