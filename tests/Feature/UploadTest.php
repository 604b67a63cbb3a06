<?php

declare(strict_types=1);

namespace Tests\Feature;

use App\Jobs\MakeReady;
use App\Models\StoredFile;
use Illuminate\Support\Facades\Artisan;
use Illuminate\Testing\TestResponse;
use Symfony\Component\Process\Process;
use Tests\TestCase;

final class UploadTest extends TestCase
{
    private string $show = '';

    protected function setUp(): void
    {
        parent::setUp();
        $this->show = $this->show();
    }

    /** A short video made for the purpose; with more arguments for the encoder where wanted. */
    private function video(string ...$more): string
    {
        $path = "$this->data/".md5(implode(' ', $more)).'.mp4';
        (new Process(['ffmpeg', '-y', '-v', 'error', '-f', 'lavfi', '-i', 'testsrc2=s=96x54:r=25:d=2', '-c:v', 'libx264', '-pix_fmt', 'yuv420p', ...$more, $path]))->mustRun();

        return (string) file_get_contents($path);
    }

    private function part(string $upload, int $at, string $bytes): TestResponse
    {
        return $this->call('PUT', "http://127.0.0.1:4180/api/uploads/$upload?at=$at", [], ['kite_person' => '01hzzzzzzzzzzzzzzzzzzzzzzz'], [], ['HTTP_ORIGIN' => 'http://127.0.0.1:4180', 'HTTP_HOST' => '127.0.0.1:4180', 'CONTENT_TYPE' => 'application/octet-stream'], $bytes);
    }

    private function begin(string $name, int $bytes): TestResponse
    {
        return $this->ask('POST', "shows/$this->show/uploads", ['name' => $name, 'bytes' => $bytes]);
    }

    private function send(string $name, string $bytes): TestResponse
    {
        return $this->part((string) $this->begin($name, strlen($bytes))->assertCreated()->json('id'), 0, $bytes);
    }

    private function work(): void
    {
        Artisan::call('queue:work', ['--stop-when-empty' => true, '--sleep' => 0, '--tries' => 1]);
    }

    /** @return list<string> */
    private function left(): array
    {
        return array_values(array_map(basename(...), array_merge(...array_map(fn (string $f): array => glob("$this->data/media/$f/*") ?: [], ['uploads', 'originals', 'forms', 'thumbnails']))));
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
        self::assertSame(['tide.mp4', 'ready', 50, '25', 'video'], [$row['name'], $row['state'], $row['form']['frames'], $row['form']['frameRate'], $row['facts']['kind']]);
        self::assertMatchesRegularExpression('/^avc1\.[0-9a-f]{6}$/', $row['form']['codec']);
        self::assertSame(50 * 12, filesize("$this->data/media/forms/{$row['file']}.samples"));
        self::assertCount(5, glob("$this->data/media/thumbnails/*") ?: []);
        $probe = new Process(['ffprobe', '-v', 'error', '-select_streams', 'v', '-show_entries', 'stream=color_space,color_range,color_transfer,has_b_frames', '-of', 'csv=p=0', "$this->data/media/forms/{$row['file']}.mp4"]);
        self::assertSame('0,tv,bt709,bt709', trim($probe->mustRun()->getOutput()));
        self::assertSame('Import tide.mp4', $this->ask('POST', "shows/$this->show/undo")->assertOk()->json('name'));
        self::assertSame([], $this->ask('GET', "shows/$this->show")->json('rows.media'));
        $this->ask('POST', "shows/$this->show/redo")->assertOk();
        self::assertSame('ready', $this->ask('GET', "shows/$this->show")->json('rows.media.0.state'));
    }

    public function test_the_same_file_twice_is_told_and_stays_one(): void
    {
        $bytes = $this->video();
        $first = $this->send('tide.mp4', $bytes)->assertOk();
        $again = $this->send('copy of tide.mp4', $bytes)->assertOk()->assertJsonPath('known', true);
        self::assertSame([$first->json('media'), 'copy of tide.mp4 is here already, as tide.mp4.'], [$again->json('media'), $again->json('sentence')]);
        self::assertCount(1, $this->ask('GET', "shows/$this->show")->json('rows.media'));
    }

    public function test_a_text_named_mp4_is_refused_and_nothing_remains(): void
    {
        $this->send('story.mp4', str_repeat("Lanterns over the harbour.\n", 300))->assertStatus(422)->assertJsonPath('detail', 'story.mp4 is no picture, video or sound that can be read here.');
        self::assertSame([], $this->left());
        self::assertSame([], $this->ask('GET', "shows/$this->show")->json('rows.media'));
    }

