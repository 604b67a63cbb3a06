<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Engine\Control;
use App\Http\Download;
use App\Http\Ranged;
use App\Import\Uploads;
use App\Jobs\MakeReady;
use App\Media\MediaStore;
use App\Models\Show;
use App\Models\StoredFile;
use App\Models\Upload;
use App\Paper\Png;
use App\Show\Editor;
use App\Show\ShowRepository;
use App\Support\Input;
use App\Support\Problem;
use Core\Media\Beep;
use Core\Media\Pattern;
use Core\Media\PatternPicture;
use Core\Media\TestCard;
use Core\Media\TextGrid;
use Core\Paperwork\MediaSheet;
use Core\Show\Versions;
use Core\Units\Check;
use Core\Units\Flicks;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Symfony\Component\HttpFoundation\Response as BinaryResponse;

final readonly class MediaController
{
    private Uploads $uploads;

    public function __construct(Editor $editor, private Control $control)
    {
        $this->uploads = new Uploads(MediaStore::ofConfig(), $editor);
    }

    public function begin(Request $request, Show $show): JsonResponse
    {
        $body = Input::body($request);
        $upload = $this->uploads->begin(
            $show,
            $request->attributes->get('person'),
            $body->text('name'),
            $body->whole('bytes', 0, PHP_INT_MAX),
        );

        return new JsonResponse($this->payload($upload), 201);
    }

    /** What the one who asks began to send and that is not whole. */
    public function unfinished(Request $request, Show $show): JsonResponse
    {
        return new JsonResponse([
            'uploads' => array_map(
                $this->payload(...),
                $this->uploads->unfinished($show, $request->attributes->get('person')),
            ),
        ]);
    }

    public function progress(Request $request, Upload $upload): JsonResponse
    {
        self::own($request, $upload);

        return new JsonResponse(
            $this->payload($upload) + ['tail' => $this->uploads->tail($upload)] + ($upload->result ?? []),
        );
    }

    /** @return array<string, mixed> */
    private function payload(Upload $upload): array
    {
        return [
            'id' => $upload->id,
            'name' => $upload->name,
            'bytes' => $upload->bytes,
            'received' => $this->uploads->received($upload),
            'largestChunk' => config('kite.largest_chunk'),
        ];
    }

    public function take(Request $request, Upload $upload): JsonResponse
    {
        self::own($request, $upload);

        return new JsonResponse(
            $this->uploads->take($upload, Input::query($request)->digits('at'), $request->getContent()),
        );
    }

    /** An upload is for the person alone who began it; for others there is none. */
    private static function own(Request $request, Upload $upload): void
    {
        if ($upload->person !== $request->attributes->get('person')) {
            throw new Problem(404, 'There is no such upload.');
        }
    }

    public function forget(Request $request, Upload $upload): JsonResponse
    {
        self::own($request, $upload);
        $this->uploads->forget($upload);

        return new JsonResponse(['deleted' => $upload->id]);
    }

    public function retry(string $hash): JsonResponse
    {
        $file = StoredFile::query()->findOrFail($hash);
        // Also what is ready, where it was made by an older recipe; an input is made by nobody.
        if (! in_array($file->state, ['failed', 'cancelled', 'ready'], true) || $file->isInput()) {
            throw new Problem(422, "$file->name is $file->state; there is nothing to try again.");
        }
        $file->update(['state' => 'waiting', 'progress' => 0, 'message' => null]);
        MakeReady::dispatch($hash);

        return $this->file($file);
    }

    public function cancel(string $hash): JsonResponse
    {
        $file = StoredFile::query()->findOrFail($hash);
        if (
            StoredFile::query()
                ->whereKey($hash)
                ->whereIn('state', ['waiting', 'working'])
                ->update(['state' => 'cancelled']) === 0
        ) {
            throw new Problem(422, "$file->name is $file->state; there is nothing to cancel.");
        }

        return $this->file($file->refresh());
    }

    /** What was done with a file, line by line. */
    public function log(string $hash): JsonResponse
    {
        return new JsonResponse(['lines' => StoredFile::query()->findOrFail($hash)->log ?? []]);
    }

    private function file(StoredFile $file): JsonResponse
    {
        MakeReady::notify($this->control, $file);

        return new JsonResponse(['hash' => $file->hash] + ShowRepository::file($file));
    }

    /** The numbers by which a console calls the media of a show, as a table. */
    public function sheet(Show $show, ShowRepository $rows): Response
    {
        $table = MediaSheet::of($rows->core($show)->library->media);

        return Download::table($table, "$show->name media.csv");
    }

    /** Says what would not fit of a new version, has a media be it, or go back to one of before. */
    public function version(
        Request $request,
        Show $show,
        string $media,
        ShowRepository $rows,
        Editor $editor,
    ): JsonResponse {
        $body = Input::body($request);
        $document = $rows->document($show);
        $versions = new Versions($document->show, $document);
        $name = $document->show->library->media[$media]->name ?? 'a media';
        $person = $request->attributes->get('person');
        if ($body->has('file')) {
            return new JsonResponse(
                ...$editor->order(
                    $show,
                    $person,
                    "An earlier version of $name",
                    $versions->back($media, $body->text('file')),
                    null,
                ),
            );
        }
        $misfits = $versions->misfits($media, $body->text('by'));
        if (! $body->flag('take')) {
            return new JsonResponse(['misfits' => $misfits]);
        }

        return new JsonResponse(
            ...$editor->order(
                $show,
                $person,
                "A new version of $name",
                $versions->take($media, $body->text('by')),
                null,
            ),
        );
    }

    /** Live inputs that a media can be: those of servers, and those that each browser has itself. */
    public function inputs(): JsonResponse
    {
        $own = static fn (string $name, string $label): array => [
            'name' => $name,
            'label' => $label,
            'state' => 'ready',
            'rate' => 30.0,
        ] +
            array_intersect_key(ShowRepository::ofBrowser($name)['facts'], [
                'server' => 0,
                'width' => 0,
                'height' => 0,
            ]);
        $inputs = StoredFile::inputs()
            ->orderBy('hash')
            ->get()
            ->map(
                static fn (StoredFile $file): array => [
                    'name' => $file->hash,
                    'label' => $file->name,
                    'server' => (string) ($file->facts['server'] ?? ''),
                    'state' => $file->state,
                    'width' => (int) ($file->facts['width'] ?? 0),
                    'height' => (int) ($file->facts['height'] ?? 0),
                    'rate' => (float) ($file->facts['measuredRate'] ?? 0),
                ],
            )
            ->all();

        return new JsonResponse([
            'inputs' => [
                ...$inputs,
                $own('browser:camera', 'Camera of the browser'),
                $own('browser:screen', 'Screen of the browser'),
            ],
        ]);
    }

    /** Where everything is, how much disk it takes, and what the workers are at. */
    public function storage(): JsonResponse
    {
        $store = MediaStore::ofConfig();
        $database = (string) config('database.connections.sqlite.database');
        $working = StoredFile::query()
            ->whereIn('state', ['working', 'waiting', 'failed'])
            ->orderByRaw("state = 'working' desc, state = 'waiting' desc")
            ->orderBy('updated_at')
            ->limit(200)
            ->get(['hash', 'name', 'state', 'progress', 'message', 'bytes']);

        return new JsonResponse([
            'path' => $store->path(),
            'free' => $store->free(),
            'keepFree' => (int) config('kite.keep_free'),
            'folders' => $store->sizes(),
            'database' => [
                'path' => $database,
                'bytes' => (int) @filesize($database) + (int) @filesize("$database-wal"),
            ],
            'waiting' => StoredFile::query()
                ->whereIn('state', ['waiting', 'working'])
                ->count(),
            'jobs' => $working
                ->map(
                    static fn (StoredFile $file): array => [
                        'hash' => $file->hash,
                        'name' => $file->name,
                        'state' => $file->state,
                        'progress' => $file->progress,
                        'message' => $file->message,
                        'bytes' => $file->bytes,
                    ],
                )
                ->all(),
        ]);
    }

    /** One frame of a pattern, by its defaults, for lists: at most 640 × 360 px. */
    public function pattern(Request $request, string $pattern): Response
    {
        $of = Pattern::tryFrom($pattern) ?? throw new Problem(404, 'There is no pattern of this name.');
        $query = Input::query($request);
        [$width, $height] = [$query->digits('width', 640, 128), $query->digits('height', 360, 72)];
        $set = Pattern::properties();
        $values = static fn (string $name): float => $name === 'size'
            ? max(2.0, $height / 4.5)
            : $set->named(explode('#', $name)[0])->default;

        return new Response(
            Png::of(
                PatternPicture::of(
                    $of,
                    max(1, $width),
                    max(1, $height),
                    40,
                    intdiv(Flicks::PER_SECOND, 25),
                    $values,
                    $of === Pattern::Text ? TextGrid::of("Lantern\nNight") : null,
                )->rendered(),
            ),
            200,
            ['Content-Type' => 'image/png', 'Cache-Control' => 'public, max-age=86400'],
        );
    }

    /** What is heard with a flash, whole or the range that is asked for (RFC 9110, 14). */
    public function beep(Request $request): BinaryResponse
    {
        $bytes = Beep::bytes();

        return Ranged::part(
            $request,
            strlen($bytes),
            static fn (int $from, int $count): string => substr($bytes, $from, $count),
            ['Cache-Control' => 'public, max-age=86400'],
        );
    }

    public function testCard(Request $request): Response
    {
        $query = Input::query($request);
        $card = TestCard::picture(
            $query->digits('width', Check::MAX_PIXELS),
            $query->digits('height', Check::MAX_PIXELS),
            mb_substr($query->text('name', ''), 0, 200),
        );

        return new Response(Png::of($card), 200, [
            'Content-Type' => 'image/png',
            'Cache-Control' => 'public, max-age=31536000, immutable',
        ]);
    }
}
