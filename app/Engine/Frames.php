<?php

declare(strict_types=1);

namespace App\Engine;

/** Frames on a byte stream: length of the payload (u32, little-endian), type (u8), payload. */
final class Frames
{
    public const HELLO = 1;

    public const PLAN = 2;

    public const CHUNK = 3;

    public const TRANSPORT = 4;

    public const SWITCH = 5;

    public const REVISION = 6;

    public const LIVE = 7;

    public const HEALTH = 8;

    public const IDENTIFY = 9;

    public const FILE = 10;

    public const READY = 11;

    public const DONE = 12;

    private string $buffer = '';

    public static function pack(int $type, string $payload): string
    {
        return pack('VC', strlen($payload), $type).$payload;
    }

    /** @param  array<string, mixed>  $data */
    public static function json(int $type, array $data): string
    {
        // What came from outside may hold what JSON can't say (1e999 is read as infinite); that must not end the engine.
        return self::pack($type, (string) json_encode($data, JSON_PARTIAL_OUTPUT_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE));
    }

    /** @return list<array{int, string}> the whole frames that this completes */
    public function feed(string $bytes): array
    {
        $this->buffer .= $bytes;
        $frames = [];
        $at = 0;
        $have = strlen($this->buffer);
        while ($have - $at >= 5) {
            $head = (array) unpack('Vlength/Ctype', $this->buffer, $at);
            if ($have - $at < 5 + $head['length']) {
                break;
            }
            $frames[] = [$head['type'], substr($this->buffer, $at + 5, $head['length'])];
            $at += 5 + $head['length'];
        }
        if ($at > 0) {
            $this->buffer = substr($this->buffer, $at);
        }

        return $frames;
    }
}
