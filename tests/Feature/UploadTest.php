<?php

declare(strict_types=1);

namespace Tests\Feature;

use App\Engine\Control;
use App\Import\Uploads;
use App\Jobs\JobLocks;
use App\Jobs\MakeReady;
use App\Jobs\Sweep;
use App\Media\Confined;
use App\Media\MediaStore;
use App\Models\StoredFile;
use App\Models\Upload;
use App\Show\Editor;
use App\Support\Problem;
use Illuminate\Support\Facades\DB;
use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Component\Process\Process;
use Tests\SendsFiles;
use Tests\TestCase;

final class UploadTest extends TestCase
{
    use SendsFiles;

    /** @return list<string> */
    private function left(): array
    {
        return array_values(
            array_map(
                basename(...),
                array_merge(
                    ...array_map(fn (string $f): array => glob("$this->data/media/$f/*") ?: [], [
                        'uploads',
                        'originals',
                        'forms',
                        'thumbnails',
                    ]),
                ),
            ),
        );
    }

    public function test_a_file_in_parts_becomes_media_and_the_worker_makes_it_ready(): void
    {
        $bytes = $this->video();
        $upload = $this->begin('tide.mp4', strlen($bytes))->assertCreated()->json('id');
        $half = intdiv(strlen($bytes), 2);
        $this->part($upload, 0, substr($bytes, 0, $half))->assertOk()->assertJsonPath('received', $half);
        $this->part($upload, 0, $bytes)->assertStatus(409)->assertJsonPath('received', $half);
        $this->ask('GET', "uploads/$upload")->assertJsonPath('received', $half);
        $done = $this->part($upload, $half, substr($bytes, $half))->assertOk()->assertJsonPath('known', false);
        self::assertSame(hash('sha256', $bytes), $done->json('hash'));
        $this->work();
        $row = $this->ask('GET', "shows/$this->show")->json('rows.media.0');
        self::assertSame(
            ['tide.mp4', 'ready', 50, '25', 'video'],
            [$row['name'], $row['state'], $row['form']['frames'], $row['form']['frameRate'], $row['facts']['kind']],
        );
        self::assertMatchesRegularExpression('/^avc1\.[0-9a-f]{6}$/', $row['form']['codec']);
        self::assertSame(50 * 12, filesize("$this->data/media/forms/{$row['file']}.samples"));
        self::assertCount(6, glob("$this->data/media/thumbnails/*") ?: []);
        $probe = new Process([
            'ffprobe',
            '-v',
            'error',
            '-select_streams',
            'v',
            '-show_entries',
            'stream=color_space,color_range,color_transfer,has_b_frames',
            '-of',
            'csv=p=0',
            "$this->data/media/forms/{$row['file']}.mp4",
        ]);
        self::assertSame('0,tv,bt709,bt709', trim($probe->mustRun()->getOutput()));
        self::assertSame(
            'Import tide.mp4',
            $this->ask('POST', "shows/$this->show/undo")
                ->assertOk()
                ->json('name'),
        );
        self::assertSame([], $this->ask('GET', "shows/$this->show")->json('rows.media'));
        $this->ask('POST', "shows/$this->show/redo")->assertOk();
        self::assertSame('ready', $this->ask('GET', "shows/$this->show")->json('rows.media.0.state'));
    }

    public function test_what_a_person_began_is_told_with_the_hash_of_the_last_that_came(): void
    {
        $bytes = random_bytes(1_600_000);
        $mine = fn (string $person = '01hzzzzzzzzzzzzzzzzzzzzzzz'): array => $this->ask(
            'GET',
            "shows/$this->show/uploads",
            [],
            [],
            $person,
        )
            ->assertOk()
            ->json('uploads');
        $upload = (string) $this->begin('tide.mp4', strlen($bytes))
            ->assertCreated()
            ->assertJsonPath('received', 0)
            ->json('id');
        self::assertSame(
            [[$upload, 'tide.mp4', 1_600_000, 0]],
            array_map(static fn (array $u): array => [$u['id'], $u['name'], $u['bytes'], $u['received']], $mine()),
        );
        $this->ask('GET', "uploads/$upload")->assertJsonPath('tail', null);
        $this->part($upload, 0, substr($bytes, 0, 700))->assertOk();
        $this->ask('GET', "uploads/$upload")
            ->assertJsonPath('received', 700)
            ->assertJsonPath('tail', ['from' => 0, 'sha256' => hash('sha256', substr($bytes, 0, 700))]);
        $this->part($upload, 700, substr($bytes, 700, 1_500_000))->assertOk();
        $this->ask('GET', "uploads/$upload")->assertJsonPath('tail', [
            'from' => 1_500_700 - 1_048_576,
            'sha256' => hash('sha256', substr($bytes, 1_500_700 - 1_048_576, 1_048_576)),
        ]);
        self::assertSame([1_500_700], array_column($mine(), 'received'));
        self::assertSame([], $mine('01hyyyyyyyyyyyyyyyyyyyyyyy'));
        $other = $this->show();
        self::assertSame(
            [],
            $this->ask('GET', "shows/$other/uploads")
                ->assertOk()
                ->json('uploads'),
        );
        // Refused as no picture, it is not here any more; one that was filed is no longer under way.
        $this->part($upload, 1_500_700, substr($bytes, 1_500_700))->assertStatus(422);
        self::assertSame([], $mine());
        $video = $this->video();
        $whole = (string) $this->begin('whole.mp4', strlen($video))->json('id');
        $this->part($whole, 0, $video)->assertOk();
        self::assertCount(0, $mine());
        $this->ask('GET', "uploads/$whole")
            ->assertJsonPath('received', strlen($video))
            ->assertJsonPath('tail', null)
            ->assertJsonPath('hash', hash('sha256', $video));
        // The newest first.
        $names = ['a.mp4', 'b.mp4', 'c.mp4'];
        foreach ($names as $name) {
            $this->begin($name, 10)->assertCreated();
        }
        self::assertSame(array_reverse($names), array_column($mine(), 'name'));
    }

