<?php

declare(strict_types=1);

namespace Tests\Feature;

use App\Jobs\Sweep;
use App\Media\MediaStore;
use App\Models\StoredFile;
use Symfony\Component\Process\Process;
use Tests\SendsFiles;
use Tests\TestCase;

/** What the worker makes of files besides a picture that plays. */
final class FormsTest extends TestCase
{
    use SendsFiles;

    private function stored(string $name, string $bytes): StoredFile
    {
        $hash = $this->send($name, $bytes)->assertOk()->json('hash');
        $this->work();
        $file = StoredFile::query()->findOrFail($hash);
        self::assertSame('ready', $file->state, (string) $file->message);

        return $file;
    }

    private function form(StoredFile $file, string $extension): string
    {
        return "$this->data/media/forms/$file->hash.$extension";
    }

    public function test_a_sound_becomes_samples_that_are_where_they_were_and_an_outline(): void
    {
        // A click of one sample at 0.5 s on the left, a second at 0.75 s on the right, at 44.1 kHz; half as loud as
        // can be.
        $wav = $this->made(
            'clicks.wav',
            '-f',
            'lavfi',
            '-i',
            "aevalsrc='if(eq(n,22050),0.5,0)|if(eq(n,33075),-0.5,0)':s=44100:d=1",
            '-c:a',
            'pcm_s16le',
        );
        $file = $this->stored('clicks.wav', $wav);
        $sound = $file->form['sound'] ?? [];
        self::assertSame(
            [2, "/media/forms/$file->hash.pcm", "/media/forms/$file->hash.peaks"],
            [$sound['channels'], $sound['url'], $sound['peaks']],
        );
        self::assertEqualsWithDelta(48_000, $sound['samples'], 1);
        $samples = array_values(unpack('g*', (string) file_get_contents($this->form($file, 'pcm'))) ?: []);
        self::assertCount(2 * $sound['samples'], $samples);
        $left = array_filter($samples, static fn (int $i): bool => $i % 2 === 0, ARRAY_FILTER_USE_KEY);
        $right = array_filter($samples, static fn (int $i): bool => $i % 2 === 1, ARRAY_FILTER_USE_KEY);
        // 0.5 s and 0.75 s at 48 kHz, exactly.
        self::assertSame(
            [24_000, 36_000],
            [
                intdiv((int) array_search(max($left), $left, true), 2),
                intdiv((int) array_search(min($right), $right, true), 2),
            ],
        );
        $peaks = (string) file_get_contents($this->form($file, 'peaks'));
        [, $levels, $perBin, $bins] = unpack('V3', $peaks) ?: [0, 0, 0, 0];
        self::assertSame([6, 256, (int) ceil($sound['samples'] / 256)], [$levels, $perBin, $bins]);
        $finest = array_chunk(array_values(unpack('c'. 2 * $bins, $peaks, 4 + 8 * 6) ?: []), 2);
        $loud = array_keys(array_filter($finest, static fn (array $bin): bool => $bin[1] - $bin[0] > 20));
        self::assertContains(intdiv(24_000, 256), $loud);
        self::assertContains(intdiv(36_000, 256), $loud);
        self::assertLessThanOrEqual(4, count($loud));
    }

    public function test_sound_that_begins_late_in_its_file_begins_with_silence(): void
    {
        $video = $this->made(
            'late.mkv',
            '-f',
            'lavfi',
            '-i',
            'testsrc2=s=64x64:r=25:d=2',
            '-itsoffset',
            '0.5',
            '-f',
            'lavfi',
            '-i',
            'sine=f=440:r=48000:d=1',
            '-c:v',
            'libx264',
            '-pix_fmt',
            'yuv420p',
            '-c:a',
            'pcm_s16le',
        );
        $file = $this->stored('late.mkv', $video);
        self::assertSame(['video', 1], [$file->form['kind'] ?? '', $file->form['sound']['channels'] ?? 0]);
        $samples = array_values(unpack('g*', (string) file_get_contents($this->form($file, 'pcm'))) ?: []);
        $first = (int) array_key_first(array_filter($samples, static fn (float $s): bool => abs($s) > 0.01));
        self::assertEqualsWithDelta(24_000, $first, 60);
    }

