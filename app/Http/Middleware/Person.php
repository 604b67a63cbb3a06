<?php

declare(strict_types=1);

namespace App\Http\Middleware;

use Closure;
use Illuminate\Http\Request;
use Illuminate\Support\Str;
use Symfony\Component\HttpFoundation\Cookie;
use Symfony\Component\HttpFoundation\Response;

/** Knows a browser again, so that undo is everybody's own. */
final class Person
{
    private const COOKIE = 'kite_person';

    public function handle(Request $request, Closure $next): Response
    {
        $id = (string) $request->cookies->get(self::COOKIE);
        $known = Str::isUlid($id);
        $request->attributes->set('person', $known ? $id : $id = strtolower((string) Str::ulid()));
        $response = $next($request);
        if (! $known) {
            $response->headers->setCookie(Cookie::create(self::COOKIE, $id, now()->addYear(), '/', null, $request->isSecure(), true, false, 'strict'));
        }

        return $response;
    }
}
