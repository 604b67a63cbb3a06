<?php

declare(strict_types=1);

namespace Tests\Engine;

use App\Lights\LiveInputs;
use App\Lights\RawFrames;
use App\Models\Media;
use App\Models\StoredFile;
use App\Rig\HarbourCamera;
use App\Rig\PresenterSlides;
use Core\Media\Picture;
use React\EventLoop\StreamSelectLoop;
use Symfony\Component\Process\Process;
use Tests\TestCase;

/** The inputs of the virtual rig, taken by a client that is not ours. */
final class InputRigTest extends TestCase
{
    private const PORT = TEST_PORTS + 87;

    private ?Process $rig = null;

    protected function setUp(): void
    {
        parent::setUp();
        $this->rig = new Process(
            [PHP_BINARY, base_path('artisan'), 'kite:inputs'],
            env: [
                'KITE_DATA' => $this->data,
                'KITE_RUN' => "$this->data/run",
                'KITE_INPUTS_PORT' => (string) self::PORT,
                'APP_KEY' => config('app.key'),
            ],
            timeout: null,
        );
        $this->rig->start();
        $until = microtime(true) + 10;
        while (
            ($open = @stream_socket_client('tcp://127.0.0.1:'.self::PORT, timeout: 0.2)) === false &&
            microtime(true) < $until
        ) {
            usleep(20_000);
        }
        self::assertNotFalse($open, $this->rig->getErrorOutput());
        fclose($open);
    }

    protected function tearDown(): void
    {
        $this->rig?->stop(1);
        parent::tearDown();
    }

    private static function url(string $path): string
    {
        return 'http://127.0.0.1:'.self::PORT."/inputs/$path";
    }

    /** @return string raw RGB of so many frames, as another program takes them */
    private function taken(string $path, int $frames): string
    {
        return (new Process(
            [
                'ffmpeg',
                '-v',
                'error',
                '-f',
                'mpjpeg',
                '-i',
                self::url($path),
                '-frames:v',
                (string) $frames,
                '-fps_mode',
                'passthrough',
                '-f',
                'rawvideo',
                '-pix_fmt',
                'rgb24',
                '-',
            ],
            timeout: 20,
        ))
            ->mustRun()
            ->getOutput();
    }

    /**
     * @param  array<string, mixed>  $body
     * @return array{int, array<string, mixed>}
     */
    private function order(string $path, array $body, string $origin = 'http://127.0.0.1:'.self::PORT): array
    {
        $context = stream_context_create([
            'http' => [
                'method' => 'POST',
                'header' => "Content-Type: application/json\r\nOrigin: $origin\r\n",
                'content' => json_encode($body, JSON_THROW_ON_ERROR),
                'ignore_errors' => true,
                'timeout' => 5,
            ],
        ]);
        $stream = fopen(self::url($path), 'rb', false, $context);
        self::assertNotFalse($stream);
        $head = implode("\n", $http_response_header);
        preg_match('/^content-length: (\d+)/mi', $head, $length);
        // The connection stays open, so no more is read than there is.
        $answer = json_decode((string) stream_get_contents($stream, (int) $length[1]), true);
        fclose($stream);

        return [(int) explode(' ', $head)[1], (array) $answer];
    }

    public function test_pixel_lights_take_the_newest_picture_and_what_stands_in_where_there_is_none(): void
    {
        $loop = new StreamSelectLoop();
        $inputs = new LiveInputs($loop, 'http://127.0.0.1:'.self::PORT);
        $media = [
            'kind' => 'live',
            'name' => 'Camera',
            'url' => '/inputs/camera',
            'width' => 1280,
            'height' => 720,
            'standIn' => ['kind' => 'solid', 'colour' => [255, 0, 0]],
        ];
        $frames = new RawFrames('/nowhere', $inputs);
        $until = function (string $what, \Closure $holds) use ($loop, $frames, $media): void {
            for ($end = microtime(true) + 15; ! $holds($frames->of('cam', $media, 0));) {
                microtime(true) < $end || self::fail("Waited 15 s for $what.");
                $loop->futureTick(static fn () => $loop->addTimer(0.02, static fn () => $loop->stop()));
                $loop->run();
            }
        };
        // Until there is a picture, and when there is none any more, the one that stands in.
        self::assertSame([255, 0, 0, 255], $frames->of('cam', $media, 0)?->pixel(0, 0));
        $until('a picture', static fn (?Picture $p): bool => $p?->width === 64);
        $first = $frames->version($media);
        self::assertGreaterThan(0, $first);
        $until('another one', static fn (): bool => $frames->version($media) > $first + 3);
        // As another program sees it, made as small: the mean over the picture is alike.
        $mean = static fn (string $bytes, int $channels): array => array_map(
            static fn (int $c): float => array_sum(
                array_map(static fn (string $pixel): int => ord($pixel[$c]), str_split($bytes, $channels)),
            ) /
                (strlen($bytes) / $channels),
            [0, 1, 2],
        );
        self::assertEqualsWithDelta(
            $mean($this->taken('camera?small=1', 1), 3),
            $mean((string) $frames->of('cam', $media, 0)->bytes, 4),
            12.0,
        );
        $this->order('camera/signal', ['on' => false]);
        $until('its loss', static fn (?Picture $p): bool => $p?->width === 1);
        self::assertSame(0, $frames->version($media));
        $this->order('camera/signal', ['on' => true]);
        $until('it again', static fn (?Picture $p): bool => $p?->width === 64);
        // What only a browser has is none; who is not there has no picture, and nothing breaks.
        self::assertNull($inputs->of(['url' => 'browser:camera']));
        self::assertNull($inputs->of(['url' => '/inputs/nobody', 'width' => 16, 'height' => 9]));
        $inputs->stop();
    }