    public function test_the_sound_of_a_video_is_as_long_as_its_frames(): void
    {
        // Three seconds of picture; a sound that is longer by what its coder adds, one that is shorter by a second.
        foreach (['longer.mp4' => '3', 'shorter.mp4' => '2'] as $name => $seconds) {
            $video = $this->made(
                $name,
                '-f',
                'lavfi',
                '-i',
                'testsrc2=s=64x64:r=25:d=3',
                '-f',
                'lavfi',
                '-i',
                "sine=f=440:r=44100:d=$seconds",
                '-c:v',
                'libx264',
                '-pix_fmt',
                'yuv420p',
                '-c:a',
                'aac',
            );
            $file = $this->stored($name, $video);
            self::assertSame([75, 144_000], [$file->form['frames'] ?? 0, $file->form['sound']['samples'] ?? 0], $name);
            self::assertSame(144_000 * 4, filesize($this->form($file, 'pcm')));
            $samples = array_values(unpack('g*', (string) file_get_contents($this->form($file, 'pcm'))) ?: []);
            self::assertSame(
                $seconds === '2',
                array_filter(array_slice($samples, 110_000), static fn (float $s): bool => $s !== 0.0) === [],
                $name,
            );
        }
    }

    public function test_raw_frames_hold_the_colour_of_each_frame(): void
    {
        $video = $this->made(
            'steps.mkv',
            '-f',
            'lavfi',
            '-i',
            "nullsrc=s=160x80:r=25:d=1,format=gbrp,geq=r='if(lt(X,80),10*N,0)':g='if(lt(X,80),0,200)':b=0",
            '-c:v',
            'ffv1',
            '-pix_fmt',
            'gbrp',
        );
        $file = $this->stored('steps.mkv', $video);
        self::assertSame(
            ['width' => 64, 'height' => 32, 'channels' => 3],
            array_diff_key($file->form['raw'] ?? [], ['url' => 0]),
        );
        $raw = (string) file_get_contents($this->form($file, 'raw'));
        self::assertSame(25 * 64 * 32 * 3, strlen($raw));
        foreach ([0, 7, 24] as $frame) {
            $at = static fn (int $x): array => array_map(
                ord(...),
                str_split(substr($raw, 3 * (64 * 32 * $frame + 64 * 16 + $x), 3)),
            );
            self::assertEqualsWithDelta([[10 * $frame, 0, 0], [0, 200, 0]], [$at(10), $at(50)], 2);
        }
        $still = $this->stored(
            'half.png',
            $this->made('half.png', '-f', 'lavfi', '-i', 'color=red@0.5:s=10x40,format=rgba', '-frames:v', '1'),
        );
        self::assertSame(
            [10, 40, 4],
            [
                $still->form['raw']['width'] ?? 0,
                $still->form['raw']['height'] ?? 0,
                $still->form['raw']['channels'] ?? 0,
            ],
        );
        self::assertEqualsWithDelta(
            [255, 0, 0, 128],
            array_map(ord(...), str_split(substr((string) file_get_contents($this->form($still, 'raw')), 4 * 300, 4))),
            2,
        );
    }

