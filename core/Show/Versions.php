<?php

declare(strict_types=1);

namespace Core\Show;

use Core\Media\MediaItem;
use Core\Units\Flicks;
use Core\Units\InvalidValue;
use Core\Units\Timecode;

/**
 * New versions of media: every use is kept, the file of before stays one press away, and what no longer fits is told
 * before.
 *
 * @phpstan-import-type Change from Changes
 */
final readonly class Versions
{
    /** Files of before that a media keeps. */
    public const KEPT = 20;

    public function __construct(private Show $show, private Document $document)
    {
    }

    /**
     * What no longer fits when a media shows what another one does.
     *
     * @return list<string> none when all does
     */
    public function misfits(string $media, string $by): array
    {
        [$old, $new] = [$this->media($media), $this->media($by)];
        if ($new->state !== 'ready') {
            return [$new->trouble() ?? "$new->name is not ready."];
        }
        if ($old->width > 0 && $new->width === 0) {
            return ['No picture now.', ...$this->tooShort($media, $new)];
        }
        $told = [];
        [$before, $after] = [
            ($old->width * $old->pixelAspect) / max(1, $old->height),
            ($new->width * $new->pixelAspect) / max(1, $new->height),
        ];
        if ($old->width > 0 && abs($after / $before - 1) > 0.01) {
            $told[] = "Another shape: $new->width × $new->height px instead of $old->width × $old->height.";
        } elseif ($new->width < $old->width) {
            $told[] = "Fewer pixels: $new->width × $new->height px instead of $old->width × $old->height.";
        }
        if (self::fact($old, 'alpha') === true && self::fact($new, 'alpha') !== true) {
            $told[] = 'No alpha now: what was seen through it is covered.';
        }
        if (self::fact($old, 'audio') !== null && self::fact($new, 'audio') === null) {
            $told[] = 'No sound now.';
        }
        if ($old->frames > 1 && $new->frames > 1 && $old->flicksPerFrame !== $new->flicksPerFrame) {
            $told[] = sprintf('Another frame rate: %s fps instead of %s.', self::rate($new), self::rate($old));
        }

        return [...$told, ...$this->tooShort($media, $new)];
    }

    /**
     * The media shows what another one did; that one goes where no clip uses it.
     *
     * @return list<Change>
     */
    public function take(string $media, string $by): array
    {
        [$old, $new] = [$this->media($media), $this->media($by)];
        if ($media === $by || $old->file === $new->file) {
            throw InvalidValue::because('by', "$old->name is that version already.");
        }
        $clips = $this->show->programme->clipsByMedia();

        return [
            ...$this->become($media, (string) $new->file),
            ...($clips[$by] ?? 0) === 0 ? [Changes::delete('media', $by)] : [],
        ];
    }

    /**
     * Back to a file of before; the present one is kept in its place.
     *
     * @return list<Change>
     */
    public function back(string $media, string $file): array
    {
        $old = $this->media($media);
        if (! in_array($file, $old->versions, true)) {
            throw InvalidValue::because('file', "$old->name has no such version.");
        }

        return $this->become($media, $file);
    }

    /** @return list<Change> */
    private function become(string $media, string $file): array
    {
        $row = $this->document->rows['media'][$media];
        $kept = array_slice(
            array_values(
                array_unique([(string) $row['file'], ...array_diff((array) ($row['versions'] ?? []), [$file])]),
            ),
            0,
            self::KEPT,
        );

        return Changes::update('media', $media, $row, ['file' => $file, 'versions' => $kept]);
    }

    /** @return list<string> clips that show more of the media than there is */
    private function tooShort(string $media, MediaItem $new): array
    {
        $told = [];
        foreach ($this->show->programme->layers() as $layer) {
            foreach ($layer->clips as $use) {
                $there = $new->frames * $new->flicksPerFrame;
                $wanted = $use->clip->isBackwards()
                    ? $use->clip->out ?? 0
                    : min($use->clip->in + $use->clip->within($use->clip->length), $use->clip->out ?? PHP_INT_MAX);
                if ($use->media === $media && $new->frames > 1 && ! $use->clip->pastEnd->repeats() && $wanted > $there) {
                    $told[] = sprintf(
                        'Too short for its clip on %s at %s: %.2f s instead of %.2f s.',
                        $layer->name,
                        Timecode::format($use->clip->start, $this->show->rate),
                        $there / Flicks::PER_SECOND,
                        $wanted / Flicks::PER_SECOND,
                    );
                }
            }
        }

        return $told;
    }

    private static function rate(MediaItem $item): string
    {
        return rtrim(rtrim(number_format(Flicks::PER_SECOND / $item->flicksPerFrame, 3), '0'), '.');
    }

    private static function fact(MediaItem $item, string $name): mixed
    {
        return $item->facts[$name] ?? null;
    }

    private function media(string $id): MediaItem
    {
        $item =
            $this->show->library->media[$id] ?? throw InvalidValue::because('media', 'This media is not in the show.');

        return $item->kind === 'file' ? $item : throw InvalidValue::because('media', "$item->name is no file.");
    }
}
