<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Media\FileHead;
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
        foreach ([[16_255, 16_255, false], [16_256, 16_256, true], [16_384, 16_384, true], [16_384, 16_000, false], [4_294_967_295, 1, true]] as [$width, $height, $refused]) {
            $said = FileHead::trouble('wall.png', self::png($width, $height), self::png($width, $height));
            self::assertSame($refused, $said !== null, "$width × $height");
        }
        self::assertSame('wall.png has 16,384 × 16,384 pixels; pictures of up to 268 million pixels are read, such as 16,000 × 16,000.', FileHead::trouble('wall.png', self::png(16_384, 16_384), ''));
    }

    public function test_cut_pictures_are_found_by_their_missing_ends(): void
    {
        $cut = fn (string $name): string => "$name is incomplete: the end of the picture is missing. Copy it again from where it came from.";
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
        $webp = static fn (int $flags): string => 'RIFF'.pack('V', 100).'WEBPVP8X'.pack('V', 10).chr($flags)."\0\0\0";
        self::assertStringContainsString('animated WebP', (string) FileHead::trouble('a.webp', $webp(0x02), ''));
        self::assertStringContainsString('animated WebP', (string) FileHead::trouble('a.webp', $webp(0x12), ''));
        self::assertNull(FileHead::trouble('a.webp', $webp(0x10), ''));
        foreach (['', 'x', "\x89PNG\r\n\x1a\n", 'RIFF....WEBPVP8 ', "\0\0\0\x18ftypmp42"] as $bytes) {
            self::assertNull(FileHead::trouble('a', $bytes, $bytes));
        }
    }
}