    public function test_a_scrub_strip_shows_each_moment_in_its_place(): void
    {
        // Grey that grows by 20 a second, for 12 s.
        $video = $this->made(
            'dusk.mkv',
            '-f',
            'lavfi',
            '-i',
            "nullsrc=s=160x90:r=25:d=12,format=gray,geq=lum='20*floor(T)'",
            '-c:v',
            'ffv1',
            '-pix_fmt',
            'gray',
        );
        $file = $this->stored('dusk.mkv', $video);
        $strip = $file->form['strip'] ?? [];
        // A key frame each 12 frames: 25 of them in 300.
        self::assertSame(
            [10, 25, 12, 160, 90],
            [$strip['columns'], $strip['pictures'], $strip['every'], $strip['width'], $strip['height']],
        );
        $grey = $this->pixels("$this->data/media/thumbnails/$file->hash-strip.jpg", 'gray');
        self::assertSame(1600 * 270, strlen($grey));
        foreach ([0, 3, 11, 24] as $i) {
            $at = ord($grey[(intdiv($i, 10) * 90 + 45) * 1600 + ($i % 10) * 160 + 80]);
            self::assertEqualsWithDelta(20 * intdiv(12 * $i, 25), $at, 4, "picture $i");
        }
    }

    public function test_numbered_stills_in_an_archive_are_one_video(): void
    {
        mkdir("$this->data/frames");
        foreach ([8, 9, 10, 12] as $number) {
            (new Process([
                'ffmpeg',
                '-y',
                '-v',
                'error',
                '-f',
                'lavfi',
                '-i',
                sprintf('color=0x%02x0000:s=32x16', 20 * $number),
                '-frames:v',
                '1',
                "$this->data/frames/it's a gull_$number.png",
            ]))->mustRun();
        }
        file_put_contents("$this->data/frames/frame-rate.txt", "50\n");
        (new Process([
            'tar',
            '--format=ustar',
            '-cf',
            "$this->data/gulls.tar",
            '-C',
            "$this->data",
            'frames',
        ]))->mustRun();
        $file = $this->stored('gull_[8-12].png', (string) file_get_contents("$this->data/gulls.tar"));
        self::assertSame(
            ['video', 'png sequence', '50', 5, true],
            [
                $file->facts['kind'] ?? '',
                $file->facts['codec'] ?? '',
                $file->facts['frameRate'] ?? '',
                $file->facts['frames'] ?? 0,
                $file->facts['constantRate'] ?? null,
            ],
        );
        self::assertContains('1 still is missing: 11. The one before is held.', $file->facts['assumed'] ?? []);
        self::assertSame([5, '50'], [$file->form['frames'] ?? 0, $file->form['frameRate'] ?? '']);
        $raw = (string) file_get_contents($this->form($file, 'raw'));
        $reds = array_map(static fn (int $frame): int => ord($raw[$frame * 3 * 32 * 16 + 3 * 100]), range(0, 4));
        self::assertEqualsWithDelta([160, 180, 200, 200, 240], $reds, 2);
        // What is no sequence is refused in words, and nothing remains.
        (new Process([
            'tar',
            '--format=ustar',
            '-cf',
            "$this->data/none.tar",
            '-C',
            "$this->data/frames",
            'frame-rate.txt',
        ]))->mustRun();
        $this->send('none.tar', (string) file_get_contents("$this->data/none.tar"))
            ->assertStatus(422)
            ->assertJsonPath('detail', 'There are no stills in this archive.');
        self::assertSame(1, StoredFile::query()->count());
    }