    public function test_an_upload_is_its_owners_alone(): void
    {
        $show = $this->show();
        $upload = (string) $this->ask('POST', "shows/$show/uploads", ['name' => 'mine.mp4', 'bytes' => 10])
            ->assertCreated()
            ->json('id');
        $other = '01hyyyyyyyyyyyyyyyyyyyyyyy';
        $this->ask('GET', "uploads/$upload", null, [], $other)->assertStatus(404);
        $this->ask('DELETE', "uploads/$upload", null, [], $other)->assertStatus(404);
        $this->ask(
            'PUT',
            "uploads/$upload?at=0",
            null,
            ['Content-Type' => 'application/octet-stream'],
            $other,
        )->assertStatus(404);
        // Nothing takes the place of the method that it is sent by.
        $this->ask(
            'POST',
            "uploads/$upload",
            ['_method' => 'DELETE'],
            ['X-HTTP-Method-Override' => 'DELETE'],
        )->assertStatus(405);
        $this->ask('GET', "uploads/$upload", null, ['X-HTTP-Method-Override' => 'DELETE'])->assertOk();
        $this->ask('DELETE', "uploads/$upload")->assertOk();
    }

    public function test_the_same_file_twice_is_told_and_stays_one(): void
    {
        $bytes = $this->video();
        $first = $this->send('tide.mp4', $bytes)->assertOk();
        $again = $this->send('copy of tide.mp4', $bytes)->assertOk()->assertJsonPath('known', true);
        self::assertSame(
            [$first->json('media'), 'copy of tide.mp4 is here already, as tide.mp4.'],
            [$again->json('media'), $again->json('message')],
        );
        self::assertCount(1, $this->ask('GET', "shows/$this->show")->json('rows.media'));
    }

    public function test_a_text_named_mp4_is_refused_and_nothing_remains(): void
    {
        $this->send('story.mp4', str_repeat("Lanterns over the harbour.\n", 300))
            ->assertStatus(422)
            ->assertJsonPath('detail', 'story.mp4 is no picture, video or sound that can be read here.');
        self::assertSame([], $this->left());
        self::assertSame([], $this->ask('GET', "shows/$this->show")->json('rows.media'));
    }

    public function test_a_video_without_its_end_is_refused_whichever_way_it_was_cut(): void
    {
        $bytes = $this->video();
        $this->send('cut.mp4', substr($bytes, 0, intdiv(strlen($bytes), 2)))
            ->assertStatus(422)
            ->assertJsonPath(
                'detail',
                'cut.mp4 is damaged or incomplete: its table of contents is missing. Copy it again from where it came from.',
            );
        self::assertSame([], $this->left());
        $streaming = $this->video('-movflags', '+faststart');
        $this->send('cut2.mp4', substr($streaming, 0, (int) (strlen($streaming) * 0.6)))->assertOk();
        $this->work();
        $row = $this->ask('GET', "shows/$this->show")->json('rows.media.0');
        self::assertSame('failed', $row['state']);
        self::assertMatchesRegularExpression(
            '/^cut2\.mp4 (is incomplete: it says that it lasts 2\.0 s|could not be decoded)/',
            $row['message'],
        );
        self::assertSame(
            [],
            array_merge(glob("$this->data/media/forms/*") ?: [], glob("$this->data/media/thumbnails/*") ?: []),
        );
        self::assertContains(
            $row['message'] === null ? '' : 'cut2.mp4 could not be made ready.',
            array_column(
                array_merge(...array_values($this->ask('GET', "shows/$this->show")->json('computed.findings'))),
                'message',
            ),
        );
    }

    public function test_an_empty_file_a_giant_and_a_full_disk_are_refused_before_anything_is_stored(): void
    {
        $this->begin('empty.mp4', 0)->assertStatus(422)->assertJsonPath('detail', 'empty.mp4 is empty (0 bytes).');
        $this->begin('giant.mov', 65 * 1024 ** 3)->assertStatus(413);
        config(['kite.keep_free' => 10 ** 18]);
        $answer = $this->begin('tide.mp4', 1000)->assertStatus(507);
        self::assertStringStartsWith('The disk is too full for tide.mp4', $answer->json('detail'));
        $this->begin('x', -5)
            ->assertStatus(422)
            ->assertJsonPath('field', 'bytes');
        $this->ask('POST', "shows/$this->show/uploads", ['name' => 'x', 'bytes' => '7'])
            ->assertStatus(422)
            ->assertJsonPath('field', 'bytes');
        self::assertSame([], $this->left());
    }

    public function test_names_with_slashes_quotes_and_markup_stay_text(): void
    {
        $row = $this->send('../../etc/<b onload="x">\'tide\'.mp4', $this->video())->assertOk();
        self::assertSame(
            '<b onload="x">\'tide\'.mp4',
            $this->ask('GET', "shows/$this->show")->json('rows.media.0.name'),
        );
        $this->begin('folder/', 10)->assertStatus(422)->assertJsonPath('field', 'name');
        $this->begin(str_repeat('x', 201), 10)->assertStatus(422);
        self::assertNotNull($row->json('media'));
    }

    public function test_more_bytes_than_announced_and_parts_that_are_too_large_are_refused(): void
    {
        $upload = $this->begin('a.mp4', 10)->json('id');
        $this->part($upload, 0, str_repeat('x', 11))->assertStatus(422)->assertJsonPath('field', 'bytes');
        config(['kite.largest_chunk' => 4]);
        $this->part($upload, 0, 'xxxxx')->assertStatus(413);
        $this->part($upload, 0, '')->assertStatus(422);
        $this->ask('PUT', "uploads/$upload?at=0")->assertStatus(415);
        $this->ask('DELETE', "uploads/$upload")->assertOk();
        self::assertSame([], $this->left());
        $this->ask('GET', "uploads/$upload")->assertNotFound();
    }

    public function test_making_ready_is_cancelled_and_tried_again(): void
    {
        $hash = $this->send('tide.mp4', $this->video())->json('hash');
        $this->ask('POST', "files/$hash/cancel")
            ->assertOk()
            ->assertJsonPath('state', 'cancelled');
        $this->work();
        self::assertSame('cancelled', StoredFile::query()->findOrFail($hash)->state);
        $this->ask('POST', "files/$hash/cancel")->assertStatus(422);
        $this->ask('POST', "files/$hash/retry")
            ->assertOk()
            ->assertJsonPath('state', 'waiting');
        $this->ask('POST', "files/$hash/retry")->assertStatus(422);
        $this->work();
        self::assertSame('ready', StoredFile::query()->findOrFail($hash)->state);
    }

