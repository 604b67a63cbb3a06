<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Media\MediaItem;
use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\ResultCache;
use Core\Show\Show;

/**
 * Media that pixel lights can't show: what only a browser has, and files from a time in which no small frames were
 * made of them.
 */
final readonly class UnsampledMedia implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        $lights = array_filter(
            $show->venue->surfaces,
            static fn ($surface): bool => $surface->carrier->fixture() !== null,
        );
        foreach ($lights === [] ? [] : $show->programme->layers() as $layer) {
            $reached = [];
            foreach ($show->programme->ways($layer) as $route) {
                $reached += array_intersect_key($lights, array_fill_keys($route->surfaces(), true));
            }
            $first = reset($reached);
            if ($first === false) {
                continue;
            }
            foreach (array_unique(array_map(static fn ($use): string => $use->media, $layer->clips)) as $media) {
                $item = $show->library->media[$media] ?? null;
                $why = $item === null ? null : self::why($item);
                if ($why !== null) {
                    yield Finding::fault(
                        'media',
                        'media',
                        $media,
                        "$item->name is dark on pixel lights such as $first->name: $why",
                    );
                }
            }
        }
    }

    private static function why(MediaItem $item): ?string
    {
        return match (true) {
            $item->kind === 'input' && str_starts_with((string) ($item->form['url'] ?? ''), 'browser:') => 'it is an input of each browser alone. Use an input of a server.',
            $item->kind === 'file' &&
                $item->state === 'ready' &&
                in_array($item->form['kind'] ?? null, ['video', 'still'], true) &&
                ! isset($item->form['raw']) => 'it has no small frames. Convert it again.',
            default => null,
        };
    }
}
