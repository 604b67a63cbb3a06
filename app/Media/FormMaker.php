<?php

declare(strict_types=1);

namespace App\Media;

use Core\Media\Facts;
use Core\Media\IccProfile;
use Core\Media\Peaks;
use Core\Media\PlaybackRecipe;
use Core\Media\SampleTable;
use Core\Timeline\SoundClip;
use Core\Units\Flicks;
use Core\Units\FrameRate;
use Core\Units\InvalidValue;
use Symfony\Component\Process\Process;

/**
 * Makes the playback form of an original, with all that goes with it: sample table, sound and its outline, raw
 * frames, thumbnails, scrub strip.
 */
final readonly class FormMaker
{
    private const THUMBNAILS = 5;

    /** Most pictures of a scrub strip, and how many stand in a row of it. */
    private const STRIP = 100;

    private const STRIP_COLUMNS = 10;

    private const STRIP_SIZE = [160, 90];

    /** Bytes of sound that are looked at at once. */
    private const SOUND_PART = 4 * 1024 ** 2;

    /** @param  \Closure(string): void  $log  is told what is done, line by line */
    public function __construct(private MediaStore $store, private Prober $prober, private \Closure $log)
    {
    }

    /**
     * @param  \Closure(float): void  $progress  is told the share done; what it throws stops the work, and nothing is
     *     left
     * @return array<string, mixed> the form as the plan hands it on: kind, url, width, height; of a video table,
     *     codec, description,
     *                              matte, frameRate, frames, bytes and strip; raw where there is a picture; sound
     *                              where there is any
     *
     * @throws InvalidValue in words for a person
     */
    public function make(string $hash, string $name, Facts $facts, \Closure $progress): array
    {
        $this->store->clean($hash);
        try {
            $lut = $facts->kind === 'image' && $facts->profile !== null ? $this->lut($hash, $name) : null;
            $recipe = PlaybackRecipe::for($facts, $lut);
            $this->convert($hash, $name, $facts, $recipe, $progress);
            $form = match ($recipe->extension) {
                'mp4' => $this->video($hash, $name, $facts, $recipe),
                'png' => [
                    'kind' => 'still',
                    'url' => "/media/forms/$hash.png",
                    'width' => $recipe->width,
                    'height' => $recipe->height,
                ],
                default => ['kind' => 'audio'],
            };
            $progress(0.97);
            if ($recipe->raw !== null) {
                $form['raw'] = [
                    'url' => "/media/forms/$hash.raw",
                    'width' => $recipe->rawSize[0],
                    'height' => $recipe->rawSize[1],
                    'channels' => $recipe->rawChannels,
                ];
            }
            if ($recipe->extension === 'mp4') {
                $form['strip'] = $this->stills($hash, $recipe, (int) $form['frames']);
            }
            if ($recipe->sound !== null) {
                $this->fitSound($hash, $recipe, $form);
                $form['sound'] = $this->sound($hash, $recipe, $progress);
            }
        } catch (\Throwable $e) {
            $this->store->clean($hash);
            throw $e;
        } finally {
            @unlink($this->store->form($hash, 'list'));
            @unlink($this->store->form($hash, 'cube'));
            @unlink($this->store->form($hash, 'icc'));
        }

        return $form;
    }

    /**
     * The sound of a video gets as long as its frames last, cut or with silence, so that both repeat together.
     *
     * @param  array<string, mixed>  $form
     */
    private function fitSound(string $hash, PlaybackRecipe $recipe, array $form): void
    {
        if ($form['kind'] !== 'video') {
            return;
        }
        $flicks = (int) $form['frames'] * FrameRate::of((string) $form['frameRate'])->flicksPerFrame;
        $bytes = intdiv($flicks + SoundClip::FLICKS - 1, SoundClip::FLICKS) * 4 * $recipe->channels;
        $path = $this->store->form($hash, 'pcm');
        if ($bytes - (int) filesize($path) > $this->store->free() - config('kite.keep_free')) {
            throw self::noRoom('The sound');
        }
        $handle = fopen($path, 'r+b') ?: throw new \RuntimeException('The sound can\'t be opened.');
        ftruncate($handle, max(0, $bytes));
        fclose($handle);
        clearstatcache(true, $path);
    }

    /** @param  \Closure(float): void  $progress */
    private function convert(string $hash, string $name, Facts $facts, PlaybackRecipe $recipe, \Closure $progress): void
    {
        $spare = $this->store->free() - config('kite.keep_free');
        if ($spare <= 0) {
            throw self::noRoom($name);
        }
        $original = $this->store->original($hash);
        $input = [...Prober::READ_ONLY, '-i', $original];
        $listed = Prober::isSequence($original);
        if ($listed) {
            file_put_contents($this->store->form($hash, 'list'), $this->prober->list($original));
            $input = [...Prober::READ_LIST, '-i', $this->store->form($hash, 'list')];
        }
        $outputs = array_filter(
            [
                $recipe->extension => $recipe->arguments,
                'raw' => $recipe->raw ?? [],
                'pcm' => $recipe->sound ?? [],
                'jpg' => $recipe->thumbnail ?? [],
            ],
            static fn (array $arguments): bool => $arguments !== [],
        );
        $command = ['ffmpeg', '-y', '-nostdin', '-v', 'warning', '-progress', 'pipe:1', ...$input];
        foreach ($outputs as $extension => $arguments) {
            // A still has a length of its own, which the last one must not keep.
            array_push(
                $command,
                ...$listed ? ['-frames:v', (string) $facts->frames] : [],
                ...$arguments,
                ...[$this->store->form($hash, "part.$extension")],
            );
        }
        ($this->log)(
            'convert '.
                implode(
                    ' ',
                    array_map(
                        static fn (string $word): string => str_starts_with($word, '/') ? basename($word) : $word,
                        array_slice($command, 9),
                    ),
                ),
        );
        $process = Confined::process($command, config('kite.convert_seconds'), $spare);
        $process->start();
        $duration = max(1.0, ($facts->duration / Flicks::PER_SECOND) * 1e6);
        try {
            foreach ($process as $type => $text) {
                if ($type === Process::ERR) {
                    ($this->log)(trim($text));
                } elseif (preg_match('/out_time_us=(\d+)/', $text, $m) === 1) {
                    $progress(min(0.95, (float) $m[1] / $duration));
                    if ($this->store->free() < config('kite.keep_free')) {
                        throw self::noRoom($name);
                    }
                }
            }
        } catch (\Throwable $e) {
            $process->stop(1);
            throw $e;
        }
        if (! $process->isSuccessful()) {
            $said = $process->getErrorOutput();
            throw match (true) {
                str_contains($said, 'No space left'),
                str_contains($said, 'File too large'),
                $process->getTermSignal() === SIGXFSZ => self::noRoom($name),
                $process->getTermSignal() === SIGXCPU => InvalidValue::because(
                    'file',
                    "$name takes longer to convert than it is given.",
                ),
                str_contains($said, 'Cannot allocate memory') => InvalidValue::because(
                    'file',
                    sprintf(
                        '%s needs more than the %.0f GB of memory that a conversion is given.',
                        $name,
                        config('kite.convert_memory') / 1024 ** 3,
                    ),
                ),
                default => InvalidValue::because(
                    'file',
                    "$name could not be decoded: ".
                        (trim(explode("\n", trim($said))[0]) ?: 'the transcoder gave no reason').
                        '.',
                ),
            };
        }
        foreach (array_keys($outputs) as $extension) {
            rename(
                $this->store->form($hash, "part.$extension"),
                $extension === 'jpg' ? $this->store->thumbnail($hash, 0) : $this->store->form($hash, $extension),
            );
        }
    }

    private static function noRoom(string $name): InvalidValue
    {
        return InvalidValue::because('file', "The disk is too full to convert $name. Free some space, then try again.");
    }

    /** @return array<string, mixed> */
    private function video(string $hash, string $name, Facts $facts, PlaybackRecipe $recipe): array
    {
        $form = $this->store->form($hash, 'mp4');
        $table = SampleTable::pack($this->prober->packets($form));
        $frames = intdiv(strlen($table), SampleTable::BYTES);
        $rate = FrameRate::of((string) $recipe->frameRate);
        $expected = intdiv($facts->duration, $rate->flicksPerFrame);
        if ($frames < $expected * 0.98 - 2) {
            throw InvalidValue::because(
                'file',
                sprintf(
                    '%s is incomplete: it says that it lasts %.1f s, but only %.1f s of it are there.',
                    $name,
                    Flicks::toSeconds($facts->duration),
                    Flicks::toSeconds($frames * $rate->flicksPerFrame),
                ),
            );
        }
        file_put_contents($this->store->form($hash, 'samples'), $table);
        $c = $this->prober->configuration($form);
        ($this->log)("$frames frames at $rate->name fps");

        return [
            'kind' => 'video',
            'url' => "/media/forms/$hash.mp4",
            'table' => "/media/forms/$hash.samples",
            'codec' => sprintf('avc1.%02x%02x%02x', ord($c[1]), ord($c[2]), ord($c[3])),
            'description' => base64_encode($c),
            'width' => $recipe->width,
            'height' => $recipe->height,
            'matte' => $recipe->matte,
            'frameRate' => $rate->name,
            'frames' => $frames,
            'bytes' => (int) filesize($form),
        ];
    }

    /**
     * Counts the samples and outlines them.
     *
     * @param  \Closure(float): void  $progress
     * @return array{url: string, peaks: string, channels: int, samples: int}
     */
    private function sound(string $hash, PlaybackRecipe $recipe, \Closure $progress): array
    {
        $path = $this->store->form($hash, 'pcm');
        $bytes = max(1, (int) filesize($path));
        $handle = fopen($path, 'rb') ?: throw new \RuntimeException('The sound can\'t be read.');
        $peaks = new Peaks($recipe->channels);
        while (($part = (string) fread($handle, self::SOUND_PART)) !== '') {
            $peaks->take($part);
            $progress(0.97 + (0.03 * (int) ftell($handle)) / $bytes);
        }
        fclose($handle);
        file_put_contents($this->store->form($hash, 'peaks'), $peaks->toBytes());

        return [
            'url' => "/media/forms/$hash.pcm",
            'peaks' => "/media/forms/$hash.peaks",
            'channels' => $recipe->channels,
            'samples' => intdiv((int) filesize($path), 4 * $recipe->channels),
        ];
    }

    /**
     * A table that carries the colours of a still's profile to sRGB, relative colorimetric, with 33 steps of each
     * channel.
     *
     * @return string|null its path; null where the profile is plain, not for RGB, or can't be used
     */
    private function lut(string $hash, string $name): ?string
    {
        $profile = IccProfile::in(Prober::reader($this->store->original($hash)));
        if ($profile === null || $profile->isPlain() || $profile->space !== 'RGB ') {
            return null;
        }
        [$icc, $cube] = [$this->store->form($hash, 'icc'), $this->store->form($hash, 'cube')];
        file_put_contents($icc, $profile->bytes);
        [$steps, $asked] = [33, ''];
        for ($i = 0; $i < $steps ** 3; $i++) {
            $asked .=
                implode(
                    ' ',
                    array_map(static fn (int $n): string => sprintf('%.6F', (255 * $n) / ($steps - 1)), [
                        $i % $steps,
                        intdiv($i, $steps) % $steps,
                        intdiv($i, $steps ** 2),
                    ]),
                )."\n";
        }
        $process = Confined::process(['transicc', '-v0', '-n', '-s', '-t1', "-i$icc", '-o*sRGB'], 60);
        $process->setInput($asked);
        $process->run();
        preg_match_all('/^\s*(-?[\d.]+) (-?[\d.]+) (-?[\d.]+)\s*$/m', $process->getOutput(), $found, PREG_SET_ORDER);
        if (count($found) !== $steps ** 3) {
            ($this->log)("The colour profile of $name can't be used: ".trim($process->getErrorOutput()));

            return null;
        }
        $told = "LUT_3D_SIZE $steps\n";
        foreach ($found as [, $r, $g, $b]) {
            $told .= sprintf("%.6F %.6F %.6F\n", (float) $r / 255, (float) $g / 255, (float) $b / 255);
        }
        file_put_contents($cube, $told);
        ($this->log)("colours converted from $profile->name");

        return $cube;
    }

    /**
     * From the key frames of a form, decoded once: its thumbnails, and small pictures of moments that are evenly
     * spaced, side by side in one, to look for a place by. Dark where it is transparent.
     *
     * @return array{url: string, columns: int, pictures: int, every: int, width: int, height: int} every so many frames
     */
    private function stills(string $hash, PlaybackRecipe $recipe, int $frames): array
    {
        $group = $recipe->group();
        $keys = (int) ceil($frames / $group);
        $nth = max(1, (int) ceil($keys / self::STRIP));
        $pictures = (int) ceil($keys / $nth);
        $columns = min($pictures, self::STRIP_COLUMNS);
        [$width, $height] = self::STRIP_SIZE;
        $rows = (int) ceil($pictures / $columns);
        $seen = $recipe->matte
            ? 'split[x][y];[x]crop=iw:ih/2:0:0,format=gbrp[colour];[y]crop=iw:ih/2:0:ih/2,format=gray,format=gbrp[matte];[colour][matte]blend=all_mode=multiply,'
            : '';
        // The same one twice where there are fewer key frames.
        $chosen = array_map(
            static fn (int $i): int => min($keys - 1, (int) floor((($i + 0.5) / self::THUMBNAILS) * $keys)),
            range(0, self::THUMBNAILS - 1),
        );
        $select = implode('+', array_map(static fn (int $key): string => "eq(n\\,$key)", array_unique($chosen)));
        Confined::process(
            [
                'ffmpeg',
                '-y',
                '-nostdin',
                '-v',
                'error',
                '-skip_frame',
                'nokey',
                '-i',
                $this->store->form($hash, 'mp4'),
                '-filter_complex',
                "[0:v]{$seen}split[a][b];[a]select='not(mod(n\\,$nth))',scale=w=$width:h=$height:force_original_aspect_ratio=decrease,pad=$width:$height:-1:-1,tile={$columns}x$rows,format=yuvj420p[strip];[b]select='$select',scale=w=320:h=180:force_original_aspect_ratio=decrease,format=yuvj444p[few]",
                '-map',
                '[strip]',
                '-frames:v',
                '1',
                '-fps_mode',
                'passthrough',
                '-q:v',
                '5',
                $this->store->thumbnail($hash, 'strip'),
                '-map',
                '[few]',
                '-fps_mode',
                'passthrough',
                '-q:v',
                '4',
                '-start_number',
                '0',
                $this->store->thumbnail($hash, '%d'),
            ],
            1800,
            1e8,
        )->run();
        // Each has a number of its own, also where several are one.
        $made = array_values(array_unique($chosen));
        for ($i = self::THUMBNAILS - 1; $i >= 0; $i--) {
            $from = (int) array_search($chosen[$i], $made, true);
            if ($from !== $i) {
                @copy($this->store->thumbnail($hash, $from), $this->store->thumbnail($hash, $i));
            }
        }

        return [
            'url' => "/media/thumbnails/$hash-strip.jpg",
            'columns' => $columns,
            'pictures' => $pictures,
            'every' => $group * $nth,
            'width' => $width,
            'height' => $height,
        ];
    }

    public static function thumbnailCount(Facts $facts): int
    {
        return $facts->kind === 'video' ? self::THUMBNAILS : ($facts->kind === 'image' ? 1 : 0);
    }
}
