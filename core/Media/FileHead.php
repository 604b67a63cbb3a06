<?php

declare(strict_types=1);

namespace Core\Media;

/**
 * What the first and last bytes of a file say against it before a decoder is asked: kinds that can't be read here,
 * and cut pictures.
 */
final class FileHead
{
    /** How many bytes of each end are looked at. */
    public const BYTES = 65_536;

    /** Most pixels of a picture that the decoders take: (width + 128) × (height + 128) below 2³¹ / 8. */
    public const MAX_PIXELS = 2 ** 28;

    /**
     * @param  string  $first  the first BYTES of the file, or all of it
     * @param  string  $last  the last BYTES of the file
     * @return string|null a message for a person; null where nothing is wrong that shows here
     */
    public static function trouble(string $name, string $first, string $last): ?string
    {
        if (str_starts_with($first, "\x89PNG\r\n\x1a\n") && strlen($first) >= 24) {
            ['w' => $width, 'h' => $height] = unpack('Nw/Nh', $first, 16) ?: ['w' => 0, 'h' => 0];
            if (($width + 128) * ($height + 128) >= self::MAX_PIXELS) {
                return self::tooLarge($name, $width, $height);
            }

            return str_contains($last, 'IEND') ? null : self::cut($name);
        }
        if (
            str_starts_with($first, 'RIFF') &&
            substr($first, 8, 8) === 'WEBPVP8X' &&
            (ord($first[20] ?? "\0") & 2) !== 0
        ) {
            return "$name is an animated WebP, which is not read here. Bring it as a video, or each frame as a picture.";
        }
        if (str_starts_with($first, "\xFF\xD8\xFF")) {
            // The end of the picture; some cameras write more after it.
            return str_contains($last, "\xFF\xD9") ? null : self::cut($name);
        }
        if (str_starts_with($first, 'GIF8') && rtrim($last, "\0") !== '' && ! str_ends_with(rtrim($last, "\0"), ';')) {
            return self::cut($name);
        }

        return null;
    }

    /** Whether the channels of a JPEG are those of four inks. */
    public static function hasInks(string $first): bool
    {
        if (! str_starts_with($first, "\xFF\xD8\xFF")) {
            return false;
        }
        for ($at = 2; $at + 10 < strlen($first) && $first[$at] === "\xFF";) {
            $mark = ord($first[$at + 1]);
            // The head of a frame, whichever way it is coded: its count of components stands after length, bits,
            // height and width.
            if ($mark >= 0xC0 && $mark <= 0xCF && ! in_array($mark, [0xC4, 0xC8, 0xCC], true)) {
                return ord($first[$at + 9]) === 4;
            }
            $at += 2 + (unpack('n', $first, $at + 2) ?: [1 => 0])[1];
        }

        return false;
    }

    private static function cut(string $name): string
    {
        return "$name is incomplete: the end of the picture is missing. Copy it again from where it came from.";
    }

    private static function tooLarge(string $name, int $width, int $height): string
    {
        return sprintf(
            '%s has %s × %s pixels; pictures of up to 268 million pixels are read, such as 16,000 × 16,000.',
            $name,
            number_format($width),
            number_format($height),
        );
    }
}
