<?php

declare(strict_types=1);

namespace App\Show;

use Core\Output\ComputedWarp;
use Core\Show\Show;

/** Warps and blends that were computed of regions, in files under a key of their content. */
final class WarpStore
{
    private const KEY = '/^[0-9a-f]{64}$/D';

    /** Keeps it and returns its key. */
    public static function keep(string $bytes): string
    {
        $key = hash('sha256', $bytes);
        $path = self::path($key);
        if (! is_file($path)) {
            $part = $path.'.'.getmypid().'.part';
            if (@file_put_contents($part, $bytes) !== strlen($bytes) || ! @rename($part, $path)) {
                @unlink($part);
                throw new \RuntimeException('A computed warp could not be written: the disk is full or read-only.');
            }
        }

        return $key;
    }

    public static function read(string $key): ?string
    {
        $bytes = preg_match(self::KEY, $key) === 1 ? @file_get_contents(self::path($key)) : false;

        return $bytes === false ? null : $bytes;
    }

    /** What was computed of a region, by its key; null where there is none, or it is gone. */
    public static function computed(string $key): ?ComputedWarp
    {
        $bytes = $key === '' ? null : self::read($key);

        return $bytes === null ? null : ComputedWarp::fromBytes($bytes);
    }

    /** @return array<string, ComputedWarp> what was computed of all regions of a surface */
    public static function computedOf(Show $show, string $surface): array
    {
        return array_filter(
            array_map(
                static fn (array $of): ?ComputedWarp => self::computed($of[0]->model),
                $show->delivery->regionsOf($surface),
            ),
        );
    }

    private static function path(string $key): string
    {
        $folder = config('kite.data').'/warps';
        is_dir($folder) || @mkdir($folder, 0700, true);

        return "$folder/$key.warp";
    }
}
