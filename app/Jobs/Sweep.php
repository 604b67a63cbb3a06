<?php

declare(strict_types=1);

namespace App\Jobs;

use App\Engine\Control;
use App\Media\MediaStore;
use App\Models\Media;
use App\Models\Prop;
use App\Models\Show;
use App\Models\StoredFile;
use App\Models\Surface;
use App\Models\Task;
use App\Models\Upload;
use App\Support\Interval;
use Illuminate\Filesystem\Filesystem;
use Illuminate\Support\Facades\DB;

/**
 * Takes away what nothing names any more: files that no row and no history of a show uses, pieces of uploads that
 * nobody went on with, and what ended jobs left. What is younger than an hour stays, for somebody may be at it.
 */
final readonly class Sweep
{
    private const YOUNG = 3600;

    /** Seconds after which an upload that nothing came of is forgotten. */
    public const ABANDONED = 172_800;

    public function __construct(private MediaStore $store)
    {
    }

    /** Sweeps when an hour has gone by since anybody did, or when it is wanted; one at a time. */
    public static function whenDue(): void
    {
        $stamp = config('kite.run').'/swept';
        clearstatcache(true, $stamp);
        if (
            is_file($stamp) &&
            abs(time() - (int) filemtime($stamp)) < Interval::Sweep->seconds() &&
            filesize($stamp) === 0
        ) {
            return;
        }
        $handle = @fopen($stamp, 'c');
        if ($handle === false || ! flock($handle, LOCK_EX | LOCK_NB)) {
            return;
        }
        ftruncate($handle, 0);
        touch($stamp);
        (new self(MediaStore::ofConfig()))->sweep();
        fclose($handle);
    }

    /** Has it done soon. */
    public static function wanted(): void
    {
        @file_put_contents(config('kite.run').'/swept', 'x', FILE_APPEND);
    }

    /** @return int how many files it took away */
    public function sweep(): int
    {
        $gone = 0;
        $now = time();
        foreach (Upload::query()->cursor() as $upload) {
            $last = @filemtime($this->store->upload($upload->id)) ?: $upload->updated_at?->getTimestamp() ?? 0;
            if ($now - $last > self::ABANDONED) {
                $upload->delete();
            }
        }
        $used = $this->used();
        foreach (
            StoredFile::onDisk()
                ->whereNotIn('state', ['waiting', 'working'])
                ->where('updated_at', '<', now()->subSeconds(self::YOUNG))
                ->cursor() as $file
        ) {
            if (! isset($used[$file->hash])) {
                $file->delete();
            }
        }
        $this->missing();
        $this->answers();
        $this->tasks($now);
        $uploads = array_fill_keys(Upload::query()->pluck('id')->all(), true);
        $working = array_fill_keys(StoredFile::query()->where('state', 'working')->pluck('hash')->all(), true);
        $files = array_fill_keys(StoredFile::query()->pluck('hash')->all(), true);
        foreach ($this->store->everything() as $folder => $paths) {
            foreach ($paths as $path) {
                $name = basename($path);
                // A form that is only begun belongs to a job that is at it, or to one that ended.
                $known =
                    $folder === 'uploads'
                        ? isset($uploads[explode('.', $name)[0]])
                        : isset($files[substr($name, 0, 64)]) &&
                            (! str_contains($name, '.part.') || isset($working[substr($name, 0, 64)]));
                $old = $now - (int) @filemtime($path) > self::YOUNG;
                if (! $known && $old && @unlink($path)) {
                    $gone++;
                }
            }
        }

        return $gone;
    }

    /** Answers that were kept for shows that are gone. */
    private function answers(): void
    {
        foreach (glob(config('kite.data').'/answers/*', GLOB_ONLYDIR | GLOB_NOSORT) ?: [] as $folder) {
            if (! Show::query()->whereKey(basename($folder))->exists()) {
                (new Filesystem())->deleteDirectory($folder);
            }
        }
    }

    /** @return list<string> what open imports read: names of files of the tasks, or hashes of files that are kept */
    private function imported(string $by): array
    {
        return array_column(
            Task::query()->where('kind', 'import')->whereIn('state', Task::OPEN)->pluck('input')->all(),
            $by,
        );
    }

    /** Tasks that are over for days, and files of imports that no open task needs. */
    private function tasks(int $now): void
    {
        Task::query()
            ->whereNotIn('state', Task::OPEN)
            ->where('kind', '!=', 'light')
            ->where('updated_at', '<', now()->subSeconds(self::ABANDONED))
            ->delete();
        $needed = $this->imported('file');
        foreach (glob(config('kite.data').'/tasks/*', GLOB_NOSORT) ?: [] as $path) {
            if (! in_array(basename($path), $needed, true) && $now - (int) @filemtime($path) > self::YOUNG) {
                @unlink($path);
            }
        }
    }

    /**
     * Files whose playback form is gone from the disk are made ready again from the original; where that is gone too,
     * they are missing.
     */
    private function missing(): void
    {
        foreach (
            StoredFile::onDisk()
                ->whereIn('state', ['ready', 'missing'])
                ->cursor() as $file
        ) {
            $form = (string) ($file->form['url'] ?? ($file->form['sound']['url'] ?? ''));
            $made =
                ($file->form['kind'] ?? null) === 'model'
                    ? $this->store->model($file->hash)
                    : $this->store->path().'/forms/'.basename($form);
            if ($file->state === 'ready' && is_file($made)) {
                continue;
            }
            $state = is_file($this->store->original($file->hash)) ? 'waiting' : 'missing';
            if ($state === $file->state) {
                continue;
            }
            $file->note(
                $state === 'missing'
                    ? 'missing: neither the file nor its playback form is on the disk'
                    : 'its playback form is gone from the disk',
            );
            $file->update(['state' => $state, 'progress' => 0]);
            if ($state === 'waiting') {
                MakeReady::dispatch($file->hash);
            }
            MakeReady::notify(app(Control::class), $file);
        }
    }

    /** @return array<string, true> hashes that rows or the history of shows name */
    private function used(): array
    {
        $used = array_fill_keys(
            [
                ...array_merge(
                    [],
                    ...array_map(
                        static fn (mixed $json): array => array_filter(
                            (array) json_decode((string) $json, true),
                            is_string(...),
                        ),
                        DB::table('media')->where('versions', '!=', '[]')->pluck('versions')->all(),
                    ),
                ),
                ...Media::query()->whereNotNull('file')->pluck('file'),
                ...Surface::query()->whereNotNull('model')->pluck('model'),
                ...Prop::query()->whereNotNull('model')->pluck('model'),
                ...$this->imported('stored'),
            ],
            true,
        );
        foreach (DB::table('edits')->orderBy('id')->select('changes')->cursor() as $edit) {
            preg_match_all('/"([0-9a-f]{64})"/', (string) $edit->changes, $found);
            $used += array_fill_keys($found[1], true);
        }

        return $used;
    }
}