    public function test_a_stream_shows_now_by_the_clock_in_it(): void
    {
        $camera = new HarbourCamera();
        [$width, $height] = [$camera->width(), $camera->height()];
        $raw = $this->taken('camera', 6);
        $now = (int) (microtime(true) * 1000);
        self::assertSame(6 * 3 * $width * $height, strlen($raw));
        $moments = [];
        for ($frame = 0; $frame < 6; $frame++) {
            $bits = 0;
            for ($bit = 0; $bit < HarbourCamera::BITS; $bit++) {
                $x = (int) ((($bit + 0.5) * $width) / HarbourCamera::BITS);
                $bits = ($bits << 1) | (ord($raw[3 * (($frame * $height + $height - 8) * $width + $x)]) > 127 ? 1 : 0);
            }
            $moments[] = ($now & ~0xFFFFFFFF) | $bits;
        }
        // Each later than the one before, about a 25th of a second apart, and the last of them not long ago.
        for ($i = 1; $i < 6; $i++) {
            self::assertGreaterThan($moments[$i - 1], $moments[$i]);
        }
        self::assertLessThan(2500, $moments[5] - $moments[0]);
        self::assertLessThan(3000, $now - $moments[5]);
    }

    public function test_the_small_stream_is_small_and_slides_go_on_when_told(): void
    {
        self::assertSame(3 * 320 * 180, strlen($this->taken('camera?small=1', 1)));
        $slides = new PresenterSlides();
        $bar = fn (): int => strlen(
            rtrim(
                implode(
                    '',
                    array_map(
                        static fn (string $pixel): string => ord($pixel[0]) > 150 && ord($pixel[2]) < 120 ? '#' : '.',
                        str_split(
                            substr($this->taken('slides', 1), 3 * 523 * $slides->width(), 3 * $slides->width()),
                            3,
                        ),
                    ),
                ),
                '.',
            ),
        );
        self::assertEqualsWithDelta(240, $bar(), 10);
        self::assertSame([200, ['done' => 'next']], $this->order('slides/command', ['action' => 'next']));
        self::assertEqualsWithDelta(480, $bar(), 10);
        $this->order('slides/command', ['action' => 'back']);
        $this->order('slides/command', ['action' => 'back']);
        self::assertEqualsWithDelta(960, $bar(), 10);
    }

    public function test_what_there_is_is_kept_and_a_signal_that_is_lost_is_told(): void
    {
        $state = static fn (): array => StoredFile::query()
            ->where('hash', 'like', 'input:%')
            ->orderBy('hash')
            ->pluck('state', 'hash')
            ->all();
        self::assertSame(['input:camera' => 'ready', 'input:slides' => 'ready'], $state());
        $told = $this->ask('GET', 'inputs')->assertOk()->json('inputs');
        self::assertSame(
            ['input:camera', 'input:slides', 'browser:camera', 'browser:screen'],
            array_column($told, 'name'),
        );
        self::assertSame(
            ['Quay camera', 'Virtual rig', 640, 360, 25],
            [$told[0]['label'], $told[0]['server'], $told[0]['width'], $told[0]['height'], $told[0]['rate']],
        );
        $show = $this->show();
        $id = $this->id();
        $this->ask('POST', "shows/$show/edits", [
            'name' => 'Add',
            'changes' => [
                $this->created('media', $id, ['name' => 'Quay', 'kind' => 'input', 'file' => 'input:camera']),
            ],
        ])->assertCreated();
        self::assertSame([200, ['signal' => false]], $this->order('camera/signal', ['on' => false]));
        self::assertSame('lost', $state()['input:camera']);
        $document = $this->ask('GET', "shows/$show")->json();
        self::assertSame(
            ['lost', 640],
            [$document['rows']['media'][0]['state'], $document['rows']['media'][0]['facts']['width']],
        );
        self::assertSame(
            'Quay has no signal; nothing is shown in its place.',
            $document['computed']['findings']["media $id"][0]['message'],
        );
        // No frame comes, and the stream stays open.
        $stream = fopen(self::url('camera'), 'rb');
        self::assertNotFalse($stream);
        stream_set_timeout($stream, 0, 400_000);
        self::assertSame('', (string) fread($stream, 100));
        $this->order('camera/signal', ['on' => true]);
        stream_set_timeout($stream, 5);
        self::assertStringStartsWith('--kite-lamp-frame', (string) fread($stream, 100));
        fclose($stream);
        self::assertSame(1, Media::query()->count());
    }

    public function test_what_is_asked_wrongly_is_refused(): void
    {
        self::assertSame(404, $this->order('harp/signal', ['on' => true])[0]);
        self::assertSame(
            [422, 422, 422, 422],
            [
                $this->order('camera/signal', ['on' => 'yes'])[0],
                $this->order('camera/command', ['action' => 'next'])[0],
                $this->order('slides/command', [])[0],
                $this->order('camera', ['x' => 1])[0],
            ],
        );
        self::assertSame(403, $this->order('camera/signal', ['on' => false], 'http://elsewhere.example')[0]);
        self::assertSame('ready', StoredFile::query()->findOrFail('input:camera')->state);
    }
}
