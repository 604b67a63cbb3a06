<?php

declare(strict_types=1);

namespace App\Media;

use Core\Media\Facts;
use Core\Media\PlaybackRecipe;
use Core\Media\SampleTable;
use Core\Units\Flicks;
use Core\Units\FrameRate;
use Core\Units\InvalidValue;
use Symfony\Component\Process\Process;

/** Makes the playback form of an original, its sample table and its thumbnails. */
final readonly class FormMaker
{
    private const THUMBNAILS = 5;

    public function __construct(private MediaStore $store, private Prober $prober)
    {
    }

    /**
     * @param  \Closure(float): void  $progress  is told the share done; what it throws stops the work, and nothing is left
     * @return array<string, mixed> the form as the plan hands it on
     *
     * @throws InvalidValue in words for a person
     */
    public function make(string $hash, string $name, Facts $facts, \Closure $progress): array
    {
        $recipe = PlaybackRecipe::for($facts);
        $this->store->clean($hash);
        $target = $this->store->form($hash, $recipe->extension);
        $partial = $this->store->form($hash, 'part.'.$recipe->extension);
        $spare = $this->store->free() - config('kite.keep_free');
        if ($spare <= 0) {
            throw self::noRoom($name);
        }
        $process = Confined::process(['ffmpeg', '-y', '-nostdin', '-v', 'error', '-progress', 'pipe:1', ...Prober::READ_ONLY, '-i', $this->store->original($hash), ...$recipe->arguments, $partial], config('kite.convert_seconds'), $spare);
        $process->start();
        $duration = max(1.0, $facts->duration / Flicks::PER_SECOND * 1e6);
        try {
            foreach ($process as $type => $text) {
                if ($type === Process::OUT && preg_match('/out_time_us=(\d+)/', $text, $m) === 1) {
                    $progress(min(0.95, (float) $m[1] / $duration));
                    if ($this->store->free() < config('kite.keep_free')) {
                        throw self::noRoom($name);
                    }
                }
            }
        } catch (\Throwable $e) {
            $process->stop(1);
            $this->store->clean($hash);
            throw $e;
        }
        if (! $process->isSuccessful()) {
            $said = $process->getErrorOutput();
            $this->store->clean($hash);
            throw match (true) {
                str_contains($said, 'No space left'), str_contains($said, 'File too large'), $process->getTermSignal() === SIGXFSZ => self::noRoom($name),
                $process->getTermSignal() === SIGXCPU => InvalidValue::because('file', "$name takes longer to convert than it is given."),
                str_contains($said, 'Cannot allocate memory') => InvalidValue::because('file', sprintf('%s needs more than the %.0f GB of memory that a conversion is given.', $name, config('kite.convert_memory') / 1024 ** 3)),
                default => InvalidValue::because('file', "$name could not be decoded: ".(trim(explode("\n", trim($said))[0]) ?: 'the transcoder gave no reason').'.'),
            };
        }
        rename($partial, $target);
        $form = ['kind' => 'still', 'url' => "/media/forms/$hash.png", 'width' => $recipe->width, 'height' => $recipe->height];
        if ($recipe->extension === 'mp4') {
            $form = $this->video($hash, $name, $facts, $recipe, $target);
        }
        $progress(0.97);
        $this->thumbnails($hash, $target, $recipe, (int) ($form['frames'] ?? 1));

        return $form;
    }

    private static function noRoom(string $name): InvalidValue
    {
        return InvalidValue::because('file', "The disk is too full to convert $name. Free some space, then try again.");
    }

    /** @return array<string, mixed> */
    private function video(string $hash, string $name, Facts $facts, PlaybackRecipe $recipe, string $target): array
    {
        $samples = $this->prober->samples($target);
        $table = SampleTable::fromPackets($samples['packets']);
        $rate = FrameRate::of((string) $recipe->frameRate);
        $expected = intdiv($facts->duration, $rate->flicksPerFrame);
        if ($table->frames() < $expected * 0.98 - 2) {
            $this->store->clean($hash);
            throw InvalidValue::because('file', sprintf('%s is incomplete: it says that it lasts %.1f s, but only %.1f s of it are there.', $name, Flicks::toSeconds($facts->duration), Flicks::toSeconds($table->frames() * $rate->flicksPerFrame)));
        }
        file_put_contents($this->store->form($hash, 'samples'), $table->toBytes());
        $c = $samples['configuration'];

        return [
            'kind' => 'video', 'url' => "/media/forms/$hash.mp4", 'table' => "/media/forms/$hash.samples",
            'codec' => sprintf('avc1.%02x%02x%02x', ord($c[1]), ord($c[2]), ord($c[3])), 'description' => base64_encode($c),
            'width' => $recipe->width, 'height' => $recipe->height, 'matte' => $recipe->matte, 'frameRate' => $rate->name, 'frames' => $table->frames(),
        ];
    }

    private function thumbnails(string $hash, string $form, PlaybackRecipe $recipe, int $frames): void
    {
        $rate = $recipe->frameRate === null ? null : FrameRate::of($recipe->frameRate);
        $count = $rate === null ? 1 : self::THUMBNAILS;
        for ($i = 0; $i < $count; $i++) {
            $seek = $rate === null ? [] : ['-ss', sprintf('%.4f', ($i + 0.5) / $count * $frames * $rate->denominator / $rate->numerator)];
            $crop = $recipe->matte ? 'crop=iw:ih/2:0:0,' : '';
            Confined::process(['ffmpeg', '-y', '-nostdin', '-v', 'error', ...$seek, '-i', $form, '-frames:v', '1', '-vf', "{$crop}scale=w=320:h=180:force_original_aspect_ratio=decrease", '-q:v', '4', $this->store->thumbnail($hash, $i)], 60, 1e7)->run();
        }
    }

    public static function thumbnailCount(Facts $facts): int
    {
        return $facts->kind === 'video' ? self::THUMBNAILS : ($facts->kind === 'image' ? 1 : 0);
    }
}
