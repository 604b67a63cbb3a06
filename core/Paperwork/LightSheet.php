<?php

declare(strict_types=1);

namespace Core\Paperwork;

use Core\PixelMap\Universes;
use Core\Show\Show;
use Core\Venue\FixtureType;

/**
 * Which universes and channels each pixel light has, for whoever sets up nodes and lights: a line for each universe
 * that a light reaches into.
 */
final class LightSheet
{
    public const COLUMNS = [
        'Light',
        'Type',
        'Node',
        'Address',
        'Protocol',
        'Universe',
        'As sent',
        'From channel',
        'To channel',
        'Pixels',
        'Left over',
        'Start corner',
        'Along',
        'Watts',
    ];

    public static function of(Show $show): Table
    {
        $rows = [];
        foreach ($show->delivery->patches as $patch) {
            $surface = $show->venue->surfaces[$patch->surface];
            $type = $surface->carrier->fixture();
            if ($type === null) {
                continue;
            }
            $node = $patch->node === null ? null : $show->delivery->nodes[$patch->node] ?? null;
            $addressing = $patch->addressing($type);
            [$pixels, $left] = [$addressing->pixelsByUniverse(), array_column($addressing->left, 1, 0)];
            [$first, $last] = [$addressing->universe, $addressing->lastUniverse()];
            for ($universe = $first; $universe <= $last; $universe++) {
                $rows[] = array_map(strval(...), [
                    $surface->name,
                    $type->name,
                    $node->name ?? '',
                    $node === null ? '' : $node->destination($universe),
                    Universes::NAMES[$node->protocol ?? ''] ?? '',
                    $universe,
                    $node === null ? '' : Universes::number($node->protocol, $universe),
                    $universe === $first ? $patch->channel : 1,
                    $universe === $last ? $addressing->lastChannel() : FixtureType::UNIVERSE - ($left[$universe] ?? 0),
                    $pixels[$universe] ?? 0,
                    $left[$universe] ?? 0,
                    $patch->wiring->path === [] ? $patch->wiring->corner : 'by hand',
                    $patch->wiring->path === []
                        ? $patch->wiring->along.($patch->wiring->serpentine ? ', serpentine' : '')
                        : '',
                    $universe === $first ? $type->watts : '',
                ]);
            }
        }

        return new Table('Pixel lights', self::COLUMNS, $rows);
    }
}
