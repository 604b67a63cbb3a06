<?php

declare(strict_types=1);

namespace App\Http\Middleware;

use App\Jobs\RunTask;
use App\Models\Show;
use App\Models\StoredFile;
use App\Models\Task;
use App\Support\FileLock;
use Closure;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Illuminate\Support\Facades\Route;
use Symfony\Component\HttpFoundation\Response as AnyResponse;

/**
 * Stands beside each route that may take over 300 ms: nginx gives those to a pool of their own, so that others are
 * never behind them. A file that is made of a show (FILE) is kept until the show or a file of it changes; of several
 * who ask the same at once, one is worked for. Who prefers so (`Prefer: respond-async`, RFC 7240) is told of a task
 * (202) where it is not kept yet, and asks again when that is ready. What is looked at gets finer by itself and is
 * not kept.
 */
final class Expensive
{
    /** Beside a route whose answer is a file. */
    public const FILE = self::class.':file';

    /** The largest answer that is kept, in bytes, and how many are kept of a show. */
    private const MAX_BYTES = 33_554_432;

    private const MAX_KEPT = 400;

    public function handle(Request $request, Closure $next, string $of = ''): AnyResponse
    {
        $show = $request->route('show');
        if ($of !== 'file' || ! ($show instanceof Show) || ! $request->isMethod('GET')) {
            return $next($request);
        }
        $folder = config('kite.data')."/answers/$show->id";
        is_dir($folder) || @mkdir($folder, 0700, true);
        $key = hash(
            'sha256',
            implode(' ', [$request->getRequestUri(), $show->revision, StoredFile::query()->max('updated_at')]),
        );
        $path = "$folder/$key";
        $kept = self::read($path);
        if ($kept !== null) {
            return $kept;
        }
        if (preg_match('/(^|,)\s*respond-async\s*(,|;|$)/i', (string) $request->headers->get('Prefer')) === 1) {
            return self::later($request, $show, $key);
        }
        $lock = FileLock::wait("$path.lock");
        try {
            $answer = self::read($path) ?? $next($request);
            if (
                $answer instanceof Response &&
                $answer->getStatusCode() === 200 &&
                $answer->headers->has('Content-Disposition') &&
                ! is_file($path)
            ) {
                self::keep($folder, $path, $answer);
            }

            return $answer;
        } finally {
            $lock?->release();
        }
    }

    /** The task that makes the file; the one that is at it already where there is one of this person. */
    private static function later(Request $request, Show $show, string $key): JsonResponse
    {
        $person = (string) $request->attributes->get('person');
        $task =
            Task::query()
                ->where(['showId' => $show->id, 'key' => $key, 'kind' => 'answer', 'person' => $person])
                ->whereIn('state', Task::OPEN)
                ->first() ?? RunTask::begin('answer', $show, $person, ['path' => $request->getRequestUri()], $key);

        return new JsonResponse($task->payload(), 202, [
            'Location' => "/api/tasks/$task->id",
            'Preference-Applied' => 'respond-async',
        ]);
    }

    private static function read(string $path): ?Response
    {
        $text = @file_get_contents($path);
        if ($text === false) {
            return null;
        }
        @touch($path);
        [$headers, $body] = explode("\n", $text, 2) + [1 => ''];
        $headers = json_decode($headers, true);

        return is_array($headers) ? new Response($body, 200, $headers) : null;
    }

    private static function keep(string $folder, string $path, Response $answer): void
    {
        $body = (string) $answer->getContent();
        if (strlen($body) > self::MAX_BYTES || disk_free_space($folder) < config('kite.keep_free') + strlen($body)) {
            return;
        }
        $headers = array_filter([
            'Content-Type' => $answer->headers->get('Content-Type'),
            'Content-Disposition' => $answer->headers->get('Content-Disposition'),
            'Cache-Control' => $answer->headers->get('Cache-Control'),
        ]);
        @file_put_contents("$path.new", json_encode($headers)."\n$body") !== false && @rename("$path.new", $path);
        // Those that nobody asked for longest make room.
        $all = glob("$folder/*", GLOB_NOSORT) ?: [];
        if (count($all) > self::MAX_KEPT) {
            usort($all, static fn (string $a, string $b): int => (int) @filemtime($a) <=> (int) @filemtime($b));
            array_map(
                static fn (string $old): bool => @unlink($old),
                array_slice($all, 0, count($all) - self::MAX_KEPT),
            );
        }
    }

    /** Addresses of all routes that this stands beside, as a regular expression for nginx. */
    public static function pattern(): string
    {
        $found = [];
        foreach (Route::getRoutes()->getRoutes() as $route) {
            if (array_intersect([self::class, self::FILE], $route->gatherMiddleware()) !== []) {
                $found[] = preg_replace(['/\{[a-z]+\}/', '/\./'], ['[^/]+', '[.]'], $route->uri());
            }
        }
        sort($found);

        return '^/('.implode('|', array_unique($found)).')$';
    }
}
