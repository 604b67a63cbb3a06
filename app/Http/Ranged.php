<?php

declare(strict_types=1);

namespace App\Http;

use Illuminate\Http\Request;
use Symfony\Component\HttpFoundation\Response;

/**
 * A part of a file that need not be there as a whole (RFC 9110, 14). The plain response of HTTP: the one of
 * Laravel takes bytes that are all zero for nothing.
 */
final class Ranged
{
    /**
     * @param  int  $length  bytes of all of it
     * @param  \Closure(int, int): string  $bytes  a part of it: from a byte on, so many
     * @param  array<string, string>  $headers
     * @param  int  $most  bytes that are given at once
     */
    public static function part(
        Request $request,
        int $length,
        \Closure $bytes,
        array $headers,
        int $most = PHP_INT_MAX,
    ): Response {
        $headers += ['Content-Type' => 'application/octet-stream', 'Accept-Ranges' => 'bytes'];
        $range = (string) $request->headers->get('Range');
        $isPart = preg_match('/^bytes=(\d{1,15})-(\d{0,15})$/D', $range, $m) === 1;
        $from = $isPart ? (int) $m[1] : 0;
        $to = $isPart && $m[2] !== '' ? min((int) $m[2], $length - 1) : $length - 1;
        if ($from > $to || $to - $from >= $most) {
            return new Response('', 416, $headers + ['Content-Range' => "bytes */$length"]);
        }

        return new Response(
            $bytes($from, $to - $from + 1),
            $isPart ? 206 : 200,
            $headers + ($isPart ? ['Content-Range' => "bytes $from-$to/$length"] : []),
        );
    }
}
