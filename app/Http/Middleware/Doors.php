<?php

declare(strict_types=1);

namespace App\Http\Middleware;

use App\Support\DoorRules;
use App\Support\Problem;
use Closure;
use Illuminate\Http\Request;
use Symfony\Component\HttpFoundation\Response;

/** Keeps foreign hosts, foreign pages and form posts out, before anything else looks at a request. */
final class Doors
{
    public function handle(Request $request, Closure $next): Response
    {
        $refusal = (new DoorRules(config('kite.hosts')))->refusal(
            $request->method(),
            (string) $request->headers->get('Host'),
            $request->headers->get('Origin'),
            (string) $request->headers->get('Content-Type'),
            $request->is('api/uploads/*') && $request->isMethod('PUT'),
        );
        if ($refusal !== null) {
            return Problem::response(new Problem($refusal[0], $refusal[1]));
        }
        if (str_starts_with((string) $request->headers->get('Content-Type'), 'application/json') && $request->getContent() !== '' && ! is_array(json_decode($request->getContent(), true))) {
            return Problem::response(new Problem(400, 'The body is no JSON object.'));
        }
        $response = $next($request);
        $response->headers->set('X-Content-Type-Options', 'nosniff');

        return $response;
    }
}