    /**
     * A JPEG of 60 × 20 px, red with its left sixth blue, that says by its orientation (Exif 2.32, tag 274) how it is
     * to be shown.
     */
    private function oriented(int $orientation): string
    {
        $path = "$this->data/plain.jpg";
        (new Process([
            'ffmpeg',
            '-y',
            '-v',
            'error',
            '-f',
            'lavfi',
            '-i',
            'color=red:s=60x20,drawbox=x=0:y=0:w=10:h=20:color=blue:t=fill',
            '-frames:v',
            '1',
            '-q:v',
            '1',
            $path,
        ]))->mustRun();
        $jpeg = (string) file_get_contents($path);
        $exif = "Exif\0\0MM\0*".pack('NnnnNnnN', 8, 1, 274, 3, 1, $orientation, 0, 0);

        return substr($jpeg, 0, 2)."\xff\xe1".pack('n', strlen($exif) + 2).$exif.substr($jpeg, 2);
    }

    /**
     * @return array<string, array{int, int, int, string}> orientation, width and height as shown, and where it is blue
     */
    public static function orientations(): array
    {
        return [
            'upright' => [1, 60, 20, 'left'],
            'mirrored' => [2, 60, 20, 'right'],
            'upside down' => [3, 60, 20, 'right'],
            'on its left side' => [6, 20, 60, 'top'],
            'on its right side' => [8, 20, 60, 'bottom'],
        ];
    }

    #[DataProvider('orientations')]
    public function test_a_still_is_shown_as_its_orientation_says(
        int $orientation,
        int $width,
        int $height,
        string $blue,
    ): void {
        $hash = $this->send('deck.jpg', $this->oriented($orientation))->assertOk()->json('hash');
        $this->work();
        $row = $this->ask('GET', "shows/$this->show")->json('rows.media.0');
        self::assertSame(
            ['ready', $width, $height, $width, $height],
            [
                $row['state'],
                $row['facts']['width'],
                $row['facts']['height'],
                $row['form']['width'],
                $row['form']['height'],
            ],
        );
        $this->assertBlue("$this->data/media/forms/$hash.png", $width, $height, $blue);
    }

    /**
     * @return array<string, array{string, int, int, int, string}> name, orientation, width and height as shown, and
     *     where it is blue
     */
    public static function tagged(): array
    {
        return [
            'PNG, upright' => ['a.png', 1, 60, 20, 'left'],
            'PNG, mirrored' => ['a.png', 2, 60, 20, 'right'],
            'PNG, on its side' => ['a.png', 6, 20, 60, 'top'],
            'PNG, on the other' => ['a.png', 8, 20, 60, 'bottom'],
            'TIFF, upside down' => ['a.tiff', 3, 60, 20, 'right'],
            'TIFF, on its side' => ['a.tiff', 6, 20, 60, 'top'],
            'WebP, on its side' => ['a.webp', 6, 20, 60, 'top'],
            'WebP, turned over' => ['a.webp', 7, 20, 60, 'bottom'],
        ];
    }

    #[DataProvider('tagged')]
    public function test_stills_of_which_the_decoder_does_not_heed_the_tag_are_set_up_too(
        string $name,
        int $orientation,
        int $width,
        int $height,
        string $blue,
    ): void {
        $path = "$this->data/plain-$name";
        (new Process([
            'ffmpeg',
            '-y',
            '-v',
            'error',
            '-f',
            'lavfi',
            '-i',
            'color=red:s=60x20,drawbox=x=0:y=0:w=10:h=20:color=blue:t=fill',
            '-frames:v',
            '1',
            ...str_ends_with($name, 'webp') ? ['-quality', '100'] : [],
            $path,
        ]))->mustRun();
        $bytes = (string) file_get_contents($path);
        $exif = "MM\0*".pack('NnnnNnnN', 8, 1, 274, 3, 1, $orientation, 0, 0);
        $hash = $this->send(
            $name,
            match (true) {
                // A chunk before the picture's, with its sum.
                str_ends_with($name, 'png') => substr($bytes, 0, 33).
                    pack('N', strlen($exif)).
                    'eXIf'.
                    $exif.
                    pack('N', crc32("eXIf$exif")).
                    substr($bytes, 33),
                str_ends_with($name, 'webp') => self::riff($bytes, $exif),
                default => self::tiff($bytes, $orientation),
            },
        )
            ->assertOk()
            ->json('hash');
        $this->work();
        $row = $this->ask('GET', "shows/$this->show")->json('rows.media.0');
        self::assertSame(
            ['ready', $width, $height, $width, $height],
            [
                $row['state'],
                $row['facts']['width'],
                $row['facts']['height'],
                $row['form']['width'],
                $row['form']['height'],
            ],
        );
        $this->assertBlue("$this->data/media/forms/$hash.png", $width, $height, $blue);
    }

    /** A WebP in its extended form, with a chunk of Exif after its picture. */
    private static function riff(string $webp, string $exif): string
    {
        $chunks = substr($webp, 12);
        $chunks =
            (str_starts_with($chunks, 'VP8X')
                ? substr($chunks, 0, 8).chr(ord($chunks[8]) | 8).substr($chunks, 9)
                : 'VP8X'.pack('VV', 10, 8).substr(pack('V', 59), 0, 3).substr(pack('V', 19), 0, 3).$chunks).
            'EXIF'.
            pack('V', strlen($exif)).
            $exif;

        return 'RIFF'.pack('V', 4 + strlen($chunks)).'WEBP'.$chunks;
    }

    /** A TIFF whose directory is written anew at its end, with one entry more. */
    private static function tiff(string $tiff, int $orientation): string
    {
        self::assertSame("II*\0", substr($tiff, 0, 4));
        [, $at] = (array) unpack('V', $tiff, 4);
        [, $count] = (array) unpack('v', $tiff, $at);
        $entries = array_filter(
            str_split(substr($tiff, $at + 2, 12 * $count), 12),
            static fn (string $entry): bool => ((array) unpack('v', $entry))[1] !== 274,
        );
        $entries[] = pack('vvVvv', 274, 3, 1, $orientation, 0);
        usort(
            $entries,
            static fn (string $a, string $b): int => ((array) unpack('v', $a))[1] <=> ((array) unpack('v', $b))[1],
        );
        $tiff .= str_repeat("\0", strlen($tiff) % 2);

        return substr_replace($tiff, pack('V', strlen($tiff)), 4, 4).
            pack('v', count($entries)).
            implode('', $entries).
            pack('V', 0);
    }

