<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Media\FileHead;
use Core\Media\Orientation;
use PHPUnit\Framework\TestCase;

final class FileHeadTest extends TestCase
{
    private static function png(int $width, int $height, string $end = "IEND\xAE\x42\x60\x82"): string
    {
        return "\x89PNG\r\n\x1a\n".pack('N', 13).'IHDR'.pack('NN', $width, $height)."\x08\x02\0\0\0....".$end;
    }

    public function test_pictures_beyond_the_decoders_are_named_by_their_size(): void
    {
        // (16,256 + 128)² is 2²⁸ exactly, one more than is taken.
        foreach (
            [
                [16_255, 16_255, false],
                [16_256, 16_256, true],
                [16_384, 16_384, true],
                [16_384, 16_000, false],
                [4_294_967_295, 1, true],
            ] as [$width, $height, $refused]
        ) {
            $said = FileHead::trouble('wall.png', self::png($width, $height), self::png($width, $height));
            self::assertSame($refused, $said !== null, "$width × $height");
        }
        self::assertSame(
            'wall.png has 16,384 × 16,384 pixels; pictures of up to 268 million pixels are read, such as 16,000 × 16,000.',
            FileHead::trouble('wall.png', self::png(16_384, 16_384), ''),
        );
    }

    public function test_an_orientation_is_read_in_either_order_of_bytes_and_what_is_broken_is_upright(): void
    {
        $of = static fn (string $bytes): int => Orientation::in(
            static fn (int $at, int $length): string => $at >= strlen($bytes) || $length < 1
                ? ''
                : substr($bytes, $at, $length),
        );
        $big = "MM\0*".pack('NnnnNnnnnNnn', 8, 2, 256, 3, 1, 40, 0, 274, 3, 1, 6, 0);
        $little = "II*\0".pack('VvvvVvv', 8, 1, 274, 3, 1, 8, 0);
        self::assertSame([6, 8], [$of($big), $of($little)]);
        $png =
            "\x89PNG\r\n\x1a\n".
            pack('N', 4).
            'IDATabcd----'.
            pack('N', strlen($little)).
            'eXIf'.
            $little.
            '----';
        self::assertSame(
            [8, 1],
            [$of($png.pack('N', 0).'IEND'), $of("\x89PNG\r\n\x1a\n".pack('N', 0).'IEND----'.substr($png, 8))],
            'What comes after the end is no part of it.',
        );
        $webp = static fn (string $exif): string => 'RIFF----WEBPVP8 '.
            pack('V', 3).
            'abc-EXIF'.
            pack('V', strlen($exif)).
            $exif;
        self::assertSame([6, 6, 1], [$of($webp($big)), $of($webp("Exif\0\0$big")), $of($webp('nothing'))]);
        self::assertSame(
            [1, 1, 1, 1],
            [
                $of(''),
                $of("\xFF\xD8\xFF"),
                $of(substr($big, 0, 9)),
                $of("II*\0".pack('VvvvVvv', 8, 1, 274, 3, 1, 9, 0)),
            ],
        );
        mt_srand(3);
        for ($i = 0; $i < 300; $i++) {
            $broken = [$big, $little, $png, $webp($big)][$i % 4];
            for ($k = 0; $k < 4; $k++) {
                $broken[mt_rand(4, strlen($broken) - 1)] = chr(mt_rand(0, 255));
            }
            self::assertContains($of($broken), range(1, 8));
        }
        self::assertSame(
            [['', 0], ['transpose=1,', 90], ['vflip,', 180]],
            array_map(static fn (int $n): array => [Orientation::filter($n), Orientation::degrees($n)], [1, 6, 4]),
        );
    }

    public function test_cut_pictures_are_found_by_their_missing_ends(): void
    {
        $cut = fn (
            string $name,
        ): string => "$name is incomplete: the end of the picture is missing. Copy it again from where it came from.";
        self::assertSame($cut('a.png'), FileHead::trouble('a.png', self::png(8, 8, ''), self::png(8, 8, '')));
        self::assertNull(FileHead::trouble('a.png', self::png(8, 8), self::png(8, 8)));
        self::assertSame($cut('a.jpg'), FileHead::trouble('a.jpg', "\xFF\xD8\xFF\xE0....", '....'));
        self::assertNull(FileHead::trouble('a.jpg', "\xFF\xD8\xFF\xE0....", "....\xFF\xD9"));
        self::assertNull(FileHead::trouble('a.jpg', "\xFF\xD8\xFF\xE0....", "....\xFF\xD9 and what a camera adds"));
        self::assertSame($cut('a.gif'), FileHead::trouble('a.gif', 'GIF89a....', '....'));
        self::assertNull(FileHead::trouble('a.gif', 'GIF89a....', "....;\0\0"));
    }

    public function test_animated_webp_is_told_from_still_and_all_else_is_left_to_the_decoder(): void
    {
        $webp = static fn (int $flags): string => 'RIFF'.
            pack('V', 100).
            'WEBPVP8X'.
            pack('V', 10).
            chr($flags).
            "\0\0\0";
        self::assertStringContainsString('animated WebP', (string) FileHead::trouble('a.webp', $webp(0x02), ''));
        self::assertStringContainsString('animated WebP', (string) FileHead::trouble('a.webp', $webp(0x12), ''));
        self::assertNull(FileHead::trouble('a.webp', $webp(0x10), ''));
        foreach (['', 'x', "\x89PNG\r\n\x1a\n", 'RIFF....WEBPVP8 ', "\0\0\0\x18ftypmp42"] as $bytes) {
            self::assertNull(FileHead::trouble('a', $bytes, $bytes));
        }
    }
}