    /**
     * A profile with primaries of its own and a gamma of 2 (ICC.1:2010: matrix and curves), places in XYZ as the
     * profile has them, at D50.
     */
    private static function profile(): string
    {
        $fixed = static fn (float $n): string => pack('N', (int) round($n * 65_536) & 0xFFFFFFFF);
        $xyz = static fn (float ...$n): string => 'XYZ '.pack('N', 0).implode('', array_map($fixed, $n));
        $tags = [
            'desc' => 'desc'.pack('N2', 0, 13)."Harbour wide\0".str_repeat("\0", 79),
            'cprt' => "text\0\0\0\0none\0",
            'wtpt' => $xyz(0.9642, 1, 0.8249),
            'rXYZ' => $xyz(0.6097, 0.3111, 0.0195),
            'gXYZ' => $xyz(0.2053, 0.6257, 0.0609),
            'bXYZ' => $xyz(0.1492, 0.0632, 0.7446),
            'rTRC' => 'curv'.pack('N2n', 0, 1, 512),
            'gTRC' => 'curv'.pack('N2n', 0, 1, 512),
            'bTRC' => 'curv'.pack('N2n', 0, 1, 512),
        ];
        [$table, $data, $at] = ['', '', 132 + 12 * count($tags)];
        foreach ($tags as $name => $tag) {
            $table .= $name.pack('N2', $at + strlen($data), strlen($tag));
            $data .= str_pad($tag, strlen($tag) + ((4 - (strlen($tag) % 4)) % 4), "\0");
        }
        $body = pack('N', count($tags)).$table.$data;

        return pack('N', 128 + strlen($body)).
            "lcms\x02\x40\0\0mntrRGB XYZ ".
            pack('n6', 2026, 1, 1, 0, 0, 0).
            'acsp'.
            str_repeat("\0", 28).
            $fixed(0.9642).
            $fixed(1).
            $fixed(0.8249).
            str_repeat("\0", 48).
            $body;
    }

    public function test_the_colour_profile_of_a_still_is_respected(): void
    {
        $png = $this->made('wide.png', '-f', 'lavfi', '-i', 'color=0xB47850:s=16x16,format=rgb24', '-frames:v', '1');
        $chunk = static fn (string $type, string $data): string => pack('N', strlen($data)).
            $type.
            $data.
            pack('N', crc32($type.$data));
        $end = 8 + 25;
        $file = $this->stored(
            'wide.png',
            substr($png, 0, $end).$chunk('iCCP', "wide\0\0".gzcompress(self::profile())).substr($png, $end),
        );
        self::assertSame('Harbour wide', $file->facts['profile'] ?? null);
        // By hand: light is the square of each share; then to XYZ by the profile's columns, to linear sRGB by the
        // inverse of its own at D50 (Bradford), and encoded (IEC 61966-2-1).
        [$r, $g, $b] = array_map(static fn (int $n): float => ($n / 255) ** 2, [0xB4, 0x78, 0x50]);
        [$x, $y, $z] = [
            0.6097 * $r + 0.2053 * $g + 0.1492 * $b,
            0.3111 * $r + 0.6257 * $g + 0.0632 * $b,
            0.0195 * $r + 0.0609 * $g + 0.7446 * $b,
        ];
        $linear = [
            3.1338561 * $x - 1.6168667 * $y - 0.4906146 * $z,
            -0.9787684 * $x + 1.9161415 * $y + 0.033454 * $z,
            0.0719453 * $x - 0.2289914 * $y + 1.4052427 * $z,
        ];
        $encoded = array_map(
            static fn (float $n): float => 255 * ($n <= 0.0031308 ? 12.92 * $n : 1.055 * $n ** (1 / 2.4) - 0.055),
            $linear,
        );
        $shown = array_map(ord(...), str_split(substr($this->pixels($this->form($file, 'png')), 3 * 100, 3)));
        self::assertEqualsWithDelta($encoded, $shown, 1.5);
        self::assertGreaterThan(5, abs($shown[0] - 0xB4));
        // One that is plain leaves every colour as it is.
        $plain = $this->stored('plain.png', $png);
        self::assertNull($plain->facts['profile'] ?? null);
        self::assertSame(
            [0xB4, 0x78, 0x50],
            array_map(ord(...), str_split(substr($this->pixels($this->form($plain, 'png')), 3 * 100, 3))),
        );
    }

