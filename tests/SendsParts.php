<?php

declare(strict_types=1);

namespace Tests;

use Illuminate\Testing\TestResponse;

/** Sends files in parts, as the studio does. */
trait SendsParts
{
    /** The next part of an upload. */
    private function part(string $upload, int $at, string $bytes): TestResponse
    {
        return $this->call(
            'PUT',
            "http://127.0.0.1:4180/api/uploads/$upload?at=$at",
            [],
            ['kite_person' => '01hzzzzzzzzzzzzzzzzzzzzzzz'],
            [],
            [
                'HTTP_ORIGIN' => 'http://127.0.0.1:4180',
                'HTTP_HOST' => '127.0.0.1:4180',
                'CONTENT_TYPE' => 'application/octet-stream',
            ],
            $bytes,
        );
    }
}
