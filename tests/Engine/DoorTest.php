<?php

declare(strict_types=1);

namespace Tests\Engine;

/** What nginx answers by itself, and which pool it gives a request to: the whole stack as it is started. */
final class DoorTest extends ConductorCase
{
    /** @return array{int, string, array<string, mixed>} status, type and document */
    private static function raw(string $bytes): array
    {
        $socket = stream_socket_client('tcp://127.0.0.1:'.(TEST_PORTS + 30)) ?: self::fail('Nobody listens.');
        stream_set_timeout($socket, 5);
        fwrite($socket, $bytes);
        $text = '';
        while (
            ! feof($socket) &&
            ! str_contains($text, '"detail"') &&
            ($part = fread($socket, 65_536)) !== '' &&
            $part !== false
        ) {
            $text .= $part;
        }
        preg_match('~^HTTP/1.1 (\d+)~', $text, $status);
        preg_match('~^Content-Type: ([^\r]+)~mi', $text, $type);
        preg_match('~\{.*\}~s', $text, $body);

        return [(int) ($status[1] ?? 0), $type[1] ?? '', (array) json_decode($body[0] ?? '', true)];
    }

    /** @return array<string, array{string, int}> */
    private static function refused(): array
    {
        $host = "Host: 127.0.0.1\r\n";

        return [
            'a zero in the address' => ["GET /%00 HTTP/1.1\r\n$host\r\n", 400],
            'a zero in an address of the API' => ["GET /api/%00 HTTP/1.1\r\n$host\r\n", 400],
            'a way out of the root' => ["GET /..%2F..%2Fx HTTP/1.1\r\n$host\r\n", 400],
            'a long address' => ['GET /'.str_repeat('a', 9000)." HTTP/1.1\r\n$host\r\n", 414],
            'a long head' => ["GET / HTTP/1.1\r\n{$host}X: ".str_repeat('a', 9000)."\r\n\r\n", 431],
            'a large body' => ["POST /api/shows HTTP/1.1\r\n{$host}Content-Length: 99999999\r\n\r\n", 413],
            'a length below nothing' => ["POST /api/shows HTTP/1.1\r\n{$host}Content-Length: -5\r\n\r\n", 400],
            'a coding that nobody knows' => ["POST /api/shows HTTP/1.1\r\n{$host}Transfer-Encoding: foo\r\n\r\n", 501],
            'another version' => ["GET / HTTP/3.0\r\n$host\r\n", 505],
            'no HTTP' => ["hello\r\n\r\n", 400],
            'no host' => ["GET /api/shows HTTP/1.1\r\n\r\n", 400],
            'another host' => ["GET /api/shows HTTP/1.1\r\nHost: elsewhere.example\r\n\r\n", 421],
            'nothing there' => ["GET /nothing HTTP/1.1\r\n$host\r\n", 404],
            'the place of problems' => ["GET /-problem HTTP/1.1\r\n$host\r\n", 404],
        ];
    }

    public function test_whatever_nginx_refuses_by_itself_is_a_problem_document(): void
    {
        $launcher = $this->launch();
        $this->until(
            'everything to answer',
            static fn (): bool => str_contains($launcher->getOutput(), 'Kite Lamp is at'),
        );
        foreach (self::refused() as $what => [$bytes, $status]) {
            [$code, $type, $document] = self::raw($bytes);
            self::assertSame(
                [$status, 'application/problem+json', $status],
                [$code, $type, $document['status'] ?? 0],
                $what,
            );
            self::assertNotSame('', (string) ($document['detail'] ?? ''), $what);
        }
        // While all children of the pool for expensive addresses are at it, others are answered at once.
        $slow = [];
        for ($i = 0; $i < 8; $i++) {
            $slow[] = $socket =
                stream_socket_client('tcp://127.0.0.1:'.(TEST_PORTS + 30)) ?: self::fail('Nobody listens.');
            fwrite(
                $socket,
                'GET /api/patterns/testcard.png?width=8192&height='.
                    (8000 + $i).
                    " HTTP/1.1\r\nHost: 127.0.0.1\r\nConnection: close\r\n\r\n",
            );
            stream_set_blocking($socket, false);
        }
        self::assertSame(200, self::raw("GET /api/panels HTTP/1.1\r\nHost: 127.0.0.1\r\nConnection: close\r\n\r\n")[0]);
        $answered = array_filter($slow, static fn ($socket): bool => (string) fread($socket, 10) !== '');
        self::assertLessThan(8, count($answered), 'some of them still wait');
        foreach ($slow as $socket) {
            stream_set_blocking($socket, true);
            stream_set_timeout($socket, 60);
            $answered[] = (string) fread($socket, 100);
        }
    }
}
