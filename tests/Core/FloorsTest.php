<?php

declare(strict_types=1);

namespace Tests\Core;

use PHPUnit\Framework\TestCase;

/**
 * The order of the core's rooms, as docs/architecture.md has it: a room imports only floors below its own, or rooms
 * before it on the same one.
 */
final class FloorsTest extends TestCase
{
    private const ROOMS = [
        'Units' => 10,
        'Geometry' => 11,
        'Values' => 12,
        'Venue' => 20,
        'Media' => 21,
        'Timeline' => 22,
        'Routing' => 30,
        'Light' => 31,
        'Cues' => 32,
        'Effects' => 33,
        'Output' => 40,
        'PixelMap' => 41,
        'Bindings' => 42,
        'Show' => 50,
        'Plan' => 60,
        'Playback' => 61,
        'Preflight' => 70,
        'Paperwork' => 71,
        'Protocol' => 13,
        'Exchange' => 23,
    ];

    /** @return list<string> */
    private static function files(): array
    {
        $files = [];
        foreach (
            new \RecursiveIteratorIterator(
                new \RecursiveDirectoryIterator(dirname(__DIR__, 2).'/core', \FilesystemIterator::SKIP_DOTS),
            ) as $file
        ) {
            $files[] = $file->getPathname();
        }

        return $files;
    }

    public function test_every_room_is_on_a_floor_and_looks_only_downward(): void
    {
        $seen = [];
        foreach (self::files() as $file) {
            $room = explode('/', substr($file, strlen(dirname(__DIR__, 2).'/core/')))[0];
            self::assertArrayHasKey($room, self::ROOMS);
            $seen[$room] = true;
            preg_match_all(
                '/\bCore\\\\(\w+)\\\\/',
                (string) preg_replace('/^namespace .*$/m', '', (string) file_get_contents($file)),
                $m,
            );
            foreach ($m[1] as $other) {
                self::assertTrue(
                    $other === $room || self::ROOMS[$other] < self::ROOMS[$room],
                    "$file looks up to $other",
                );
            }
        }
        self::assertCount(count(self::ROOMS), $seen);
    }

    public function test_the_core_names_no_framework_no_clock_and_no_outside(): void
    {
        foreach (self::files() as $file) {
            $code = (string) preg_replace(['~/\*.*?\*/~s', '~//.*$~m'], '', (string) file_get_contents($file));
            self::assertSame(
                0,
                preg_match(
                    '/\b(Illuminate|Laravel|App|React|Symfony)\\\\|\b(time|microtime|hrtime|date|rand|mt_rand|random_int|file_get_contents|fopen|config|env|getenv)\s*\(/',
                    $code,
                    $m,
                ),
                "$file: ".($m[0] ?? ''),
            );
        }
    }

    /**
     * The rooms of the application, from below: each imports only rooms that come before it, so that none of them is
     * part of a circle.
     */
    private const APP = [
        'Support',
        'Database',
        'Models',
        'Engine',
        'Lights',
        'Media',
        'Show',
        'Rig',
        'Paper',
        'Jobs',
        'Import',
        'Providers',
        'Http',
        'Demo',
        'Console',
    ];

    public function test_the_rooms_of_the_application_have_no_circles(): void
    {
        $floor = array_flip(self::APP);
        $looked = 0;
        foreach (
            new \RecursiveIteratorIterator(
                new \RecursiveDirectoryIterator(dirname(__DIR__, 2).'/app', \FilesystemIterator::SKIP_DOTS),
            ) as $file
        ) {
            $room = explode('/', substr($file->getPathname(), strlen(dirname(__DIR__, 2).'/app/')))[0];
            self::assertArrayHasKey($room, $floor);
            preg_match_all(
                '/\bApp\\\\(\w+)\\\\/',
                (string) preg_replace('/^namespace .*$/m', '', (string) file_get_contents($file->getPathname())),
                $m,
            );
            foreach ($m[1] as $other) {
                $looked++;
                self::assertTrue(
                    $other === $room || $floor[$other] < $floor[$room],
                    $file->getFilename()." of $room looks up to $other",
                );
            }
        }
        self::assertGreaterThan(100, $looked);
    }
}