    public function test_a_video_is_shown_as_its_matrix_says(): void
    {
        (new Process([
            'ffmpeg',
            '-y',
            '-v',
            'error',
            '-f',
            'lavfi',
            '-i',
            'color=red:s=60x20:r=25:d=1,drawbox=x=0:y=0:w=10:h=20:color=blue:t=fill',
            '-c:v',
            'libx264',
            '-pix_fmt',
            'yuv420p',
            "$this->data/flat.mp4",
        ]))->mustRun();
        (new Process([
            'ffmpeg',
            '-y',
            '-v',
            'error',
            '-i',
            "$this->data/flat.mp4",
            '-c',
            'copy',
            '-metadata:s:v:0',
            'rotate=270',
            "$this->data/turned.mp4",
        ]))->mustRun();
        $hash = $this->send('turned.mp4', (string) file_get_contents("$this->data/turned.mp4"))
            ->assertOk()
            ->json('hash');
        $this->work();
        $row = $this->ask('GET', "shows/$this->show")->json('rows.media.0');
        self::assertSame(
            ['ready', 20, 60, 20, 60],
            [
                $row['state'],
                $row['facts']['width'],
                $row['facts']['height'],
                $row['form']['width'],
                $row['form']['height'],
            ],
        );
        self::assertContains($row['facts']['rotation'], [90, 270]);
        $this->assertBlue(
            "$this->data/media/forms/$hash.mp4",
            20,
            60,
            $row['facts']['rotation'] === 90 ? 'top' : 'bottom',
        );
    }

    /** One sixth of a picture, at one of its edges, is blue, and the rest red. */
    private function assertBlue(string $path, int $width, int $height, string $where): void
    {
        $rgb = (new Process([
            'ffmpeg',
            '-v',
            'error',
            '-i',
            $path,
            '-frames:v',
            '1',
            '-f',
            'rawvideo',
            '-pix_fmt',
            'rgb24',
            '-',
        ]))
            ->mustRun()
            ->getOutput();
        self::assertSame(3 * $width * $height, strlen($rgb));
        $at = static fn (float $u, float $v): string => ord(
            $rgb[3 * ((int) ($v * $height) * $width + (int) ($u * $width))],
        ) > 127
            ? 'red'
            : 'blue';
        $edges = [
            'left' => $at(0.05, 0.5),
            'right' => $at(0.95, 0.5),
            'top' => $at(0.5, 0.05),
            'bottom' => $at(0.5, 0.95),
        ];
        self::assertSame([$where], array_keys($edges, 'blue', true));
        self::assertSame('red', $at(0.5, 0.5));
    }

    public function test_stills_and_sound_are_media_too(): void
    {
        (new Process([
            'ffmpeg',
            '-y',
            '-v',
            'error',
            '-f',
            'lavfi',
            '-i',
            'color=red@0.5:s=33x21,format=rgba',
            '-frames:v',
            '1',
            "$this->data/still.png",
        ]))->mustRun();
        (new Process([
            'ffmpeg',
            '-y',
            '-v',
            'error',
            '-f',
            'lavfi',
            '-i',
            'sine=d=1',
            "$this->data/tone.wav",
        ]))->mustRun();
        $this->send('still.png', (string) file_get_contents("$this->data/still.png"))->assertOk();
        $this->send('tone.wav', (string) file_get_contents("$this->data/tone.wav"))->assertOk();
        $this->work();
        $rows = array_column($this->ask('GET', "shows/$this->show")->json('rows.media'), null, 'name');
        self::assertSame(
            ['image', 'still', true],
            [
                $rows['still.png']['facts']['kind'],
                $rows['still.png']['form']['kind'],
                $rows['still.png']['facts']['alpha'],
            ],
        );
        self::assertSame(['audio', 'ready'], [$rows['tone.wav']['facts']['kind'], $rows['tone.wav']['state']]);
    }

    /**
     * @return array<string, array{string, list<string>, string}> file name, how it is encoded, and of what kind it is
     */
    public static function formats(): array
    {
        return [
            'PNG of 16 bits' => ['deep.png', ['-pix_fmt', 'rgb48be', '-frames:v', '1'], 'image'],
            'TIFF' => ['still.tiff', ['-frames:v', '1'], 'image'],
            'WebP' => ['still.webp', ['-c:v', 'libwebp', '-lossless', '1', '-frames:v', '1'], 'image'],
            'JPEG' => ['still.jpg', ['-q:v', '1', '-frames:v', '1'], 'image'],
            'H.265' => [
                'hevc.mp4',
                ['-c:v', 'libx265', '-x265-params', 'log-level=none', '-crf', '10', '-pix_fmt', 'yuv420p'],
                'video',
            ],
            'H.265 of 10 bits' => [
                'hevc10.mkv',
                ['-c:v', 'libx265', '-x265-params', 'log-level=none', '-crf', '10', '-pix_fmt', 'yuv420p10le'],
                'video',
            ],
            'VP9' => ['vp9.webm', ['-c:v', 'libvpx-vp9', '-crf', '10', '-b:v', '0'], 'video'],
            'AV1' => ['av1.mkv', ['-c:v', 'libaom-av1', '-cpu-used', '8', '-crf', '20', '-b:v', '0'], 'video'],
            'ProRes' => ['prores.mov', ['-c:v', 'prores_ks', '-profile:v', '3'], 'video'],
            'MJPEG in AVI' => ['mjpeg.avi', ['-c:v', 'mjpeg', '-q:v', '2'], 'video'],
        ];
    }

