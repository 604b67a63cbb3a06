<?php

declare(strict_types=1);

namespace App\Support;

/**
 * Tickets that let a window onto the live stream: signed, for one person, for half a day. Given by the web app,
 * looked at by the engine.
 */
final readonly class TicketOffice
{
    private const SECONDS = 43_200;

    public function __construct(private string $key)
    {
    }

    public function issue(string $person, int $now): string
    {
        $body = rtrim(
            strtr(
                base64_encode(json_encode(['person' => $person, 'until' => $now + self::SECONDS], JSON_THROW_ON_ERROR)),
                '+/',
                '-_',
            ),
            '=',
        );

        return $body.'.'.hash_hmac('sha256', $body, $this->key);
    }

    /** The person of a good ticket, or null. */
    public function person(string $ticket, int $now): ?string
    {
        [$body, $signature] = explode('.', $ticket, 2) + [1 => ''];
        if (! hash_equals(hash_hmac('sha256', $body, $this->key), $signature)) {
            return null;
        }
        $data = json_decode((string) base64_decode(strtr($body, '-_', '+/')), true);

        return is_array($data) && ($data['until'] ?? 0) > $now ? (string) $data['person'] : null;
    }
}
