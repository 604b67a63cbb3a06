<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Engine\Control;
use App\Http\Download;
use App\Import\Uploads;
use App\Jobs\MakeReady;
use App\Media\MediaStore;
use App\Models\Show;
use App\Models\StoredFile;
use App\Models\Upload;
use App\Show\Editor;
use App\Show\ShowRepository;
use App\Support\Input;
use App\Support\Problem;
use Core\Exchange\Csv;
use Core\Media\TestCard;
use Core\Paperwork\MediaSheet;
use Core\Units\Check;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;

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
        $upload = $this->uploads->begin($show, $request->attributes->get('person'), $body->text('name'), $body->whole('bytes', 0, PHP_INT_MAX));

        return new JsonResponse($this->told($upload), 201);
    }

    /** What the one who asks began to send and that is not whole. */
    public function unfinished(Request $request, Show $show): JsonResponse
    {
        return new JsonResponse(['uploads' => array_map($this->told(...), $this->uploads->unfinished($show, $request->attributes->get('person')))]);
    }

    public function progress(Upload $upload): JsonResponse
    {
        return new JsonResponse($this->told($upload) + ['tail' => $this->uploads->tail($upload)] + ($upload->result ?? []));
    }

    /** @return array<string, mixed> */
    private function told(Upload $upload): array
    {
        return ['id' => $upload->id, 'name' => $upload->name, 'bytes' => $upload->bytes, 'received' => $this->uploads->received($upload), 'largestChunk' => config('kite.largest_chunk')];
    }

    public function take(Request $request, Upload $upload): JsonResponse
    {
        return new JsonResponse($this->uploads->take($upload, Input::query($request)->digits('at'), $request->getContent()));
    }

    public function forget(Upload $upload): JsonResponse
    {
        $this->uploads->forget($upload);

        return new JsonResponse(['deleted' => $upload->id]);
    }

    public function retry(string $hash): JsonResponse
    {
        $file = StoredFile::query()->findOrFail($hash);
        if (! in_array($file->state, ['failed', 'cancelled'], true)) {
            throw new Problem(422, "$file->name is $file->state; there is nothing to try again.");
        }
        $file->update(['state' => 'waiting', 'progress' => 0, 'sentence' => null]);
        MakeReady::dispatch($hash);

        return $this->file($file);
    }

    public function cancel(string $hash): JsonResponse
    {
        $file = StoredFile::query()->findOrFail($hash);
        if (StoredFile::query()->whereKey($hash)->whereIn('state', ['waiting', 'working'])->update(['state' => 'cancelled']) === 0) {
            throw new Problem(422, "$file->name is $file->state; there is nothing to cancel.");
        }

        return $this->file($file->refresh());
    }

    private function file(StoredFile $file): JsonResponse
    {
        MakeReady::tell($this->control, $file);

        return new JsonResponse(['hash' => $file->hash] + ShowRepository::file($file));
    }

    /** The numbers by which a console calls the media of a show, as a table. */
    public function sheet(Show $show, ShowRepository $rows): Response
    {
        $table = MediaSheet::of($rows->core($show)->library->media);

        return Download::csv(Csv::write([$table->columns, ...$table->rows]), "$show->name media.csv");
    }

    public function testCard(Request $request): Response
    {
        $query = Input::query($request);
        $card = TestCard::picture($query->digits('width', Check::MAX_PIXELS), $query->digits('height', Check::MAX_PIXELS), mb_substr($query->text('name', ''), 0, 200));

        return new Response(Png::of($card), 200, ['Content-Type' => 'image/png', 'Cache-Control' => 'public, max-age=31536000, immutable']);
    }
}
