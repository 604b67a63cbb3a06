<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Engine\Control;
use App\Import\Uploads;
use App\Jobs\MakeReady;
use App\Media\MediaStore;
use App\Models\Show;
use App\Models\StoredFile;
use App\Models\Upload;
use App\Show\Editor;
use App\Show\Rows;
use App\Support\Problem;
use Core\Media\TestCard;
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
        $name = $request->input('name');
        $bytes = $request->input('bytes');
        if (! is_string($name) || ! is_int($bytes)) {
            throw Problem::refused(is_string($name) ? 'bytes' : 'name', 'An upload states the name of the file and its length in bytes.');
        }
        $upload = $this->uploads->begin($show, $request->attributes->get('person'), $name, $bytes);

        return new JsonResponse(['id' => $upload->id, 'name' => $upload->name, 'bytes' => $upload->bytes, 'received' => 0, 'largestChunk' => config('kite.largest_chunk')], 201);
    }

    public function progress(Upload $upload): JsonResponse
    {
        return new JsonResponse(['id' => $upload->id, 'name' => $upload->name, 'bytes' => $upload->bytes, 'received' => $this->uploads->received($upload), 'largestChunk' => config('kite.largest_chunk')]);
    }

    public function take(Request $request, Upload $upload): JsonResponse
    {
        $at = $request->query('at');
        if (! is_string($at) || ! ctype_digit($at)) {
            throw Problem::refused('at', 'Say with ?at= which byte this part starts with.');
        }

        return new JsonResponse($this->uploads->take($upload, (int) $at, $request->getContent()));
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

        return $this->told($file);
    }

    public function cancel(string $hash): JsonResponse
    {
        $file = StoredFile::query()->findOrFail($hash);
        if (StoredFile::query()->whereKey($hash)->whereIn('state', ['waiting', 'working'])->update(['state' => 'cancelled']) === 0) {
            throw new Problem(422, "$file->name is $file->state; there is nothing to cancel.");
        }

        return $this->told($file->refresh());
    }

    private function told(StoredFile $file): JsonResponse
    {
        MakeReady::tell($this->control, $file);

        return new JsonResponse(['hash' => $file->hash] + Rows::file($file));
    }

    public function testCard(Request $request): Response
    {
        $card = TestCard::picture((int) $request->query('width', '0'), (int) $request->query('height', '0'), mb_substr((string) $request->query('name', ''), 0, 200));

        return new Response(Png::of($card), 200, ['Content-Type' => 'image/png', 'Cache-Control' => 'public, max-age=31536000, immutable']);
    }
}
