<?php

declare(strict_types=1);

namespace App\Media;

/** Reads a picture of strangers (PNG, JPEG) as shades of grey of some size, what is transparent as black. */
final class GreyPicture
{
    public const MAX_PIXELS = 100_000_000;

    /** @return list<int>|null 0 to 255, row by row; null where it can't be read */
    public static function of(string $picture, int $columns, int $rows): ?array
    {
        $path = (string) tempnam(sys_get_temp_dir(), 'kite');
        try {
            file_put_contents($path, $picture);

            return self::at($path, $columns, $rows);
        } finally {
            @unlink($path);
        }
    }

    /** @return list<int>|null the same of a file */
    public static function at(string $path, int $columns, int $rows): ?array
    {
        $kind = self::kind((string) file_get_contents($path, false, null, 0, 16));
        if ($kind === null) {
            return null;
        }
        $filter = "format=gbrap,premultiply=inplace=1,format=gbrp,scale=$columns:$rows:flags=area,format=gray";
        $process = Confined::process(
            [
                'ffmpeg',
                '-v',
                'error',
                '-xerror',
                '-err_detect',
                'explode',
                '-max_pixels',
                (string) self::MAX_PIXELS,
                '-f',
                $kind,
                '-i',
                $path,
                '-vf',
                $filter,
                '-frames:v',
                '1',
                '-f',
                'rawvideo',
                '-pix_fmt',
                'gray',
                '-',
            ],
            30,
            1 << 28,
        );
        $process->run();
        $grey = $process->getOutput();

        return strlen($grey) === $columns * $rows ? array_values((array) unpack('C*', $grey)) : null;
    }

    /** @return array{int, int}|null its pixels */
    public static function size(string $picture): ?array
    {
        $size = self::kind($picture) === null ? false : @getimagesizefromstring($picture);

        return $size === false || $size[0] < 1 || $size[1] < 1 ? null : [$size[0], $size[1]];
    }

    private static function kind(string $picture): ?string
    {
        return match (true) {
            str_starts_with($picture, "\x89PNG\r\n\x1a\n") => 'png_pipe',
            str_starts_with($picture, "\xFF\xD8\xFF") => 'jpeg_pipe',
            default => null,
        };
    }
}
