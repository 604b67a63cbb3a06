<?php

declare(strict_types=1);

namespace App\Show;

use App\Media\ModelStore;
use App\Models\Show;
use App\Models\StoredFile;
use App\Support\Id;
use App\Support\Problem;
use Core\Bindings\Personality;
use Core\Geometry\Pose;
use Core\Geometry\Vec3;
use Core\Media\MediaNumber;
use Core\Show\Document;
use Core\Show\Kinds\PanelKind;
use Core\Show\Show as CoreShow;
use Core\Units\InvalidValue;
use Core\Venue\FixtureType;
use Core\Venue\Panel;
use Core\Venue\Surface;
use Core\Venue\TransformTree;
use Illuminate\Support\Collection;
use Illuminate\Support\Facades\DB;

/** Reads shows from the database, as plain rows and as the core's value. */
final class ShowRepository
{
    /** Rows that are written at once. */
    private const AT_ONCE = 200;

    /**
     * A copy of a show, with ids of its own: whatever names a row of the one names that of the other. Its history begins
     * anew, and it is not on air.
     */
    public static function duplicate(Show $show, string $name): Show
    {
        return DB::transaction(static function () use ($show, $name): Show {
            $copy = Show::query()->create([
                'name' => $name,
                'frameRate' => $show->frameRate,
                'revision' => 0,
                'engaged' => false,
            ]);
            $tables = array_map(
                static fn (string $kind): string => (new (RowSchema::model($kind))())->getTable(),
                RowSchema::names(),
            );
            $ids = [$show->id => $copy->id];
            foreach ($tables as $table) {
                foreach (DB::table($table)->where('showId', $show->id)->pluck('id') as $id) {
                    $ids[(string) $id] = Id::make();
                }
            }
            $named = static fn (string $text): string => (string) preg_replace_callback(
                '/[0-9a-hjkmnp-tv-z]{26}/',
                static fn (array $m): string => $ids[$m[0]] ?? $m[0],
                $text,
            );
            foreach ($tables as $table) {
                DB::table($table)
                    ->where('showId', $show->id)
                    ->orderBy('id')
                    ->chunk(self::AT_ONCE, static function (Collection $rows) use ($table, $named): void {
                        DB::table($table)->insert(
                            $rows
                                ->map(
                                    static fn (object $row): array => array_map(
                                        static fn (mixed $value): mixed => is_string($value) && strlen($value) >= 26
                                            ? $named($value)
                                            : $value,
                                        (array) $row,
                                    ),
                                )
                                ->all(),
                        );
                    });
            }

            return $copy;
        });
    }

    /**
     * All rows of a show, by kind.
     *
     * @param  bool  $curves  whether keyframes are read; else they stay the JSON that they are stored as
     * @return array<string, list<array<string, mixed>>>
     */
    public function of(string $showId, bool $curves = true): array
    {
        $rows = [];
        foreach (RowSchema::names() as $kind) {
            $rows[$kind] = [];
            $decode = RowSchema::decoders($kind);
            if (! $curves) {
                unset($decode['keyframes']);
            }
            // Thousands of rows are read here at each edit, so without a model for each of them.
            foreach (
                RowSchema::model($kind)::query()->where('showId', $showId)->orderBy('id')->toBase()->get() as $row
            ) {
                $row = (array) $row;
                unset($row['showId']);
                foreach ($decode as $field => $how) {
                    $row[$field] = $how($row[$field]);
                }
                $rows[$kind][] = $row;
            }
        }

        return $rows;
    }

    /**
     * @return array<string, list<array<string, mixed>>> as of(), and media rows with what the worker knows of their
     *     files
     */
    public function withFiles(string $showId, bool $curves = true): array
    {
        return $this->joinFiles($this->of($showId, $curves));
    }

