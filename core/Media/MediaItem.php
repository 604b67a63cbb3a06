<?php

declare(strict_types=1);

namespace Core\Media;

use Core\Units\Check;
use Core\Units\Flicks;
use Core\Units\FrameRate;
use Core\Units\InvalidValue;

/** A media of the show: a file with its playback form, or a pattern. */
final readonly class MediaItem
{
    public const KINDS = ['file', 'testcard', 'solid', 'pattern', 'input', 'timeline'];

    /**
     * @param  string  $kind  one of KINDS
     * @param  string  $state  ready, or why it can't be shown: waiting, working, failed, cancelled, missing; lost for
     *     an input without a signal
     * @param  int  $frames  1 for a still
     * @param  int  $flicksPerFrame  of the playback form; 1 for a still
     * @param  array<string, mixed>  $form  what the player is told: kind, url, table, codec, description, width,
     *     height, matte
     * @param  array{int, int, int}  $colour  of a solid
     * @param  MediaNumber|null  $number  null where a row is older than numbers are
     * @param  string|null  $file  SHA-256 of the file as it came; of an input, its name
     * @param  Pattern|null  $pattern  of the kind pattern
     * @param  array<string, non-empty-list<float>>  $stored  values by property and slot
     * @param  list<string>  $versions  hashes of files that it showed before, the newest first
     * @param  array<string, mixed>  $facts  what the prober found out about the file
     * @param  TextGrid|null  $text  of a pattern that is one
     * @param  string|null  $standIn  id of the media that is shown while an input has no signal
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
        public ?Pattern $pattern = null,
        public array $stored = [],
        public array $versions = [],
        public array $facts = [],
        public ?TextGrid $text = null,
        public ?string $standIn = null,
        public ?string $timeline = null,
    ) {
    }

    /**
     * @param  array<string, mixed>  $row  id, name, kind, width, height (0: as large as the surface), colour, folder
     *     and index, and for
     *                                     a file its hash, and state, facts and form as the worker stored them; for a
     *                                     pattern its name
     * @param  array<string, non-empty-list<float>>  $stored  values by property and slot
     */
    public static function fromRow(array $row, array $stored = []): self
    {
        $kind = (string) $row['kind'];
        $name = Check::name('name', (string) $row['name']);
        if (! in_array($kind, self::KINDS, true)) {
            throw InvalidValue::notOneOf('kind', $kind, self::KINDS);
        }
        if ($kind === 'timeline' && ! isset($row['timeline'])) {
            throw InvalidValue::because('timeline', 'A timeline that is shown as a media is named by its id.');
        }
        $number =
            isset($row['folder']) || isset($row['index'])
                ? MediaNumber::of(
                    (int) ($row['folder'] ??
                        throw InvalidValue::because('folder', 'A media has a folder and an index, 0 to 255 each.')),
                    (int) ($row['index'] ??
                        throw InvalidValue::because('index', 'A media has a folder and an index, 0 to 255 each.')),
                )
                : null;
        if ($kind !== 'file' && $kind !== 'input') {
            $width = Check::whole('width', (int) ($row['width'] ?? 0), 0, Check::MAX_PIXELS, 'px');
            $height = Check::whole('height', (int) ($row['height'] ?? 0), 0, Check::MAX_PIXELS, 'px');
            if (($width === 0) !== ($height === 0)) {
                throw InvalidValue::because(
                    $width === 0 ? 'width' : 'height',
                    'A pattern has both sides, or neither to be as large as its surface.',
                );
            }
            if ($kind === 'testcard') {
                Check::whole('width × height', $width * $height, 0, TestCard::MAX_PIXELS, 'px');
            }

            $pattern =
                $kind !== 'pattern'
                    ? null
                    : Pattern::tryFrom((string) ($row['pattern'] ?? '')) ??
                        throw InvalidValue::notOneOf(
                            'pattern',
                            (string) ($row['pattern'] ?? ''),
                            array_column(Pattern::cases(), 'value'),
                        );

            return new self(
                (string) $row['id'],
                $name,
                $kind,
                'ready',
                $width,
                $height,
                1.0,
                1,
                1,
                [],
                self::colour((string) ($row['colour'] ?? '#ffffff')),
                $number,
                null,
                $pattern,
                $stored,
                text: $pattern === Pattern::Text ? self::text((string) ($row['text'] ?? ''), $name) : null,
                timeline: $kind === 'timeline' ? (string) $row['timeline'] : null,
            );
        }
        if ($kind === 'input' && preg_match('/^(input|browser):[a-z]{1,40}$/D', (string) ($row['file'] ?? '')) !== 1) {
            throw InvalidValue::because(
                'file',
                'An input is named as in "input:camera", or "browser:camera" for one of the browser itself.',
            );
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
            null,
            $stored,
            array_values(array_map(strval(...), (array) ($row['versions'] ?? []))),
            $facts,
            standIn: isset($row['standIn']) ? (string) $row['standIn'] : null,
        );
    }

    /** Its own name where it has no text. */
    private static function text(string $text, string $name): TextGrid
    {
        return TextGrid::of(trim($text) === '' ? mb_substr($name, 0, TextGrid::CELLS) : $text);
    }

    /**
     * How large its picture is in a pane: a pattern without a size of its own is as large as the pane.
     *
     * @param  array{int, int}  $pane
     * @return array{int, int} pixels
     */
    public function contentSize(array $pane): array
    {
        return $this->kind !== 'file' && $this->kind !== 'input' && $this->width === 0
            ? $pane
            : [$this->width, $this->height];
    }

    /**
     * Its sound, where it has any that is ready; that of a flash that goes forward is heard again with each of its
     * flashes, as fast as they come.
     *
     * @return array{url: string, peaks: string, channels: int, samples: int, rate?: float}|null
     */
    public function sound(): ?array
    {
        if ($this->pattern === Pattern::Flash) {
            $rate = $this->stored['speed'][0] ?? 1.0;

            return $rate > 0
                ? [
                    'url' => '/api/patterns/flash.f32',
                    'peaks' => '',
                    'channels' => 1,
                    'samples' => Beep::SAMPLES,
                    'rate' => $rate,
                ]
                : null;
        }
        $sound = $this->state === 'ready' ? $this->form['sound'] ?? null : null;

        return is_array($sound) && ($sound['samples'] ?? 0) > 0
            ? [
                'url' => (string) ($sound['url'] ?? ''),
                'peaks' => (string) ($sound['peaks'] ?? ''),
                'channels' => (int) ($sound['channels'] ?? 1),
                'samples' => (int) $sound['samples'],
            ]
            : null;
    }

    /** Whether it is to be heard and not seen. */
    public function isSound(): bool
    {
        return $this->kind === 'file' && ($this->form['kind'] ?? null) === 'audio';
    }

    /** How long it is, in flicks; null for what has no length of its own, such as a picture. */
    public function length(): ?int
    {
        return match (true) {
            $this->frames > 1 => $this->frames * $this->flicksPerFrame,
            $this->isSound() => intdiv(Flicks::PER_SECOND, 48_000) * (int) ($this->form['sound']['samples'] ?? 0),
            default => null,
        };
    }

    /** Why nothing can be seen of it, or null when it can. */
    public function trouble(): ?string
    {
        return match (true) {
            $this->state === 'waiting', $this->state === 'working' => "$this->name is still being made ready.",
            $this->state === 'failed' => "$this->name could not be made ready.",
            $this->state === 'cancelled' => "Making $this->name ready was cancelled.",
            $this->kind === 'input' => in_array($this->state, ['ready', 'lost'], true)
                ? null
                : "Input device of $this->name not found.",
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
