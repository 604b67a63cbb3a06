<?php

declare(strict_types=1);

namespace Core\Media;

/**
 * How a still says that it is to be set up, by tag 274 of Exif 2.32 and TIFF 6.0, for the containers of which the
 * decoder does not heed it: PNG (chunk eXIf), WebP (chunk EXIF) and TIFF. A JPEG is set up by the decoder.
 */
final class Orientation
{
    public const UPRIGHT = 1;

    private const TAG = 274;

    /** Chunks that are gone through: those of a PNG's picture may be many. */
    private const CHUNKS = 20_000;

    /** How the transcoder sets it up; by the number. */
    private const FILTERS = [
        1 => '',
        2 => 'hflip',
        3 => 'hflip,vflip',
        4 => 'vflip',
        5 => 'transpose=0',
        6 => 'transpose=1',
        7 => 'transpose=3',
        8 => 'transpose=2',
    ];

    /**
     * @param  \Closure(int, int): string  $read  bytes of the file, from one on and so many; fewer at its end
     * @return int 1 to 8
     */
    public static function in(\Closure $read): int
    {
        $head = $read(0, 12);

        return match (true) {
            str_starts_with($head, "\x89PNG\r\n\x1a\n") => self::ofPng($read),
            str_starts_with($head, 'RIFF') && substr($head, 8, 4) === 'WEBP' => self::ofWebP($read),
            default => self::ofTiff($read, 0),
        };
    }

    /** The turn within it, clockwise, in degrees; a mirror is not told. */
    public static function degrees(int $orientation): int
    {
        return [3 => 180, 4 => 180, 5 => 90, 6 => 90, 7 => 270, 8 => 270][$orientation] ?? 0;
    }

    /** Filters of the transcoder that set it up, each with a comma after it; none where it is upright. */
    public static function filter(int $orientation): string
    {
        $filter = self::FILTERS[$orientation] ?? '';

        return $filter === '' ? '' : "$filter,";
    }

    /** @param  \Closure(int, int): string  $read */
    private static function ofPng(\Closure $read): int
    {
        for ($at = 8, $n = 0; $n < self::CHUNKS; $n++) {
            $chunk = $read($at, 8);
            if (strlen($chunk) < 8 || substr($chunk, 4, 4) === 'IEND') {
                break;
            }
            if (substr($chunk, 4, 4) === 'eXIf') {
                return self::ofTiff($read, $at + 8);
            }
            $at += 12 + (unpack('N', $chunk) ?: [1 => 0])[1];
        }

        return self::UPRIGHT;
    }

    /** @param  \Closure(int, int): string  $read */
    private static function ofWebP(\Closure $read): int
    {
        for ($at = 12, $n = 0; $n < self::CHUNKS; $n++) {
            $chunk = $read($at, 8);
            if (strlen($chunk) < 8) {
                break;
            }
            if (str_starts_with($chunk, 'EXIF')) {
                // Some write the head of a JPEG's segment before it.
                return self::ofTiff($read, $at + 8 + ($read($at + 8, 6) === "Exif\0\0" ? 6 : 0));
            }
            $length = (unpack('V', $chunk, 4) ?: [1 => 0])[1];
            $at += 8 + $length + ($length % 2);
        }

        return self::UPRIGHT;
    }

    /** @param  \Closure(int, int): string  $read */
    private static function ofTiff(\Closure $read, int $from): int
    {
        $head = $read($from, 8);
        if ((! str_starts_with($head, "II*\0") && ! str_starts_with($head, "MM\0*")) || strlen($head) < 8) {
            return self::UPRIGHT;
        }
        [$short, $long] = $head[0] === 'I' ? ['v', 'V'] : ['n', 'N'];
        $at = $from + (unpack($long, $head, 4) ?: [1 => 0])[1];
        $count = $read($at, 2);
        $entries = strlen($count) < 2 ? '' : $read($at + 2, 12 * (unpack($short, $count) ?: [1 => 0])[1]);
        foreach (str_split($entries, 12) as $entry) {
            if (strlen($entry) === 12 && (unpack($short, $entry) ?: [1 => 0])[1] === self::TAG) {
                $orientation = (int) (unpack($short, $entry, 8) ?: [1 => 0])[1];

                return isset(self::FILTERS[$orientation]) ? $orientation : self::UPRIGHT;
            }
        }

        return self::UPRIGHT;
    }
}
