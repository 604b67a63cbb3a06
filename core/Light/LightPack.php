<?php

declare(strict_types=1);

namespace Core\Light;

/**
 * A report on its way to a window: the length of a header (u32, little-endian), the header as JSON filled up with
 * spaces to a multiple of 4, then the maps as 32-bit floats. The header has all but the maps, and of these where each
 * begins after the header, in bytes; each has columns × rows numbers.
 */
final class LightPack
{
    /** @param  array<string, mixed>  $more  further members of the header */
    public static function bytes(Report $report, array $more): string
    {
        $blob = '';
        $faces = [];
        foreach ($report->faces as $face) {
            $maps = [];
            foreach ($face->maps as $name => $map) {
                $maps[$name] = strlen($blob);
                $blob .= pack('g*', ...$map);
            }
            $faces[] = ['maps' => $maps] + get_object_vars($face);
        }
        $header = json_encode(
            $more + ['faces' => $faces, 'projectors' => $report->projectors, 'sum' => $report->sum],
            JSON_THROW_ON_ERROR | JSON_UNESCAPED_UNICODE | JSON_PRESERVE_ZERO_FRACTION,
        );
        $header .= str_repeat(' ', -strlen($header) & 3);

        return pack('V', strlen($header)).$header.$blob;
    }

    /** @return array<string, mixed> all but the maps */
    public static function header(string $bytes): array
    {
        $length = strlen($bytes) < 4 ? PHP_INT_MAX : ((array) unpack('V', $bytes))[1];
        $header = strlen($bytes) < 4 + $length ? null : json_decode(substr($bytes, 4, $length), true);

        return is_array($header)
            ? $header
            : throw new \UnexpectedValueException('This is no report of light: its header is cut short.');
    }

    /** @return array<string, mixed> all of it, with the maps as lists of numbers */
    public static function whole(string $bytes): array
    {
        $header = self::header($bytes);
        $from = 4 + ((array) unpack('V', $bytes))[1];
        foreach ($header['faces'] as $i => $face) {
            foreach ($face['maps'] as $name => $at) {
                $header['faces'][$i]['maps'][$name] = array_values(
                    (array) unpack('g'.$face['columns'] * $face['rows'], $bytes, $from + $at),
                );
            }
        }

        return $header;
    }
}