    /**
     * @param  array<string, list<array<string, mixed>>>  $rows
     * @return array<string, list<array<string, mixed>>>
     */
    private function joinFiles(array $rows): array
    {
        foreach (['media', 'surface', 'prop'] as $kind) {
            foreach ($rows[$kind] as $i => $row) {
                // What a row knew of a file before may be another one's now.
                $rows[$kind][$i] = array_diff_key(
                    $row,
                    $kind === 'media' ? self::OF_FILE : ['modelFile' => 0, 'geometry' => 0],
                );
            }
        }
        $hashes = array_values(
            array_filter([
                ...array_column($rows['media'], 'file'),
                ...array_column($rows['surface'], 'model'),
                ...array_column($rows['prop'], 'model'),
            ]),
        );
        $files = [];
        foreach (array_chunk($hashes, 500) as $some) {
            $files += StoredFile::query()->whereIn('hash', $some)->get()->keyBy('hash')->all();
        }
        foreach ($rows['media'] as $i => $row) {
            $file = $files[$row['file']] ?? null;
            if ($row['kind'] === 'file' || $row['kind'] === 'input') {
                $rows['media'][$i] += match (true) {
                    $file !== null => self::file($file),
                    $row['kind'] === 'input' && str_starts_with((string) $row['file'], 'browser:') => self::ofBrowser(
                        (string) $row['file'],
                    ),
                    default => ['state' => 'missing'],
                };
            }
        }
        foreach (['surface', 'prop'] as $kind) {
            foreach ($rows[$kind] as $i => $row) {
                if ($row['model'] !== null) {
                    $file = $files[$row['model']] ?? null;
                    $rows[$kind][$i]['modelFile'] =
                        $file === null ? ['state' => 'missing'] : ['name' => $file->name] + self::file($file);
                }
            }
        }

        return $rows;
    }

    /**
     * @return array{state: string, facts: array<string, mixed>, form: array<string, mixed>} what is told of an input
     *     that each window takes from its own browser
     */
    public static function ofBrowser(string $name): array
    {
        return [
            'state' => 'ready',
            'facts' => [
                'kind' => 'input',
                'width' => 1280,
                'height' => 720,
                'pixelAspect' => 1,
                'server' => 'each browser',
                'assumed' => [],
            ],
            'form' => ['kind' => 'live', 'url' => $name, 'width' => 1280, 'height' => 720],
        ];
    }

    private const OF_FILE = [
        'state' => 0,
        'progress' => 0,
        'message' => 0,
        'facts' => 0,
        'form' => 0,
        'thumbnails' => 0,
        'bytes' => 0,
    ];

    /** @return array<string, mixed> what a media row tells of its file */
    public static function file(StoredFile $file): array
    {
        return [
            'state' => $file->state,
            'progress' => $file->progress,
            'message' => $file->message,
            'facts' => $file->facts,
            'form' => $file->form,
            'thumbnails' => $file->thumbnails,
            'bytes' => $file->bytes,
        ];
    }

    /** @param  array<string, list<array<string, mixed>>>|null  $rows  of withFiles(), where they are at hand */
    public function core(Show $show, ?array $rows = null): CoreShow
    {
        return $this->document($show, $rows)->show;
    }

    /** @param  array<string, list<array<string, mixed>>>|null  $rows  of withFiles(), where they are at hand */
    public function document(Show $show, ?array $rows = null): Document
    {
        return Document::of(
            $show->attributesToArray(),
            self::withGeometry($rows ?? $this->withFiles($show->id, false)),
        );
    }

    /**
     * Rows that an Edit left behind, with what is known of their files.
     *
     * @param  array<string, array<string, array<string, mixed>|null>>  $changed  by kind and id
     * @return array<string, array<string, array<string, mixed>|null>>
     */
    public function changedWithFiles(array $changed): array
    {
        $lists = ['media' => [], 'surface' => [], 'prop' => []];
        foreach ($lists as $kind => $_) {
            $lists[$kind] = array_values(array_filter($changed[$kind] ?? []));
        }
        foreach (self::withGeometry($this->joinFiles($lists)) as $kind => $list) {
            foreach ($list as $row) {
                $changed[$kind][$row['id']] = $row;
            }
        }

        return $changed;
    }