    public function test_a_video_without_its_end_is_refused_whichever_way_it_was_cut(): void
    {
        $bytes = $this->video();
        $this->send('cut.mp4', substr($bytes, 0, intdiv(strlen($bytes), 2)))->assertStatus(422)->assertJsonPath('detail', 'cut.mp4 is damaged or incomplete: its table of contents is missing. Copy it again from where it came from.');
        self::assertSame([], $this->left());
        $streaming = $this->video('-movflags', '+faststart');
        $this->send('cut2.mp4', substr($streaming, 0, (int) (strlen($streaming) * 0.6)))->assertOk();
        $this->work();
        $row = $this->ask('GET', "shows/$this->show")->json('rows.media.0');
        self::assertSame('failed', $row['state']);
        self::assertMatchesRegularExpression('/^cut2\.mp4 (is incomplete: it says that it lasts 2\.0 s|could not be decoded)/', $row['sentence']);
        self::assertSame([], array_merge(glob("$this->data/media/forms/*") ?: [], glob("$this->data/media/thumbnails/*") ?: []));
        self::assertContains($row['sentence'] === null ? '' : 'cut2.mp4 could not be made ready.', array_column(array_merge(...array_values($this->ask('GET', "shows/$this->show")->json('computed.findings'))), 'sentence'));
    }

    public function test_an_empty_file_a_giant_and_a_full_disk_are_refused_before_anything_is_stored(): void
    {
        $this->begin('empty.mp4', 0)->assertStatus(422)->assertJsonPath('detail', 'empty.mp4 is empty (0 bytes).');
        $this->begin('giant.mov', 65 * 1024 ** 3)->assertStatus(413);
        config(['kite.keep_free' => 10 ** 18]);
        $answer = $this->begin('tide.mp4', 1000)->assertStatus(507);
        self::assertStringStartsWith('There is no room for tide.mp4', $answer->json('detail'));
        $this->begin('x', -5)->assertStatus(413);
        $this->ask('POST', "shows/$this->show/uploads", ['name' => 'x', 'bytes' => '7'])->assertStatus(422)->assertJsonPath('field', 'bytes');
        self::assertSame([], $this->left());
    }

    public function test_names_with_slashes_quotes_and_markup_stay_text(): void
    {
        $row = $this->send('../../etc/<b onload="x">\'tide\'.mp4', $this->video())->assertOk();
        self::assertSame('<b onload="x">\'tide\'.mp4', $this->ask('GET', "shows/$this->show")->json('rows.media.0.name'));
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
        $this->ask('POST', "files/$hash/cancel")->assertOk()->assertJsonPath('state', 'cancelled');
        $this->work();
        self::assertSame('cancelled', StoredFile::query()->findOrFail($hash)->state);
        $this->ask('POST', "files/$hash/cancel")->assertStatus(422);
        $this->ask('POST', "files/$hash/retry")->assertOk()->assertJsonPath('state', 'waiting');
        $this->ask('POST', "files/$hash/retry")->assertStatus(422);
        $this->work();
        self::assertSame('ready', StoredFile::query()->findOrFail($hash)->state);
    }

    public function test_stills_and_sound_are_media_too(): void
    {
        (new Process(['ffmpeg', '-y', '-v', 'error', '-f', 'lavfi', '-i', 'color=red@0.5:s=33x21,format=rgba', '-frames:v', '1', "$this->data/still.png"]))->mustRun();
        (new Process(['ffmpeg', '-y', '-v', 'error', '-f', 'lavfi', '-i', 'sine=d=1', "$this->data/tone.wav"]))->mustRun();
        $this->send('still.png', (string) file_get_contents("$this->data/still.png"))->assertOk();
        $this->send('tone.wav', (string) file_get_contents("$this->data/tone.wav"))->assertOk();
        $this->work();
        $rows = array_column($this->ask('GET', "shows/$this->show")->json('rows.media'), null, 'name');
        self::assertSame(['image', 'still', true], [$rows['still.png']['facts']['kind'], $rows['still.png']['form']['kind'], $rows['still.png']['facts']['alpha']]);
        self::assertSame(['audio', 'ready'], [$rows['tone.wav']['facts']['kind'], $rows['tone.wav']['state']]);
    }

    public function test_video_with_alpha_gets_a_matte_of_its_own(): void
    {
        $path = "$this->data/alpha.mov";
        (new Process(['ffmpeg', '-y', '-v', 'error', '-f', 'lavfi', '-i', 'color=blue@0.5:s=64x32:r=25:d=1,format=rgba', '-c:v', 'png', $path]))->mustRun();
        $hash = $this->send('alpha.mov', (string) file_get_contents($path))->json('hash');
        $this->work();
        $file = StoredFile::query()->findOrFail($hash);
        self::assertSame([true, 64, 64], [$file->form['matte'] ?? null, $file->form['width'] ?? 0, $file->form['height'] ?? 0], (string) $file->sentence);
        $grey = (new Process(['ffmpeg', '-v', 'error', '-i', "$this->data/media/forms/$hash.mp4", '-frames:v', '1', '-vf', 'scale=out_range=pc,format=gray,crop=1:1:32:48', '-f', 'rawvideo', '-']))->mustRun()->getOutput();
        self::assertEqualsWithDelta(128, ord($grey), 3);
    }

    public function test_a_job_for_a_file_that_is_gone_does_nothing(): void
    {
        MakeReady::dispatchSync(str_repeat('0', 64));
        self::assertSame(0, StoredFile::query()->count());
    }
}
