<?php

declare(strict_types=1);

namespace App\Rig;

use App\Support\Tied;
use React\ChildProcess\Process;
use React\EventLoop\LoopInterface;
use React\EventLoop\TimerInterface;
use React\Stream\WritableStreamInterface;

/**
 * A simulated picture as a motion JPEG stream (multipart/x-mixed-replace), each frame with the moment at which it was
 * seen. It is made while somebody takes it; who reads too slowly misses frames.
 */
final class VideoFeed
{
    public const BOUNDARY = 'kite-lamp-frame';

    /** Bytes that may wait for who takes it, beyond which frames are left out. */
    private const WAITING = 1_000_000;

    /** Quality of the encoder, 2 (best) to 31. */
    private const QUALITY = 4;

    /** @var array<int, WritableStreamInterface> */
    private array $takers = [];

    /** @var array<int, true> takers that are behind */
    private array $behind = [];

    private ?Process $encoder = null;

    private ?TimerInterface $timer = null;

    private string $buffer = '';

    /** @var list<int> moments of frames that are with the encoder, ms since 1970 */
    private array $inside = [];

    public bool $signal = true;

    /**
     * @param  int  $width  pixels of the stream
     * @param  int  $rate  frames a second, at most those of the picture
     * @param  \Closure(): int  $now  ms since 1970
     */
    public function __construct(
        private readonly LoopInterface $loop,
        private readonly Simulation $picture,
        private readonly int $width,
        private readonly int $rate,
        private readonly \Closure $now,
    ) {
    }

    public function take(WritableStreamInterface $taker): void
    {
        $id = spl_object_id($taker);
        $this->takers[$id] = $taker;
        $taker->on('close', function () use ($id): void {
            unset($this->takers[$id], $this->behind[$id]);
            if ($this->takers === []) {
                $this->stop();
            }
        });
        $taker->on('drain', function () use ($id): void {
            unset($this->behind[$id]);
        });
        if ($this->encoder === null) {
            $this->start();
        }
    }

    private function start(): void
    {
        $height = 2 * (int) round(($this->picture->height() * $this->width) / $this->picture->width() / 2);
        // It ends with us, and on its own when its input does.
        $this->encoder = new Process(
            sprintf(
                '%sffmpeg -nostdin -v error -probesize 32 -analyzeduration 0 -fflags nobuffer -f rawvideo -pix_fmt rgb24 -s %dx%d -r %d -i pipe:0 -threads 1 -vf scale=%d:%d:out_range=pc,format=yuvj420p -c:v mjpeg -huffman default -q:v %d -flush_packets 1 -f mjpeg pipe:1',
                Tied::prefix(),
                $this->picture->width(),
                $this->picture->height(),
                $this->rate,
                $this->width,
                $height,
                self::QUALITY,
            ),
        );
        $this->encoder->start($this->loop);
        [$this->buffer, $this->inside] = ['', []];
        $this->encoder->stdout?->on('data', $this->encoded(...));
        $started = $this->encoder;
        $this->encoder->on('exit', function () use ($started): void {
            if ($this->encoder === $started) {
                $this->stop();
                $this->takers === [] || $this->start();
            }
        });
        $this->timer = $this->loop->addPeriodicTimer(1 / $this->rate, $this->see(...));
        $this->see();
    }

    private function stop(): void
    {
        $this->timer === null || $this->loop->cancelTimer($this->timer);
        $encoder = $this->encoder;
        $this->timer = $this->encoder = null;
        $stdin = $encoder?->stdin;
        $stdin instanceof WritableStreamInterface && $stdin->end();
        $encoder?->terminate();
    }

    private function see(): void
    {
        // Two frames with an encoder that is behind are enough.
        if (! $this->signal || $this->encoder === null || count($this->inside) > 2) {
            return;
        }
        $now = ($this->now)();
        $this->inside[] = $now;
        $stdin = $this->encoder?->stdin;
        $stdin instanceof WritableStreamInterface && $stdin->write($this->picture->frame($now));
    }

    private function encoded(string $bytes): void
    {
        $this->buffer .= $bytes;
        // Within a picture, no other mark ends as its last does.
        while (($end = strpos($this->buffer, "\xFF\xD9")) !== false) {
            $jpeg = substr($this->buffer, 0, $end + 2);
            $this->buffer = substr($this->buffer, $end + 2);
            $seen = array_shift($this->inside) ?? ($this->now)();
            $part =
                '--'.
                self::BOUNDARY.
                "\r\nContent-Type: image/jpeg\r\nContent-Length: ".
                strlen($jpeg).
                "\r\nX-Timestamp: ".
                sprintf('%d.%03d', intdiv($seen, 1000), $seen % 1000).
                "\r\n\r\n$jpeg\r\n";
            foreach ($this->takers as $id => $taker) {
                if (! isset($this->behind[$id]) && ! $taker->write($part)) {
                    $this->behind[$id] = true;
                }
            }
        }
        if (strlen($this->buffer) > self::WAITING) {
            $this->buffer = '';
        }
    }

    public function takers(): int
    {
        return count($this->takers);
    }
}
