<?php

declare(strict_types=1);

namespace App\Paper;

use Core\Media\Picture;

/** A picture as PNG (ISO/IEC 15948), 8-bit RGBA or grey, unfiltered. */
final class Png
{
    public static function of(Picture $picture): string
    {
        return self::file($picture->width, $picture->height, $picture->bytes, 4, 6);
    }

    /** A picture of one byte a pixel, as a PNG in grey. */
    public static function grey(int $width, int $height, string $bytes): string
    {
        return self::file($width, $height, $bytes, 1, 0);
    }

    /**
     * @param  int  $channels  bytes a pixel
     * @param  int  $type  of colour, as the format numbers them
     */
    private static function file(int $width, int $height, string $bytes, int $channels, int $type): string
    {
        $rows = '';
        foreach (str_split($bytes, max(1, $channels * $width)) as $row) {
            $rows .= "\0".$row;
        }
        $chunk = static fn (string $type, string $data): string => pack('N', strlen($data)).
            $type.
            $data.
            pack('N', crc32($type.$data));

        return "\x89PNG\r\n\x1a\n".
            $chunk('IHDR', pack('NNC5', $width, $height, 8, $type, 0, 0, 0)).
            $chunk('IDAT', (string) gzcompress($rows, 6)).
            $chunk('IEND', '');
    }
}