    /** @param  list<string>  $how */
    #[DataProvider('formats')]
    public function test_each_format_is_made_ready_with_its_colours(string $name, array $how, string $kind): void
    {
        $path = "$this->data/$name";
        // Red on the left, and blue-green on the right.
        (new Process([
            'ffmpeg',
            '-y',
            '-v',
            'error',
            '-f',
            'lavfi',
            '-i',
            "nullsrc=s=64x64:r=25:d=1,format=gbrp,geq=r='if(lt(X,32),230,20)':g='if(lt(X,32),30,140)':b='if(lt(X,32),40,160)'",
            ...$kind === 'video' && ! in_array('mjpeg', $how, true)
                ? [
                    '-vf',
                    'scale=out_color_matrix=bt709,setparams=colorspace=bt709:color_primaries=bt709:color_trc=bt709',
                    '-colorspace',
                    'bt709',
                    '-color_primaries',
                    'bt709',
                    '-color_trc',
                    'bt709',
                ]
                : [],
            ...$how,
            $path,
        ]))->mustRun();
        $hash = $this->send($name, (string) file_get_contents($path))->assertOk()->json('hash');
        $this->work();
        $file = StoredFile::query()->findOrFail($hash);
        self::assertSame(['ready', $kind], [$file->state, $file->facts['kind'] ?? ''], (string) $file->message);
        self::assertSame(
            [64, 64, $kind === 'video' ? 25 : 0],
            [
                $file->facts['width'] ?? 0,
                $file->facts['height'] ?? 0,
                $kind === 'video' ? $file->form['frames'] ?? 0 : 0,
            ],
        );
        $form = glob("$this->data/media/forms/$hash.{mp4,png}", GLOB_BRACE) ?: [];
        $rgb = (new Process([
            'ffmpeg',
            '-v',
            'error',
            '-i',
            $form[0],
            '-frames:v',
            '1',
            '-vf',
            'scale=in_color_matrix=bt709:flags=accurate_rnd+full_chroma_int',
            '-f',
            'rawvideo',
            '-pix_fmt',
            'rgb24',
            '-',
        ]))
            ->mustRun()
            ->getOutput();
        $at = static fn (int $x): array => array_map(ord(...), str_split(substr($rgb, 3 * (64 * 32 + $x), 3)));
        self::assertEqualsWithDelta([[230, 30, 40], [20, 140, 160]], [$at(12), $at(52)], 6);
    }

    /** @return array<string, array{string, list<string>}> */
    public static function sounds(): array
    {
        return [
            'WAV' => ['tone.wav', []],
            'AIFF' => ['tone.aiff', []],
            'FLAC' => ['tone.flac', []],
            'MP3' => ['tone.mp3', ['-c:a', 'libmp3lame']],
        ];
    }

    /** @param  list<string>  $how */
    #[DataProvider('sounds')]
    public function test_each_kind_of_sound_is_taken(string $name, array $how): void
    {
        $path = "$this->data/$name";
        (new Process([
            'ffmpeg',
            '-y',
            '-v',
            'error',
            '-f',
            'lavfi',
            '-i',
            'sine=f=440:r=48000:d=1',
            ...$how,
            $path,
        ]))->mustRun();
        $this->send($name, (string) file_get_contents($path))->assertOk();
        $this->work();
        $row = $this->ask('GET', "shows/$this->show")->json('rows.media.0');
        self::assertSame(
            ['ready', 'audio', 48_000, 1],
            [
                $row['state'],
                $row['facts']['kind'],
                $row['facts']['audio']['sampleRate'],
                $row['facts']['audio']['channels'],
            ],
        );
    }

    public function test_video_with_alpha_gets_a_matte_of_its_own(): void
    {
        $path = "$this->data/alpha.mov";
        (new Process([
            'ffmpeg',
            '-y',
            '-v',
            'error',
            '-f',
            'lavfi',
            '-i',
            'color=blue@0.5:s=64x32:r=25:d=1,format=rgba',
            '-c:v',
            'png',
            $path,
        ]))->mustRun();
        $hash = $this->send('alpha.mov', (string) file_get_contents($path))->json('hash');
        $this->work();
        $file = StoredFile::query()->findOrFail($hash);
        self::assertSame(
            [true, 64, 64],
            [$file->form['matte'] ?? null, $file->form['width'] ?? 0, $file->form['height'] ?? 0],
            (string) $file->message,
        );
        $grey = (new Process([
            'ffmpeg',
            '-v',
            'error',
            '-i',
            "$this->data/media/forms/$hash.mp4",
            '-frames:v',
            '1',
            '-vf',
            'scale=out_range=pc,format=gray,crop=1:1:32:48',
            '-f',
            'rawvideo',
            '-',
        ]))
            ->mustRun()
            ->getOutput();
        self::assertEqualsWithDelta(128, ord($grey), 3);
    }

    public function test_a_thumbnail_is_dark_where_its_picture_is_transparent(): void
    {
        $files = [];
        foreach (['corner.png' => [], 'corner.mov' => ['-c:v', 'qtrle', '-r', '25']] as $name => $how) {
            $path = "$this->data/$name";
            // Red, and to be seen in its left half only.
            (new Process([
                'ffmpeg',
                '-y',
                '-v',
                'error',
                '-f',
                'lavfi',
                '-i',
                "nullsrc=s=64x64:d=1,format=rgba,geq=r=255:g=0:b=0:a='if(lt(X,32),255,0)'",
                ...$how,
                ...$how === [] ? ['-frames:v', '1'] : ['-t', '0.4'],
                $path,
            ]))->mustRun();
            $files[$name] = $this->send($name, (string) file_get_contents($path))->assertOk()->json('hash');
        }
        $this->work();
        foreach ($files as $name => $hash) {
            $rgb = (new Process([
                'ffmpeg',
                '-v',
                'error',
                '-i',
                "$this->data/media/thumbnails/$hash-0.jpg",
                '-vf',
                'scale=10:10',
                '-f',
                'rawvideo',
                '-pix_fmt',
                'rgb24',
                '-',
            ]))
                ->mustRun()
                ->getOutput();
            self::assertGreaterThan(200, ord($rgb[3 * 52]), $name);
            self::assertLessThan(40, ord($rgb[3 * 57]), $name);
        }
    }

    public function test_where_everything_is_and_what_the_workers_are_at_is_told(): void
    {
        $bytes = $this->video();
        $hash = $this->send('tide.mp4', $bytes)->assertOk()->json('hash');
        $told = $this->ask('GET', 'storage')->assertOk()->json();
        self::assertSame(
            [1, strlen($bytes)],
            [$told['folders']['originals']['files'], $told['folders']['originals']['bytes']],
        );
        self::assertSame(['files' => 0, 'bytes' => 0], $told['folders']['forms']);
        self::assertSame("$this->data/media", $told['path']);
        self::assertGreaterThan(0, $told['free']);
        self::assertSame(
            [1, [[$hash, 'tide.mp4', 'waiting']]],
            [
                $told['waiting'],
                array_map(static fn (array $j): array => [$j['hash'], $j['name'], $j['state']], $told['jobs']),
            ],
        );
        $this->work();
        $told = $this->ask('GET', 'storage')->json();
        self::assertSame([0, []], [$told['waiting'], $told['jobs']]);
        self::assertSame(3, $told['folders']['forms']['files']);
        self::assertSame(6, $told['folders']['thumbnails']['files']);
        self::assertGreaterThan(0, $told['database']['bytes']);
    }