    /**
     * Models with their triangles, read from disk when somebody asks for them.
     *
     * @param  array<string, list<array<string, mixed>>>  $rows
     * @return array<string, list<array<string, mixed>>>
     */
    private static function withGeometry(array $rows): array
    {
        foreach (['surface', 'prop'] as $kind) {
            foreach ($rows[$kind] as $i => $row) {
                if (
                    ($row['modelFile']['state'] ?? null) === 'ready' &&
                    ($row['modelFile']['form']['kind'] ?? null) === 'model'
                ) {
                    $rows[$kind][$i]['geometry'] =
                        ['load' => static fn (): array => ModelStore::read((string) $row['model'])] +
                        $row['modelFile']['form'];
                }
            }
        }

        return $rows;
    }

    /**
     * Refuses rigs that ride on one another in a ring.
     *
     * @throws InvalidValue
     */
    public function checkRigs(string $showId): void
    {
        $rigs = RowSchema::model('rig')::query()->where('showId', $showId)->toBase()->pluck('rig', 'id')->all();
        TransformTree::of(array_map(static fn (): Pose => Pose::of(Vec3::zero()), $rigs), $rigs);
    }

    /** @return array<int, MediaNumber> the numbers of a show's media, by their place */
    public function mediaNumbers(string $showId): array
    {
        $numbers = [];
        foreach (
            RowSchema::model('media')::query()
                ->where('showId', $showId)
                ->whereNotNull('folder')
                ->toBase()
                ->get(['folder', 'index']) as $row
        ) {
            $number = MediaNumber::of((int) $row->folder, (int) $row->index);
            $numbers[$number->place()] = $number;
        }

        return $numbers;
    }

    /**
     * Refuses a media without a number, and two with the same.
     *
     * @throws InvalidValue
     */
    public function checkMediaNumbers(string $showId): void
    {
        $names = [];
        foreach (
            RowSchema::model('media')::query()
                ->where('showId', $showId)
                ->orderBy('id')
                ->toBase()
                ->get(['name', 'folder', 'index']) as $row
        ) {
            if ($row->folder === null || $row->index === null) {
                throw InvalidValue::because(
                    $row->folder === null ? 'folder' : 'index',
                    "$row->name needs a folder and an index, 0 to 255 each, by which a console calls it.",
                );
            }
            $number = MediaNumber::of((int) $row->folder, (int) $row->index);
            $other = $names[$number->place()] ?? null;
            if ($other !== null) {
                throw InvalidValue::because(
                    'index',
                    "Folder $number->folder, index $number->index is $other and $row->name at once. The next free number is ".
                        MediaNumber::next($this->mediaNumbers($showId)).
                        '.',
                );
            }
            $names[$number->place()] = (string) $row->name;
        }
    }

    /** A surface that a request names. */
    public static function surfaceOf(CoreShow $show, string $id): Surface
    {
        return $show->venue->surfaces[$id] ?? throw new Problem(404, 'The show has no surface with this id.');
    }

    /** @return array<string, Panel|FixtureType|Personality> what surfaces and controls are made of, by id */
    public function types(string $showId): array
    {
        $of = static fn (string $kind, \Closure $build): array => RowSchema::model($kind)::query()
            ->where('showId', $showId)
            ->get()
            ->mapWithKeys(static fn ($row) => [$row->id => $build($row->attributesToArray())])
            ->all();

        return $of('panel', PanelKind::panel(...)) +
            $of('fixture', FixtureType::fromRow(...)) +
            $of(
                'personality',
                static fn (array $row): Personality => Personality::of((string) $row['name'], (string) $row['parts']),
            );
    }
}
