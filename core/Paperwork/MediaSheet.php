<?php

declare(strict_types=1);

namespace Core\Paperwork;

use Core\Media\MediaItem;
use Core\Units\Flicks;

/**
 * All media of a show with the numbers by which a console calls them, in the order of these; what has none comes
 * last.
 */
final class MediaSheet
{
    public const COLUMNS = [
        'Folder',
        'Index',
        'Name',
        'Kind',
        'Width px',
        'Height px',
        'Frames',
        'Duration s',
        'State',
        'SHA-256',
    ];

    /** @param  iterable<MediaItem>  $media */
    public static function of(iterable $media): Table
    {
        $all = is_array($media) ? $media : iterator_to_array($media);
        usort(
            $all,
            static fn (MediaItem $a, MediaItem $b): int => [$a->number?->place() ?? PHP_INT_MAX, $a->id] <=> [
                $b->number?->place() ?? PHP_INT_MAX,
                $b->id,
            ],
        );

        return new Table(
            'Media',
            self::COLUMNS,
            array_map(
                static fn (MediaItem $item): array => [
                    $item->number->folder ?? '',
                    $item->number->index ?? '',
                    $item->name,
                    $item->form['kind'] ?? $item->kind,
                    $item->width > 0 ? $item->width : '',
                    $item->height > 0 ? $item->height : '',
                    $item->kind === 'file' && $item->state === 'ready' ? $item->frames : '',
                    $item->frames > 1 ? Flicks::toSeconds($item->frames * $item->flicksPerFrame) : '',
                    $item->state,
                    $item->file ?? '',
                ],
                $all,
            ),
        );
    }
}
