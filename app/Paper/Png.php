<?php

declare(strict_types=1);

namespace App\Paper;

use Core\Media\Picture;

/** A picture as PNG (ISO/IEC 15948), 8-bit RGBA, unfiltered. */
final class Png
{
    public static function of(Picture $picture): string
    {
        $rows = '';
        foreach (str_split($picture->bytes, max(1, 4 * $picture->width)) as $row) {
            $rows .= "\0".$row;
        }
        $chunk = static fn (string $type, string $data): string => pack('N', strlen($data)).
            $type.
            $data.
            pack('N', crc32($type.$data));

        return "\x89PNG\r\n\x1a\n".
            $chunk('IHDR', pack('NNC5', $picture->width, $picture->height, 8, 6, 0, 0, 0)).
            $chunk('IDAT', (string) gzcompress($rows, 6)).
            $chunk('IEND', '');
    }
}