    public function test_a_file_that_is_gone_is_told_wherever_it_is_used_and_comes_back_when_it_is_imported_again(): void
    {
        $bytes = $this->video();
        $sent = $this->send('tide.mp4', $bytes)->assertOk()->json();
        $this->work();
        StoredFile::query()->whereKey($sent['hash'])->delete();
        array_map(unlink(...), [
            ...glob("$this->data/media/originals/*") ?: [],
            ...glob("$this->data/media/forms/*") ?: [],
        ]);
        $show = fn (): array => (array) $this->ask('GET', "shows/$this->show")->json();
        self::assertSame('missing', $show()['rows']['media'][0]['state']);
        self::assertSame(
            'The file of tide.mp4 is missing.',
            $show()['computed']['findings']["media {$sent['media']}"][0]['message'],
        );
        // Found again under another name, it is known by its content.
        $again = $this->send('old disk/tide copy.mp4', $bytes)->assertOk()->json();
        self::assertSame(
            [$sent['media'], true, 'tide copy.mp4 is here already, as tide.mp4.'],
            [$again['media'], $again['known'], $again['message']],
        );
        $this->work();
        self::assertSame(['ready', 1], [$show()['rows']['media'][0]['state'], count($show()['rows']['media'])]);
        self::assertArrayNotHasKey("media {$sent['media']}", $show()['computed']['findings']);
    }

    public function test_a_new_version_keeps_every_use_and_the_old_one_stays_one_press_away(): void
    {
        $first = $this->send('tide.mp4', $this->video())->assertOk()->json();
        $second = $this->send('tide.mp4', $this->video('-vf', 'scale=60:60,setsar=1', '-t', '1'))
            ->assertOk()
            ->assertJsonPath('known', false)
            ->json();
        self::assertStringContainsString('can be its new version', $second['message']);
        $this->work();
        [$line, $layer, $clip] = [$this->id(), $this->id(), $this->id()];
        $this->ask('POST', "shows/$this->show/edits", [
            'name' => 'Use',
            'changes' => [
                $this->created('timeline', $line, ['name' => 'Main', 'duration' => 10 * 705_600_000]),
                $this->created('layer', $layer, ['timeline' => $line, 'name' => 'Sea', 'order' => 0]),
                $this->created('clip', $clip, [
                    'layer' => $layer,
                    'media' => $first['media'],
                    'start' => 705_600_000,
                    'length' => 2 * 705_600_000,
                ]),
            ],
        ])->assertCreated();
        $at = "shows/$this->show/media/{$first['media']}/version";
        $media = fn (): array => $this->ask('GET', "shows/$this->show")->json('rows.media');
        $this->ask('POST', $at, ['by' => $second['media']])
            ->assertOk()
            ->assertExactJson([
                'misfits' => [
                    'Another shape: 60 × 60 px instead of 96 × 54.',
                    'Too short for its clip on Sea at 00:00:01:00: 1.00 s instead of 2.00 s.',
                ],
            ]);
        self::assertCount(2, $media());
        $this->ask('POST', $at, ['by' => $second['media'], 'take' => true])
            ->assertCreated()
            ->assertJsonPath('name', 'A new version of tide.mp4');
        self::assertSame(
            [[$first['media'], $second['hash'], [$first['hash']], 60]],
            array_map(
                static fn (array $m): array => [$m['id'], $m['file'], $m['versions'], $m['facts']['width']],
                $media(),
            ),
        );
        self::assertSame($first['media'], $this->ask('GET', "shows/$this->show")->json('rows.clip.0.media'));
        $this->ask('POST', $at, ['file' => $first['hash']])
            ->assertCreated()
            ->assertJsonPath('name', 'An earlier version of tide.mp4');
        self::assertSame(
            [[$first['hash'], [$second['hash']]]],
            array_map(static fn (array $m): array => [$m['file'], $m['versions']], $media()),
        );
        // What is kept as a version is not swept away, also when no history names it any more.
        DB::table('edits')->delete();
        DB::table('files')->update(['updated_at' => now()->subDays(3)]);
        (new Sweep(MediaStore::ofConfig()))->sweep();
        self::assertSame(2, StoredFile::query()->count());
        foreach (
            [['by' => 'nothing'], ['by' => $first['media'], 'take' => true], ['file' => str_repeat('0', 64)], []] as $body
        ) {
            $this->ask('POST', $at, $body)->assertStatus(422)->assertHeader('Content-Type', 'application/problem+json');
        }
        $this->ask('POST', "shows/$this->show/media/nothing/version", ['by' => $first['media']])->assertStatus(422);
    }

    public function test_a_part_that_was_written_when_its_request_was_killed_does_not_spoil_the_hash(): void
    {
        $bytes = $this->video();
        $upload = (string) $this->begin('tide.mp4', strlen($bytes))->json('id');
        $this->part($upload, 0, substr($bytes, 0, 1000))->assertOk();
        // Killed after it wrote and before it kept the hash; another time in the middle of writing.
        file_put_contents("$this->data/media/uploads/$upload", substr($bytes, 1000, 777), FILE_APPEND);
        $this->ask('GET', "uploads/$upload")->assertJsonPath('received', 1777);
        $this->part($upload, 1777, substr($bytes, 1777, 1000))->assertOk()->assertJsonPath('received', 2777);
        file_put_contents("$this->data/media/uploads/$upload.hash", "2777\nO:8:\"stdClass\":0:{}");
        $this->part($upload, 2777, substr($bytes, 2777))->assertOk()->assertJsonPath('hash', hash('sha256', $bytes));
        self::assertSame([], glob("$this->data/media/uploads/*"));
    }

