<?php

declare(strict_types=1);

namespace App\Engine;

/** Frames on a byte stream: length of the payload (u32, little-endian), type (u8), payload. */
final class Wire
{
    public const HELLO = 1;

    /** Which pack a show is drawn by, from an engine time on: JSON. */
    public const BASE = 2;

    /**
     * A bundle that changes the plan of a show: engine time from which on (f64), id of the show (26 bytes), the
     * bundle.
     */
    public const DELTA = 3;

    public const DECK = 4;

    public const AIR = 5;

    public const REVISION = 6;

    public const HELD = 7;

    public const HEALTH = 8;

    public const IDENTIFY = 9;

    /** What is drawn over an output to find one's way on it: output, until, and marks. */
    public const MARKS = 14;

    /** Which regions alone are shown on what they light, until when, and what they show. */
    public const ISOLATE = 25;

    /** What a light is sent in place of the show: its patch, until when, and the test; none ends it. */
    public const LIGHTS = 15;

    public const FILE = 10;

    public const FIGURES = 11;

    public const TRACE = 12;

    /** Which cues are on, where the list stands, and what will start by itself. */
    public const CUES = 13;

    /** What controls sent and what came of it, for windows that watch. */
    public const CONTROLS = 16;

    /** The universes of DMX whose slots are controls, for the process that hears them. */
    public const UNIVERSES = 18;

    /** What controls of a touch panel show, for the windows that show it. */
    public const TOUCH = 19;

    /** What a MIDI port of a window is to be sent. */
    public const FEEDBACK = 17;

    /**
     * From a compiler: the show is there; an edit is compiled, with its bundle to follow; a pack is written; an
     * answer.
     */
    public const READY = 20;

    public const COMPILED = 21;

    public const PACKED = 22;

    public const ANSWER = 23;

    public const BUNDLE = 24;

    private string $buffer = '';

    public static function pack(int $type, string $payload): string
    {
        return pack('VC', strlen($payload), $type).$payload;
    }

    /** @param  array<string, mixed>  $data */
    public static function json(int $type, array $data): string
    {
        return self::pack($type, self::encode($data));
    }

    /**
     * JSON of whatever it is: what came from outside may hold what JSON can't say (1e999 is read as infinite); that
     * must not end the engine.
     *
     * @param  array<string, mixed>  $data
     */
    public static function encode(array $data): string
    {
        return (string) json_encode(
            $data,
            JSON_PARTIAL_OUTPUT_ON_ERROR |
                JSON_UNESCAPED_SLASHES |
                JSON_UNESCAPED_UNICODE |
                JSON_INVALID_UTF8_SUBSTITUTE,
        );
    }

    /** A frame that changes the plan of a show from an engine time on. */
    public static function delta(int $at, string $show, string $bundle): string
    {
        return self::pack(self::DELTA, pack('e', $at).str_pad(substr($show, 0, 26), 26).$bundle);
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