    public function test_what_is_gone_from_the_disk_is_made_again_or_missing_until_it_is_imported_again(): void
    {
        $bytes = $this->video();
        $file = $this->stored('tide.mp4', $bytes);
        $sweep = fn (): int => (new Sweep(MediaStore::ofConfig()))->sweep();
        $sweep();
        self::assertSame('ready', $file->refresh()->state);
        unlink($this->form($file, 'mp4'));
        $sweep();
        self::assertSame('waiting', $file->refresh()->state);
        $this->work();
        self::assertSame('ready', $file->refresh()->state);
        self::assertFileExists($this->form($file, 'mp4'));
        unlink($this->form($file, 'mp4'));
        unlink("$this->data/media/originals/$file->hash");
        $sweep();
        $row = $this->ask('GET', "shows/$this->show")->json('rows.media.0');
        // How large it was is still known, so that it can be looked for.
        self::assertSame(['missing', strlen($bytes)], [$row['state'], $row['bytes']]);
        self::assertContains(
            'The file of tide.mp4 is missing.',
            array_column(
                array_merge(...array_values($this->ask('GET', "shows/$this->show")->json('computed.findings'))),
                'message',
            ),
        );
        $this->send('moved.mp4', $bytes)->assertOk()->assertJsonPath('known', true);
        $this->work();
        self::assertSame(['ready', 1], [$file->refresh()->state, StoredFile::query()->count()]);
    }

    public function test_what_was_done_with_a_file_is_told_line_by_line(): void
    {
        $file = $this->stored('tide.mp4', $this->video());
        $lines = $this->ask('GET', "files/$file->hash/log")
            ->assertOk()
            ->json('lines');
        self::assertSame('working', $lines[0][1]);
        self::assertSame('ready', $lines[count($lines) - 1][1]);
        self::assertContains('50 frames at 25 fps', array_column($lines, 1));
        self::assertMatchesRegularExpression('/^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d\.\d{3}Z$/', $lines[0][0]);
        self::assertStringNotContainsString($this->data, (string) json_encode($lines));
        $this->ask('GET', 'files/'.str_repeat('0', 64).'/log')->assertNotFound();
    }

    public function test_what_was_made_by_an_older_recipe_is_made_again(): void
    {
        $file = $this->stored('tide.mp4', $this->video());
        // As it was before there were strips and raw frames.
        $file->update([
            'form' => array_diff_key((array) $file->form, ['strip' => 0, 'raw' => 0]),
            'facts' => array_diff_key((array) $file->facts, ['bits' => 0]),
        ]);
        unlink($this->form($file, 'raw'));
        $this->ask('POST', "files/$file->hash/retry")
            ->assertOk()
            ->assertJsonPath('state', 'waiting');
        $this->work();
        $file->refresh();
        self::assertSame(['ready', 8], [$file->state, $file->facts['bits'] ?? null]);
        self::assertArrayHasKey('strip', $file->form ?? []);
        self::assertFileExists($this->form($file, 'raw'));
        StoredFile::query()->create([
            'hash' => 'input:camera',
            'name' => 'Camera',
            'bytes' => 0,
            'state' => 'ready',
            'progress' => 1,
        ]);
        $this->ask('POST', 'files/input:camera/retry')->assertStatus(422);
    }

    public function test_many_small_files_are_made_ready_and_each_is_itself(): void
    {
        $picture = $this->made('small.ppm', '-f', 'lavfi', '-i', 'color=black:s=8x8', '-frames:v', '1');
        $hashes = [];
        for ($i = 0; $i < 60; $i++) {
            $bytes = substr($picture, 0, -3).chr($i).chr(0).chr(7);
            $hashes[hash('sha256', $bytes)] = true;
            $this->send("lantern $i.ppm", $bytes)
                ->assertOk()
                ->assertJsonPath('known', false);
        }
        self::assertCount(60, $hashes);
        $rows = $this->ask('GET', "shows/$this->show")->json('rows.media');
        self::assertCount(60, $rows);
        self::assertCount(
            60,
            array_unique(array_map(static fn (array $row): string => "{$row['folder']}.{$row['index']}", $rows)),
        );
        $this->work();
        self::assertSame(60, StoredFile::query()->where('state', 'ready')->count());
        self::assertSame(0, StoredFile::query()->where('state', '!=', 'ready')->count());
    }
}
