<?php

declare(strict_types=1);

namespace Core\Media;

use Core\Units\Check;
use Core\Units\FrameRate;
use Core\Units\InvalidValue;

/** A media of the show: a file with its playback form, or a pattern. */
final readonly class MediaItem
{
    /**
     * @param  string  $kind  file, testcard or solid
     * @param  string  $state  ready, or why it can't be shown: waiting, working, failed, cancelled, missing
     * @param  int  $frames  1 for a still
     * @param  int  $flicksPerFrame  of the playback form; 1 for a still
     * @param  array<string, mixed>  $form  what the player is told: kind, url, table, codec, description, width, height, matte
     * @param  array{int, int, int}  $colour  of a solid
     * @param  MediaNumber|null  $number  null where a row is older than numbers are
     * @param  string|null  $file  SHA-256 of the file as it came
     */
    private function __construct(
        public string $id,
        public string $name,
        public string $kind,
        public string $state,
        public int $width,
        public int $height,
        public float $pixelAspect,
        public int $frames,
        public int $flicksPerFrame,
        public array $form,
        public array $colour,
        public ?MediaNumber $number,
        public ?string $file,
    ) {
    }

    /**
     * @param  array<string, mixed>  $row  id, name, kind, width, height (0: as large as the surface), colour, folder and index, and for
     *                                     a file its hash, and state, facts and form as the worker stored them
     */
    public static function fromRow(array $row): self
    {
        $kind = (string) $row['kind'];
        $name = Check::name('name', (string) $row['name']);
        if (! in_array($kind, ['file', 'testcard', 'solid'], true)) {
            throw InvalidValue::notOneOf('kind', $kind, ['file', 'testcard', 'solid']);
        }
        $number = isset($row['folder']) || isset($row['index'])
            ? MediaNumber::of((int) ($row['folder'] ?? throw InvalidValue::because('folder', 'A media has a folder and an index, 0 to 255 each.')), (int) ($row['index'] ?? throw InvalidValue::because('index', 'A media has a folder and an index, 0 to 255 each.')))
            : null;
        if ($kind !== 'file') {
            $width = Check::whole('width', (int) ($row['width'] ?? 0), 0, Check::MAX_PIXELS, 'px');
            $height = Check::whole('height', (int) ($row['height'] ?? 0), 0, Check::MAX_PIXELS, 'px');
            if (($width === 0) !== ($height === 0)) {
                throw InvalidValue::because($width === 0 ? 'width' : 'height', 'A pattern has both sides, or neither to be as large as its surface.');
            }
            if ($kind === 'testcard') {
                Check::whole('width × height', $width * $height, 0, TestCard::MAX_PIXELS, 'px');
            }

            return new self((string) $row['id'], $name, $kind, 'ready', $width, $height, 1.0, 1, 1, [], self::colour((string) ($row['colour'] ?? '#ffffff')), $number, null);
        }
        $facts = (array) ($row['facts'] ?? []);
        $form = (array) ($row['form'] ?? []);
        $state = (string) ($row['state'] ?? 'missing');
        $rate = isset($form['frameRate']) ? FrameRate::of((string) $form['frameRate'])->flicksPerFrame : 1;

        return new self(
            (string) $row['id'],
            $name,
            $kind,
            $state,
            (int) ($facts['width'] ?? 0),
            (int) ($facts['height'] ?? 0),
            (float) ($facts['pixelAspect'] ?? 1),
            max(1, (int) ($form['frames'] ?? 1)),
            $rate,
            $form,
            [0, 0, 0],
            $number,
            isset($row['file']) ? (string) $row['file'] : null,
        );
    }

    /**
     * How large its picture is in a pane: a pattern without a size of its own is as large as the pane.
     *
     * @param  array{int, int}  $pane
     * @return array{int, int} pixels
     */
    public function contentSize(array $pane): array
    {
        return $this->kind !== 'file' && $this->width === 0 ? $pane : [$this->width, $this->height];
    }

    /** Why nothing can be seen of it, or null when it can. */
    public function trouble(): ?string
    {
        return match (true) {
            $this->state === 'waiting', $this->state === 'working' => "$this->name is still being made ready.",
            $this->state === 'failed' => "$this->name could not be made ready.",
            $this->state === 'cancelled' => "Making $this->name ready was cancelled.",
            $this->state !== 'ready' => "The file of $this->name is missing.",
            $this->kind === 'file' && $this->width === 0 => "$this->name has no picture.",
            default => null,
        };
    }

    /** @return array{int, int, int} */
    public static function colour(string $hex): array
    {
        if (preg_match('/^#([0-9a-f]{2})([0-9a-f]{2})([0-9a-f]{2})$/i', $hex, $m) !== 1) {
            throw InvalidValue::because('colour', "\"$hex\" is no colour; write # and six hexadecimal digits.");
        }

        return [(int) hexdec($m[1]), (int) hexdec($m[2]), (int) hexdec($m[3])];
    }
}
