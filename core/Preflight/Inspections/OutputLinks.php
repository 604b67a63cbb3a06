<?php

declare(strict_types=1);

namespace Core\Preflight\Inspections;

use Core\Preflight\Finding;
use Core\Preflight\Inspection;
use Core\Show\ResultCache;
use Core\Show\Show;

/**
 * Outputs whose raster has no timing, or needs more than their connector carries; feeds that take pixels which are
 * not there, or another number than their projector has.
 */
final readonly class OutputLinks implements Inspection
{
    public function inspect(Show $show, ResultCache $cache): iterable
    {
        foreach ($show->delivery->outputs as $id => $output) {
            $timing = $output->sent();
            if ($timing === null) {
                yield Finding::fault(
                    'outputs',
                    'output',
                    (string) $id,
                    "$output->name: the timing \"$output->timing\" has no $output->width × $output->height px at ".
                        self::short($output->refresh).
                        ' Hz.',
                );
            } elseif ($output->connector->limit() > 0) {
                [$rate, $limit] = [$output->connector->rate($timing, $output->bitDepth), $output->connector->limit()];
                if ($rate > $limit * (1 + 1e-9)) {
                    yield Finding::fault(
                        'outputs',
                        'output',
                        (string) $id,
                        sprintf(
                            '%s needs %.2f Gb/s (%s, %.2f MHz, %d bit); %s carries %.2f.',
                            $output->name,
                            $rate / 1e9,
                            $timing->inWords(),
                            $timing->clock / 1e6,
                            $output->bitDepth,
                            $output->connector->label(),
                            $limit / 1e9,
                        ),
                    );
                }
                if ($output->bitDepth > $output->connector->deepest()) {
                    yield Finding::attention(
                        'outputs',
                        'output',
                        (string) $id,
                        "$output->name has $output->bitDepth bits a channel; {$output->connector->label()} carries {$output->connector->deepest()}.",
                    );
                }
            }
            foreach ($show->delivery->feeds[$id] as $feedId => $feed) {
                $part = $feed->part($output);
                if (! $output->raster()->contains($part)) {
                    yield Finding::fault(
                        'outputs',
                        'feed',
                        (string) $feedId,
                        "$feed->name takes pixels that $output->name ($output->width × $output->height px) does not have.",
                    );
                }
                $lens = $feed->projector === null ? null : ($show->venue->projectors[$feed->projector] ?? null)?->lens;
                [$w, $h] =
                    $lens === null
                        ? [0, 0]
                        : ($lens->portrait
                            ? [$lens->heightPx, $lens->widthPx]
                            : [$lens->widthPx, $lens->heightPx]);
                if ($lens !== null && ($w !== $part->width || $h !== $part->height)) {
                    yield Finding::attention(
                        'outputs',
                        'feed',
                        (string) $feedId,
                        "$feed->name is fed $part->width × $part->height px; its projector has $w × $h px, so that pixels are scaled.",
                    );
                }
            }
        }
    }

    private static function short(float $number): string
    {
        return rtrim(rtrim(sprintf('%.3f', $number), '0'), '.');
    }
}