    public function test_an_upload_that_is_cancelled_while_a_part_is_written_leaves_nothing(): void
    {
        $id = (string) $this->begin('tide.mp4', 5000)->json('id');
        $this->part($id, 0, 'abc')->assertOk();
        $upload = Upload::query()->findOrFail($id);
        // The part has read its row, and the cancel comes before it writes.
        $this->ask('DELETE', "uploads/$id")->assertOk();
        try {
            (new Uploads(MediaStore::ofConfig(), app(Editor::class)))->take($upload, 0, 'defgh');
            self::fail('It was taken.');
        } catch (Problem $problem) {
            self::assertSame(
                [404, 'The upload of tide.mp4 was cancelled.'],
                [$problem->status, $problem->getMessage()],
            );
        }
        self::assertSame([], glob("$this->data/media/uploads/*"));
    }

    public function test_an_upload_that_is_whole_and_was_never_filed_is_filed_by_an_empty_part(): void
    {
        $bytes = $this->video();
        $upload = (string) $this->begin('tide.mp4', strlen($bytes))->json('id');
        $this->part($upload, 0, '')->assertStatus(422);
        file_put_contents("$this->data/media/uploads/$upload", $bytes);
        $this->part($upload, strlen($bytes), '')
            ->assertOk()
            ->assertJsonPath('hash', hash('sha256', $bytes))
            ->assertJsonPath('known', false);
        // Asked again, as by one whose answer was lost, it says the same.
        $this->part($upload, strlen($bytes), '')->assertOk()->assertJsonPath('hash', hash('sha256', $bytes));
        $this->ask('GET', "uploads/$upload")
            ->assertJsonPath('received', strlen($bytes))
            ->assertJsonPath('known', false);
        self::assertSame([], glob("$this->data/media/uploads/*"));
        // Killed between moving the file and its row: sent again, it is taken.
        StoredFile::query()->delete();
        $this->send('tide.mp4', $bytes)->assertOk()->assertJsonPath('hash', hash('sha256', $bytes));
    }

    public function test_what_says_too_much_of_itself_is_refused_in_words(): void
    {
        $make = function (string $name, string ...$how): string {
            (new Process(['ffmpeg', '-y', '-v', 'error', '-f', 'lavfi', ...$how, "$this->data/$name"]))->mustRun();

            return (string) file_get_contents("$this->data/$name");
        };
        $this->send('long.mkv', $make('long.mkv', '-i', 'color=s=16x16:r=1/86400', '-frames:v', '2', '-c:v', 'libx264'))
            ->assertStatus(422)
            ->assertJsonPath(
                'detail',
                'long.mkv says that it lasts 48.0 hours; at most 12 are taken. If it does not, its times are wrong: export it again.',
            );
        $this->send('moving.webp', $make('moving.webp', '-i', 'testsrc2=s=32x32:r=5:d=1', '-loop', '0'))
            ->assertStatus(422)
            ->assertJsonPath(
                'detail',
                'moving.webp is an animated WebP, which is not read here. Bring it as a video, or each frame as a picture.',
            );
        $jpeg = $make('photo.jpg', '-i', 'testsrc2=s=320x240', '-frames:v', '1');
        $this->send('cut.jpg', substr($jpeg, 0, 3000))
            ->assertStatus(422)
            ->assertJsonPath(
                'detail',
                'cut.jpg is incomplete: the end of the picture is missing. Copy it again from where it came from.',
            );
        $this->send('photo.jpg', $jpeg)->assertOk();
        // Larger than what is looked at of either end.
        $this->send(
            'large.png',
            $make('large.png', '-i', 'nullsrc=s=400x300,geq=random(1)*255:128:128', '-frames:v', '1'),
        )->assertOk();
        self::assertCount(2, $this->left());
    }

    public function test_a_conversion_has_no_more_room_than_there_is(): void
    {
        $hash = (string) $this->send('tide.mp4', $this->video())->assertOk()->json('hash');
        config(['kite.keep_free' => (int) disk_free_space($this->data) - 20_000]);
        $this->work();
        $file = StoredFile::query()->findOrFail($hash);
        self::assertSame(
            ['failed', 'The disk is too full to convert tide.mp4. Free some space, then try again.'],
            [$file->state, $file->message],
        );
        self::assertSame([], glob("$this->data/media/forms/*"));
        config(['kite.keep_free' => 0, 'kite.convert_memory' => 30_000_000]);
        $this->ask('POST', "files/$hash/retry")->assertOk();
        $this->work();
        self::assertSame('failed', StoredFile::query()->findOrFail($hash)->state);
        config(['kite.convert_memory' => 6 * 1024 ** 3]);
        $this->ask('POST', "files/$hash/retry")->assertOk();
        $this->work();
        self::assertSame('ready', StoredFile::query()->findOrFail($hash)->state);
    }

    public function test_a_decoder_has_no_rights_to_gain_and_ends_with_us(): void
    {
        $out = Confined::process(
            ['sh', '-c', 'grep -E "NoNewPrivs|CapBnd" /proc/self/status; ulimit -t; ulimit -n; echo "key:$APP_KEY"'],
            77,
        )
            ->mustRun()
            ->getOutput();
        self::assertMatchesRegularExpression('/NoNewPrivs:\s*1/', $out);
        self::assertStringContainsString("77\n256\nkey:\n", $out);
        posix_geteuid() === 0 && self::assertMatchesRegularExpression('/CapBnd:\s*0{16}/', $out);
        $parent = proc_open(
            [
                'php',
                '-r',
                'require "'.
                base_path('vendor/autoload.php').
                '"; $app = require "'.
                base_path('bootstrap/app.php').
                '"; $app->make(Illuminate\\Contracts\\Console\\Kernel::class)->bootstrap(); $p = App\\Media\\Confined::process(["sleep", "60"], 60); $p->start(); echo $p->getPid(), "\n"; sleep(60);',
            ],
            [1 => ['pipe', 'w']],
            $pipes,
        );
        self::assertIsResource($parent);
        $child = (int) fgets($pipes[1]);
        for ($i = 0; $i < 500 && trim((string) @file_get_contents("/proc/$child/comm")) !== 'sleep'; $i++) {
            usleep(10_000);
        }
        self::assertSame('sleep', trim((string) @file_get_contents("/proc/$child/comm")));
        proc_terminate($parent, SIGKILL);
        for (
            $i = 0;
            $i < 500 &&
            is_dir("/proc/$child") &&
            ! str_contains((string) @file_get_contents("/proc/$child/stat"), ') Z');
            $i++
        ) {
            usleep(10_000);
        }
        self::assertTrue(
            ! is_dir("/proc/$child") || str_contains((string) @file_get_contents("/proc/$child/stat"), ') Z'),
        );
    }

