<?php

declare(strict_types=1);

namespace App\Import;

use App\Jobs\MakeReady;
use App\Media\MediaStore;
use App\Media\Prober;
use App\Models\Media;
use App\Models\Show;
use App\Models\StoredFile;
use App\Models\Upload;
use App\Show\Editor;
use App\Support\FileLock;
use App\Support\Id;
use App\Support\Problem;
use Core\Exchange\ObjReader;
use Core\Show\Changes;
use Core\Units\InvalidValue;

/** Files on their way in: in chunks, resumable, hashed as they come, and nothing left behind when one is refused. */
final readonly class Uploads
{
    private const AT_ONCE = 100;

    /** The largest package of a calibration, in bytes. */
    private const LARGEST_PACKAGE = 1 << 30;

    /** How much of an unfinished upload is compared before it goes on, in bytes. */
    private const TAIL = 1024 ** 2;

    public function __construct(private MediaStore $store, private Editor $editor)
    {
    }

    public function begin(Show $show, string $person, string $name, int $bytes): Upload
    {
        $name = self::cleanName($name);
        if ($bytes === 0) {
            throw Problem::refused('bytes', "$name is empty (0 bytes).");
        }
        if (self::isModel($name) && $bytes > ObjReader::MAX_BYTES) {
            throw new Problem(
                413,
                sprintf(
                    '%s is larger than the %d MB that a model may have; export it with fewer triangles.',
                    $name,
                    ObjReader::MAX_BYTES >> 20,
                ),
                ['field' => 'bytes'],
            );
        }
        if (self::isPackage($name) && $bytes > self::LARGEST_PACKAGE) {
            throw new Problem(413, "$name is larger than the 1 GB that a package may have.", ['field' => 'bytes']);
        }
        if ($bytes < 0 || $bytes > config('kite.largest_file')) {
            throw new Problem(
                413,
                sprintf(
                    '%s is larger than the %.0f GB that are taken.',
                    $name,
                    config('kite.largest_file') / 1024 ** 3,
                ),
                ['field' => 'bytes'],
            );
        }
        if ($this->store->free() < $bytes + config('kite.keep_free')) {
            throw new Problem(
                507,
                sprintf(
                    'The disk is too full for %s: it needs %.1f MB, and %.1f MB are free. Free some space, then import it again.',
                    $name,
                    $bytes / 1e6,
                    max(0, $this->store->free() - config('kite.keep_free')) / 1e6,
                ),
            );
        }
        if (Upload::query()->where('showId', $show->id)->whereNull('result')->count() >= self::AT_ONCE) {
            throw new Problem(
                422,
                'There are '.self::AT_ONCE.' uploads under way; wait for some of them, or cancel one.',
            );
        }
        $upload = Upload::query()->create([
            'showId' => $show->id,
            'person' => $person,
            'name' => $name,
            'bytes' => $bytes,
        ]);
        touch($this->store->upload($upload->id));

        return $upload;
    }

    /** @return list<Upload> those that a person began and that are not whole, the newest first */
    public function unfinished(Show $show, string $person): array
    {
        return array_values(
            Upload::query()
                ->where('showId', $show->id)
                ->where('person', $person)
                ->whereNull('result')
                ->orderByDesc('id')
                ->limit(self::AT_ONCE)
                ->get()
                ->all(),
        );
    }

    /**
     * The last of what has come, by which who goes on can tell whether it is the same file.
     *
     * @return array{from: int, sha256: string}|null from that byte on up to what is received; null where nothing is
     */
    public function tail(Upload $upload): ?array
    {
        $received = $this->received($upload);
        if ($upload->result !== null || $received === 0) {
            return null;
        }
        $from = max(0, $received - self::TAIL);

        return [
            'from' => $from,
            'sha256' => hash(
                'sha256',
                (string) @file_get_contents(
                    $this->store->upload($upload->id),
                    false,
                    null,
                    $from,
                    max(0, $received - $from),
                ),
            ),
        ];
    }

    public function received(Upload $upload): int
    {
        clearstatcache();

        return $upload->result !== null ? $upload->bytes : (int) @filesize($this->store->upload($upload->id));
    }

    /**
     * Takes the next bytes; with the last of them the file becomes media of the show.
     *
     * @return array<string, mixed> received, and when it is whole: media (id; not of a model), hash, known (whether
     *     it was here already)
     */
    public function take(Upload $upload, int $at, string $bytes): array
    {
        if ($upload->result !== null) {
            return ['received' => $upload->bytes] + $upload->result;
        }
        $path = $this->store->upload($upload->id);
        $handle = fopen($path, 'ab') ?: throw new Problem(507, 'The upload can\'t be written to disk.');
        if (! flock($handle, LOCK_EX | LOCK_NB)) {
            throw new Problem(409, 'Another part of this upload is being written.', [
                'received' => $this->received($upload),
            ]);
        }
        $now = Upload::query()->find($upload->id);
        if ($now === null || $now->result !== null) {
            // Cancelled, or filed, while this part was on its way.
            @unlink($path);

            return $now !== null
                ? ['received' => $now->bytes] + (array) $now->result
                : throw new Problem(404, "The upload of $upload->name was cancelled.");
        }
        $have = $this->received($upload);
        if ($at !== $have) {
            throw new Problem(409, "The next byte wanted is number $have.", ['received' => $have]);
        }
        // With all bytes here but not filed, as after a crash, an empty part has it filed.
        if (($bytes === '' && $have < $upload->bytes) || strlen($bytes) > config('kite.largest_chunk')) {
            throw new Problem(
                $bytes === '' ? 422 : 413,
                'A part has between 1 and '.config('kite.largest_chunk').' bytes.',
            );
        }
        if ($have + strlen($bytes) > $upload->bytes) {
            throw Problem::refused(
                'bytes',
                "$upload->name was announced with $upload->bytes bytes; this would be more.",
            );
        }
        $hash = $this->hashSoFar($path, $have);
        $wrote = @fwrite($handle, $bytes);
        if ($wrote !== strlen($bytes) || ! fflush($handle)) {
            ftruncate($handle, max(0, $have));
            throw new Problem(
                507,
                "The disk is full; $upload->name stays at $have bytes and goes on when there is room.",
                ['received' => $have],
            );
        }
        hash_update($hash, $bytes);
        $have += $wrote;
        if ($have < $upload->bytes) {
            // Written beside and moved: a hash that is there is whole, and says of how many bytes it is.
            file_put_contents("$path.hash.new", $have."\n".serialize($hash));
            rename("$path.hash.new", "$path.hash");

            return ['received' => $have];
        }

        return ['received' => $have] + $this->finish($upload, hash_final($hash));
    }

    /** The hash of the bytes that are here: kept from the last part, or made anew where that is of another length. */
    private function hashSoFar(string $path, int $have): \HashContext
    {
        [$of, $state] = explode("\n", (string) @file_get_contents("$path.hash"), 2) + ['', ''];
        $hash =
            $have > 0 && $of === (string) $have
                ? @unserialize($state, ['allowed_classes' => [\HashContext::class]])
                : null;
        if (! ($hash instanceof \HashContext)) {
            $hash = hash_init('sha256');
            hash_update_file($hash, $path);
        }

        return $hash;
    }

    public function forget(Upload $upload): void
    {
        $this->clean($upload);
        $upload->delete();
    }

    private function clean(Upload $upload): void
    {
        foreach (['', '.hash', '.hash.new'] as $end) {
            @unlink($this->store->upload($upload->id).$end);
        }
    }

    /** @return array<string, mixed> */
    private function finish(Upload $upload, string $hash): array
    {
        // One at a time files one content, so that the same file sent many times at once stays one.
        $lock =
            FileLock::wait($this->store->upload("filing-$hash")) ??
            throw new Problem(507, 'The upload can\'t be written to disk.');
        try {
            $result = $this->file($upload, $hash);
            $upload->update(['result' => $result]);
            $this->clean($upload);

            return $result;
        } finally {
            $lock->release();
        }
    }

    /** @return array<string, mixed> */
    private function file(Upload $upload, string $hash): array
    {
        $path = $this->store->upload($upload->id);
        $file = StoredFile::query()->find($hash);
        try {
            if ($file === null || ! is_file($this->store->original($hash))) {
                $facts = match (true) {
                    self::isModel($upload->name) => ['kind' => 'model'],
                    self::isPackage($upload->name) => ['kind' => 'package'],
                    default => (new Prober())->facts($path, $upload->name)->toArray(),
                };
                rename($path, $this->store->original($hash));
                $file ??= StoredFile::query()->createOrFirst(
                    ['hash' => $hash],
                    [
                        'name' => $upload->name,
                        'bytes' => $upload->bytes,
                        // A package is read by what imports it, and needs no form to be played by.
                        'state' => $facts['kind'] === 'package' ? 'ready' : 'waiting',
                        'facts' => $facts,
                    ],
                );
            }
        } catch (InvalidValue $refused) {
            $this->forget($upload);
            throw Problem::refused('file', $refused->getMessage());
        }
        $isPackage = ($file->facts['kind'] ?? null) === 'package';
        if ($file->state === 'missing') {
            $file->update(['state' => $isPackage ? 'ready' : 'waiting', 'progress' => 0]);
        }
        // Somebody still counts on it, however old it is.
        $file->touch();
        if ($file->state === 'waiting') {
            MakeReady::dispatch($hash);
        }
        if ($isPackage || ($file->facts['kind'] ?? null) === 'model') {
            // Neither is media: a model becomes part of the show with the surface or prop that it is for, and a package
            // with the surface that it is imported for.
            return ['hash' => $hash, 'known' => $file->state === 'ready', 'message' => null];
        }
        $show = Show::query()->findOrFail($upload->showId);
        $known = Media::query()->where('showId', $show->id)->where('file', $hash)->first();
        $same =
            $known === null
                ? Media::query()
                    ->where('showId', $show->id)
                    ->where('kind', 'file')
                    ->where('name', $upload->name)
                    ->first()
                : null;
        $id = $known->id ?? Id::make();
        if ($known === null) {
            $this->editor->apply($show, $upload->person, "Import $upload->name", [
                Changes::create('media', $id, ['name' => $upload->name, 'kind' => 'file', 'file' => $hash]),
            ]);
        }

        $message = match (true) {
            $known !== null => "$upload->name is here already, as $known->name.",
            $same !== null => "Another $upload->name is here: this one can be its new version, in the details of the other.",
            default => null,
        };

        return ['media' => $id, 'hash' => $hash, 'known' => $known !== null, 'message' => $message];
    }

    private static function isModel(string $name): bool
    {
        return str_ends_with(strtolower($name), '.obj');
    }

    private static function isPackage(string $name): bool
    {
        return str_ends_with(strtolower($name), '.mpcdi');
    }

    private static function cleanName(string $name): string
    {
        if (! mb_check_encoding($name, 'UTF-8')) {
            throw Problem::refused('name', 'The name of the file is no UTF-8 text.');
        }
        $last = trim((string) preg_replace('~^.*[/\\\\]|[\x00-\x1f\x7f]~su', '', $name));
        if ($last === '' || mb_strlen($last) > 200) {
            throw Problem::refused(
                'name',
                'The name of the file has to have between 1 and 200 characters after its last slash.',
            );
        }

        return $last;
    }
}
