<?php

declare(strict_types=1);

namespace App\Http\Middleware;

use App\Http\JsonRequest;
use App\Support\Problem;
use App\Support\RequestRules;
use Closure;
use Illuminate\Http\Request;
use Symfony\Component\HttpFoundation\Response;

/** Keeps foreign hosts, foreign pages and form posts out, before anything else looks at a request. */
final class CheckRequest
{
    public function handle(Request $request, Closure $next): Response
    {
        $refusal = (new RequestRules(config('kite.hosts')))->refusal(
            $request->method(),
            (string) $request->headers->get('Host'),
            $request->headers->get('Origin'),
            (string) $request->headers->get('Content-Type'),
            $request->is('api/uploads/*') && $request->isMethod('PUT'),
            $request->headers->get('Sec-Fetch-Site'),
        );
        if ($refusal !== null) {
            return Problem::response(new Problem($refusal[0], $refusal[1]));
        }
        if ($request instanceof JsonRequest && $request->problem !== null) {
            return Problem::response($request->problem);
        }
        $response = $next($request);
        $response->headers->set('X-Content-Type-Options', 'nosniff');

        return $response;
    }
}