    public function test_a_job_whose_worker_is_gone_is_given_back_and_one_that_is_held_is_not(): void
    {
        $this->send('tide.mp4', $this->video())->assertOk();
        DB::table('jobs')->update(['reserved_at' => time() - 60, 'attempts' => 1]);
        $id = (int) DB::table('jobs')->value('id');
        mkdir(config('kite.run').'/jobs', 0700, true);
        $held = fopen(config('kite.run')."/jobs/$id", 'c');
        self::assertTrue($held !== false && flock($held, LOCK_EX));
        self::assertSame(0, JobLocks::recover());
        fclose($held);
        self::assertSame(1, JobLocks::recover());
        self::assertSame(0, JobLocks::recover());
        $this->work();
        self::assertSame('ready', StoredFile::query()->firstOrFail()->state);
        self::assertSame([], glob(config('kite.run').'/jobs/*'));
    }

    public function test_a_file_that_waits_without_a_job_gets_one_and_two_jobs_of_one_file_do_not_meet(): void
    {
        $hash = (string) $this->send('tide.mp4', $this->video())->assertOk()->json('hash');
        self::assertSame(0, JobLocks::adopt());
        DB::table('jobs')->delete();
        self::assertSame(0, JobLocks::adopt(), 'It may be on its way.');
        DB::table('files')->update(['updated_at' => date('Y-m-d H:i:s', time() - 10)]);
        self::assertSame([1, 0], [JobLocks::adopt(), JobLocks::adopt()]);
        is_dir(config('kite.run').'/jobs') || mkdir(config('kite.run').'/jobs', 0700);
        $at = fopen(config('kite.run')."/jobs/alone-$hash", 'c');
        self::assertTrue($at !== false && flock($at, LOCK_EX));
        (new MakeReady($hash))->handle(app(Control::class));
        self::assertSame('waiting', StoredFile::query()->findOrFail($hash)->state);
        fclose($at);
        $this->work();
        self::assertSame('ready', StoredFile::query()->findOrFail($hash)->state);
    }

    public function test_a_job_whose_workers_all_end_is_given_up_in_words(): void
    {
        $hash = (string) $this->send('tide.mp4', $this->video())->assertOk()->json('hash');
        StoredFile::query()->update(['state' => 'working', 'progress' => 0.12]);
        DB::table('jobs')->update(['attempts' => 3]);
        $this->work();
        $file = StoredFile::query()->findOrFail($hash);
        self::assertSame(
            [
                'failed',
                'tide.mp4 could not be made ready: the worker ended 3 times while it was at it. It may need more memory than there is.',
            ],
            [$file->state, $file->message],
        );
    }

    public function test_the_sweep_takes_what_nothing_names_and_only_that(): void
    {
        $kept = (string) $this->send('tide.mp4', $this->video())->json('hash');
        $undone = (string) $this->send('fog.mp4', $this->video('-t', '1'))->json('hash');
        $this->ask('POST', "shows/$this->show/undo")->assertOk();
        $air = $this->show;
        $this->show = $this->show();
        $gone = (string) $this->send('rain.mp4', $this->video('-t', '0.5'))->json('hash');
        $this->work();
        $half = (string) $this->begin('half.mp4', 5000)->json('id');
        $this->part($half, 0, 'abc')->assertOk();
        $fresh = (string) $this->begin('fresh.mp4', 5000)->json('id');
        $old = time() - Sweep::ABANDONED - 60;
        Upload::query()
            ->whereKey($half)
            ->update(['updated_at' => date('Y-m-d H:i:s', $old)]);
        foreach (["media/uploads/$half", "media/uploads/$half.hash"] as $path) {
            touch("$this->data/$path", $old);
        }
        foreach (
            ['forms/'.str_repeat('a', 64).'.mp4', "forms/$kept.part.mp4", 'uploads/01hzzzzzzzzzzzzzzzzzzzzzzz'] as $piece
        ) {
            file_put_contents("$this->data/media/$piece", 'x');
        }
        $sweep = new Sweep(MediaStore::ofConfig());
        self::assertSame(2, $sweep->sweep(), 'Only the two pieces of the upload that nobody went on with are old.');
        self::assertNull(Upload::query()->find($half));
        $this->ask('DELETE', "shows/$this->show")->assertOk();
        foreach (array_merge(...array_values(MediaStore::ofConfig()->everything())) as $path) {
            str_contains($path, $fresh) || touch($path, time() - 7200);
        }
        DB::table('files')->update(['updated_at' => date('Y-m-d H:i:s', time() - 7200)]);
        self::assertGreaterThan(6, $sweep->sweep());
        $names = implode(' ', $this->left());
        foreach (
            [
                $kept => true,
                $undone => true,
                $gone => false,
                $half => false,
                $fresh => true,
                str_repeat('a', 64) => false,
                '.part.' => false,
                '01hzzzzzzzzzzzzzzzzzzzzzzz' => false,
            ] as $name => $there
        ) {
            self::assertSame($there, str_contains($names, $name), $name);
        }
        self::assertSame(['ready', 'ready'], StoredFile::query()->pluck('state')->all());
        $this->ask('POST', "shows/$air/redo")->assertOk();
        self::assertSame(
            ['ready', 'ready'],
            array_column($this->ask('GET', "shows/$air")->json('rows.media'), 'state'),
        );
    }

    public function test_the_sweep_is_done_once_an_hour_or_when_wanted(): void
    {
        $stamp = config('kite.run').'/swept';
        Sweep::whenDue();
        self::assertFileExists($stamp);
        touch($stamp, time() - 100);
        Sweep::whenDue();
        clearstatcache();
        self::assertSame(time() - 100, filemtime($stamp));
        Sweep::wanted();
        touch($stamp, time() - 100);
        Sweep::whenDue();
        clearstatcache();
        self::assertEqualsWithDelta(time(), filemtime($stamp), 2);
        self::assertSame(0, filesize($stamp));
    }

    public function test_a_job_for_a_file_that_is_gone_does_nothing(): void
    {
        MakeReady::dispatchSync(str_repeat('0', 64));
        self::assertSame(0, StoredFile::query()->count());
    }
}
