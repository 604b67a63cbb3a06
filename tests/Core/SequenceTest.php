<?php

declare(strict_types=1);

namespace Tests\Core;

use Core\Exchange\TarReader;
use Core\Media\FileHead;
use Core\Media\IccProfile;
use Core\Media\ImageSequence;
use Core\Media\Peaks;
use Core\Units\FrameRate;
use Core\Units\InvalidValue;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class SequenceTest extends TestCase
{
    /** @return \Closure(int, int): string */
    private static function reader(string $bytes): \Closure
    {
        return static fn (int $at, int $length): string => substr($bytes, $at, $length);
    }

    /** What the system's own archiver makes of some files. */
    private static function tar(string ...$files): string
    {
        $folder = sys_get_temp_dir().'/kite-tar-'.bin2hex(random_bytes(6));
        mkdir("$folder/in/deep", 0700, true);
        foreach ($files as $name => $content) {
            file_put_contents("$folder/in/$name", $content);
        }
        symlink('/etc/hostname', "$folder/in/link.png");
        exec(
            'tar --format=ustar --sort=name -cf '.
                escapeshellarg("$folder/a.tar").
                ' -C '.
                escapeshellarg($folder).
                ' in',
            $_,
            $failed,
        );
        self::assertSame(0, $failed);
        $bytes = (string) file_get_contents("$folder/a.tar");
        exec('rm -r '.escapeshellarg($folder));

        return $bytes;
    }

    public function test_an_archive_tells_where_its_files_lie_and_passes_over_links_and_folders(): void
    {
        $files = [
            'a_1.png' => 'lantern',
            'a_2.png' => str_repeat('x', 512),
            'deep/a_3.png' => str_repeat('y', 513),
            'z.txt' => '',
        ];
        $bytes = self::tar(...$files);
        self::assertTrue(TarReader::isTar($bytes));
        $found = iterator_to_array(TarReader::files(self::reader($bytes), strlen($bytes)), false);
        self::assertSame(['a_1.png', 'a_2.png', 'a_3.png', 'z.txt'], array_column($found, 'name'));
        self::assertSame(
            array_values($files),
            array_map(static fn (array $file): string => substr($bytes, $file['at'], $file['bytes']), $found),
        );
        self::assertFalse(TarReader::isTar("\x89PNG"));
    }

    public function test_a_damaged_archive_and_one_that_is_cut_are_refused(): void
    {
        $bytes = self::tar(...['a_1.png' => str_repeat('x', 2000)]);
        $at = (int) strpos($bytes, 'a_1.png');
        foreach (
            [
                'The archive is damaged.' => substr_replace($bytes, 'b', $at, 1),
                'The archive is incomplete.' => substr($bytes, 0, $at - 3 + 512 + 1000),
            ] as $why => $broken
        ) {
            try {
                iterator_to_array(TarReader::files(self::reader($broken), strlen($broken)), false);
                self::fail('It was read.');
            } catch (InvalidValue $refused) {
                self::assertSame($why, $refused->getMessage());
            }
        }
    }

    public function test_sizes_beyond_eight_gigabytes_are_read(): void
    {
        $bytes = self::tar(...['a_1.png' => 'x']);
        $at = (int) strpos($bytes, 'in/a_1.png');
        $head = substr_replace(substr($bytes, $at, 512), "\x80\0\0\0".pack('J', 10 * 1024 ** 3), 124, 12);
        $sum = array_sum(unpack('C*', substr_replace($head, '        ', 148, 8)) ?: []);
        $head = substr_replace($head, sprintf("%06o\0 ", $sum), 148, 8);
        $found = iterator_to_array(
            TarReader::files(
                static fn (int $from, int $length): string => $from === 0 ? $head : str_repeat("\0", $length),
                11 * 1024 ** 3,
            ),
            false,
        );
        self::assertSame([['name' => 'a_1.png', 'at' => 512, 'bytes' => 10 * 1024 ** 3]], $found);
    }

    public function test_a_sequence_is_in_the_order_of_its_numbers_and_holds_over_a_gap(): void
    {
        $sequence = ImageSequence::of(['gull_12.png', 'gull_9.png', 'notes.txt', 'gull_10.PNG'], FrameRate::of('50'));
        self::assertSame(
            [[1, 3, 3, 0], '50', ['1 still is missing: 11. The one before is held.']],
            [$sequence->shown, $sequence->rate->name, $sequence->remarks],
        );
        $one = ImageSequence::of(['gull.0001.exr'], null);
        self::assertSame(
            [[0], '25', ['The sequence does not name its frame rate; 25 fps is assumed.']],
            [$one->shown, $one->rate->name, $one->remarks],
        );
        $wide = ImageSequence::of(['g1.png', 'g20.png'], FrameRate::of('25'));
        self::assertSame(20, count($wide->shown));
        self::assertSame('18 stills are missing: 2, 3, 4, 5, 6, 7, 8, 9 …. The one before is held.', $wide->remarks[0]);
    }

    /** @param  list<string>  $names */
    #[DataProvider('noSequences')]
    public function test_what_is_no_sequence_is_refused(array $names, string $why): void
    {
        $this->expectException(InvalidValue::class);
        $this->expectExceptionMessage($why);
        ImageSequence::of($names, null);
    }

    /** @return iterable<string, array{list<string>, string}> */
    public static function noSequences(): iterable
    {
        yield 'nothing' => [[], 'There are no stills in this archive.'];
        yield 'only notes' => [['notes1.txt'], 'There are no stills in this archive.'];
        yield 'two kinds' => [['a1.png', 'a2.jpg'], 'The stills of a sequence are of one kind; these are png and jpg.'];
        yield 'no number' => [
            ['harbour.png'],
            'harbour.png has no number before its end, so its place in the sequence is not known.',
        ];
        yield 'a number twice' => [
            ['a1.png', 'b01.png'],
            'Two stills of the sequence have the number 01: a1.png and b01.png.',
        ];
        yield 'too long' => [
            ['a1.png', 'a2000000.png'],
            'A sequence has at most 1,000,000 frames; this one is numbered from 1 to 2000000.',
        ];
    }

    /** @return list<array{int, list<array{int, int}>}> samples a bin, and lowest and highest of each, by level */
    private static function levels(string $bytes): array
    {
        $count = (unpack('V', $bytes) ?: [1 => 0])[1];
        [$levels, $at] = [[], 4 + 8 * $count];
        for ($i = 0; $i < $count; $i++) {
            ['samples' => $samples, 'bins' => $bins] = unpack('Vsamples/Vbins', $bytes, 4 + 8 * $i) ?: [
                'samples' => 0,
                'bins' => 0,
            ];
            $levels[] = [
                $samples,
                $bins === 0 ? [] : array_chunk(array_values(unpack('c*', substr($bytes, $at, 2 * $bins)) ?: []), 2),
            ];
            $at += 2 * $bins;
        }
        self::assertSame(strlen($bytes), $at);

        return $levels;
    }

    public function test_the_outline_of_a_sound_holds_its_lowest_and_highest_at_every_zoom(): void
    {
        // Two channels: a ramp from −1 to 1 over 1,024 samples on the left, a still 0.25 on the right; then 100
        // samples of silence.
        $bytes = '';
        for ($i = 0; $i < 1024; $i++) {
            $bytes .= pack('g2', -1 + (2 * $i) / 1023, 0.25);
        }
        $bytes .= str_repeat(pack('g2', 0, 0), 100);
        $peaks = new Peaks(2);
        // However it is cut.
        foreach (str_split($bytes, 1001) as $part) {
            $peaks->take($part);
        }
        $levels = self::levels($peaks->toBytes());
        self::assertSame([256, 1024, 4096, 16_384, 65_536, 262_144], array_column($levels, 0));
        // Of a quarter of the ramp: floor and ceiling of 127 times its ends.
        self::assertSame([[-127, 32], [-64, 32], [0, 64], [31, 127], [0, 0]], $levels[0][1]);
        self::assertSame([[-127, 127], [0, 0]], $levels[1][1]);
        self::assertSame([[-127, 127]], $levels[2][1]);
        self::assertSame([[-127, 127]], $levels[5][1]);
    }

    public function test_silence_nothing_and_samples_beyond_the_limit_have_an_outline(): void
    {
        self::assertSame(
            [[], []],
            [self::levels((new Peaks(1))->toBytes())[0][1], self::levels((new Peaks(1))->toBytes())[5][1]],
        );
        $peaks = new Peaks(1);
        $peaks->take(pack('g3', 4.0, -3.0, 0.0));
        self::assertSame([[-127, 127]], self::levels($peaks->toBytes())[0][1]);
        $broken = new Peaks(1);
        $broken->take(pack('g', NAN));
        self::assertSame([[0, 0]], self::levels($broken->toBytes())[0][1]);
    }

    /** A profile with a name and no more. */
    private static function profile(string $name, string $space = 'RGB '): string
    {
        $text = 'desc'.pack('N', 0).pack('N', strlen($name) + 1)."$name\0";

        return str_pad(str_repeat("\0", 16).$space.'XYZ ', 36, "\0").
            'acsp'.
            str_repeat("\0", 88).
            pack('N', 1).
            'desc'.
            pack('N2', 144, strlen($text)).
            $text;
    }

    public function test_a_profile_is_found_where_each_kind_of_still_keeps_it(): void
    {
        $profile = self::profile('Harbour wide');
        $chunk = static fn (string $type, string $data): string => pack('N', strlen($data)).$type.$data.'crc?';
        $png =
            "\x89PNG\r\n\x1a\n".
            $chunk('IHDR', str_repeat("\0", 13)).
            $chunk('iCCP', "name\0\0".gzcompress($profile)).
            $chunk('IDAT', '');
        // In two parts, the second first.
        $part = static fn (int $n, string $data): string => "\xFF\xE2".
            pack('n', 16 + strlen($data)).
            "ICC_PROFILE\0".
            chr($n).
            "\2".
            $data;
        $jpeg =
            "\xFF\xD8\xFF\xE0\0\x04JF".
            $part(2, substr($profile, 100)).
            $part(1, substr($profile, 0, 100)).
            "\xFF\xDA";
        $webp = 'RIFF'.pack('V', 0).'WEBPVP8X'.pack('V', 3).'abc?ICCP'.pack('V', strlen($profile)).$profile;
        $tiff = static fn (string $short, string $long, string $mark): string => $mark.
            pack($long, 8).
            pack($short, 2).
            pack("$short$short$long$long", 256, 3, 1, 7).
            pack("$short$short$long$long", 34_675, 7, strlen($profile), 34).
            $profile;
        foreach (
            [
                'png' => $png,
                'jpeg' => $jpeg,
                'webp' => $webp,
                'tiff of Intel' => $tiff('v', 'V', "II*\0"),
                'tiff of Motorola' => $tiff('n', 'N', "MM\0*"),
            ] as $kind => $bytes
        ) {
            $found = IccProfile::in(self::reader($bytes));
            self::assertSame(
                ['Harbour wide', 'RGB ', $profile],
                [$found?->name, $found?->space, $found?->bytes],
                $kind,
            );
        }
        foreach (
            [
                '',
                'GIF89a',
                "\x89PNG\r\n\x1a\n".$chunk('IDAT', ''),
                "\xFF\xD8",
                "II*\0",
                substr($png, 0, 60),
                'RIFF????WEBP',
            ] as $bytes
        ) {
            self::assertNull(IccProfile::in(self::reader($bytes)));
        }
    }

    public function test_a_profile_tells_its_name_and_whether_it_changes_anything(): void
    {
        self::assertTrue(IccProfile::of(self::profile('sRGB IEC61966-2.1'))?->isPlain());
        self::assertFalse(IccProfile::of(self::profile('Harbour wide'))?->isPlain());
        self::assertFalse(IccProfile::of(self::profile('sRGB of inks', 'CMYK'))?->isPlain());
        $wide = mb_convert_encoding('Hafenlicht', 'UTF-16BE');
        $many = 'mluc'.pack('N', 0).pack('N2', 1, 12).'deDE'.pack('N2', strlen($wide), 28).$wide;
        $profile = substr(self::profile(''), 0, 132).'desc'.pack('N2', 144, strlen($many)).$many;
        self::assertSame('Hafenlicht', IccProfile::of($profile)?->name);
        self::assertSame('unnamed', IccProfile::of(substr(self::profile('x'), 0, 132))?->name);
    }

    public function test_a_jpeg_of_four_inks_is_known_by_its_head(): void
    {
        $of = static fn (int $components, string $mark = "\xC0"): string => "\xFF\xD8\xFF\xE0\0\x04JF\xFF$mark".
            pack('nCnnC', 8 + 3 * $components, 8, 10, 10, $components).
            str_repeat("\0", 12);
        self::assertSame(
            [true, true, false, false],
            [
                FileHead::hasInks($of(4)),
                FileHead::hasInks($of(4, "\xC2")),
                FileHead::hasInks($of(3)),
                FileHead::hasInks($of(4, "\xC4")),
            ],
        );
        self::assertSame([false, false], [FileHead::hasInks("\x89PNG"), FileHead::hasInks("\xFF\xD8\xFF")]);
    }
}
