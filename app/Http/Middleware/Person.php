<?php

declare(strict_types=1);

namespace App\Http\Middleware;

use App\Support\Id;
use Closure;
use Illuminate\Http\Request;
use Illuminate\Support\Str;
use Symfony\Component\HttpFoundation\Cookie;
use Symfony\Component\HttpFoundation\Response;

/** Knows a browser again, so that undo is everybody's own. */
final class Person
{
    private const COOKIE = 'kite_person';

    /** What a person is called by: the cookie is a secret, and its hash is not. */
    public static function named(string $cookie): string
    {
        return substr(hash('sha256', 'person '.strtolower($cookie)), 0, 26);
    }

    public function handle(Request $request, Closure $next): Response
    {
        $id = (string) $request->cookies->get(self::COOKIE);
        $known = Str::isUlid($id);
        $request->attributes->set('person', self::named($known ? $id : ($id = Id::make())));
        $response = $next($request);
        if (! $known) {
            $response->headers->setCookie(
                Cookie::create(
                    self::COOKIE,
                    $id,
                    now()->addYear(),
                    '/',
                    null,
                    $request->isSecure(),
                    true,
                    false,
                    'strict',
                ),
            );
        }

        return $response;
    }
}
